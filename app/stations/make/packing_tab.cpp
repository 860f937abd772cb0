// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stations/make/packing_tab.h"

#include <QFileDialog>
#include <QHBoxLayout>
#include <QPushButton>
#include <QSplitter>
#include <QVBoxLayout>

#include "app/shell/flow_layout.h"
#include "app/shell/table_tools.h"
#include "app/shell/text.h"
#include "app/shell/theme.h"
#include "app/shell/when_seen.h"
#include "core/base/at.h"
#include "core/files/atomic_file.h"
#include "core/files/results_modules.h"

namespace ivrant::app {

PackingTab::PackingTab(Session& session, QWidget* parent)
    : StationTab(session, parent), m_kg(new QDoubleSpinBox(this)), m_foam(new QDoubleSpinBox(this)),
      m_hours(new QDoubleSpinBox(this)), m_running(new QDoubleSpinBox(this)), m_told(new QLabel(this)),
      m_chart(new BoxChart(this)), m_putUp(new QTableWidget(this)), m_bring(new QTableWidget(this)),
      m_live(session.jobs()) {
    m_told->setObjectName("packTold");
    m_told->setWordWrap(true);
    m_putUp->setObjectName("putUpTable");
    m_putUp->setAccessibleName("Putting up at the show");
    m_bring->setObjectName("bringTable");
    m_bring->setAccessibleName("What to bring");
    setUpTable(m_putUp, "putting up");
    setUpTable(m_bring, "bring");
    auto* form = new QWidget(this);
    makeForm(form);
    auto* tables = new QWidget(this);
    auto* column = new QVBoxLayout(tables);
    column->setContentsMargins(8, 0, 0, 0);
    column->addWidget(m_putUp, 1);
    column->addWidget(m_bring, 1);
    auto* halves = new QSplitter(this);
    halves->addWidget(m_chart);
    halves->addWidget(tables);
    halves->setStretchFactor(0, 1);
    halves->setStretchFactor(1, 1);
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(12, 8, 12, 4);
    layout->addWidget(form);
    layout->addWidget(m_told);
    layout->addWidget(halves, 1);
    auto* bar = new QHBoxLayout;
    bar->addStretch(1);
    const auto button = [&](const QString& text, const QString& name, const QString& ending) {
        auto* b = new QPushButton(text, this);
        b->setObjectName(name);
        connect(b, &QPushButton::clicked, this, [this, ending] {
            const QString path = QFileDialog::getSaveFileName(this, "Packing", "packing." + ending,
                                                              ending.toUpper() + " (*." + ending + ")");
            if (!path.isEmpty()) writePlan(path);
        });
        bar->addWidget(b);
    };
    button("Packing list as CSV …", "packCsv", "csv");
    button("Drawing of the boxes …", "packSvg", "svg");
    layout->addLayout(bar);
    connect(&session, &Session::projectChanged, this, [this] { outdate(); });
    connect(&session, &Session::reportChanged, this, whenSeen(this, [this] { outdate(); }));
}

void PackingTab::makeForm(QWidget* form) {
    auto* flow = new FlowLayout(form);
    flow->setContentsMargins(0, 0, 0, 0);
    const auto add = [&](const QString& text, QDoubleSpinBox* field, const QString& name, const QString& spoken,
                         double low, double high, double step, int decimals, const QString& unit) {
        auto* pair = new QWidget(form);
        auto* row = new QHBoxLayout(pair);
        row->setContentsMargins(0, 0, 0, 0);
        if (!text.isEmpty()) {
            auto* label = new QLabel(text, pair);
            label->setBuddy(field);
            row->addWidget(label);
        }
        field->setObjectName(name);
        field->setAccessibleName(spoken);
        field->setRange(low, high);
        field->setSingleStep(step);
        field->setDecimals(decimals);
        field->setSuffix(unit);
        row->addWidget(field);
        flow->addWidget(pair);
        connect(field, &QDoubleSpinBox::editingFinished, this, &PackingTab::takeForm);
    };
    for (auto*& field : m_box) field = new QDoubleSpinBox(this);
    add("Largest box inside", m_box[0], "packAlong", "Along the box", 50, 3000, 10, 0, " mm");
    add("×", m_box[1], "packAcross", "Across the box", 50, 3000, 10, 0, " mm");
    add("×", m_box[2], "packHigh", "Height of the box", 50, 3000, 10, 0, " mm high");
    add("at most", m_kg, "packKg", "Weight of a box", 0.1, 100, 1, 1, " kg");
    add("foam", m_foam, "packFoam", "Foam round each piece", 0, 100, 5, 0, " mm");
    add("shown for", m_hours, "packHours", "Hours of the show", 0, 24, 1, 1, " h");
    add("motors run", m_running, "packRunning", "Share of the time that motors run", 0, 100, 10, 0, " % of them");
}

void PackingTab::fillForm() {
    const model::Packing& packing = m_session.project().making.packing;
    m_filling = true;
    for (std::size_t k = 0; k < 3; ++k) m_box[k]->setValue(packing.boxMm[k]);
    m_kg->setValue(packing.mostKg);
    m_foam->setValue(packing.foamMm);
    m_hours->setValue(packing.showHours);
    m_running->setValue(100 * packing.running);
    m_filling = false;
}

void PackingTab::takeForm() {
    if (m_filling) return;
    model::Packing packing;
    for (std::size_t k = 0; k < 3; ++k) packing.boxMm[k] = m_box[k]->value();
    packing.mostKg = m_kg->value();
    packing.foamMm = m_foam->value();
    packing.showHours = m_hours->value();
    packing.running = m_running->value() / 100;
    if (packing == m_session.project().making.packing) return;
    m_session.apply("Wishes for packing", [&](const model::Project& p) { return model::setPacking(p, packing); });
}

void PackingTab::refresh() {
    fillForm();
    const auto report = m_session.isReportCurrent() ? m_session.report() : nullptr;
    m_live.cancel();
    if (!report) return m_told->setText("Looking at the pieces …");
    m_live.ask(
        "packing", [report](base::Progress&) { return std::optional(study::planPacking(*report)); },
        [this, report](study::PackPlan plan) {
            m_plan = std::move(plan);
            m_of = report;
            showPlan(*m_plan, *report);
        });
}

void PackingTab::showPlan(const study::PackPlan& plan, const verdict::Report& report) {
    const model::Project& project = *report.project;
    m_chart->show(plan, project.making.packing.foamMm);
    m_running->parentWidget()->setVisible(report.drive && !report.drive->motors.empty());
    QStringList off;
    for (const int one : plan.taken) off << qs(at(project.modules.list, one).name);
    QString text;
    if (plan.pieces.empty())
        text = "There is nothing to pack yet.";
    else if (plan.fits())
        text = (plan.boxes.size() == 1 ? QString("One box") : QString::number(plan.boxes.size()) + " boxes") +
               ", folded to " + qs(at(report.poses, plan.pose).name) +
               (off.isEmpty() ? ", in one piece" : ", without " + off.join(", "));
    else
        text = "▼ Not all of it fits the largest box" +
               (off.isEmpty() ? project.modules.list.empty() ? QString(": say in Modules what lifts off")
                                                             : QString(", and no module that lifts off helps")
                              : ", even without " + off.join(", "));
    if (!plan.pieces.empty())
        text += ". " + number(plan.putUpMinutes(), 1) +
                " minutes to put up. Weights of foam and card, minutes and spares are starting values.";
    m_told->setText(text);
    std::vector<TableRow> steps, bring;
    int turn = 0;
    for (const study::PutUpStep& step : plan.putUp)
        steps.push_back({numberCell(++turn, 0), {qs(step.text), {}}, numberCell(step.minutes, 1)});
    fillTable(m_putUp, {"", "Putting up", "Minutes"}, steps);
    for (const study::BringLine& line : plan.bring)
        bring.push_back({numberCell(line.count, 0), {qs(line.what), {}}, {qs(line.why), {}}});
    fillTable(m_bring, {"", "Bring", "Why"}, bring);
}

void PackingTab::writePlan(const QString& path) {
    if (!m_plan || !m_of) return m_session.say("There is nothing to write yet", true);
    const bool done = path.endsWith(".csv")
                          ? files::writeFileAtomically(path.toStdString(), files::makePackingCsv(*m_of, *m_plan)).ok()
                          : m_chart->saveChart(path);
    m_session.say(done ? "Written: " + path : "It could not be written to " + path, !done);
}

} // namespace ivrant::app
