// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stations/diary/weigh_panel.h"

#include <QDate>
#include <QHBoxLayout>
#include <QHeaderView>
#include <QVBoxLayout>
#include <map>

#include "app/shell/flow_layout.h"
#include "app/shell/table_tools.h"
#include "app/shell/theme.h"
#include "core/base/units.h"

namespace ivrant::app {
namespace {

struct ShapeMass {
    int count = 0, weighed = 0;
    double computedG = 0, weighedG = 0; ///< of one; the mean of those weighed
};

std::map<std::string, ShapeMass> listShapes(const model::Project& project) {
    std::map<std::string, ShapeMass> shapes;
    for (const auto& section : project.sections)
        for (const model::Part& part : section->parts) {
            ShapeMass& mass = shapes[part.shape->name];
            ++mass.count;
            mass.computedG = part.shape->massG;
            if (!part.weighedG) continue;
            mass.weighedG = (mass.weighedG * mass.weighed + *part.weighedG) / (mass.weighed + 1);
            ++mass.weighed;
        }
    return shapes;
}

} // namespace

WeighPanel::WeighPanel(Session& session, QWidget* parent)
    : QWidget(parent), m_session(session), m_shape(new QComboBox(this)), m_pieces(new QSpinBox(this)),
      m_gram(new QDoubleSpinBox(this)), m_each(new QLabel(this)), m_note(new QPushButton("note it", this)),
      m_forget(new QPushButton("back to computed", this)), m_table(new QTableWidget(this)) {
    auto* layout = new QVBoxLayout(this);
    auto* hint = new QLabel("Put ten or more pieces of one shape on the scales together: the mass of each replaces the "
                            "computed one, and balance, holding and bonds follow.",
                            this);
    hint->setWordWrap(true);
    layout->addWidget(hint);
    auto* row = new FlowLayout;
    m_shape->setSizeAdjustPolicy(QComboBox::AdjustToContents);
    m_shape->setObjectName("weighShape");
    m_shape->setAccessibleName("Shape on the scales");
    m_pieces->setObjectName("weighPieces");
    m_pieces->setAccessibleName("Pieces on the scales");
    m_pieces->setRange(1, 10'000);
    m_pieces->setValue(10);
    m_pieces->setSuffix(" pieces");
    m_pieces->setMinimumWidth(scaled(120));
    m_gram->setObjectName("weighGram");
    m_gram->setAccessibleName("Reading of the scales");
    m_gram->setRange(0, 100'000);
    m_gram->setDecimals(2);
    m_gram->setSuffix(" g");
    m_gram->setMinimumWidth(scaled(120));
    m_each->setObjectName("weighEach");
    m_note->setObjectName("weighNote");
    m_forget->setObjectName("weighForget");
    m_forget->setToolTip("The computed mass counts again for this shape");
    for (QWidget* widget :
         {static_cast<QWidget*>(m_shape), static_cast<QWidget*>(m_pieces), static_cast<QWidget*>(m_gram),
          static_cast<QWidget*>(m_each), static_cast<QWidget*>(m_note), static_cast<QWidget*>(m_forget)})
        row->addWidget(widget);
    layout->addLayout(row);
    m_table->setObjectName("weighed");
    m_table->setAccessibleName("Masses of the shapes in the model");
    setUpTable(m_table, "masses");
    layout->addWidget(m_table, 1);
    connect(m_pieces, &QSpinBox::valueChanged, this, &WeighPanel::showEach);
    connect(m_gram, &QDoubleSpinBox::valueChanged, this, &WeighPanel::showEach);
    connect(m_shape, &QComboBox::currentIndexChanged, this, &WeighPanel::showEach);
    connect(m_note, &QPushButton::clicked, this, &WeighPanel::note);
    connect(m_forget, &QPushButton::clicked, this, &WeighPanel::forget);
    showProject();
}

void WeighPanel::showProject() {
    const auto shapes = listShapes(m_session.project());
    const QString kept = m_shape->currentData().toString();
    std::vector<TableRow> rows;
    {
        const QSignalBlocker quiet(m_shape);
        m_shape->clear();
        for (const auto& [name, mass] : shapes) {
            const QString shape = QString::fromStdString(name);
            m_shape->addItem(shape + QString(" (%1)").arg(mass.count), shape);
            const bool weighed = mass.weighed > 0;
            rows.push_back({{shape, {}},
                            numberCell(mass.count, 0),
                            numberCell(mass.computedG, 2),
                            weighed ? numberCell(mass.weighedG, 2) : TableCell{"not weighed", -1},
                            weighed ? numberCell(100 * (mass.weighedG / mass.computedG - 1), 1) : TableCell{"", {}}});
        }
        m_shape->setCurrentIndex(std::max(0, m_shape->findData(kept)));
    }
    fillTable(m_table, {"shape", "in the model", "computed g", "weighed g", "differs %"}, rows);
    m_table->horizontalHeader()->setSectionResizeMode(0, QHeaderView::Stretch);
    showEach();
}

void WeighPanel::showEach() {
    const bool any = m_shape->count() > 0;
    m_note->setEnabled(any && m_gram->value() > 0);
    m_forget->setEnabled(any);
    m_each->setText(m_gram->value() > 0 ? numberText(m_gram->value() / m_pieces->value(), 3) + " g each"
                    : any               ? "what do the scales say?"
                                        : "the model has no parts yet");
}

std::vector<model::PartId> WeighPanel::listParts() const {
    std::vector<model::PartId> ids;
    const std::string shape = m_shape->currentData().toString().toStdString();
    for (const auto& section : m_session.project().sections)
        for (const model::Part& part : section->parts)
            if (part.shape->name == shape) ids.push_back(part.id);
    return ids;
}

void WeighPanel::note() {
    const auto ids = listParts();
    const double each = m_gram->value() / m_pieces->value();
    const std::string shape = m_shape->currentData().toString().toStdString();
    model::DiaryEntry entry;
    entry.kind = model::DiaryKind::Trial;
    entry.date = QDate::currentDate().toString("yyyy-MM-dd").toStdString();
    entry.text = "weighed " + std::to_string(m_pieces->value()) + " " + shape;
    entry.reason = base::formatNumber(m_gram->value(), 2) + " g, " + base::formatNumber(each, 3) + " g each";
    m_session.apply("Weigh " + QString::fromStdString(shape), [&](const model::Project& p) -> model::EditResult {
        auto weighed = model::weighParts(p, ids, each);
        return weighed ? model::putDiaryEntry(*weighed, entry) : weighed;
    });
}

void WeighPanel::forget() {
    const auto ids = listParts();
    m_session.apply("Computed mass of " + m_shape->currentData().toString(),
                    [&](const model::Project& p) { return model::weighParts(p, ids, std::nullopt); });
}

} // namespace ivrant::app
