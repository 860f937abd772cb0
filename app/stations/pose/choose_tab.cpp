// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stations/pose/choose_tab.h"

#include <QHBoxLayout>
#include <QVBoxLayout>
#include <cmath>

#include "app/shell/table_tools.h"
#include "app/shell/theme.h"
#include "core/base/at.h"
#include "core/base/units.h"
#include "core/trials/strengths.h"

namespace ivrant::app {
namespace {

constexpr int kSliderSteps = 20;

} // namespace

ChooseTab::ChooseTab(Session& session, QWidget* parent)
    : PoseTab(session, parent), m_firm(new QSlider(Qt::Horizontal, this)), m_table(new QTableWidget(this)),
      m_detail(new QLabel(this)), m_use(new QPushButton("use this kind", this)), m_live(session.jobs()) {
    m_firm->setObjectName("firmSlider");
    m_firm->setAccessibleName("Preference from smooth posing to firm holding");
    m_firm->setToolTip(
        "Sorts the table: smooth posing to the left, firm holding to the right; what is ruled out stays below");
    m_firm->setRange(0, kSliderSteps);
    m_firm->setValue(kSliderSteps / 2);
    m_firm->setMaximumWidth(scaled(220));
    m_table->setObjectName("choices");
    m_table->setAccessibleName("Joint kinds");
    m_table->setSelectionMode(QAbstractItemView::SingleSelection);
    setUpTable(m_table, "choices");
    m_detail->setObjectName("choiceDetail");
    m_detail->setWordWrap(true);
    m_use->setObjectName("useKind");
    m_use->setToolTip("Exchange the joint's two parts for this kind, where they are");
    auto* row = new QHBoxLayout;
    row->addWidget(new QLabel("smooth posing", this));
    row->addWidget(m_firm);
    row->addWidget(new QLabel("firm holding", this));
    row->addWidget(m_detail, 1);
    row->addWidget(m_use);
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(0, 2, 0, 0);
    layout->addLayout(row);
    layout->addWidget(m_table, 1);
    connect(m_firm, &QSlider::valueChanged, this, [this] {
        pose::sortChoices(m_choices, static_cast<double>(m_firm->value()) / kSliderSteps);
        showTable();
    });
    connect(m_table, &QTableWidget::itemSelectionChanged, this, &ChooseTab::showDetail);
    connect(m_table, &QTableWidget::cellDoubleClicked, this, [this] { use(); });
    connect(m_use, &QPushButton::clicked, this, &ChooseTab::use);
}

void ChooseTab::refresh() {
    const int joint = currentJoint();
    m_choices.clear();
    if (joint < 0) {
        showTable();
        m_detail->setText("No joint to choose a kind for.");
        return;
    }
    const PoseSnapshot s = snapshot();
    m_detail->setText("trying every kind at " + jointName(joint) + " …");
    m_live.ask(
        "choosing a joint",
        [s, joint, firm = static_cast<double>(m_firm->value()) / kSliderSteps](
            base::Progress& progress) -> std::optional<std::vector<pose::JointChoice>> {
            pose::ChooseRequest request;
            request.joint = joint;
            request.firm = firm;
            request.tiltDeg = s.project->tiltDeg;
            request.strengthOf = [&](const parts::JointKind& kind) {
                return trials::calcStrength(*s.project, kind, &at(s.project->joints, joint).id);
            };
            auto choices = pose::calcChoices(*s.project, request, &progress);
            if (progress.stopped()) return std::nullopt;
            return choices;
        },
        [this](std::vector<pose::JointChoice> choices) {
            m_choices = std::move(choices);
            pose::sortChoices(m_choices, static_cast<double>(m_firm->value()) / kSliderSteps);
            showTable();
        });
}

void ChooseTab::showTable() {
    std::vector<TableRow> rows;
    for (const auto& c : m_choices) {
        const QString mark = c.ruledOut.empty() ? "▲ " : "▼ ";
        QString off = "-";
        double worstOff = 0;
        for (const auto& n : c.nearest) worstOff = std::max(worstOff, std::abs(n.nearest - n.wanted));
        if (c.kind->stepDeg > 0) off = numberText(worstOff, 1) + "°";
        rows.push_back({{mark + QString::fromStdString(c.kind->name) + (c.present ? " (now)" : ""), {}},
                        {QString::fromStdString(c.says), {}},
                        c.free ? TableCell{numberText(c.free->low, 0) + ".." + numberText(c.free->high, 0) + "°",
                                           c.free->high - c.free->low}
                               : TableCell{c.endless ? "endless" : "none", 720},
                        marginCell(c.margin),
                        c.kind->stepDeg > 0 ? numberCell(c.kind->stepDeg, 1) : TableCell{"none", 0},
                        {off, worstOff},
                        numberCell(c.lengthChangeMm, 1),
                        c.inPlace ? numberCell(c.gapMm2, 0) : TableCell{"-", 1e9},
                        numberCell(c.kind->priceClass, 0),
                        {QString::fromStdString(c.kind->found), {}},
                        c.strength.lossPer100
                            ? TableCell{numberText(*c.strength.lossPer100 * 100, 1) + " %", *c.strength.lossPer100}
                            : TableCell{"not measured", 1e9},
                        {c.strength.holding.measured ? "measured" : "starting value", {}}});
    }
    fillTable(m_table,
              {"Kind", "Why", "Free", "Margin", "Step °", "Off the poses", "Length ± mm", "Seen mm²", "Price class",
               "Found", "Loss in 100 moves", "Basis"},
              rows);
    m_table->setColumnWidth(1, std::min(m_table->columnWidth(1), 230));
    if (m_table->rowCount() > 0) m_table->selectRow(0);
    showDetail();
}

const pose::JointChoice* ChooseTab::chosen() const {
    const int row = m_table->currentRow();
    if (row < 0 || !m_table->item(row, 0)) return nullptr;
    const QString text = m_table->item(row, 0)->text();
    for (const auto& c : m_choices)
        if (text.mid(2).section(" (now)", 0, 0).toStdString() == c.kind->name) return &c;
    return nullptr;
}

void ChooseTab::showDetail() {
    const auto* c = chosen();
    m_use->setEnabled(c && c->inPlace && !c->present);
    if (!c) return;
    QString text = QString::fromStdString(c->kind->name + ": " + c->says);
    QStringList off;
    for (const auto& n : c->nearest)
        if (std::abs(n.nearest - n.wanted) > 0.05)
            off << QString::fromStdString(n.pose) + " " + numberText(n.wanted, 1) + " → " + numberText(n.nearest, 1) +
                       "°";
    if (!off.isEmpty()) text += ". Nearest steps: " + off.join(", ");
    m_detail->setText(text);
    m_detail->setToolTip(text + "\n" + QString::fromStdString(c->kind->note) + "\n" +
                         QString::fromStdString(c->strength.holding.basis));
}

void ChooseTab::use() {
    const auto* c = chosen();
    const int joint = currentJoint();
    if (!c || !c->inPlace || c->present || joint < 0) return;
    const auto id = m_session.currentJoint();
    const std::string kind = c->kind->name;
    m_session.apply("Exchange for " + QString::fromStdString(kind),
                    [&](const model::Project& p) { return model::exchangeJointKind(p, id, kind); });
}

} // namespace ivrant::app
