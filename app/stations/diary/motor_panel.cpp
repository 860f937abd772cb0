// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stations/diary/motor_panel.h"

#include <set>

#include "app/shell/table_tools.h"
#include "app/stations/diary/number_box.h"
#include "core/base/units.h"
#include "core/drive/motor.h"

namespace ivrant::app {
namespace {

/// The stand-in's motor differs from the starting values, as any real one does.
trials::StandTruth makeTruth(const drive::MotorLine& starting) {
    constexpr double kSpeed = 0.93, kTorque = 0.85, kCurrent = 1.1, kOpenV = 8.9, kInnerOhm = 1.3;
    trials::StandTruth truth;
    truth.ratedV = starting.ratedV;
    truth.noLoadRpm = kSpeed * starting.noLoadRpm;
    truth.stallNmm = kTorque * starting.stallNmm;
    truth.noLoadA = kCurrent * starting.noLoadA;
    truth.stallA = kCurrent * starting.stallA;
    truth.openV = kOpenV;
    truth.innerOhm = kInnerOhm;
    return truth;
}

} // namespace

MotorPanel::MotorPanel(Session& session, QWidget* parent)
    : TestPanel(session,
                {.prefix = "motor",
                 .table = "motorRuns",
                 .results = "Runs",
                 .typed = "Run",
                 .take = "take a run (R)",
                 .note = "note: which motor, how old, which cells",
                 .keepTip = "This line counts for motors of the kind in this project from now on; undo takes it back",
                 .shareTip = "This line counts in every project of yours that has none of its own",
                 .keepLabel = "Keep motor runs",
                 .standIn = "stand"},
                parent),
      m_motor(new QComboBox(this)), m_source(new QComboBox(this)),
      m_drum(makeNumberBox(this, "drumDiameter", "Diameter of the drum with its string", 1, 200, 12, " mm")),
      m_weight(makeNumberBox(this, "drumWeight", "Weight on the drum", 0, 50'000, 0, " g")),
      m_weightLabel(new QLabel("Weight on it", this)), m_chart(new RunChart(this)) {
    m_motor->setObjectName("motorLine");
    m_motor->setAccessibleName("Motor on the bench");
    m_source->setObjectName("motorSource");
    m_source->setAccessibleName("Runs come from");
    m_source->addItems({"typed by hand", "the simulated motor stand"});
    m_typed->setPlaceholderText("40 g 312 rpm 0.21 A 8.74 V");
    m_typed->setToolTip("Weight (g) or torque (Nmm), speed (rpm), current (A or mA) and voltage at the motor (V), in "
                        "any order; 0 rpm: it stalls");
    addField(new QLabel("Motor", this), m_motor);
    addField(new QLabel("Drum with its string", this), m_drum);
    addField(new QLabel("Runs", this), m_source);
    addField(m_weightLabel, m_weight);
    layOut(new QLabel("The run", this), nullptr, m_chart);
    connect(m_motor, &QComboBox::activated, this, &MotorPanel::startAnew);
    connect(m_source, &QComboBox::currentIndexChanged, this, &MotorPanel::showForm);
    showProject();
    showForm();
}

void MotorPanel::showProject() {
    const QString kept = m_motor->currentText();
    std::set<std::string> own;
    for (const auto& board : m_session.project().boards)
        for (const auto& motor : board->motors) own.insert(motor.line);
    m_motor->clear();
    for (const auto& line : drive::getStartingMotors())
        if (!line.byHand) m_motor->addItem(QString::fromStdString(line.name));
    for (const std::string& name : own)
        if (!drive::findStartingMotor(name)) m_motor->addItem(QString::fromStdString(name));
    m_motor->setCurrentIndex(std::max(0, m_motor->findText(kept)));
    showRuns();
}

double MotorPanel::ratedV() const {
    const auto* starting = drive::findStartingMotor(line());
    return starting ? starting->ratedV : drive::getStartingBattery().voltage;
}

void MotorPanel::showForm() {
    const bool simulated = isSimulated();
    for (QWidget* w : {static_cast<QWidget*>(m_typed), static_cast<QWidget*>(m_add)}) w->setVisible(!simulated);
    for (QWidget* w :
         {static_cast<QWidget*>(m_weight), static_cast<QWidget*>(m_weightLabel), static_cast<QWidget*>(m_take)})
        w->setVisible(simulated);
    QString steps =
        "1. Fix the motor; put a drum on its shaft and wind a thin string on it. Measure across drum and string.\n"
        "2. First run: nothing on the string. Read speed, current, and the voltage at the motor while it runs.\n"
        "3. Hang on a weight and let the motor lift it: read again while it rises evenly. Repeat with heavier "
        "weights.\n"
        "4. Last run: so much weight that it just stands still. Read quickly, a stalled motor gets hot within "
        "seconds.\n"
        "5. Five runs or more, spread from nothing to stall, make a good line; the falling voltage tells the battery.";
    if (simulated)
        steps += "\n\nThe simulated stand is no real one: it has a motor, a battery and noise of its own, for trying "
                 "the way. What it says is marked as "
                 "simulated.";
    steps += "\n\nKeep fingers off the string and from under the weight. Cells: only undamaged ones, not left alone "
             "while they are used or charged.";
    m_steps->setText(steps);
    showRuns();
}

void MotorPanel::startAnew() {
    m_runs.clear();
    m_stand.reset();
    m_simulated = false;
    showForm();
}

void MotorPanel::addTyped() {
    const std::string text = m_typed->text().trimmed().toStdString();
    if (text.empty()) return;
    const auto run = trials::parseMotorLine(text, m_drum->value());
    if (!run) return refuse(QString::fromStdString(run.error().message));
    if (!(run->voltageV > 0)) return refuse("the voltage at the motor is missing, such as 8.74 V");
    addRun(*run);
    m_typed->clear();
    m_typed->setFocus();
}

void MotorPanel::take() {
    if (!isSimulated()) return m_typed->setFocus();
    const auto* starting = drive::findStartingMotor(line());
    if (!starting) return m_session.say("The stand-in knows the usual motors only", true);
    const auto torque = trials::calcDrumTorque(m_weight->value(), m_drum->value());
    if (!torque) return refuse(QString::fromStdString(torque.error().message));
    if (!m_stand) m_stand.emplace(makeTruth(*starting), static_cast<unsigned>(qHash(m_motor->currentText(), 7)));
    m_simulated = true;
    addRun(m_stand->run(*torque));
}

void MotorPanel::addRun(const model::MotorRun& run) {
    m_runs.push_back(run);
    showRuns();
}

void MotorPanel::removeResult(int index) {
    m_runs.erase(m_runs.begin() + index);
    showRuns();
}

void MotorPanel::showRuns() {
    std::vector<TableRow> rows;
    rows.reserve(m_runs.size());
    for (const model::MotorRun& run : m_runs)
        rows.push_back({numberCell(run.torqueNmm, 1), numberCell(run.rpm, 0), numberCell(run.currentA, 3),
                        numberCell(run.voltageV, 2)});
    fillResults({"Torque N·mm", "rpm", "A", "V"}, std::move(rows));
    const auto fit = trials::fitMotor(m_runs, ratedV());
    m_chart->show(m_runs, ratedV(), fit ? std::optional<trials::MotorFit>(*fit) : std::nullopt);
    showButtons(!m_runs.empty(), fit.ok(), fit.ok());
    QString says;
    if (!fit) {
        says =
            m_runs.empty() ? QString("No run yet.") : QString::fromStdString(fit.error().message).toHtmlEscaped() + ".";
    } else {
        says = "<b>" + QString::number(fit->runs) + " runs</b>, at " + numberText(fit->ratedV, 1) + " V: no load <b>" +
               numberText(fit->noLoadRpm, 0) + " rpm</b>, stall <b>" + numberText(fit->stallNmm, 1) + " N·mm</b>, " +
               numberText(fit->noLoadA, 2) + " A idle, " + numberText(fit->stallA, 2) + " A stalled. Runs lie " +
               numberText(fit->spreadRpm, 1) + " rpm about the line.";
        says += fit->openV ? "<br>Battery: " + numberText(*fit->openV, 2) + " V open, " +
                                 numberText(*fit->innerOhm, 2) + " ohm inside."
                           : QString("<br>The voltage did not fall with the current: nothing is said of the battery.");
        if (const auto* starting = drive::findStartingMotor(line()))
            says += "<br>Starting values: " + numberText(starting->noLoadRpm, 0) + " rpm, " +
                    numberText(starting->stallNmm, 0) + " N·mm, not measured.";
    }
    sayResults(says);
}

model::Series MotorPanel::makeSeries() const {
    model::Series series;
    series.quantity = model::Quantity::Motor;
    series.kind = line();
    series.runs = m_runs;
    return series;
}

} // namespace ivrant::app
