// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stations/make/steps_tab.h"

#include <QDropEvent>
#include <QHBoxLayout>
#include <QScrollBar>
#include <QSplitter>
#include <QVBoxLayout>
#include <algorithm>
#include <set>

#include "app/shell/plain_labels.h"
#include "app/shell/station.h"
#include "app/shell/text.h"
#include "app/shell/theme.h"
#include "app/shell/when_seen.h"
#include "core/base/at.h"
#include "core/base/units.h"
#include "core/model/edits_boards.h"

namespace ivrant::app {
namespace {
constexpr int kPartIcon = 64;
constexpr int kStripWidth = 84, kStripHeight = 60;
constexpr int kPictureDelayMs = 120;
} // namespace

StepsTab::StepsTab(Session& session, QWidget* owner, QWidget* parent)
    : QWidget(parent), m_session(session), m_steps(new QListWidget(this)), m_tray(new QListWidget(this)),
      m_picture(new ScenePicture(session, this)), m_title(new QLabel(this)), m_faults(new QLabel(this)),
      m_holds(new QLabel(this)), m_note(new QLineEdit(this)), m_keepView(new QPushButton("Keep this view", this)),
      m_holdsSought(session.jobs()) {
    if (auto made = render::Renderer::create()) m_renderer = *made;
    m_pictureTimer.setSingleShot(true);
    m_pictureTimer.setInterval(kPictureDelayMs);
    connect(&m_pictureTimer, &QTimer::timeout, this, &StepsTab::drawPicture);
    m_stripTimer.setInterval(0);
    connect(&m_stripTimer, &QTimer::timeout, this, &StepsTab::drawStripIcon);
    auto* left = new QWidget(this);
    makeStrip(left, owner);
    auto* page = new QWidget(this);
    makePage(page);
    auto* splitter = new QSplitter(this);
    splitter->addWidget(left);
    splitter->addWidget(page);
    splitter->setStretchFactor(1, 1);
    splitter->setSizes({scaled(250), scaled(640)});
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->addWidget(splitter, 1);
    connect(&session, &Session::projectOpened, this, [this] { // another model: nothing typed is of it
        m_note->clear();
        m_noteOf = {};
    });
    connect(&session, &Session::projectChanged, this, [this] {
        m_stale = true;
        if (isVisible()) rebuild();
    });
    connect(&session, &Session::reportChanged, this, whenSeen(this, [this] {
        markFaults();
        m_picture->update(); // the ways in are known now
    }));
    connect(m_steps, &QListWidget::currentRowChanged, this, &StepsTab::showStep);
    connect(m_steps->verticalScrollBar(), &QScrollBar::valueChanged, this, [this] { m_stripTimer.start(); });
}

void StepsTab::makeStrip(QWidget* left, QWidget* owner) {
    m_steps->setObjectName("makeSteps");
    m_steps->setWordWrap(true);
    m_steps->setAccessibleName("Steps");
    m_steps->setIconSize({scaled(kStripWidth), scaled(kStripHeight)});
    m_steps->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    m_steps->setDragEnabled(true);
    m_steps->setAcceptDrops(true);
    m_steps->viewport()->setAcceptDrops(true);
    m_steps->viewport()->installEventFilter(this);
    m_steps->setToolTip("Drag a step to another place, or parts from the tray onto a step");
    auto* column = new QVBoxLayout(left);
    column->setContentsMargins(0, 0, 0, 0);
    auto* head = makeMarkup(new QLabel("<b>Steps</b>", left));
    head->setMargin(8);
    column->addWidget(head);
    column->addWidget(m_steps, 1);
    auto* bar = new QHBoxLayout;
    const auto button = [&](QAction* action, const QString& text) {
        auto* b = new QPushButton(text, this);
        b->setToolTip(action->toolTip());
        b->setAccessibleName(action->text());
        connect(b, &QPushButton::clicked, action, &QAction::trigger);
        bar->addWidget(b);
    };
    auto* up = addCommand(owner, "Move step up", QKeySequence("Alt+Up"), [this] { moveStep(-1); });
    auto* down = addCommand(owner, "Move step down", QKeySequence("Alt+Down"), [this] { moveStep(1); });
    auto* split = addCommand(owner, "Split step: chosen parts go later", QKeySequence("Ctrl+B"), [this] {
        changeStep("Split step",
                   [later = chosenParts()](const model::Project& p, const model::SectionId& section, int step) {
                       return model::splitStep(p, section, step, later);
                   });
    });
    auto* join = addCommand(owner, "Join with the next step", QKeySequence("Ctrl+J"), [this] {
        changeStep("Join steps", [](const model::Project& p, const model::SectionId& section, int step) {
            return model::joinStep(p, section, step);
        });
    });
    button(up, "↑");
    button(down, "↓");
    button(split, "split");
    button(join, "join");
    column->addLayout(bar);
    addCommand(owner, "Chosen parts one step earlier", QKeySequence("Alt+Left"), [this] { moveParts(-1); });
    addCommand(owner, "Chosen parts one step later", QKeySequence("Alt+Right"), [this] { moveParts(1); });
    auto* orders = new QHBoxLayout;
    const auto order = [&](const QString& name, const QString& text, const QKeySequence& keys, const QString& hint,
                           make::Take take) {
        auto* action = addCommand(owner, text, keys, [this, take] { takeOrder(take); });
        auto* b = new QPushButton(text, this);
        b->setObjectName(name);
        b->setToolTip(hint + " (" + action->shortcut().toString() + ")");
        connect(b, &QPushButton::clicked, action, &QAction::trigger);
        orders->addWidget(b);
    };
    order("mendOrder", "Mend the order", QKeySequence("Ctrl+M"),
          "Moves as few parts as possible to steps at which they can go in", make::Take::Moves);
    order("planOrder", "Work out", QKeySequence("Ctrl+Shift+M"),
          "Gives the section of this step an order that is worked out, eight parts a step at most", make::Take::Plan);
    column->addLayout(orders);
}

void StepsTab::makePage(QWidget* page) {
    m_tray->setObjectName("tray");
    m_tray->setAccessibleName("Parts of the step");
    m_tray->setSelectionMode(QAbstractItemView::ExtendedSelection);
    m_tray->setViewMode(QListView::IconMode);
    m_tray->setIconSize({kPartIcon, kPartIcon});
    m_tray->setGridSize({132, kPartIcon + 52});
    m_tray->setWordWrap(true);
    m_tray->setMovement(QListView::Static);
    m_tray->setDragEnabled(true);
    m_tray->setResizeMode(QListView::Adjust);
    m_tray->setMinimumHeight(kPartIcon + 64);
    m_picture->setObjectName("stepPicture");
    m_picture->setAccessibleName("Picture of the step");
    m_picture->overlay = [this](QPainter& painter) { paintWays(painter); };
    connect(m_picture, &ScenePicture::turned, this, [this] {
        m_keepView->setChecked(false); // what is seen is no longer what is kept
    });
    auto* column = new QVBoxLayout(page);
    column->setContentsMargins(12, 8, 12, 8);
    makeMarkup(m_title)->setObjectName("stepTitle");
    m_title->setWordWrap(true);
    column->addWidget(m_title);
    m_faults->setObjectName("stepFaults");
    m_faults->setWordWrap(true);
    m_faults->setTextFormat(Qt::PlainText);
    m_faults->setTextInteractionFlags(Qt::TextSelectableByMouse);
    column->addWidget(m_faults);
    m_holds->setObjectName("stepHolds");
    m_holds->setWordWrap(true);
    m_holds->setTextFormat(Qt::PlainText);
    column->addWidget(m_holds);
    column->addWidget(m_picture, 1);
    auto* own = new QHBoxLayout;
    m_note->setObjectName("stepNote");
    m_note->setAccessibleName("Note for the sheet");
    m_note->setPlaceholderText("a note for the sheet at this step");
    m_note->setMaxLength(900);
    own->addWidget(m_note, 1);
    m_keepView->setObjectName("stepKeepView");
    m_keepView->setCheckable(true);
    m_keepView->setToolTip("The sheet shows this step from here; else from where all that is new is seen");
    own->addWidget(m_keepView);
    column->addLayout(own);
    column->addWidget(m_tray);
    connect(m_note, &QLineEdit::editingFinished, this, [this] { keepTyped(); });
    connect(m_keepView, &QPushButton::clicked, this, [this] {
        keepTyped();
        takeView();
    });
}

bool StepsTab::goToPart(model::PartSpot spot) {
    for (const make::Step& step : m_list)
        if (step.section == spot.section &&
            std::find(step.added.begin(), step.added.end(), spot.part) != step.added.end()) {
            goToStep(step.number);
            return true;
        }
    return false;
}

void StepsTab::goToStep(int number) {
    for (std::size_t i = 0; i < m_list.size(); ++i)
        if (m_list[i].number == number) m_steps->setCurrentRow(static_cast<int>(i));
}

void StepsTab::showEvent(QShowEvent*) {
    if (m_stale)
        rebuild();
    else
        showStep();
}

void StepsTab::resizeEvent(QResizeEvent*) {
    if (isVisible() && !m_stale) showStep();
}

/// Steps and parts are dropped on the strip.
bool StepsTab::eventFilter(QObject* watched, QEvent* event) {
    if (watched != m_steps->viewport()) return QWidget::eventFilter(watched, event);
    if (event->type() == QEvent::DragEnter || event->type() == QEvent::DragMove) {
        auto* drag = static_cast<QDragMoveEvent*>(event);
        const bool ours = drag->source() == m_tray || drag->source() == m_steps;
        if (ours)
            drag->acceptProposedAction();
        else
            drag->ignore();
        return true;
    }
    if (event->type() != QEvent::Drop) return QWidget::eventFilter(watched, event);
    auto* drop = static_cast<QDropEvent*>(event);
    const auto* item = m_steps->itemAt(drop->position().toPoint());
    const int row = item ? m_steps->row(item) : m_steps->count() - 1;
    const bool parts = drop->source() == m_tray;
    drop->setDropAction(Qt::IgnoreAction); // nothing is taken out of the list that it came from
    drop->accept();
    if (parts)
        dropParts(row);
    else
        dropStep(row);
    return true;
}

std::vector<model::PartId> StepsTab::chosenParts() const {
    std::vector<model::PartId> chosen;
    for (auto* item : m_tray->selectedItems())
        if (const QString id = item->data(Qt::UserRole).toString(); !id.isEmpty()) chosen.push_back({id.toStdString()});
    return chosen;
}

void StepsTab::dropParts(int row) {
    const auto chosen = chosenParts();
    const auto* step = current();
    if (!step || chosen.empty() || row < 0 || row >= static_cast<int>(m_list.size())) return;
    const make::Step to = at(m_list, row);
    if (to.section != step->section || to.board >= 0)
        return m_session.say("Parts stay in their section: drop them on one of its steps", true);
    if (to.after >= 0 || step->after >= 0)
        return m_session.say("What waits for a section comes last: Alt+Left puts it on with its own", true);
    if (to.stepInSection == step->stepInSection) return;
    m_session.apply("Move parts to another step",
                    [&](const model::Project& p) { return model::setStep(p, chosen, to.stepInSection); });
}

void StepsTab::dropStep(int row) {
    const auto* step = current();
    if (!step || row < 0 || row >= static_cast<int>(m_list.size())) return;
    const make::Step to = at(m_list, row);
    if (to.section != step->section || to.board >= 0 || step->board >= 0 || to.after >= 0 || step->after >= 0)
        return m_session.say("Steps change places within their section", true);
    std::set<int> numbers;
    for (const auto& part : at(m_session.project().sections, step->section)->parts) numbers.insert(part.step);
    const auto rank = [&](int number) {
        return static_cast<int>(std::distance(numbers.begin(), numbers.find(number)));
    };
    const int by = rank(to.stepInSection) - rank(step->stepInSection);
    if (by == 0) return;
    const auto id = at(m_session.project().sections, step->section)->id;
    std::vector<int> sorted(numbers.begin(), numbers.end());
    const int from = rank(step->stepInSection);
    if (!m_session.apply("Move step", [&](const model::Project& p) -> model::EditResult {
            model::EditResult next = p;
            for (int k = 0; k < std::abs(by) && next; ++k)
                next = model::moveStep(*next, id, at(sorted, from + (by > 0 ? k : -k)), by > 0 ? 1 : -1);
            return next;
        }))
        return;
    m_steps->setCurrentRow(row);
}

model::StepNote StepsTab::noteOf(const make::Step& step) const {
    if (step.section < 0 || step.added.empty()) return {};
    const auto& parts = at(m_session.project().sections, step.section)->parts;
    for (const model::StepNote& note : m_session.project().making.notes)
        for (const int p : step.added)
            if (at(parts, p).id == note.part) return note;
    return {at(parts, step.added.front()).id, ""};
}

void StepsTab::keepTyped() {
    if (!m_note->isModified() || m_noteOf.empty()) return;
    m_note->setModified(false);
    model::StepNote note{m_noteOf, ""};
    for (const model::StepNote& each : m_session.project().making.notes)
        if (each.part == m_noteOf) note = each;
    note.text = m_note->text().trimmed().toStdString();
    m_session.apply("Note on a step", [&](const model::Project& p) { return model::setStepNote(p, note); });
}

void StepsTab::takeView() {
    const auto* step = current();
    model::StepNote note = step ? noteOf(*step) : model::StepNote{};
    if (note.part.empty()) return m_session.say("A gear board has no notes", true);
    note.viewDeg.reset();
    const render::Turn turn = m_picture->turn();
    if (m_keepView->isChecked())
        note.viewDeg = {std::remainder(base::radToDeg(turn.yaw), 360.0), base::radToDeg(turn.pitch)};
    m_session.apply("View of a step", [&](const model::Project& p) { return model::setStepNote(p, note); });
}

void StepsTab::changeStep(
    const char* name,
    const std::function<model::EditResult(const model::Project&, const model::SectionId&, int)>& edit) {
    const auto* step = current();
    if (!step) return;
    if (step->board >= 0) return m_session.say("A gear board is one step: its shafts and wheels go in together", true);
    const auto id = at(m_session.project().sections, step->section)->id;
    m_session.apply(name, [&, n = step->stepInSection](const model::Project& p) { return edit(p, id, n); });
}

/// A board moves between the steps of its section by the step that it names.
void StepsTab::moveStep(int by) {
    const auto* step = current();
    if (!step || step->board < 0)
        return changeStep("Move step", [by](const model::Project& p, const model::SectionId& section, int number) {
            return model::moveStep(p, section, number, by);
        });
    if (step->section < 0) return m_session.say("A board that belongs to no section is built first", true);
    model::Board board = *at(m_session.project().boards, step->board);
    int last = 0;
    for (const auto& part : at(m_session.project().sections, step->section)->parts) last = std::max(last, part.step);
    const int next = (board.step == 0 || board.step > last ? last : board.step) + by;
    board.step = next >= last ? 0 : std::max(1, next);
    m_session.apply("Move step", [&](const model::Project& p) { return model::changeBoardHead(p, board); });
}

/// The chosen parts of the tray go to the step before or after; beyond the last a new one begins.
void StepsTab::moveParts(int by) {
    const auto* step = current();
    const std::vector<model::PartId> chosen = chosenParts();
    if (!step || step->section < 0 || chosen.empty())
        return m_session.say("Choose parts in the tray first: they go to the step before or after", true);
    if (step->after >= 0) {
        if (by > 0) return m_session.say("These wait until a section is on: they come last", true);
        m_session.apply("Put parts on with their own section",
                        [&](const model::Project& p) { return model::setAfter(p, chosen, {}); });
        return;
    }
    std::set<int> numbers;
    for (const auto& part : at(m_session.project().sections, step->section)->parts) numbers.insert(part.step);
    const auto here = numbers.find(step->stepInSection);
    if (by < 0 && here == numbers.begin()) return m_session.say("This is the section's first step", true);
    const int to = by < 0                             ? *std::prev(here)
                   : std::next(here) == numbers.end() ? step->stepInSection + 1
                                                      : *std::next(here);
    m_session.apply("Move parts to another step",
                    [&](const model::Project& p) { return model::setStep(p, chosen, to); });
}

/// Moves: in all sections; a plan: in that of the step.
void StepsTab::takeOrder(make::Take take) {
    const auto* step = current();
    const int section = take == make::Take::Moves ? -1 : step ? step->section : -1;
    if (take == make::Take::Plan && section < 0) return m_session.say("Choose a step of a section first", true);
    const auto before = m_session.project();
    const auto steps = [](const model::Project& p) {
        std::vector<std::vector<int>> all;
        for (const auto& each : p.sections) all.push_back(make::listPartSteps(*each));
        return all;
    };
    const auto next = make::takeProposals(before, take, section);
    if (!next) return m_session.warn(QString::fromStdString(next.error().message));
    const auto was = steps(before), now = steps(*next);
    int moved = 0;
    for (std::size_t s = 0; s < was.size(); ++s)
        for (std::size_t p = 0; p < was[s].size(); ++p) moved += was[s][p] != now[s][p] ? 1 : 0;
    if (moved == 0)
        return m_session.say(take == make::Take::Plan
                                 ? "These are the steps that are worked out already"
                                 : "Nothing to move: every part has a way in, or no few moves help");
    m_session.apply(take == make::Take::Plan ? "Work the order out" : "Mend the order",
                    [&](const model::Project&) -> model::EditResult { return *next; });
    m_session.say(QString::number(moved) +
                  (moved == 1 ? " part moved to another step" : " parts moved to other steps"));
}

} // namespace ivrant::app
