// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stations/diary/strength_panel.h"

#include <QFileDialog>
#include <array>

#include "app/shell/table_tools.h"
#include "app/stations/diary/number_box.h"
#include "core/base/at.h"
#include "core/base/units.h"
#include "core/files/atomic_file.h"
#include "core/trials/readings_csv.h"
#include "core/trials/statistics.h"
#include "core/trials/strengths.h"

namespace ivrant::app {
namespace {

using base::formatNumber;

constexpr std::chrono::milliseconds kPatience{8000};
constexpr double kSimulatedShare =
    0.82; ///< the stand-in's true value over the starting value: a guess like any joint's own
constexpr double kSimulatedSpread = 0.05; ///< of the true value
constexpr std::size_t kMostCsv = 4 << 20;

} // namespace

StrengthPanel::StrengthPanel(Session& session, QWidget* parent)
    : TestPanel(session,
                {.prefix = "strength",
                 .table = "strengthReadings",
                 .results = "Readings",
                 .typed = "Reading",
                 .take = "take a reading (R)",
                 .note = "note: which parts, how old, how cold",
                 .keepTip = "These readings count in this project from now on; undo takes them back",
                 .shareTip = "These readings count in every project of yours that has none of its own",
                 .keepLabel = "Keep readings",
                 .standIn = "scale"},
                parent),
      m_test(new QComboBox(this)), m_scope(new QComboBox(this)), m_source(new QComboBox(this)),
      m_rawUnit(new QLabel(this)),
      m_distance(makeNumberBox(this, "leverDistance", "Distance of the weight from the axis", 1, 2000, 80, " mm")),
      m_arm(makeNumberBox(this, "leverArm", "Mass of the arm itself", 0, 50'000, 0, " g")),
      m_armCentre(
          makeNumberBox(this, "leverArmCentre", "Distance of the arm's centre from the axis", -2000, 2000, 0, " mm")),
      m_moves(makeNumberBox(this, "wearMoves", "Moves made before this reading", 0, 1e6, 0, "")),
      m_distanceLabel(new QLabel("Weight hangs at", this)), m_armLabel(new QLabel("The arm weighs", this)),
      m_armCentreLabel(new QLabel("with its centre at", this)), m_movesLabel(new QLabel("After so many moves", this)),
      m_deviceLabel(new QLabel("Device", this)), m_device(new QLineEdit("/dev/ttyUSB0", this)), m_live(session.jobs()) {
    m_test->setObjectName("strengthTest");
    m_test->setAccessibleName("Test");
    m_test->addItems({"lever test: what a joint holds", "pull test: when a joint comes apart",
                      "wear test: holding against moves", "pull on one stud", "shear of one stud"});
    m_scope->setObjectName("strengthScope");
    m_scope->setAccessibleName("What is tested");
    m_scope->setToolTip("One joint of this model, or any joint of a kind");
    m_source->setObjectName("strengthSource");
    m_source->setAccessibleName("Readings come from");
    m_source->addItems({"typed by hand", "the simulated scale", "a scale on a serial line"});
    m_device->setObjectName("strengthDevice");
    m_device->setAccessibleName("Serial device");
    addField(new QLabel("Test", this), m_test);
    addField(new QLabel("of", this), m_scope);
    addField(m_distanceLabel, m_distance);
    addField(m_armLabel, m_arm);
    addField(m_armCentreLabel, m_armCentre);
    addField(m_movesLabel, m_moves);
    addField(new QLabel("Readings", this), m_source);
    addField(m_deviceLabel, m_device);
    layOut(new QLabel("It gave way at", this), m_rawUnit);
    connect(m_test, &QComboBox::currentIndexChanged, this, [this] {
        startAnew();
        fillScopes();
        showForm();
    });
    connect(m_scope, &QComboBox::activated, this, [this] {
        m_scopeChosen = true;
        startAnew();
    });
    connect(m_source, &QComboBox::currentIndexChanged, this, &StrengthPanel::showForm);
    for (QDoubleSpinBox* box : {m_distance, m_arm, m_armCentre})
        connect(box, &QDoubleSpinBox::valueChanged, this, &StrengthPanel::showForm);
    showProject();
    showForm();
}

void StrengthPanel::fillScopes() {
    const QSignalBlocker quiet(m_scope);
    const QString kept = m_scope->currentData().toString();
    m_scope->clear();
    if (isOfJoint()) {
        for (const auto& kind : parts::getJointKinds())
            if (test() != PullTest || kind.pullOutN)
                m_scope->addItem("any " + QString::fromStdString(kind.name),
                                 "kind:" + QString::fromStdString(kind.name));
        for (const auto& j : m_session.project().joints)
            m_scope->addItem("the joint " + QString::fromStdString(j.name),
                             "joint:" + QString::fromStdString(j.id.text));
    } else {
        m_scope->addItem("studs", "studs");
    }
    int at = m_scope->findData(kept);
    if (!m_scopeChosen && m_readings.empty() && isOfJoint())
        at = m_scope->findData("joint:" + QString::fromStdString(m_session.currentJoint().text));
    m_scope->setCurrentIndex(std::max(0, at));
}

void StrengthPanel::showProject() {
    fillScopes();
    showReadings();
}

const parts::JointKind* StrengthPanel::testedKind() const {
    const QString scope = m_scope->currentData().toString();
    if (scope.startsWith("kind:")) return parts::findJointKind(scope.mid(5).toStdString());
    if (const auto id = testedJoint()) {
        const int j = m_session.project().findJoint(*id);
        if (j >= 0) return ivrant::at(m_session.project().joints, j).kind;
    }
    return nullptr;
}

std::optional<model::JointId> StrengthPanel::testedJoint() const {
    const QString scope = m_scope->currentData().toString();
    return scope.startsWith("joint:") ? std::optional(model::JointId{scope.mid(6).toStdString()}) : std::nullopt;
}

void StrengthPanel::showForm() {
    const bool torque = isTorque(), typed = m_source->currentIndex() == Typed;
    for (QWidget* w : {static_cast<QWidget*>(m_distance), static_cast<QWidget*>(m_arm),
                       static_cast<QWidget*>(m_armCentre), static_cast<QWidget*>(m_distanceLabel),
                       static_cast<QWidget*>(m_armLabel), static_cast<QWidget*>(m_armCentreLabel)})
        w->setVisible(torque);
    for (QWidget* w : {static_cast<QWidget*>(m_moves), static_cast<QWidget*>(m_movesLabel)})
        w->setVisible(test() == WearTest);
    for (QWidget* w : {static_cast<QWidget*>(m_device), static_cast<QWidget*>(m_deviceLabel)})
        w->setVisible(m_source->currentIndex() == Serial);
    m_typed->setVisible(typed);
    m_rawUnit->setVisible(typed);
    m_add->setVisible(typed);
    m_take->setVisible(!typed);
    m_rawUnit->setText(torque ? "g hung on" : "g, or N with its unit");
    m_steps->setText(listSteps());
    // Readings taken before a distance was corrected follow it.
    for (Reading& r : m_readings)
        if (torque && !r.imported)
            if (const auto t = r.isForce ? trials::calcLeverTorqueFromForce(lever(), r.raw)
                                         : trials::calcLeverTorque(lever(), r.raw))
                r.value = *t;
    showReadings();
}

QString StrengthPanel::listSteps() const {
    const auto* kind = testedKind();
    QString steps;
    if (isTorque()) {
        steps = "1. Fix the carrying half; let the arm stand out level, with the joint's axis level too.\n2. Hang a "
                "weight at the distance above, square to "
                "the axis.\n";
        if (kind)
            steps += "3. Begin with about " + numberText(trials::calcFirstWeightG(lever(), kind->holdingNmm), 0) +
                     " g and add until the arm slips; that weight is the reading.\n";
        steps +=
            "4. Set it level again and repeat: five readings or more, better ten, on different joints of the kind.";
        if (test() == WearTest)
            steps += "\n5. Move the joint to and fro so many times, write the number of moves, and test again.";
    } else if (test() == PullTest) {
        steps = "1. Fix one half.\n2. Pull the other along the way it was put in, slowly, with the scale.\n3. The "
                "largest force before it comes apart is the "
                "reading.\n4. Put it together again "
                "and repeat, five times or more.";
    } else {
        steps = "1. Put a plate 1x1 on a brick that is fixed.\n2. Pull it " +
                QString(test() == StudTest ? "straight up" : "sideways") +
                ", slowly, with the scale.\n3. The largest force before it lets go is the reading.\n4. Repeat with "
                "other parts, five times or more.";
    }
    if (m_source->currentIndex() == Simulated)
        steps += "\n\nThe simulated scale is no real one: it has a value of its own and noise, for trying the way. "
                 "What it says is marked as simulated.";
    steps += "\n\nMind your fingers under hanging weights, and wear glasses when pulling hard on small parts.";
    return steps;
}

void StrengthPanel::startAnew() {
    m_readings.clear();
    m_simulated = false;
    m_instrument.reset();
    m_live.cancel();
    showForm();
}

void StrengthPanel::addTyped() {
    const std::string text = m_typed->text().trimmed().toStdString();
    if (text.empty()) return;
    const auto number = base::parseNumber(text);
    if (number && isTorque()) {
        addReading(*number, false);
    } else {
        const auto force = trials::parseForceLine(text);
        if (!force) return m_session.say(QString::fromStdString(force.error().message), true);
        addReading(*force, true);
    }
    m_typed->clear();
    m_typed->setFocus();
}

void StrengthPanel::addReading(double raw, bool isForce) {
    Reading reading{raw, isForce, raw, m_moves->value(), false};
    if (isTorque()) {
        const auto torque =
            isForce ? trials::calcLeverTorqueFromForce(lever(), raw) : trials::calcLeverTorque(lever(), raw);
        if (!torque) return refuse(QString::fromStdString(torque.error().message));
        reading.value = *torque;
    }
    if (!(reading.value > 0 && reading.value <= 1e6)) return refuse("a reading must be above 0");
    m_readings.push_back(reading);
    showReadings();
}

void StrengthPanel::removeResult(int index) {
    m_readings.erase(m_readings.begin() + index);
    showReadings();
}

base::Result<std::shared_ptr<trials::Instrument>> StrengthPanel::instrument() {
    const QString key = QString::number(m_source->currentIndex()) + m_device->text() +
                        m_scope->currentData().toString() + QString::number(m_test->currentIndex());
    if (m_instrument && key == m_instrumentKey) return m_instrument;
    if (m_source->currentIndex() == Serial) {
        auto opened = trials::openSerialInstrument(m_device->text().trimmed().toStdString());
        if (!opened) return opened.error();
        m_instrument = std::move(opened).value();
    } else {
        const auto* kind = testedKind();
        const auto* swivel = parts::findJointKind("one-stud swivel");
        double force = swivel->pullOutN.value_or(1.5);
        if (isTorque() && kind)
            force = std::max(
                0.01, (kSimulatedShare * kind->holdingNmm - base::weightN(m_arm->value()) * m_armCentre->value()) /
                          m_distance->value());
        if (test() == PullTest && kind) force = kSimulatedShare * kind->pullOutN.value_or(1);
        m_instrument = std::make_shared<trials::SimulatedScale>(force, kSimulatedSpread * force,
                                                                static_cast<unsigned>(qHash(key)));
    }
    m_instrumentKey = key;
    return m_instrument;
}

void StrengthPanel::take() {
    if (m_source->currentIndex() == Typed) return m_typed->setFocus();
    if (m_live.isBusy()) return;
    const auto source = instrument();
    if (!source) return m_session.say(QString::fromStdString(source.error().message), true);
    const bool simulated = m_source->currentIndex() == Simulated;
    m_live.ask(
        "reading the scale",
        [scale = *source](base::Progress&) -> std::optional<base::Result<double>> { return scale->read(kPatience); },
        [this, simulated](base::Result<double> reading) {
            if (!reading) { // what was read so far stays in the table
                m_instrument.reset();
                return m_session.say(QString::fromStdString(reading.error().message), true);
            }
            m_simulated = m_simulated || simulated;
            addReading(*reading, true);
        });
}

void StrengthPanel::importReadings() {
    const QString path = QFileDialog::getOpenFileName(this, "Readings", QString(), "Text (*.csv *.txt)");
    if (path.isEmpty()) return;
    const auto text = files::readFile(path.toStdString(), kMostCsv);
    if (!text) return m_session.say(QString::fromStdString("Not read: " + text.error().message), true);
    const auto readings = trials::parseReadings(*text);
    if (!readings)
        return m_session.say("Not read: " +
                                 QString::fromStdString(readings.error().message + " (" + readings.error().place + ")"),
                             true);
    for (std::size_t i = 0; i < readings->values.size(); ++i)
        m_readings.push_back(
            {readings->values[i], false, readings->values[i], readings->moves.empty() ? 0 : readings->moves[i], true});
    m_session.say(QString::number(readings->values.size()) + " readings taken as " + (isTorque() ? "N·mm" : "N"));
    showReadings();
}

QString StrengthPanel::rawText(const Reading& r) const {
    if (r.isForce && isTorque()) return numberText(r.raw / base::weightN(1), 1) + " g";
    if (r.imported) return numberText(r.raw, 3) + " " + unit();
    return numberText(r.raw, 3) + (isTorque() ? " g" : " N");
}

QString StrengthPanel::tellStrength(const trials::Statistics& statistics) const {
    QString says = "<b>" + QString::number(statistics.count) + (statistics.count == 1 ? " reading" : " readings") +
                   "</b>, mean " + numberText(statistics.mean, 2) + ", spread " + numberText(statistics.spread, 2) +
                   " " + unit() + ".<br>";
    if (statistics.factor)
        says += "Counted on: <b>" + numberText(statistics.lowerBound, 2) + " " + unit() + "</b> = mean − " +
                numberText(*statistics.factor, 3) +
                " × spread: 90 % of all joints hold at least that, with 95 % confidence.";
    else
        says += "Counted on: <b>" + numberText(statistics.lowerBound, 2) + " " + unit() +
                "</b> = 0.6 × mean: fewer than 3 readings say nothing about spread.";
    if (const auto* kind = testedKind()) {
        const auto joint = testedJoint();
        const auto now = trials::calcStrength(m_session.project(), *kind, joint ? &*joint : nullptr);
        const auto* capacity = isTorque() ? &now.holding : now.pull ? &*now.pull : nullptr;
        if (capacity)
            says += "<br>Until now: " + numberText(capacity->value, 2) + " " + unit() + " (" +
                    QString::fromStdString(capacity->basis).toHtmlEscaped() + ").";
    }
    return says;
}

void StrengthPanel::showReadings() {
    std::vector<double> values;
    for (const Reading& r : m_readings)
        if (test() != WearTest || r.moves == 0) values.push_back(r.value);
    const auto statistics = trials::calcStatistics(values);
    std::vector<TableRow> rows;
    for (std::size_t i = 0; i < m_readings.size(); ++i) {
        const bool odd = test() != WearTest && statistics &&
                         std::find(statistics->outliers.begin(), statistics->outliers.end(), static_cast<int>(i)) !=
                             statistics->outliers.end();
        rows.push_back({{rawText(m_readings[i]), {}},
                        numberCell(m_readings[i].value, 2),
                        test() == WearTest ? numberCell(m_readings[i].moves, 0)
                                           : TableCell{odd ? "odd one, still counted" : "", {}}});
    }
    fillResults({"Reading", unit(), test() == WearTest ? "Moves" : ""}, std::move(rows));
    const bool any = !m_readings.empty() && (test() != WearTest || !values.empty());
    showButtons(!m_readings.empty(), any, any && !testedJoint());
    QString says;
    if (!statistics) {
        says = m_readings.empty() ? "No reading yet." : "A wear test begins with readings after 0 moves.";
    } else {
        says = tellStrength(*statistics);
        if (!statistics->outliers.empty() && test() != WearTest)
            says += "<br>■ Odd readings are marked, not dropped: look whether something was different.";
    }
    if (test() == WearTest) {
        std::vector<double> moves, worn;
        for (const Reading& r : m_readings) {
            moves.push_back(r.moves);
            worn.push_back(r.value);
        }
        if (const auto loss = trials::calcLossPer100(moves, worn))
            says += "<br>Loses <b>" + numberText(*loss * 100, 1) + " %</b> of its holding in 100 moves.";
    }
    sayResults(says);
}

model::Series StrengthPanel::makeSeries() const {
    constexpr std::array kQuantities{model::Quantity::Holding, model::Quantity::PullOut, model::Quantity::Holding,
                                     model::Quantity::StudPull, model::Quantity::StudShear}; // by test
    model::Series series;
    series.quantity = kQuantities[test()];
    if (const auto* kind = testedKind()) series.kind = kind->name;
    series.joint = testedJoint();
    for (const Reading& r : m_readings) {
        series.readings.push_back(r.value);
        if (test() == WearTest) series.moves.push_back(r.moves);
    }
    return series;
}

} // namespace ivrant::app
