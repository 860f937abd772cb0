// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stations/pose/compare_tab.h"

#include <QFileDialog>
#include <QHBoxLayout>
#include <QPushButton>
#include <QVBoxLayout>

#include "app/shell/table_tools.h"
#include "core/base/at.h"
#include "core/base/units.h"
#include "core/model/variants.h"
#include "print/compare_sheet.h"

namespace ivrant::app {
namespace {

QString sideText(const std::optional<verdict::JointSide>& side) {
    if (!side) return "no such joint";
    QString text = QString::fromStdString(side->kind);
    text +=
        side->free ? ", " + numberText(side->free->low, 0) + ".." + numberText(side->free->high, 0) + "°" : ", endless";
    if (side->margin) text += ", holds " + QString::fromStdString(base::formatMargin(*side->margin));
    return text;
}

} // namespace

CompareTab::CompareTab(Session& session, QWidget* parent)
    : PoseTab(session, parent), m_with(new QComboBox(this)), m_over(new QCheckBox("overlay", this)),
      m_same(new QCheckBox("all rows", this)), m_text(new QLabel(this)), m_table(new QTableWidget(this)),
      m_live(session.jobs()) {
    m_with->setObjectName("compareWith");
    m_with->setAccessibleName("Other variant");
    m_over->setObjectName("compareOver");
    m_over->setToolTip("Draw the other variant in outline over the one shown");
    m_same->setToolTip("Show also what is the same in both");
    m_text->setObjectName("compareText");
    m_text->setWordWrap(true);
    m_table->setObjectName("comparison");
    m_table->setAccessibleName("Differences");
    setUpTable(m_table, "comparison");
    auto* sheet = new QPushButton("one-page sheet …", this);
    sheet->setObjectName("compareSheet");
    sheet->setToolTip("Write the comparison as a PDF or HTML page");
    auto* row = new QHBoxLayout;
    auto* label = new QLabel("against", this);
    label->setBuddy(m_with);
    row->addWidget(label);
    row->addWidget(m_with);
    row->addWidget(m_over);
    row->addWidget(m_same);
    row->addWidget(m_text, 1);
    row->addWidget(sheet);
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(0, 2, 0, 0);
    layout->addLayout(row);
    layout->addWidget(m_table, 1);
    connect(m_with, &QComboBox::activated, this, &CompareTab::refresh);
    connect(m_over, &QCheckBox::toggled, this, &CompareTab::overlayChanged);
    connect(m_same, &QCheckBox::toggled, this, [this] {
        if (m_comparison) show(*m_comparison);
    });
    connect(sheet, &QPushButton::clicked, this, &CompareTab::saveSheet);
}

void CompareTab::hideEvent(QHideEvent* event) {
    PoseTab::hideEvent(event);
    if (m_over->isChecked()) emit overlayChanged();
}

void CompareTab::refresh() {
    const auto& project = m_session.project();
    const QString kept = m_with->currentData().toString();
    {
        const QSignalBlocker quiet(m_with);
        m_with->clear();
        for (const auto& v : project.variants)
            if (v.body) m_with->addItem(QString::fromStdString(v.name), QString::fromStdString(v.id.text));
        m_with->setCurrentIndex(std::max(0, m_with->findData(kept)));
    }
    m_other.reset();
    m_comparison.reset();
    m_table->setRowCount(0);
    if (m_with->count() == 0) {
        m_text->setText("Only one variant so far: make another with the + beside the model's name.");
        emit overlayChanged();
        return;
    }
    const auto shown = std::make_shared<const model::Project>(project);
    const int other = model::findVariant(project, {m_with->currentData().toString().toStdString()});
    m_text->setText("…");
    m_live.ask(
        "comparing variants",
        [shown, other](base::Progress& progress) -> std::optional<Result> {
            const auto a = verdict::calcReport(shown, &progress);
            const auto b = std::make_shared<const verdict::Report>(verdict::calcReport(
                std::make_shared<const model::Project>(model::takeVariant(*shown, other)), &progress));
            if (!a.complete || !b->complete) return std::nullopt;
            const auto nameOf = [&](int v) { return at(shown->variants, v).name; };
            return Result{b, verdict::compareReports(a, *b, nameOf(model::findShownVariant(*shown)), nameOf(other))};
        },
        [this](Result result) {
            m_other = result.other;
            m_comparison = std::move(result.comparison);
            show(*m_comparison);
            emit overlayChanged();
        });
}

void CompareTab::show(const verdict::Comparison& c) {
    std::vector<TableRow> rows;
    int joints = 0, parts = 0;
    for (const auto& f : c.figures) {
        const int decimals = f.unit.empty() ? 0 : 1;
        if (numberText(f.a, decimals) == numberText(f.b, decimals) && !m_same->isChecked()) continue;
        const QString unit = f.unit.empty() ? "" : f.unit == "deg" ? "°" : " " + QString::fromStdString(f.unit);
        rows.push_back({{"whole", {}},
                        {QString::fromStdString(f.what), {}},
                        {numberText(f.a, decimals) + unit, {}},
                        {numberText(f.b, decimals) + unit, {}},
                        numberCell(f.b - f.a, decimals)});
    }
    for (const auto& j : c.joints) {
        joints += j.differs() ? 1 : 0;
        if (!j.differs() && !m_same->isChecked()) continue;
        const double change = j.a && j.b ? j.b->margin.value_or(0) - j.a->margin.value_or(0) : 0;
        rows.push_back({{"joint", {}},
                        {QString::fromStdString(j.name), {}},
                        {sideText(j.a), {}},
                        {sideText(j.b), {}},
                        numberCell(change, 1)});
    }
    for (const auto& l : c.lengths) {
        if (std::abs(l.aMm - l.bMm) < 0.05 && !m_same->isChecked()) continue;
        rows.push_back({{"length", {}},
                        {QString::fromStdString(l.from + " to " + l.to), {}},
                        {numberText(l.aMm, 1) + " mm", {}},
                        {numberText(l.bMm, 1) + " mm", {}},
                        numberCell(l.bMm - l.aMm, 1)});
    }
    for (const auto& p : c.parts) {
        ++parts;
        rows.push_back({{"part", {}},
                        {QString::fromStdString(p.shape + " " + p.colour), {}},
                        {QString::number(p.countA) + " ×", {}},
                        {QString::number(p.countB) + " ×", {}},
                        numberCell(p.countB - p.countA, 0)});
    }
    fillTable(m_table, {"", "What", QString::fromStdString(c.nameA), QString::fromStdString(c.nameB), "Change"}, rows);
    for (const int column : {2, 3}) m_table->setColumnWidth(column, std::min(m_table->columnWidth(column), 215));
    m_text->setText(QString::number(joints) + " joints, " + QString::number(parts) + " lines of parts differ");
}

void CompareTab::saveSheet() {
    if (!m_comparison || !m_other || !m_session.report()) return m_session.say("There is nothing to compare yet", true);
    const QString path =
        QFileDialog::getSaveFileName(this, "Comparison", "comparison.pdf", "PDF (*.pdf);;HTML (*.html)");
    if (path.isEmpty()) return;
    const auto written = print::writeCompareSheet(*m_session.report(), *m_other, *m_comparison, path.toStdString());
    m_session.say(written ? "Comparison written: " + path : QString::fromStdString(written.error().message), !written);
}

} // namespace ivrant::app
