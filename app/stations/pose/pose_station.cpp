// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stations/pose/pose_station.h"

#include <QDoubleSpinBox>
#include <QFileDialog>
#include <QHBoxLayout>
#include <QHeaderView>
#include <QInputDialog>
#include <QMenu>
#include <QSplitter>
#include <QVBoxLayout>
#include <cmath>

#include "app/shell/flow_layout.h"
#include "app/shell/plain_labels.h"
#include "app/shell/table_tools.h"
#include "app/shell/theme.h"
#include "app/shell/when_seen.h"
#include "app/stations/pose/chain_tab.h"
#include "app/stations/pose/choose_tab.h"
#include "app/stations/pose/compare_tab.h"
#include "app/stations/pose/lines_tab.h"
#include "app/stations/pose/map_tab.h"
#include "app/stations/pose/motion_tab.h"
#include "app/stations/pose/study_tab.h"
#include "core/base/at.h"
#include "core/base/units.h"
#include "core/pose/rings.h"
#include "core/study/worst_load.h"

namespace ivrant::app {

namespace {

constexpr int kPlayMs = 40;

QString valueText(const std::vector<double>& values) {
    QStringList list;
    for (double v : values) list << QString::fromStdString(base::formatNumber(v, 2));
    return list.join("; ");
}

QString wantedText(const std::vector<model::Range>& wanted) {
    QStringList list;
    for (const auto& r : wanted)
        list << QString::fromStdString(base::formatNumber(r.low, 2) + ".." + base::formatNumber(r.high, 2));
    return list.join("; ");
}

} // namespace

PoseStation::PoseStation(Session& session, QWidget* parent)
    : Station(parent), m_session(session), m_sheet(new Sheet3d(session, this)), m_drag(session, *m_sheet),
      m_ladder(new RangeLadder(this)), m_holding(new QTableWidget(this)), m_tabs(new QTabWidget(this)),
      m_chips(new QWidget(this)), m_status(new QLabel(this)), m_jointName(new QLabel(this)),
      m_kind(new QComboBox(this)), m_value(new QLineEdit(this)), m_wanted(new QLineEdit(this)),
      m_stopText(new QLabel(this)) {
    makeMarkup(m_jointName);
    auto* top = new QWidget(this);
    auto* topLayout = new QVBoxLayout(top);
    topLayout->setContentsMargins(0, 0, 0, 0);
    topLayout->setSpacing(0);
    m_views = new ViewBar(*m_sheet, top);
    topLayout->addWidget(m_views);
    topLayout->addWidget(m_sheet, 1);
    auto* bottom = new QWidget(this);
    auto* bottomLayout = new QVBoxLayout(bottom);
    bottomLayout->setContentsMargins(8, 4, 8, 4);
    bottomLayout->setSpacing(4);
    auto* inspector = new QHBoxLayout;
    makeInspector(inspector);
    bottomLayout->addLayout(inspector);
    m_tabs->setObjectName("poseTabs");
    makeTabs();
    bottomLayout->addWidget(m_tabs, 1);
    m_stopText->setObjectName("stopText");
    m_stopText->setWordWrap(true);
    bottomLayout->addWidget(m_stopText);
    auto* strip = new QHBoxLayout;
    new FlowLayout(m_chips);
    strip->addWidget(m_chips, 1);
    m_status->setObjectName("poseStatus");
    strip->addWidget(m_status);
    bottomLayout->addLayout(strip);
    auto* splitter = new QSplitter(Qt::Vertical, this);
    splitter->addWidget(top);
    splitter->addWidget(bottom);
    splitter->setStretchFactor(0, 1);
    splitter->setSizes({380, 340});
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->addWidget(splitter);

    makeCommands();
    makeHooks();
    setUpTable(m_holding, "holding");
    m_play.setInterval(kPlayMs);
    connect(&m_play, &QTimer::timeout, this, &PoseStation::playTick);
    connect(&session, &Session::projectChanged, this, whenSeen(this, [this] { showProject(); }));
    connect(&session, &Session::projectChanged, this, [this] {
        for (auto* tab : m_studies) tab->outdate();
    });
    connect(&session, &Session::reportChanged, this, whenSeen(this, [this] { showReport(); }));
    connect(&session, &Session::selectionChanged, this, whenSeen(this, [this, shown = model::JointId()]() mutable {
        showJoint();
        if (shown != m_session.currentJoint())
            for (auto* tab : m_studies) tab->outdate();
        shown = m_session.currentJoint();
        m_ladder->show(m_session.report(), m_session.currentJoint());
    }));
    connect(m_ladder, &RangeLadder::jointPicked, this, [this](int j) {
        m_stopText->clear();
        if (!m_session.report()) return; // another model is being looked at
        m_session.setCurrentJoint(ivrant::at(m_session.report()->project->joints, j).id);
    });
    connect(m_ladder, &RangeLadder::stopPicked, this, [this](int row, bool high) {
        if (!m_session.report()) return;
        const auto& range = m_ladder->row(row);
        const auto& stop = high ? range.high : range.low;
        const QString end = high ? "High end: " : "Low end: ";
        const QString at = QString::fromStdString(base::formatNumber(high ? range.free.high : range.free.low, 2)) + "°";
        if (stop.by != pose::StopBy::Contact && stop.by != pose::StopBy::Seat) {
            m_stopText->setText(
                end +
                (stop.by == pose::StopBy::Own ? at + ", the joint's own limit"
                 : stop.by == pose::StopBy::Ring
                     ? at + ", " + QString::fromStdString(pose::describeRingEnd(*m_session.report()->project, stop))
                     : "turns all round"));
            return;
        }
        const auto& project = *m_session.report()->project;
        const auto name = [&](model::PartSpot s) {
            return QString::fromStdString(model::getPart(project, s).shape->name + " of " +
                                          ivrant::at(project.sections, s.section)->name);
        };
        m_stopText->setText(end + "stops at " + at + ": " + name(stop.moving.spot) +
                            (stop.by == pose::StopBy::Seat ? " sits on " : " meets ") + name(stop.fixed.spot) +
                            ", now " + QString::fromStdString(base::formatNumber(stop.clearanceMm.value_or(0), 2)) +
                            " mm apart");
        m_session.setMarked(
            {model::getPart(project, stop.moving.spot).id, model::getPart(project, stop.fixed.spot).id});
    });
    showProject();
}

const model::Joint* PoseStation::joint() const {
    const int j = m_session.project().findJoint(m_session.currentJoint());
    return j < 0 ? nullptr : &ivrant::at(m_session.project().joints, j);
}

void PoseStation::makeInspector(QHBoxLayout* row) {
    const auto label = [&](const QString& text, QWidget* buddy) {
        auto* l = new QLabel(text, this);
        l->setBuddy(buddy);
        row->addWidget(l);
        row->addWidget(buddy);
    };
    m_jointName->setObjectName("jointName");
    row->addWidget(m_jointName, 1);
    m_kind->setObjectName("jointKind");
    m_kind->setAccessibleName("Joint kind");
    m_kind->setToolTip("Exchange the joint's two parts for another kind, where the ports allow it");
    m_kind->setSizeAdjustPolicy(QComboBox::AdjustToContents);
    label("kind", m_kind);
    m_value->setObjectName("jointValue");
    m_value->setAccessibleName("Value");
    m_value->setToolTip("Angle in degrees; several freedoms are divided by semicolons");
    m_value->setMaximumWidth(scaled(110));
    label("now", m_value);
    m_wanted->setObjectName("jointWanted");
    m_wanted->setAccessibleName("Wanted range");
    m_wanted->setPlaceholderText("0..90");
    m_wanted->setToolTip("Wanted range, low..high; several freedoms are divided by semicolons; empty: nothing wanted");
    m_wanted->setMaximumWidth(scaled(170));
    label("wanted", m_wanted);
    connect(m_value, &QLineEdit::editingFinished, this, &PoseStation::valueTyped);
    connect(m_wanted, &QLineEdit::editingFinished, this, &PoseStation::wantedTyped);
    connect(m_kind, &QComboBox::activated, this, &PoseStation::kindChosen);
}

void PoseStation::makeCommands() {
    addCommand(this, "Step joint back", QKeySequence("["), [this] { stepJoint(-1); });
    addCommand(this, "Step joint on", QKeySequence("]"), [this] { stepJoint(1); });
    addCommand(this, "Keep this pose", QKeySequence("C"), [this] { keepPose(); });
    addCommand(this, "Play to the next pose", QKeySequence("Space"), [this] { play(); });
    m_fans = addCommand(this, "Fans", QKeySequence("F"), [this] { m_sheet->refresh(); });
    m_limb = addCommand(this, "Whole limb follows", QKeySequence("L"), [this] { m_sheet->refresh(); });
    m_limb->setCheckable(true);
    m_limb->setToolTip(
        "Dragging moves the hand or foot, and all joints up to the ground give way; other feet stay (L)");
    m_fans->setCheckable(true);
    m_fans->setChecked(true);
    addCommand(this, "Remove joint", {}, [this] {
        const auto* j = joint();
        if (!j) return;
        const auto id = j->id;
        const auto place = model::makePlace(ivrant::at(
            m_session.placed().X_WS, ivrant::at(m_session.tree().to, m_session.project().findJoint(id)).section));
        m_session.apply("Remove joint", [&](const model::Project& p) { return model::removeJoint(p, id, place); });
    });
    addCommand(this, "Rename joint", QKeySequence("F2"), [this] {
        const auto* j = joint();
        if (!j) return;
        const auto id = j->id;
        const QString name =
            QInputDialog::getText(this, "Rename joint", "Name", QLineEdit::Normal, QString::fromStdString(j->name));
        if (!name.isEmpty())
            m_session.apply("Rename joint",
                            [&](const model::Project& p) { return model::renameJoint(p, id, name.toStdString()); });
    });
    addCommand(this, "Copy ranges as text", {}, [this] { copyText(m_ladder->asText()); });
    addCommand(this, "Save the range ladder …", {}, [this] { saveChart(); });
    m_sheet->addPictureCommands(this);
    m_views->add(m_fans);
    m_views->add(m_limb);
}

void PoseStation::makeHooks() {
    m_sheet->hooks.state = [this](model::PartSpot, const model::Part& part) {
        auto state = render::makeState(part.colour);
        const auto rgb = [](const QColor& c) {
            return std::array<std::uint8_t, 3>{static_cast<std::uint8_t>(c.red()), static_cast<std::uint8_t>(c.green()),
                                               static_cast<std::uint8_t>(c.blue())};
        };
        if (m_motion && m_motion->isMeeting(part.id)) return render::mix(state, rgb(theme().ember), 0.65);
        if (m_session.marked().count(part.id) > 0) return render::mix(state, rgb(theme().ember), 0.65);
        if (!m_session.marked().empty()) return render::mix(state, rgb(theme().ground), 0.55);
        return state;
    };
    m_sheet->hooks.overlay = [this](QPainter& painter) { drawOverlay(painter); };
    m_sheet->hooks.dragBegins = [this](model::PartSpot spot, QPointF position) {
        return m_drag.begin(spot, position, m_limb->isChecked());
    };
    m_sheet->hooks.dragMoves = [this](QPointF position) {
        m_drag.move(position);
        m_status->setText(m_drag.atStop() ? "stops here" : "");
    };
    m_sheet->hooks.dragEnds = [this] { m_drag.end(); };
    m_sheet->hooks.picked = [this](const PickHit& hit) { return m_lines && m_lines->take(hit); };
    m_sheet->hooks.clicked = [this](model::PartSpot spot, Qt::KeyboardModifiers) {
        m_session.setMarked({});
        m_stopText->clear();
        if (spot.section < 0) return;
        const int j = ivrant::at(m_session.tree().carrier, spot.section);
        if (j >= 0) m_session.setCurrentJoint(ivrant::at(m_session.project().joints, j).id);
    };
}

void PoseStation::makeTabs() {
    m_tabs->addTab(m_ladder, "Range ladder");
    m_tabs->setTabToolTip(0, "outlined: wanted · filled: free · hatched: blocked · tick: now");
    m_holding->setObjectName("holding");
    m_holding->setAccessibleName("Holding");
    auto* hold = new QWidget(this);
    auto* layout = new QVBoxLayout(hold);
    layout->setContentsMargins(0, 2, 0, 0);
    auto* row = new FlowLayout;
    m_tilt = new QDoubleSpinBox(hold);
    m_tilt->setObjectName("baseTilt");
    m_tilt->setAccessibleName("Tilt of the base");
    m_tilt->setToolTip("How far the ground under the model may lean, any way; the worst case counts it");
    m_tilt->setRange(0, 45);
    m_tilt->setDecimals(1);
    m_tilt->setSuffix("°");
    m_tilt->setKeyboardTracking(false);
    auto* label = new QLabel("Worst case over the wanted ranges, with the base leaning up to", hold);
    label->setBuddy(m_tilt);
    row->addWidget(label);
    row->addWidget(m_tilt);
    auto* show = new QPushButton("show the worst pose", hold);
    show->setObjectName("showWorst");
    show->setToolTip("Look at the figure where the current joint has to hold most");
    row->addWidget(show);
    layout->addLayout(row);
    layout->addWidget(m_holding, 1);
    m_tabs->addTab(hold, "Hold");
    const auto add = [&](PoseTab* tab, const char* name) {
        m_tabs->addTab(tab, name);
        m_studies.push_back(tab);
    };
    add(m_motion = new MotionTab(m_session, this), "Motion");
    add(m_lines = new LinesTab(m_session, this), "Lines");
    add(new MapTab(m_session, this), "Two joints");
    add(new ChainTab(m_session, this), "Chain");
    add(new ChooseTab(m_session, this), "Choose");
    add(m_compare = new CompareTab(m_session, this), "A against B");
    add(m_study = new StudyTab(m_session, this), "Reach");
    connect(m_motion, &MotionTab::overlayChanged, this, &PoseStation::showMotion);
    connect(m_lines, &LinesTab::overlayChanged, m_sheet, &Sheet3d::refresh);
    connect(m_compare, &CompareTab::overlayChanged, m_sheet, &Sheet3d::refresh);
    connect(m_study, &StudyTab::overlayChanged, m_sheet, &Sheet3d::refresh);
    connect(m_tabs, &QTabWidget::currentChanged, m_sheet, &Sheet3d::refresh);
    connect(m_tilt, &QDoubleSpinBox::valueChanged, this, &PoseStation::tiltTyped);
    connect(show, &QPushButton::clicked, this, [this] {
        const auto report = m_session.report();
        const int j = m_session.project().findJoint(m_session.currentJoint());
        if (!report || j < 0 || !m_session.isReportCurrent()) return;
        std::map<model::JointId, std::vector<double>> values;
        for (std::size_t k = 0; k < report->project->joints.size(); ++k)
            values[report->project->joints[k].id] = ivrant::at(report->worst, j).values[k];
        m_session.look("the worst case of " + QString::fromStdString(ivrant::at(report->project->joints, j).name),
                       values);
    });
}

/// The model at the place of the motion that is looked at, or as it is.
void PoseStation::showMotion() { m_sheet->showElsewhere(m_motion->shownPlace()); }

void PoseStation::tiltTyped() {
    if (m_tilt->value() == m_session.project().tiltDeg) return;
    m_session.apply("Tilt of the base",
                    [tilt = m_tilt->value()](const model::Project& p) { return model::setTilt(p, tilt); });
}

void PoseStation::showProject() {
    if (!m_session.report()) m_ladder->show(nullptr, {});
    rebuildChips();
    showJoint();
    if (!m_tilt->hasFocus()) {
        const QSignalBlocker quiet(m_tilt);
        m_tilt->setValue(m_session.project().tiltDeg);
    }
}

void PoseStation::showReport() {
    m_ladder->show(m_session.report(), m_session.currentJoint());
    showHolding();
    const auto report = m_session.report();
    if (!report || !report->present.tipping || m_play.isActive()) return;
    const auto& tip = *report->present.tipping;
    m_status->setText(
        QString::fromStdString(base::formatNumber(tip.massG, 0) + " g · " +
                               (tip.angleDeg < 0 ? "falls over" : "tips at " + base::formatAngle(tip.angleDeg)) +
                               " towards " + base::formatNumber(tip.towardDeg, 0) + "°"));
}

void PoseStation::showJoint() {
    const auto* j = joint();
    for (QWidget* w : {static_cast<QWidget*>(m_kind), static_cast<QWidget*>(m_value), static_cast<QWidget*>(m_wanted)})
        w->setEnabled(j != nullptr);
    m_kind->clear();
    if (!j) {
        m_jointName->setText("<b>No joint</b>");
        m_value->clear();
        m_wanted->clear();
        return;
    }
    m_jointName->setText("<b>" + QString::fromStdString(j->name).toHtmlEscaped() + "</b>");
    m_kind->addItem(QString::fromStdString(j->kind->name));
    for (const auto& other : model::listExchanges(m_session.project(), j->id))
        m_kind->addItem(QString::fromStdString(other));
    if (!m_value->hasFocus()) m_value->setText(valueText(j->value));
    if (!m_wanted->hasFocus()) m_wanted->setText(wantedText(j->wanted));
}

void PoseStation::showHolding() {
    const auto report = m_session.report();
    if (!report) return;
    std::vector<TableRow> rows;
    for (std::size_t k = 0; k < report->project->joints.size(); ++k) {
        const auto& now = report->present.loads[k];
        const auto& pose = study::findWorstPose(*report, k);
        const bool between = report->worst[k].needNmm > pose.loads[k].needNmm * (1 + 1e-6) + 1e-6;
        const double most = between ? report->worst[k].needNmm : pose.loads[k].needNmm;
        rows.push_back({{QString::fromStdString(report->project->joints[k].name), {}},
                        numberCell(now.needNmm, 1),
                        numberCell(now.have.value, 1),
                        marginCell(now.margin),
                        numberCell(most, 1),
                        marginCell(pose::calcHoldMargin(most, now.have.value)),
                        {between ? QString("within the wanted ranges") : QString::fromStdString(pose.name), {}},
                        numberCell(now.pullN, 2),
                        now.pullLimit ? numberCell(now.pullLimit->value, 1) : TableCell{"-", {}},
                        {QString::fromStdString(now.have.basis), {}},
                        {QString::fromStdString(report->project->joints[k].kind->name), {}}});
    }
    fillTable(m_holding,
              {"Joint", "Needs N·mm", "Has N·mm", "Margin", "Most needed", "Least margin", "where", "Pull N",
               "Pulls out at", "Basis", "Kind"},
              rows);
}

void PoseStation::stepJoint(int direction) {
    const auto* j = joint();
    if (!j) return;
    auto value = j->value;
    const double step = j->kind->stepDeg > 0 ? j->kind->stepDeg : 5;
    const auto k = static_cast<std::size_t>(j->kind->bendFreedom());
    value[k] += step * direction;
    value = pose::calcNearestValue(*j->kind, value);
    const auto id = j->id;
    m_session.applyLive("Pose " + QString::fromStdString(j->name), [&](const model::Project& p) {
        return pose::poseJoints(p, {{id, value}});
    });
}

void PoseStation::valueTyped() {
    const auto* j = joint();
    if (!j || m_value->text() == valueText(j->value)) return;
    std::vector<double> value;
    for (const QString& piece : m_value->text().split(';')) {
        const auto number = base::parseNumber(piece.trimmed().remove("°").toStdString());
        if (!number) {
            m_session.say(QString::fromStdString("Value: " + number.error().message), true);
            m_value->setText(valueText(j->value));
            return;
        }
        value.push_back(*number);
    }
    if (j->kind->stepDeg > 0)
        for (double& v : value)
            if (const double r = std::round(v / j->kind->stepDeg) * j->kind->stepDeg; r != v) {
                m_session.say("A " + QString::fromStdString(j->kind->name) + " moves in steps of " +
                              QString::number(j->kind->stepDeg) + "°: taken " + QString::number(r) + "°");
                v = r;
            }
    const auto id = j->id;
    if (!m_session.apply("Pose " + QString::fromStdString(j->name), [&](const model::Project& p) {
            return pose::poseJoints(p, {{id, value}});
        }))
        m_value->setText(valueText(j->value));
    else
        m_value->setText(valueText(joint()->value));
}

void PoseStation::wantedTyped() {
    const auto* j = joint();
    if (!j || m_wanted->text() == wantedText(j->wanted)) return;
    std::vector<model::Range> wanted;
    const QString text = m_wanted->text().trimmed();
    for (const QString& piece : text.isEmpty() ? QStringList() : text.split(';')) {
        const int dots = static_cast<int>(piece.indexOf(".."));
        const auto low = base::parseNumber(piece.left(std::max(dots, 0)).trimmed().remove("°").toStdString());
        const auto high = base::parseNumber(piece.mid(dots + 2).trimmed().remove("°").toStdString());
        if (dots < 0 || !low || !high) {
            m_session.say("Wanted range: expected low..high, such as 0..90", true);
            m_wanted->setText(wantedText(j->wanted));
            return;
        }
        wanted.push_back({*low, *high});
    }
    const auto id = j->id;
    if (!m_session.apply("Wanted range of " + QString::fromStdString(j->name),
                         [&](const model::Project& p) { return model::setWanted(p, id, wanted); }))
        m_wanted->setText(wantedText(j->wanted));
}

void PoseStation::kindChosen(int index) {
    const auto* j = joint();
    if (!j || index == 0) return;
    const auto id = j->id;
    const std::string kind = m_kind->itemText(index).toStdString();
    m_session.apply("Exchange for " + m_kind->itemText(index),
                    [&](const model::Project& p) { return model::exchangeJointKind(p, id, kind); });
}

void PoseStation::saveChart() {
    const QString path = QFileDialog::getSaveFileName(this, "Range ladder", "ranges.svg", "SVG (*.svg);;PNG (*.png)");
    if (path.isEmpty()) return;
    const bool saved = m_ladder->saveChart(path);
    m_session.say(saved ? "Chart written: " + path : "The chart could not be written to " + path, !saved);
}

void PoseStation::goTo(const verdict::Place& place) {
    if (m_lines->goTo(place)) m_tabs->setCurrentWidget(m_lines);
    if (m_motion->goTo(place)) {
        m_tabs->setCurrentWidget(m_motion);
        m_session.setMarked({});
        return;
    }
    if (place.pose) takePose(*place.pose);
    if (place.joint) m_session.setCurrentJoint(*place.joint);
    m_session.setMarked({place.parts.begin(), place.parts.end()});
}

} // namespace ivrant::app
