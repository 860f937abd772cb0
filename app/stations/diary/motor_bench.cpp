// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stations/diary/motor_bench.h"

#include <QDate>
#include <QGridLayout>
#include <QHBoxLayout>
#include <QVBoxLayout>
#include <set>

#include "app/shell/flow_layout.h"
#include "app/shell/table_tools.h"
#include "app/stations/diary/number_box.h"
#include "core/base/units.h"
#include "core/drive/motor.h"
#include "core/model/edits.h"

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

MotorBench::MotorBench(Session& session, QWidget* parent)
    : QWidget(parent), m_session(session), m_motor(new QComboBox(this)), m_source(new QComboBox(this)),
      m_drum(makeNumberBox(this, "drumDiameter", "Diameter of the drum with its string", 1, 200, 12, " mm")),
      m_weight(makeNumberBox(this, "drumWeight", "Weight on the drum", 0, 50'000, 0, " g")),
      m_weightLabel(new QLabel("Weight on it", this)), m_typedLabel(new QLabel("The run", this)),
      m_steps(new QLabel(this)), m_says(new QLabel(this)), m_typed(new QLineEdit(this)), m_note(new QLineEdit(this)),
      m_add(new QPushButton("add", this)), m_take(new QPushButton("take a run (R)", this)),
      m_drop(new QPushButton("remove", this)), m_keep(new QPushButton("keep in this project", this)),
      m_keepWorkshop(new QPushButton("keep in my library", this)), m_table(new QTableWidget(this)),
      m_chart(new RunChart(this)) {
    m_motor->setObjectName("motorLine");
    m_motor->setAccessibleName("Motor on the bench");
    m_source->setObjectName("motorSource");
    m_source->setAccessibleName("Runs come from");
    m_source->addItems({"typed by hand", "the simulated motor stand"});
    m_typed->setObjectName("motorTyped");
    m_typed->setAccessibleName("Run");
    m_typed->setPlaceholderText("40 g 312 rpm 0.21 A 8.74 V");
    m_typed->setToolTip("Weight (g) or torque (Nmm), speed (rpm), current (A or mA) and voltage at the motor (V), in "
                        "any order; 0 rpm: it stalls");
    m_note->setObjectName("motorNote");
    m_note->setAccessibleName("Note");
    m_note->setPlaceholderText("note: which motor, how old, which cells");
    m_add->setObjectName("motorAdd");
    m_take->setObjectName("motorTake");
    m_drop->setObjectName("motorDrop");
    m_keep->setObjectName("motorKeep");
    m_keep->setToolTip("This line counts for motors of the kind in this project from now on; undo takes it back");
    m_keepWorkshop->setObjectName("motorKeepWorkshop");
    m_keepWorkshop->setToolTip("This line counts in every project of yours that has none of its own");
    m_steps->setObjectName("motorSteps");
    m_steps->setWordWrap(true);
    m_says->setObjectName("motorSays");
    m_says->setWordWrap(true);
    m_says->setTextFormat(Qt::RichText);
    m_table->setObjectName("motorRuns");
    m_table->setAccessibleName("Runs");
    setUpTable(m_table, "motor runs");

    auto* form = new QGridLayout;
    form->setVerticalSpacing(6);
    int row = 0;
    const auto add = [&](QLabel* label, QWidget* field) {
        label->setBuddy(field);
        form->addWidget(label, row, 0);
        form->addWidget(field, row++, 1);
    };
    add(new QLabel("Motor", this), m_motor);
    add(new QLabel("Drum with its string", this), m_drum);
    add(new QLabel("Runs", this), m_source);
    add(m_weightLabel, m_weight);
    auto* typed = new QHBoxLayout;
    typed->addWidget(m_typed, 1);
    typed->addWidget(m_add);
    typed->addWidget(m_take);
    form->addWidget(m_typedLabel, row, 0);
    form->addLayout(typed, row, 1);
    form->setColumnStretch(1, 1);
    auto* left = new QVBoxLayout;
    left->addLayout(form);
    left->addWidget(m_steps);
    left->addStretch(1);
    auto* right = new QVBoxLayout;
    right->addWidget(m_table, 2);
    auto* drop = new QHBoxLayout;
    drop->addStretch(1);
    drop->addWidget(m_drop);
    right->addLayout(drop);
    right->addWidget(m_chart, 2);
    right->addWidget(m_says);
    right->addWidget(m_note);
    auto* keeps = new FlowLayout;
    keeps->addWidget(m_keep);
    keeps->addWidget(m_keepWorkshop);
    right->addLayout(keeps);
    auto* layout = new QHBoxLayout(this);
    layout->setContentsMargins(12, 10, 12, 10);
    layout->setSpacing(24);
    layout->addLayout(left, 1);
    layout->addLayout(right, 1);

    connect(m_motor, &QComboBox::activated, this, &MotorBench::startAnew);
    connect(m_source, &QComboBox::currentIndexChanged, this, &MotorBench::showForm);
    connect(m_typed, &QLineEdit::returnPressed, this, &MotorBench::addTyped);
    connect(m_add, &QPushButton::clicked, this, &MotorBench::addTyped);
    connect(m_take, &QPushButton::clicked, this, &MotorBench::takeRun);
    connect(m_drop, &QPushButton::clicked, this, &MotorBench::removeRun);
    connect(m_keep, &QPushButton::clicked, this, [this] { keep(false); });
    connect(m_keepWorkshop, &QPushButton::clicked, this, [this] { keep(true); });
    showProject();
    showForm();
}

void MotorBench::showProject() {
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

double MotorBench::ratedV() const {
    const auto* starting = drive::findStartingMotor(line());
    return starting ? starting->ratedV : drive::getStartingBattery().voltage;
}

void MotorBench::showForm() {
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

void MotorBench::startAnew() {
    m_runs.clear();
    m_stand.reset();
    m_simulated = false;
    showForm();
}

void MotorBench::addTyped() {
    const std::string text = m_typed->text().trimmed().toStdString();
    if (text.empty()) return;
    const auto run = trials::parseMotorLine(text, m_drum->value());
    if (!run) return m_session.say("Not taken: " + QString::fromStdString(run.error().message), true);
    if (!(run->voltageV > 0))
        return m_session.say("Not taken: the voltage at the motor is missing, such as 8.74 V", true);
    addRun(*run);
    m_typed->clear();
    m_typed->setFocus();
}

void MotorBench::takeRun() {
    if (!isSimulated()) return m_typed->setFocus();
    const auto* starting = drive::findStartingMotor(line());
    if (!starting) return m_session.say("The stand-in knows the usual motors only", true);
    const auto torque = trials::calcDrumTorque(m_weight->value(), m_drum->value());
    if (!torque) return m_session.say("Not taken: " + QString::fromStdString(torque.error().message), true);
    if (!m_stand) m_stand.emplace(makeTruth(*starting), static_cast<unsigned>(qHash(m_motor->currentText(), 7)));
    m_simulated = true;
    addRun(m_stand->run(*torque));
}

void MotorBench::addRun(const model::MotorRun& run) {
    m_runs.push_back(run);
    showRuns();
}

void MotorBench::removeRun() {
    const int row = m_table->currentRow();
    if (row < 0 || !m_table->item(row, 0)) return;
    const int index = m_table->item(row, 0)->text().toInt() - 1;
    if (index >= 0 && index < static_cast<int>(m_runs.size())) m_runs.erase(m_runs.begin() + index);
    showRuns();
}

void MotorBench::showRuns() {
    std::vector<TableRow> rows;
    rows.reserve(m_runs.size());
    for (std::size_t i = 0; i < m_runs.size(); ++i)
        rows.push_back({numberCell(static_cast<double>(i + 1), 0), numberCell(m_runs[i].torqueNmm, 1),
                        numberCell(m_runs[i].rpm, 0), numberCell(m_runs[i].currentA, 3),
                        numberCell(m_runs[i].voltageV, 2)});
    fillTable(m_table, {"", "Torque N·mm", "rpm", "A", "V"}, rows);
    const auto fit = trials::fitMotor(m_runs, ratedV());
    m_chart->show(m_runs, ratedV(), fit ? std::optional<trials::MotorFit>(*fit) : std::nullopt);
    m_drop->setEnabled(!m_runs.empty());
    m_keep->setEnabled(fit.ok());
    m_keepWorkshop->setEnabled(fit.ok());
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
    if (m_simulated) says += "<br>▼ Some runs came from the <b>simulated</b> stand.";
    m_says->setText(says);
}

void MotorBench::keep(bool workshop) {
    model::Series series;
    series.quantity = model::Quantity::Motor;
    series.kind = line();
    series.runs = m_runs;
    series.date = QDate::currentDate().toString("yyyy-MM-dd").toStdString();
    series.note = m_note->text().trimmed().toStdString();
    if (m_simulated) series.note = "simulated" + (series.note.empty() ? std::string() : "; " + series.note);
    const bool kept = workshop ? m_session.keepInWorkshop(series)
                               : m_session.apply("Keep motor runs",
                                                 [&](const model::Project& p) { return model::putSeries(p, series); });
    if (!kept) return;
    m_session.say(QString::number(series.runs.size()) +
                  (workshop ? " runs kept in the workshop's library" : " runs kept in this project"));
    m_note->clear();
    startAnew();
}

} // namespace ivrant::app
