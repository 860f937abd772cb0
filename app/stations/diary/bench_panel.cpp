// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stations/diary/bench_panel.h"

#include <QDate>
#include <QFileDialog>
#include <QGridLayout>
#include <QHBoxLayout>
#include <QVBoxLayout>

#include "app/shell/flow_layout.h"
#include "app/shell/table_tools.h"
#include "app/shell/theme.h"
#include "app/stations/diary/number_box.h"
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

BenchPanel::BenchPanel(Session& session, QWidget* parent)
    : QWidget(parent), m_session(session), m_test(new QComboBox(this)), m_scope(new QComboBox(this)),
      m_source(new QComboBox(this)), m_steps(new QLabel(this)), m_says(new QLabel(this)), m_rawUnit(new QLabel(this)),
      m_distance(makeNumberBox(this, "leverDistance", "Distance of the weight from the axis", 1, 2000, 80, " mm")),
      m_arm(makeNumberBox(this, "leverArm", "Mass of the arm itself", 0, 50'000, 0, " g")),
      m_armCentre(
          makeNumberBox(this, "leverArmCentre", "Distance of the arm's centre from the axis", -2000, 2000, 0, " mm")),
      m_moves(makeNumberBox(this, "wearMoves", "Moves made before this reading", 0, 1e6, 0, "")),
      m_distanceLabel(new QLabel("Weight hangs at", this)), m_armLabel(new QLabel("The arm weighs", this)),
      m_armCentreLabel(new QLabel("with its centre at", this)), m_movesLabel(new QLabel("After so many moves", this)),
      m_deviceLabel(new QLabel("Device", this)), m_typed(new QLineEdit(this)),
      m_device(new QLineEdit("/dev/ttyUSB0", this)), m_note(new QLineEdit(this)), m_add(new QPushButton("add", this)),
      m_read(new QPushButton("take a reading (R)", this)), m_keep(new QPushButton("keep in this project", this)),
      m_keepWorkshop(new QPushButton("keep in my library", this)), m_drop(new QPushButton("remove", this)),
      m_table(new QTableWidget(this)), m_live(session.jobs()) {
    m_test->setObjectName("benchTest");
    m_test->setAccessibleName("Test");
    m_test->addItems({"lever test: what a joint holds", "pull test: when a joint comes apart",
                      "wear test: holding against moves", "pull on one stud", "shear of one stud"});
    m_scope->setObjectName("benchScope");
    m_scope->setAccessibleName("What is tested");
    m_scope->setToolTip("One joint of this model, or any joint of a kind");
    m_source->setObjectName("benchSource");
    m_source->setAccessibleName("Readings come from");
    m_source->addItems({"typed by hand", "the simulated scale", "a scale on a serial line"});
    m_typed->setObjectName("benchTyped");
    m_typed->setAccessibleName("Reading");
    m_typed->setMinimumWidth(scaled(80));
    m_device->setObjectName("benchDevice");
    m_device->setAccessibleName("Serial device");
    m_note->setObjectName("benchNote");
    m_note->setAccessibleName("Note");
    m_note->setPlaceholderText("note: which parts, how old, how cold");
    m_add->setObjectName("benchAdd");
    m_read->setObjectName("benchRead");
    m_keep->setObjectName("benchKeep");
    m_keepWorkshop->setObjectName("benchKeepWorkshop");
    m_keep->setToolTip("These readings count in this project from now on; undo takes them back");
    m_keepWorkshop->setToolTip("These readings count in every project of yours that has none of its own");
    m_steps->setObjectName("benchSteps");
    m_steps->setWordWrap(true);
    m_steps->setAlignment(Qt::AlignTop);
    m_says->setObjectName("benchSays");
    m_says->setWordWrap(true);
    m_says->setTextFormat(Qt::RichText);
    m_table->setObjectName("benchReadings");
    m_table->setAccessibleName("Readings");
    setUpTable(m_table, "readings");

    auto* left = new QVBoxLayout;
    auto* form = new QGridLayout;
    makeForm(form);
    form->setVerticalSpacing(6);
    left->addLayout(form);
    left->addWidget(m_steps);
    left->addStretch(1);
    auto* right = new QVBoxLayout;
    right->addWidget(m_table, 1);
    auto* drop = new QHBoxLayout;
    drop->addStretch(1);
    drop->addWidget(m_drop);
    right->addLayout(drop);
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

    connect(m_test, &QComboBox::currentIndexChanged, this, [this] {
        startAnew();
        fillScopes();
        showForm();
    });
    connect(m_scope, &QComboBox::activated, this, [this] {
        m_scopeChosen = true;
        startAnew();
    });
    connect(m_source, &QComboBox::currentIndexChanged, this, &BenchPanel::showForm);
    for (QDoubleSpinBox* box : {m_distance, m_arm, m_armCentre})
        connect(box, &QDoubleSpinBox::valueChanged, this, &BenchPanel::showForm);
    connect(m_typed, &QLineEdit::returnPressed, this, &BenchPanel::addTyped);
    connect(m_add, &QPushButton::clicked, this, &BenchPanel::addTyped);
    connect(m_read, &QPushButton::clicked, this, &BenchPanel::takeReading);
    connect(m_drop, &QPushButton::clicked, this, &BenchPanel::removeReading);
    connect(m_keep, &QPushButton::clicked, this, [this] { keep(false); });
    connect(m_keepWorkshop, &QPushButton::clicked, this, [this] { keep(true); });
    showProject();
    showForm();
}

void BenchPanel::makeForm(QGridLayout* form) {
    int row = 0;
    const auto add = [&](QLabel* label, QWidget* field) {
        label->setBuddy(field);
        form->addWidget(label, row, 0);
        form->addWidget(field, row++, 1);
    };
    add(new QLabel("Test", this), m_test);
    add(new QLabel("of", this), m_scope);
    add(m_distanceLabel, m_distance);
    add(m_armLabel, m_arm);
    add(m_armCentreLabel, m_armCentre);
    add(m_movesLabel, m_moves);
    add(new QLabel("Readings", this), m_source);
    add(m_deviceLabel, m_device);
    auto* line = new QHBoxLayout;
    line->addWidget(m_typed, 1);
    line->addWidget(m_rawUnit);
    line->addWidget(m_add);
    line->addWidget(m_read);
    form->addWidget(new QLabel("It gave way at", this), row, 0);
    form->addLayout(line, row, 1);
    form->setColumnStretch(1, 1);
}

void BenchPanel::fillScopes() {
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

void BenchPanel::showProject() {
    fillScopes();
    showReadings();
}

const parts::JointKind* BenchPanel::testedKind() const {
    const QString scope = m_scope->currentData().toString();
    if (scope.startsWith("kind:")) return parts::findJointKind(scope.mid(5).toStdString());
    if (const auto id = testedJoint()) {
        const int j = m_session.project().findJoint(*id);
        if (j >= 0) return m_session.project().joints[static_cast<std::size_t>(j)].kind;
    }
    return nullptr;
}

std::optional<model::JointId> BenchPanel::testedJoint() const {
    const QString scope = m_scope->currentData().toString();
    return scope.startsWith("joint:") ? std::optional(model::JointId{scope.mid(6).toStdString()}) : std::nullopt;
}

void BenchPanel::showForm() {
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
    m_read->setVisible(!typed);
    m_rawUnit->setText(torque ? "g hung on" : "g, or N with its unit");
    const auto* kind = testedKind();
    QString steps;
    if (torque) {
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
    m_steps->setText(steps);
    // Readings taken before a distance was corrected follow it.
    for (Reading& r : m_readings)
        if (torque && !r.imported)
            if (const auto t = r.isForce ? trials::calcLeverTorqueFromForce(lever(), r.raw)
                                         : trials::calcLeverTorque(lever(), r.raw))
                r.value = *t;
    showReadings();
}

void BenchPanel::startAnew() {
    m_readings.clear();
    m_simulated = false;
    m_instrument.reset();
    m_live.cancel();
    showForm();
}

void BenchPanel::addTyped() {
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

void BenchPanel::addReading(double raw, bool isForce) {
    Reading reading{raw, isForce, raw, m_moves->value(), false};
    if (isTorque()) {
        const auto torque =
            isForce ? trials::calcLeverTorqueFromForce(lever(), raw) : trials::calcLeverTorque(lever(), raw);
        if (!torque) return m_session.say("Not taken: " + QString::fromStdString(torque.error().message), true);
        reading.value = *torque;
    }
    if (!(reading.value > 0 && reading.value <= 1e6))
        return m_session.say("Not taken: a reading must be above 0", true);
    m_readings.push_back(reading);
    showReadings();
}

void BenchPanel::removeReading() {
    const int row = m_table->currentRow();
    if (row < 0 || !m_table->item(row, 0)) return;
    const int index = m_table->item(row, 0)->text().toInt() - 1;
    if (index >= 0 && index < static_cast<int>(m_readings.size())) m_readings.erase(m_readings.begin() + index);
    showReadings();
}

base::Result<std::shared_ptr<trials::Instrument>> BenchPanel::instrument() {
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

void BenchPanel::takeReading() {
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

void BenchPanel::importReadings() {
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

QString BenchPanel::rawText(const Reading& r) const {
    if (r.isForce && isTorque()) return numberText(r.raw / base::weightN(1), 1) + " g";
    return numberText(r.raw, 3) + (r.imported ? (isTorque() ? " N·mm" : " N") : r.isForce || !isTorque() ? " N" : " g");
}

void BenchPanel::showReadings() {
    std::vector<double> values;
    for (const Reading& r : m_readings)
        if (test() != WearTest || r.moves == 0) values.push_back(r.value);
    const auto statistics = trials::calcStatistics(values);
    const QString unit = isTorque() ? "N·mm" : "N";
    std::vector<TableRow> rows;
    for (std::size_t i = 0; i < m_readings.size(); ++i) {
        const bool odd = test() != WearTest && statistics &&
                         std::find(statistics->outliers.begin(), statistics->outliers.end(), static_cast<int>(i)) !=
                             statistics->outliers.end();
        rows.push_back({numberCell(static_cast<double>(i + 1), 0),
                        {rawText(m_readings[i]), {}},
                        numberCell(m_readings[i].value, 2),
                        test() == WearTest ? numberCell(m_readings[i].moves, 0)
                                           : TableCell{odd ? "odd one, still counted" : "", {}}});
    }
    fillTable(m_table, {"", "Reading", unit, test() == WearTest ? "Moves" : ""}, rows);
    m_drop->setEnabled(!m_readings.empty());
    const bool any = !m_readings.empty() && (test() != WearTest || !values.empty());
    m_keep->setEnabled(any);
    m_keepWorkshop->setEnabled(any && !testedJoint());
    QString says;
    if (!statistics) {
        says = m_readings.empty() ? "No reading yet." : "A wear test begins with readings after 0 moves.";
    } else {
        says = "<b>" + QString::number(statistics->count) + (statistics->count == 1 ? " reading" : " readings") +
               "</b>, mean " + numberText(statistics->mean, 2) + ", spread " + numberText(statistics->spread, 2) + " " +
               unit + ".<br>";
        if (statistics->factor)
            says += "Counted on: <b>" + numberText(statistics->lowerBound, 2) + " " + unit + "</b> = mean − " +
                    numberText(*statistics->factor, 3) +
                    " × spread: 90 % of all joints hold at least that, with 95 % confidence.";
        else
            says += "Counted on: <b>" + numberText(statistics->lowerBound, 2) + " " + unit +
                    "</b> = 0.6 × mean: fewer than 3 readings say nothing about spread.";
        if (const auto* kind = testedKind()) {
            const auto joint = testedJoint();
            const auto now = trials::calcStrength(m_session.project(), *kind, joint ? &*joint : nullptr);
            const auto* capacity = isTorque() ? &now.holding : now.pull ? &*now.pull : nullptr;
            if (capacity)
                says += "<br>Until now: " + numberText(capacity->value, 2) + " " + unit + " (" +
                        QString::fromStdString(capacity->basis).toHtmlEscaped() + ").";
        }
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
    if (m_simulated) says += "<br>▼ Some readings came from the <b>simulated</b> scale.";
    m_says->setText(says);
}

void BenchPanel::keep(bool workshop) {
    model::Series series;
    series.quantity = isTorque()           ? model::Quantity::Holding
                      : test() == PullTest ? model::Quantity::PullOut
                      : test() == StudTest ? model::Quantity::StudPull
                                           : model::Quantity::StudShear;
    if (const auto* kind = testedKind()) series.kind = kind->name;
    series.joint = testedJoint();
    for (const Reading& r : m_readings) {
        series.readings.push_back(r.value);
        if (test() == WearTest) series.moves.push_back(r.moves);
    }
    series.date = QDate::currentDate().toString("yyyy-MM-dd").toStdString();
    series.note = m_note->text().trimmed().toStdString();
    if (m_simulated) series.note = "simulated" + (series.note.empty() ? std::string() : "; " + series.note);
    const bool kept = workshop ? m_session.keepInWorkshop(series)
                               : m_session.apply("Keep readings",
                                                 [&](const model::Project& p) { return model::putSeries(p, series); });
    if (!kept) return;
    m_session.say(QString::number(series.readings.size()) +
                  (workshop ? " readings kept in the workshop's library" : " readings kept in this project"));
    m_note->clear();
    startAnew();
}

} // namespace ivrant::app
