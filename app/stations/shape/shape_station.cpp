// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stations/shape/shape_station.h"

#include <QHBoxLayout>
#include <QKeyEvent>
#include <QPainter>
#include <QSplitter>
#include <QVBoxLayout>
#include <cmath>

#include "app/shell/theme.h"
#include "app/shell/when_seen.h"
#include "core/base/at.h"
#include "core/base/units.h"
#include "core/parts/family.h"
#include "core/parts/palette.h"
#include "core/pose/kinematics.h"

namespace ivrant::app {

using geometry::Frame;
using geometry::Vec3;

namespace {

Frame shift(const Vec3& mm) { return geometry::makeFrame(geometry::Mat3::Identity(), mm); }

} // namespace

ShapeStation::ShapeStation(Session& session, QWidget* parent)
    : Station(parent), m_session(session), m_hang(session), m_tree(new SectionTree(session, this)),
      m_sheet(new Sheet3d(session, this)), m_line(new QLineEdit(this)), m_hint(new QLabel(this)),
      m_place(new QLabel(this)), m_offer(new QPushButton(this)) {
    auto* right = new QWidget(this);
    auto* column = new QVBoxLayout(right);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(0);
    m_views = new ViewBar(*m_sheet, right);
    column->addWidget(m_views);
    column->addWidget(m_sheet, 1);
    auto* foot = new QWidget(right);
    auto* footLayout = new QVBoxLayout(foot);
    footLayout->setContentsMargins(12, 6, 12, 8);
    footLayout->setSpacing(4);
    auto* lineRow = new QHBoxLayout;
    m_line->setObjectName("partLine");
    m_line->setAccessibleName("Part line");
    m_line->setPlaceholderText("type a part: 2x4 plate kelp, beam 7, ball plate …");
    m_line->setToolTip("A part with sizes and colour; \"at 2 0 3 turn 1\" places by numbers; \"colour reed\" "
                       "recolours, \"weighs 2.4\" notes the weighed grams "
                       "of what is selected");
    m_line->setMinimumWidth(scaled(300));
    m_offer->setObjectName("jointOffer");
    m_offer->setVisible(false);
    lineRow->addWidget(m_line, 2);
    lineRow->addWidget(m_offer);
    footLayout->addLayout(lineRow);
    auto* hintRow = new QHBoxLayout;
    m_hint->setObjectName("partHint");
    m_place->setObjectName("partPlace");
    hintRow->addWidget(m_hint, 1);
    hintRow->addWidget(m_place);
    footLayout->addLayout(hintRow);
    column->addWidget(foot);
    auto* splitter = new QSplitter(this);
    splitter->addWidget(m_tree);
    splitter->addWidget(right);
    splitter->setStretchFactor(1, 1);
    splitter->setSizes({236, 660});
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->addWidget(splitter);

    makeCommands();
    makeHooks();
    m_line->installEventFilter(this);
    m_sheet->installEventFilter(this);
    m_tree->tree()->installEventFilter(this);
    connect(m_line, &QLineEdit::textEdited, this, &ShapeStation::lineChanged);
    connect(m_offer, &QPushButton::clicked, this, &ShapeStation::acceptOffer);
    connect(&session, &Session::projectChanged, this, whenSeen(this, [this] {
        findTroubles();
        showOffers();
        showHang();
    }));
    connect(&session, &Session::reportChanged, this, whenSeen(this, [this] {
        findTroubles();
        m_sheet->refresh();
    }));
    connect(&session, &Session::unitChanged, this, &ShapeStation::showHang);
    findTroubles();
    showOffers();
    showHang();
}

QString ShapeStation::keysText() const {
    return m_hang.active() ? "Enter puts it down · Tab other fit · , . turn · arrows nudge, Shift half · PgUp PgDn by "
                             "plate · Esc ends"
                           : "type to place · click selects, drag a box · arrows move · Ctrl+D again · Del remove · "
                             "Ctrl+J join · F6 isolate";
}

void ShapeStation::makeCommands() {
    addCommand(this, "New section", QKeySequence("Ctrl+Shift+N"), [this] { newSection(); });
    addCommand(this, "Rename section", QKeySequence("F2"), [this] { m_tree->editName(); });
    addCommand(this, "Remove section", {}, [this] { removeSection(); });
    addCommand(this, "Move selected parts to this section", QKeySequence("Ctrl+Shift+V"), [this] { moveHere(); });
    addCommand(this, "Duplicate", QKeySequence("Ctrl+D"), [this] { duplicate(); });
    addCommand(this, "Mirrored copy", QKeySequence("Ctrl+M"), [this] { mirror(true); });
    addCommand(this, "Mirror in place", QKeySequence("Ctrl+Shift+M"), [this] { mirror(false); });
    addCommand(this, "Turn selected", QKeySequence("Ctrl+R"), [this] {
        if (m_session.selection().empty()) return;
        Vec3 low = Vec3::Constant(1e30);
        const model::PartIndex index(m_session.project());
        for (const auto& id : m_session.selection())
            low = low.cwiseMin(model::getPart(m_session.project(), index.find(id)).place.frame().translation());
        const auto parts = m_session.selectedParts();
        m_session.apply("Turn", [&](const model::Project& p) {
            return model::moveParts(p, parts, geometry::makeRotationAbout(low, Vec3::UnitZ(), base::kPi / 2));
        });
    });
    addCommand(this, "Delete", QKeySequence(Qt::Key_Delete), [this] { removeSelected(); });
    addCommand(this, "Select all of this section", QKeySequence("Ctrl+A"), [this] {
        std::set<model::PartId> ids;
        for (const auto& part :
             at(m_session.project().sections, m_session.project().findSection(m_session.currentSection()))->parts)
            ids.insert(part.id);
        m_session.select(ids);
    });
    addCommand(this, "Select the next part", QKeySequence("F3"), [this] { selectNext(1, false); });
    addCommand(this, "Select the part before", QKeySequence("Shift+F3"), [this] { selectNext(-1, false); });
    addCommand(this, "Select the next part too", QKeySequence("Ctrl+F3"), [this] { selectNext(1, true); });
    addCommand(this, "Own shapes", {}, [this] { showOwnShapes(); });
    addCommand(this, "Join", QKeySequence("Ctrl+J"), [this] { join(); });
    addCommand(this, "New step", QKeySequence("Ctrl+Return"), [this] { newStep(); });
    addCommand(this, "Tip the hanging part", QKeySequence("Ctrl+T"), [this] {
        m_hang.tip();
        showHang();
    });
    addCommand(this, "Duplicate section", {}, [this] { copySection(false); });
    addCommand(this, "Mirrored copy of section", {}, [this] { copySection(true); });
    addCommand(this, "Take ballast out of this section", {}, [this] { takeBallastOut(); });
    m_sheet->addPictureCommands(this);
    m_isolate = addCommand(this, "Isolate", QKeySequence("F6"), [this] { m_sheet->refresh(); });
    m_ghost = addCommand(this, "Ghost others", QKeySequence("F7"), [this] { m_sheet->refresh(); });
    m_isolate->setCheckable(true);
    m_ghost->setCheckable(true);
    m_views->add(m_ghost);
    m_views->add(m_isolate);
}

void ShapeStation::makeHooks() {
    m_sheet->hooks.state = [this](model::PartSpot spot, const model::Part& part) { return stateOf(spot, part); };
    m_sheet->hooks.extra = [this](std::vector<render::SectionDraw>& draws) {
        if (auto draw = m_hang.draw()) draws.push_back(*draw);
    };
    m_sheet->hooks.overlay = [this](QPainter& painter) { drawOverlay(painter); };
    m_sheet->hooks.hovered = [this](QPointF position) {
        if (!m_hang.active()) return;
        const auto [origin, direction] = m_sheet->rayAt(position);
        Vec3 ground = origin;
        if (std::abs(direction.z()) > 1e-6) ground = origin - direction * (origin.z() / direction.z());
        m_hang.follow(m_sheet->pick(position), ground);
        showHang();
    };
    m_sheet->hooks.clicked = [this](model::PartSpot spot, Qt::KeyboardModifiers modifiers) {
        if (m_hang.active()) {
            putDown();
            return;
        }
        if (spot.section < 0) {
            if (!(modifiers & (Qt::ControlModifier | Qt::ShiftModifier))) m_session.select({});
            return;
        }
        const model::PartId id = model::getPart(m_session.project(), spot).id;
        std::set<model::PartId> ids;
        if (modifiers & (Qt::ControlModifier | Qt::ShiftModifier)) ids = m_session.selection();
        if (!ids.insert(id).second) ids.erase(id);
        m_session.select(ids);
        m_session.setCurrentSection(at(m_session.project().sections, spot.section)->id);
    };
    m_sheet->hooks.boxed = [this](const std::vector<model::PartId>& parts, Qt::KeyboardModifiers modifiers) {
        std::set<model::PartId> ids(parts.begin(), parts.end());
        if (modifiers & (Qt::ControlModifier | Qt::ShiftModifier))
            ids.insert(m_session.selection().begin(), m_session.selection().end());
        m_session.select(ids);
    };
}

void ShapeStation::lineChanged(const QString& text) {
    m_suggestion.clear();
    if (text.trimmed().isEmpty()) {
        m_hang.clear();
        showHang();
        return;
    }
    if (const QString does = describeLineCommand(text); !does.isEmpty()) {
        m_hang.clear();
        showHang();
        m_hint->setText(does);
        return;
    }
    const auto line = parts::parsePartLine(text.toStdString());
    if (line) m_hang.take(*line, m_usualColour);
    if (line && m_hang.active()) {
        showHang();
        return;
    }
    m_hang.clear();
    showHang();
    QStringList names;
    for (const auto& own : m_session.project().ownShapes)
        if (const QString name = QString::fromStdString(own->name); name.contains(text.trimmed(), Qt::CaseInsensitive))
            names << name;
    for (const auto& name : parts::suggestShapes(text.toStdString(), 5)) names << QString::fromStdString(name);
    if (line && names.isEmpty()) { // an own shape that this project does not have
        m_hint->setText("There is no '" + QString::fromStdString(line->shape) +
                        "' in this project: Own shapes reads one from a mesh");
        return;
    }
    if (!names.isEmpty()) m_suggestion = names.first();
    m_hint->setText(names.isEmpty() ? QString::fromStdString(line.error().message) : "Tab takes: " + names.join(" · "));
    m_hint->setToolTip(line ? QString() : QString::fromStdString(line.error().message));
}

void ShapeStation::enterPressed() {
    const QString text = m_line->text().trimmed();
    if (runLineCommand(text) || text.isEmpty()) return;
    if (m_hang.active()) {
        putDown();
        return;
    }
    const auto line = parts::parsePartLine(text.toStdString());
    if (!line) m_session.say(QString::fromStdString(line.error().message), true);
}

void ShapeStation::putDown() {
    const auto& project = m_session.project();
    auto sectionId = m_session.currentSection();
    const auto s = static_cast<std::size_t>(project.findSection(sectionId));
    const bool empty = project.sections[s]->parts.empty() && m_session.tree().carrier[s] < 0;
    const Frame X_W = m_hang.X_W();
    // The world frame of the screen may stand the figure on the ground; places are kept in the section.
    const Frame X_SP = m_session.placed().X_WS[s].inverse() * X_W;
    model::NewPart part;
    part.shape = m_hang.shape();
    part.colour = m_hang.colour();
    int lastStep = 0;
    for (const auto& p : project.sections[s]->parts) lastStep = std::max(lastStep, p.step);
    if (m_nextStep) part.step = lastStep + 1;
    const bool atOrigin = empty && !m_hang.placedByNumbers();
    if (!atOrigin) part.place = model::makePlace(X_SP);
    const bool done = m_session.apply("Put down " + QString::fromStdString(part.shape->name),
                                      [&](const model::Project& p) -> model::EditResult {
                                          if (!atOrigin) return model::addParts(p, sectionId, {&part, 1});
                                          auto placed = model::placeSection(p, sectionId, model::makePlace(X_W));
                                          if (!placed) return placed.error();
                                          return model::addParts(*placed, sectionId, {&part, 1});
                                      });
    if (!done) return;
    m_nextStep = false;
    m_usualColour = m_hang.colour();
    if (m_hang.placedByNumbers()) {
        m_line->clear();
        lineChanged("");
    } else {
        m_hang.liftBy(m_hang.shape()->family.find("plate") != std::string::npos || m_hang.shape()->family == "tile"
                          ? base::kPlateMm
                          : base::kBrickMm);
        showHang();
    }
}

void ShapeStation::showHang() {
    m_place->setText(m_hang.describe());
    if (m_hang.active())
        m_hint->setText(QString::fromStdString(m_hang.shape()->name + ", " + parts::getColourName(m_hang.colour())));
    else if (m_line->text().isEmpty())
        m_hint->setText(QString::number(m_session.project().partCount()) + " parts · " +
                        QString::number(m_session.selection().size()) + " selected");
    m_sheet->refresh();
    emit keysChanged();
}

void ShapeStation::nudge(const Vec3& screenStep, bool vertical) {
    Vec3 step = screenStep;
    if (!vertical) { // the grid axis nearest to the wished direction on the screen
        const geometry::Mat3 axes = m_sheet->camera().axes();
        Vec3 world = axes.transpose() * Vec3(screenStep.x(), screenStep.y(), 0);
        world.z() = 0;
        const double length = screenStep.norm();
        step = std::abs(world.x()) > std::abs(world.y()) ? Vec3(std::copysign(length, world.x()), 0, 0)
                                                         : Vec3(0, std::copysign(length, world.y()), 0);
    }
    if (m_hang.active()) {
        m_hang.nudge(step);
        showHang();
        return;
    }
    if (m_session.selection().empty()) return;
    const model::PartIndex index(m_session.project());
    const auto ids = m_session.selectedParts();
    const auto s = static_cast<std::size_t>(index.find(ids.front()).section);
    const Vec3 inSection = m_session.placed().X_WS[s].linear().transpose() * step;
    m_session.apply("Move", [&](const model::Project& p) { return model::moveParts(p, ids, shift(inSection)); });
}

bool ShapeStation::handleKey(QKeyEvent* event) {
    const bool shifted = event->modifiers() & Qt::ShiftModifier;
    const double pitch = base::kPitchMm * (shifted ? 0.5 : 1.0);
    const bool typingNumbers = m_line->text().contains(" at ");
    switch (event->key()) {
    case Qt::Key_Return:
    case Qt::Key_Enter:
        if (event->modifiers() & Qt::ControlModifier) return false;
        enterPressed();
        return true;
    case Qt::Key_Escape:
        m_line->clear();
        m_hang.clear();
        m_session.setMarked({});
        m_session.select({});
        showHang();
        return true;
    case Qt::Key_Tab:
    case Qt::Key_Backtab:
        if (m_hang.active())
            m_hang.nextFit(event->key() == Qt::Key_Tab ? 1 : -1);
        else if (!m_suggestion.isEmpty()) {
            m_line->setText(m_suggestion);
            lineChanged(m_suggestion);
        } else
            return false;
        showHang();
        return true;
    case Qt::Key_Comma:
    case Qt::Key_Period:
        if (!m_hang.active() || typingNumbers) return false;
        m_hang.turn(event->key() == Qt::Key_Comma ? 1 : -1);
        showHang();
        return true;
    case Qt::Key_Left: nudge({-pitch, 0, 0}, false); return true;
    case Qt::Key_Right: nudge({pitch, 0, 0}, false); return true;
    case Qt::Key_Up: nudge({0, pitch, 0}, false); return true;
    case Qt::Key_Down: nudge({0, -pitch, 0}, false); return true;
    case Qt::Key_PageUp: nudge({0, 0, base::kPlateMm}, true); return true;
    case Qt::Key_PageDown: nudge({0, 0, -base::kPlateMm}, true); return true;
    case Qt::Key_Delete:
        if (!m_line->text().isEmpty()) return false;
        removeSelected();
        return true;
    default: return false;
    }
}

bool ShapeStation::eventFilter(QObject* watched, QEvent* event) {
    if (event->type() == QEvent::ShortcutOverride && watched == m_line) {
        const auto* key = static_cast<QKeyEvent*>(event);
        // The station's own Ctrl commands win over the line's text editing keys while the line is empty.
        if (m_line->text().isEmpty() && (key->modifiers() & Qt::ControlModifier) &&
            (key->key() == Qt::Key_A || key->key() == Qt::Key_Z || key->key() == Qt::Key_Y))
            return true;
    }
    if (event->type() != QEvent::KeyPress) return Station::eventFilter(watched, event);
    auto* key = static_cast<QKeyEvent*>(event);
    if (watched == m_tree->tree()) { // letters and digits go to the line, the tree keeps its own keys
        if (m_tree->tree()->findChild<QLineEdit*>() || key->text().isEmpty() || !key->text()[0].isLetterOrNumber() ||
            (key->modifiers() & (Qt::ControlModifier | Qt::AltModifier)))
            return false;
    } else if (handleKey(key)) {
        return true;
    }
    if (watched != m_line && !key->text().isEmpty() && key->text()[0].isPrint() &&
        !(key->modifiers() & (Qt::ControlModifier | Qt::AltModifier))) {
        m_line->setFocus();
        m_line->insert(key->text());
        lineChanged(m_line->text());
        return true;
    }
    return Station::eventFilter(watched, event);
}

void ShapeStation::goTo(const verdict::Place& place) {
    if (place.section) m_session.setCurrentSection(*place.section);
    m_session.setMarked({place.parts.begin(), place.parts.end()});
}

} // namespace ivrant::app
