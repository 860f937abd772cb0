// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stations/pose/motion_tab.h"

#include <QFileDialog>
#include <QHBoxLayout>
#include <QPainter>
#include <QSplitter>
#include <QVBoxLayout>
#include <cmath>

#include "app/sheet3d/sheet3d.h"
#include "app/shell/flow_layout.h"
#include "app/shell/table_tools.h"
#include "app/shell/text.h"
#include "app/shell/theme.h"
#include "app/shell/when_seen.h"
#include "core/base/at.h"
#include "core/files/atomic_file.h"
#include "core/files/results_motion.h"
#include "core/model/edits.h"
#include "core/study/motion_words.h"
#include "core/study/walk_words.h"

namespace ivrant::app {
namespace {

constexpr int kTickMs = 33, kTurnMs = 4000; ///< a whole motion in four seconds

QString overText(const model::Motion& motion) {
    return motion.over ? number(motion.over->from, 2) + ".." + number(motion.over->to, 2) : QString();
}

/// The place of a walk nearest to so many degrees from its beginning.
const study::WalkPlace& nearestWalk(const study::WalkStudy& walk, double turned) {
    double best = 1e300;
    const study::WalkPlace* nearest = &walk.places.front();
    for (const study::WalkPlace& place : walk.places) {
        const double off = std::abs(place.at - turned);
        if (off >= best) continue;
        best = off;
        nearest = &place;
    }
    return *nearest;
}

} // namespace

MotionTab::MotionTab(Session& session, QWidget* parent)
    : PoseTab(session, parent), m_which(new QComboBox(this)), m_name(new QLineEdit(this)), m_over(new QLineEdit(this)),
      m_places(new QSpinBox(this)), m_play(new QPushButton("Play", this)),
      m_trace(new QPushButton("Follow part", this)), m_foot(new QPushButton("Feet", this)),
      m_remove(new QPushButton("Remove", this)), m_take(new QPushButton("Pose it here", this)),
      m_slider(new QSlider(Qt::Horizontal, this)), m_at(new QLabel(this)), m_told(new QLabel(this)),
      m_joints(new QTableWidget(this)), m_plots(new TurnPlots(this)), m_strip(new SupportStrip(this)),
      m_bar(new QWidget(this)), m_results(nullptr) {
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(0, 2, 0, 0);
    layout->setSpacing(3);
    makeControls(layout);
    m_told->setObjectName("motionTold");
    m_told->setAccessibleName("What was found");
    m_told->setWordWrap(true);
    m_told->setTextFormat(Qt::PlainText);
    m_told->setTextInteractionFlags(Qt::TextSelectableByMouse);
    m_joints->setObjectName("motionJoints");
    m_joints->setAccessibleName("Joints that follow");
    setUpTable(m_joints, "motion");
    layout->addWidget(m_told);
    auto* halves = new QSplitter(this);
    halves->addWidget(m_joints);
    auto* right = new QWidget(this);
    auto* column = new QVBoxLayout(right);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(2);
    column->addWidget(m_strip);
    column->addWidget(m_plots, 1);
    m_strip->hide();
    halves->addWidget(right);
    halves->setStretchFactor(0, 2);
    halves->setStretchFactor(1, 3);
    halves->setSizes({scaled(330), scaled(600)});
    m_results = halves;
    layout->addWidget(halves, 1);
    layout->addStretch(0);
    m_timer.setInterval(kTickMs);
    connect(&m_timer, &QTimer::timeout, this, &MotionTab::tick);
    connect(m_plots, &TurnPlots::placeChosen, this, [this](int place) {
        m_looked = true;
        setPlace(place);
    });
    connect(m_strip, &SupportStrip::placeChosen, this, [this](int place) {
        m_looked = true;
        setPlace(place);
    });
    connect(m_joints, &QTableWidget::itemSelectionChanged, this, [this] {
        if (!m_filling) showStudy();
    });
    connect(&session, &Session::reportChanged, this, whenSeen(this, [this] { outdate(); }));
}

void MotionTab::makeControls(QVBoxLayout* layout) {
    m_which->setObjectName("motionWhich");
    m_which->setAccessibleName("Motion");
    m_which->setSizeAdjustPolicy(QComboBox::AdjustToContents);
    m_name->setObjectName("motionName");
    m_name->setAccessibleName("Name");
    m_name->setMaximumWidth(scaled(120));
    m_over->setObjectName("motionOver");
    m_over->setAccessibleName("From where to where");
    m_over->setPlaceholderText("a whole turn");
    m_over->setToolTip("From one value of the joint to another, such as -30..60; empty: a whole turn, or as far as it "
                       "gets");
    m_over->setMaximumWidth(scaled(110));
    m_places->setObjectName("motionPlaces");
    m_places->setAccessibleName("Places looked at");
    m_places->setRange(model::kLeastPlaces, model::kMostPlaces);
    m_places->setSuffix(" places");
    m_places->setKeyboardTracking(false);
    m_play->setObjectName("motionPlay");
    m_play->setToolTip("Turn the joint in the sheet above (Space)");
    m_trace->setObjectName("motionTrace");
    m_trace->setToolTip("The path of the part that is selected in Shape is drawn; once more: no longer");
    m_foot->setObjectName("motionFeet");
    m_foot->setToolTip("The model walks on the sections of what is selected in Shape; once more: no longer");
    m_remove->setObjectName("motionRemove");
    m_take->setObjectName("motionTake");
    m_take->setToolTip("The joints of the model take the values of this place");
    m_slider->setObjectName("motionSlider");
    m_slider->setAccessibleName("Place of the motion");
    m_at->setObjectName("motionAt");
    m_at->setMinimumWidth(scaled(70));
    auto* add = new QPushButton("New motion", this);
    add->setObjectName("motionNew");
    add->setToolTip("The joint that is marked in the sheet is driven");
    auto* csv = new QPushButton("CSV …", this);
    csv->setObjectName("motionCsv");
    csv->setToolTip("Every place as a line of a table");
    auto* top = new QWidget(this);
    auto* row = new FlowLayout(top);
    row->setContentsMargins(0, 0, 0, 0);
    auto* over = new QLabel("over", top);
    over->setBuddy(m_over);
    for (QWidget* w : {static_cast<QWidget*>(m_which), static_cast<QWidget*>(add), static_cast<QWidget*>(m_name),
                       static_cast<QWidget*>(over), static_cast<QWidget*>(m_over), static_cast<QWidget*>(m_places),
                       static_cast<QWidget*>(m_trace), static_cast<QWidget*>(m_foot), static_cast<QWidget*>(csv),
                       static_cast<QWidget*>(m_remove)})
        row->addWidget(w);
    layout->addWidget(top);
    auto* bar = new QHBoxLayout(m_bar);
    bar->setContentsMargins(0, 0, 0, 0);
    bar->addWidget(m_play);
    bar->addWidget(m_slider, 1);
    bar->addWidget(m_at);
    bar->addWidget(m_take);
    layout->addWidget(m_bar);
    connect(m_which, &QComboBox::activated, this, [this] {
        m_looked = false;
        m_place = 0;
        refresh();
    });
    connect(add, &QPushButton::clicked, this, &MotionTab::addMotion);
    connect(csv, &QPushButton::clicked, this, &MotionTab::saveCsv);
    connect(m_play, &QPushButton::clicked, this, &MotionTab::togglePlay);
    connect(m_trace, &QPushButton::clicked, this, &MotionTab::traceSelected);
    connect(m_foot, &QPushButton::clicked, this, &MotionTab::footSelected);
    connect(m_remove, &QPushButton::clicked, this, &MotionTab::remove);
    connect(m_take, &QPushButton::clicked, this, &MotionTab::takePlace);
    connect(m_slider, &QSlider::valueChanged, this, [this](int place) {
        if (m_filling) return;
        m_looked = true;
        setPlace(place);
    });
    connect(m_name, &QLineEdit::editingFinished, this, [this] {
        const auto* one = motion();
        const std::string name = m_name->text().trimmed().toStdString();
        if (!one || name.empty() || name == one->name) return;
        change("Name of the motion", [&](model::Motion& m) { m.name = name; });
    });
    connect(m_over, &QLineEdit::editingFinished, this, &MotionTab::overTyped);
    connect(m_places, &QSpinBox::valueChanged, this, [this](int places) {
        if (!m_filling) change("Places of the motion", [&](model::Motion& m) { m.places = places; });
    });
}

const model::Motion* MotionTab::motion() const {
    const auto& motions = m_session.project().motions;
    const int index = m_which->currentIndex();
    return index < 0 || index >= static_cast<int>(motions.size()) ? nullptr : &at(motions, index);
}

std::shared_ptr<const study::MotionStudy> MotionTab::study() const {
    const auto report = m_session.report();
    const auto* one = motion();
    if (!one || !report || !m_session.isReportCurrent()) return nullptr;
    for (const auto& study : report->motions)
        if (study->index < static_cast<int>(report->project->motions.size()) &&
            at(report->project->motions, study->index).id == one->id)
            return study;
    return nullptr;
}

void MotionTab::change(const QString& name, const std::function<void(model::Motion&)>& edit) {
    const auto* one = motion();
    if (!one) return;
    model::Motion next = *one;
    edit(next);
    m_session.apply(name, [&](const model::Project& p) { return model::putMotion(p, next); });
    refresh();
}

void MotionTab::addMotion() {
    const int joint = currentJoint();
    if (joint < 0)
        return m_session.say("Mark the joint that a crank, a motor or a hand turns: click what it carries.", true);
    const parts::JointKind& kind = *at(m_session.project().joints, joint).kind;
    if (kind.tilts() || kind.stepDeg > 0)
        return m_session.say("A " + qs(kind.name) + " cannot be driven: what is driven turns or slides.", true);
    model::Motion one;
    one.joint = at(m_session.project().joints, joint).id;
    one.name = at(m_session.project().joints, joint).name;
    if (m_session.apply("New motion", [&](const model::Project& p) { return model::putMotion(p, one); })) {
        fillBox();
        m_which->setCurrentIndex(m_which->count() - 1);
        m_place = 0;
        m_looked = false;
        refresh();
    }
}

void MotionTab::traceSelected() {
    if (!motion()) return;
    const auto& selected = m_session.selection();
    if (selected.empty())
        return m_session.say("Select the part whose path is wanted in Shape, then come back here.", true);
    change("Path of a part", [&](model::Motion& m) {
        for (const model::PartId& id : selected) {
            const auto known = std::find_if(m.traced.begin(), m.traced.end(),
                                            [&](const model::Traced& traced) { return traced.part == id; });
            if (known == m.traced.end())
                m.traced.push_back({id, ""});
            else
                m.traced.erase(known);
        }
    });
}

void MotionTab::footSelected() {
    if (!motion()) return;
    const auto& selected = m_session.selection();
    if (selected.empty()) return m_session.say("Select a part of each foot in Shape, then come back here.", true);
    std::set<model::SectionId> sections;
    const model::PartIndex index(m_session.project());
    for (const model::PartId& id : selected)
        if (const auto spot = index.find(id); spot.section >= 0)
            sections.insert(at(m_session.project().sections, spot.section)->id);
    change("Feet of the motion", [&](model::Motion& m) {
        for (const auto& section : sections) {
            const auto known = std::find(m.feet.begin(), m.feet.end(), section);
            if (known == m.feet.end())
                m.feet.push_back(section);
            else
                m.feet.erase(known);
        }
    });
}

void MotionTab::remove() {
    const auto* one = motion();
    if (!one) return;
    const auto id = one->id;
    m_session.apply("Remove motion", [&](const model::Project& p) { return model::removeMotion(p, id); });
    refresh();
}

void MotionTab::overTyped() {
    const auto* one = motion();
    if (!one || m_over->text().trimmed() == overText(*one)) return;
    const QString text = m_over->text().trimmed();
    if (text.isEmpty()) return change("Way of the motion", [](model::Motion& m) { m.over.reset(); });
    const auto dots = static_cast<int>(text.indexOf(".."));
    const auto from = base::parseNumber(text.left(std::max(dots, 0)).trimmed().remove("°").toStdString());
    const auto to = base::parseNumber(text.mid(dots + 2).trimmed().remove("°").toStdString());
    if (dots < 0 || !from || !to) {
        m_session.say("From where to where: expected two values, such as -30..60", true);
        m_over->setText(overText(*one));
        return;
    }
    change("Way of the motion", [&](model::Motion& m) { m.over = model::Travel{*from, *to}; });
}

void MotionTab::fillBox() {
    const QSignalBlocker quiet(m_which);
    const QString kept = m_which->currentData().toString();
    m_which->clear();
    for (const model::Motion& one : m_session.project().motions) m_which->addItem(qs(one.name), qs(one.id.text));
    m_which->setCurrentIndex(m_which->count() == 0 ? -1 : std::max(0, m_which->findData(kept)));
}

void MotionTab::refresh() {
    m_filling = true;
    fillBox();
    const auto* one = motion();
    for (QWidget* w : {static_cast<QWidget*>(m_which), static_cast<QWidget*>(m_name), static_cast<QWidget*>(m_over),
                       static_cast<QWidget*>(m_places), static_cast<QWidget*>(m_trace), static_cast<QWidget*>(m_foot),
                       static_cast<QWidget*>(m_remove)})
        w->setEnabled(one != nullptr);
    if (!m_name->hasFocus()) m_name->setText(one ? qs(one->name) : QString());
    if (!m_over->hasFocus()) m_over->setText(one ? overText(*one) : QString());
    m_places->setValue(one ? one->places : model::Motion().places);
    m_which->setVisible(m_which->count() > 1);
    m_bar->setVisible(one != nullptr);
    m_results->setVisible(one != nullptr);
    m_filling = false;
    showStudy();
}

void MotionTab::showStudy() {
    const auto s = study();
    const bool moves = s && !s->places.empty();
    for (QWidget* w : {static_cast<QWidget*>(m_play), static_cast<QWidget*>(m_slider), static_cast<QWidget*>(m_take)})
        w->setEnabled(moves);
    m_filling = true;
    const int last = moves ? static_cast<int>(s->places.size()) - 1 : 0;
    m_slider->setRange(0, last);
    m_place = std::clamp(m_place, 0, last);
    m_slider->setValue(m_place);
    std::vector<TableRow> rows;
    std::vector<QVariant> ids;
    if (moves)
        for (const study::MotionJoint& joint : s->joints) {
            const QString unit = at(m_session.project().joints, joint.joint).kind->freedomUnit(0) == "mm" ? " mm" : "°";
            rows.push_back({{jointName(joint.joint), {}},
                            {joint.round ? QString("all round")
                                         : number(joint.low, 1) + unit + " to " + number(joint.high, 1) + unit,
                             joint.high - joint.low},
                            numberCell(joint.mostRate, 2),
                            joint.timeRatio > 0 ? numberCell(joint.timeRatio, 2) : TableCell{"-", {}}});
            ids.push_back(joint.joint);
        }
    fillTable(m_joints, {"Joint", "Moves", "Most ratio", "There : back"}, rows, ids);
    m_filling = false;
    tell();
    if (!moves) {
        m_plots->show({}, "", {});
        m_strip->show({}, {});
        m_at->clear();
        emit overlayChanged();
        return;
    }
    const bool slides = std::string(study::getDriverUnit(m_session.project(), *s)) == " mm";
    std::vector<double> x;
    TurnPlot transmission{"Transmission", "°", {}, {study::kStuckTransmissionDeg, study::kThinTransmissionDeg}, 0};
    TurnPlot torque{slides ? "Force asked" : "Torque asked", slides ? " N" : " N·mm", {}, {}, 1};
    TurnPlot follower{"", "°", {}, {}, 1};
    const bool falling = s->places.back().at < s->places.front().at;
    const QVariant chosen = chosenRowId(m_joints);
    int shown = chosen.isValid() ? chosen.toInt() : -1;
    if (shown < 0) // the joint that goes to and fro furthest says most
        for (const study::MotionJoint& joint : s->joints)
            if (joint.joint != s->plan.driver.joint && !joint.round) shown = joint.joint;
    if (shown < 0) shown = s->plan.driver.joint;
    follower.title = jointName(shown);
    if (at(m_session.project().joints, shown).kind->freedomUnit(0) == "mm") follower.unit = " mm";
    for (std::size_t k = 0; k < s->places.size(); ++k) {
        const study::MotionPlace& p = s->places[k];
        x.push_back(p.at);
        if (p.sineJoint >= 0) transmission.y.push_back(study::getTransmissionDeg(p));
        torque.y.push_back(s->torqueAt(k, !falling));
        follower.y.push_back(at(p.values, shown)[0]);
    }
    // A dead point would dwarf all else: what is plotted there is what was asked just before.
    const auto settle = [&](std::vector<double>& y) {
        if (y.size() < 3) return;
        if (s->low.by == pose::LoopEnd::Dead) y.front() = y[1];
        if (s->high.by == pose::LoopEnd::Dead) y.back() = y[y.size() - 2];
    };
    settle(torque.y);
    std::vector<TurnPlot> plots;
    QStringList feet;
    std::vector<std::vector<char>> stands;
    if (s->walk && s->walk->problem.empty()) {
        for (const study::WalkFoot& foot : s->walk->feet)
            feet << qs(at(m_session.project().sections, foot.section)->name);
        for (const study::MotionPlace& place : s->places)
            stands.push_back(nearestWalk(*s->walk, place.at - s->places.front().at).stands);
    }
    m_strip->show(feet, std::move(stands));
    if (s->walk && s->walk->problem.empty()) {
        TurnPlot height{"Height", " mm", {}, {}, 1}, tip{"Tips at", "°", {}, {}, 1};
        for (std::size_t k = 0; k < s->places.size(); ++k) {
            const study::WalkPlace& place = nearestWalk(*s->walk, s->places[k].at - s->places.front().at);
            height.y.push_back(place.heightMm);
            tip.y.push_back(place.support.tipDeg);
        }
        plots.push_back(std::move(tip));
        plots.push_back(std::move(height));
    }
    if (transmission.y.size() == x.size()) plots.push_back(std::move(transmission));
    plots.push_back(std::move(torque));
    const bool walks = !feet.isEmpty(); // then there is no room for more
    if (!walks) plots.push_back(std::move(follower));
    if (!walks && !s->traces.empty()) {
        TurnPlot speed{"Speed of the point", slides ? " mm per mm" : " mm per radian", s->traces.front().speed, {}, 1};
        settle(speed.y);
        plots.push_back(std::move(speed));
    }
    m_plots->show(std::move(x), qs(study::getDriverUnit(m_session.project(), *s)), std::move(plots));
    setPlace(m_place);
}

void MotionTab::tell() {
    const auto* one = motion();
    if (!one) {
        m_told->setText(
            "Mark the joint that a crank, a motor or a hand turns: click in the sheet what it carries, then "
            "New motion. Everything that loops of beams and pins carry along follows.");
        return;
    }
    const auto s = study();
    if (!s) {
        m_told->setText("Being worked out …");
        return;
    }
    const model::Project& project = m_session.project();
    if (!s->problem.empty()) {
        m_told->setText(qs(one->name) + ": " + qs(s->problem) + ".");
        return;
    }
    const QString unit = qs(study::getDriverUnit(project, *s));
    const auto where = [&](double value) { return number(study::getShownAt(*s, value), 0) + unit; };
    QStringList lines;
    const int joint = s->plan.driver.joint;
    lines << jointName(joint) + " " + qs(study::describeTravel(project, *s)) +
                 (s->loops == 0   ? QString(", on no loop")
                  : s->loops == 1 ? QString(", one loop closed")
                                  : ", " + QString::number(s->loops) + " loops closed");
    if (s->leastSine >= 0) {
        const study::MotionPlace& p = at(s->places, s->leastSine);
        lines << (p.sineIsAngle ? "transmission at least " + number(study::getTransmissionDeg(p), 0) + "°"
                                : "passes on at least " + number(100 * p.sine, 0) + " % of its best") +
                     " " + qs(study::describeBetween(project, m_session.tree(), p.sineJoint)) + " at " + where(p.at);
    }
    if (s->hardestUp >= 0) {
        const bool falling = s->places.back().at < s->places.front().at;
        const int hard = falling ? s->hardestDown : s->hardestUp;
        lines << "asks at most " + number(std::max(0.0, s->torqueAt(static_cast<std::size_t>(hard), !falling)), 1) +
                     (unit == " mm" ? " N at " : " N·mm at ") + where(at(s->places, hard).at) +
                     (s->frictionMeasured ? "" : " (friction: starting values)");
    }
    if (s->walk) {
        QString walk = s->walk->problem.empty() ? "walks " + number(s->walk->strideMm, 0) + " mm a turn, " : QString();
        lines << walk + qs(study::describeWalk(*s->walk));
        for (const study::WalkFoot& foot : s->walk->feet)
            if (s->walk->problem.empty())
                lines << qs(at(project.sections, foot.section)->name) + " stands " + number(100 * foot.share, 0) +
                             " % of the turn, lifts by " + number(foot.liftMm, 1) + " mm";
    }
    for (const study::MotionTrace& trace : s->traces)
        lines << qs(trace.name) + ": path of " + number(trace.lengthMm, 0) + " mm, " + number(trace.size.x(), 0) +
                     " by " + number(trace.size.y(), 0) + " by " + number(trace.size.z(), 0) + " mm";
    if (!s->meetings.empty()) {
        const auto& first = s->meetings.front();
        lines << qs(study::describeParts(project, first)) + " meet at " + where(first.from) +
                     (s->meetings.size() > 1 ? " and " + QString::number(s->meetings.size() - 1) + " pairs more"
                                             : QString());
    }
    m_told->setText(lines.join(" · "));
    m_told->setToolTip(lines.join("\n"));
}

void MotionTab::setPlace(int place) {
    const auto s = study();
    if (!s || s->places.empty()) return;
    m_place = std::clamp(place, 0, static_cast<int>(s->places.size()) - 1);
    m_filling = true;
    m_slider->setValue(m_place);
    m_filling = false;
    m_plots->setPlace(m_place);
    m_strip->setPlace(m_place);
    m_at->setText(number(at(s->places, m_place).at, 1) + qs(study::getDriverUnit(m_session.project(), *s)));
    m_meeting = findMeeting();
    emit overlayChanged();
}

void MotionTab::togglePlay() {
    if (m_timer.isActive()) {
        m_timer.stop();
    } else {
        const auto s = study();
        if (!s || s->places.size() < 2) return m_session.say("There is no motion to play yet: New motion", true);
        m_looked = true;
        m_timer.start();
    }
    m_play->setText(m_timer.isActive() ? "Stop" : "Play");
}

void MotionTab::tick() {
    const auto s = study();
    if (!s || s->places.size() < 2) return togglePlay();
    const int count = static_cast<int>(s->places.size());
    const int step = std::max(1, count * kTickMs / kTurnMs);
    int next = m_place + step;
    if (next >= count) next = 0; // a turn goes on; a travel begins anew
    setPlace(next);
}

void MotionTab::hideEvent(QHideEvent* event) {
    if (m_timer.isActive()) togglePlay();
    PoseTab::hideEvent(event);
    m_meeting.clear();
    emit overlayChanged();
}

void MotionTab::takePlace() {
    const auto s = study();
    if (!s || s->places.empty()) return;
    takeValues("Pose of the motion", at(s->places, m_place).values);
    m_looked = false;
}

void MotionTab::saveCsv() {
    const auto s = study();
    if (!s || s->places.empty()) return m_session.say("There is no motion to write yet", true);
    const QString path = QFileDialog::getSaveFileName(this, "Places of the motion", "motion.csv", "CSV (*.csv)");
    if (path.isEmpty()) return;
    const auto saved = files::writeFileAtomically(path.toStdString(), files::makeMotionCsv(m_session.project(), *s));
    m_session.say(saved ? "Table written: " + path : qs(saved.error().message), !saved);
}

bool MotionTab::goTo(const verdict::Place& place) {
    if (place.things.empty()) return false;
    fillBox();
    const int index = m_which->findData(qs(place.things.front()));
    if (index < 0) return false;
    m_which->setCurrentIndex(index);
    refresh();
    const auto s = study();
    if (!s || s->places.empty()) return true;
    const auto nearest = [&](double value) {
        std::size_t best = 0;
        for (std::size_t k = 1; k < s->places.size(); ++k)
            if (std::abs(s->places[k].at - value) < std::abs(s->places[best].at - value)) best = k;
        return static_cast<int>(best);
    };
    int wanted = m_place;
    if (place.parts.size() >= 2) {
        for (const study::MotionMeeting& one : s->meetings)
            if (model::getPart(m_session.project(), one.a.spot).id == place.parts[0] &&
                model::getPart(m_session.project(), one.b.spot).id == place.parts[1])
                wanted = nearest((one.from + one.to) / 2);
    } else if (s->leastSine >= 0) {
        wanted = s->leastSine;
    }
    m_looked = true;
    setPlace(wanted);
    return true;
}

std::optional<model::Placed> MotionTab::shownPlace() const {
    const auto s = study();
    if (!isVisible() || !m_looked || !s || m_place >= static_cast<int>(s->places.size())) return std::nullopt;
    if (const auto* place = walkPlace(*s)) {
        // As it walks: seen from where it began.
        model::Placed placed = place->placed;
        placed.project = m_session.report()->project.get();
        return placed;
    }
    const auto report = m_session.report();
    study::MotionInputs inputs;
    inputs.project = report->project.get();
    inputs.tree = &report->tree;
    inputs.placed = &report->present.placed;
    return study::placeMotion(inputs, *s, at(s->places, m_place).values);
}

const study::WalkPlace* MotionTab::walkPlace(const study::MotionStudy& study) const {
    if (!study.walk || !study.walk->problem.empty() || study.walk->places.empty() || study.places.empty())
        return nullptr;
    return &nearestWalk(*study.walk, at(study.places, m_place).at - study.places.front().at);
}

std::set<model::PartId> MotionTab::findMeeting() const {
    std::set<model::PartId> parts;
    const auto s = study();
    if (!isVisible() || !m_looked || !s || m_place >= static_cast<int>(s->places.size())) return parts;
    const double now = at(s->places, m_place).at;
    for (const study::MotionMeeting& one : s->meetings) {
        if (now < std::min(one.from, one.to) - 1e-9 || now > std::max(one.from, one.to) + 1e-9) continue;
        parts.insert(model::getPart(m_session.project(), one.a.spot).id);
        parts.insert(model::getPart(m_session.project(), one.b.spot).id);
    }
    return parts;
}

void MotionTab::draw(QPainter& painter, const Sheet3d& sheet) const {
    const auto s = study();
    if (!isVisible() || !s || s->places.empty()) return;
    painter.setBrush(Qt::NoBrush);
    for (const study::MotionTrace& trace : s->traces) {
        QPolygonF line;
        for (const geometry::Vec3& p : trace.path) line << sheet.toScreen(p);
        painter.setPen(QPen(theme().sheet, 5, Qt::SolidLine, Qt::RoundCap, Qt::RoundJoin));
        painter.drawPolyline(line);
        painter.setPen(QPen(theme().ember, 2.4, Qt::SolidLine, Qt::RoundCap, Qt::RoundJoin));
        painter.drawPolyline(line);
        if (m_place >= line.size()) continue;
        painter.setPen(QPen(theme().ink, 1.4));
        painter.setBrush(theme().ember);
        painter.drawEllipse(line[m_place], 5, 5);
        painter.setBrush(Qt::NoBrush);
    }
}

} // namespace ivrant::app
