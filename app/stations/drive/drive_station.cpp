// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stations/drive/drive_station.h"

#include <QFileDialog>
#include <QHBoxLayout>
#include <QHeaderView>
#include <QInputDialog>
#include <QMenu>
#include <QSplitter>
#include <QVBoxLayout>

#include "app/shell/table_tools.h"
#include "app/shell/text.h"
#include "app/shell/theme.h"
#include "app/stations/drive/board_dialog.h"
#include "app/stations/drive/function_dialog.h"
#include "app/stations/drive/selector_dialog.h"
#include "app/stations/drive/take_off.h"
#include "app/stations/drive/walls_dialog.h"
#include "core/base/at.h"
#include "core/base/units.h"
#include "core/drive/board_convert.h"
#include "core/drive/board_line.h"
#include "core/drive/board_view.h"
#include "core/study/drive_inputs.h"

namespace ivrant::app {
namespace {

constexpr int kSideWidth = 424; ///< to begin with; it can be made narrower
constexpr int kLeastSideWidth = 324;
constexpr int kMostSeconds = 20; ///< length of the play bar
constexpr int kTicks = 1000;

/// "A lies beside the holes. B reaches one wall only."
QString sentences(const std::vector<std::string>& notes) {
    QStringList texts;
    for (const std::string& note : notes) {
        const QString text = qs(note);
        texts << text.left(1).toUpper() + text.mid(1);
    }
    return texts.join(". ");
}

} // namespace

DriveStation::DriveStation(Session& session, QWidget* parent)
    : Station(parent), m_session(session), m_widget(new BoardWidget(this)), m_boards(new QTabBar(this)),
      m_layer(new QComboBox(this)), m_line(new QLineEdit(this)), m_side(nullptr), m_train(new QLabel(this)),
      m_functions(new QTableWidget(this)), m_table(new QTableWidget(this)), m_tableText(new QLabel(this)),
      m_compare(new QTableWidget(this)), m_compareText(new QLabel(this)), m_chart(new MotorChart(this)),
      m_finder(new FinderPanel(this)), m_travel(new TravelPanel(this)), m_positions(new QWidget(this)),
      m_play(new QPushButton(this)), m_time(new QSlider(Qt::Horizontal, this)), m_timeText(new QLabel(this)) {
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(8, 4, 8, 4);
    auto* top = new QHBoxLayout;
    m_boards->setObjectName("boards");
    m_boards->setExpanding(false);
    m_boards->setDrawBase(false);
    top->addWidget(m_boards, 1);
    m_layer->setObjectName("layer");
    m_layer->setAccessibleName("Layer looked at");
    m_layer->setToolTip("Wheels of other layers are drawn thin (PgUp, PgDn)");
    top->addWidget(m_layer);
    layout->addLayout(top);
    auto* split = new QSplitter(Qt::Horizontal, this);
    auto* left = new QWidget(split);
    auto* column = new QVBoxLayout(left);
    column->setContentsMargins(0, 0, 0, 0);
    column->addWidget(m_widget, 1);
    m_line->setObjectName("boardLine");
    m_line->setAccessibleName("What to put on the board");
    m_line->setPlaceholderText(
        "24 · clutch 24 · bevel 12 right · worm at 3 2 · shaft 6 · motor medium · function lift load arm 40 g · walls");
    column->addWidget(m_line);
    split->addWidget(left);
    split->addWidget(makeSide());
    split->setStretchFactor(0, 1);
    split->setStretchFactor(1, 0);
    split->setSizes({520, kSideWidth});
    split->setCollapsible(0, false);
    layout->addWidget(split, 1);
    layout->addWidget(makeStrip());
    makeCommands();
    connect(&session, &Session::projectChanged, this, [this] {
        m_stale = true;
        m_widget->mark({}); // what a verdict was about may be mended
        if (isVisible()) rebuild();
    });
    connect(&session, &Session::projectOpened, this, [this] { m_board = 0; });
    connect(m_boards, &QTabBar::currentChanged, this, [this](int index) {
        if (index < 0 || index == m_board) return;
        m_board = index;
        m_widget->show(m_state, m_board);
        showLayers();
    });
    connect(m_layer, &QComboBox::currentIndexChanged, this, [this] {
        m_widget->setLayer(m_layer->currentIndex() <= 0
                               ? std::nullopt
                               : std::optional<std::int64_t>(m_layer->currentData().toLongLong()));
    });
    connect(m_line, &QLineEdit::returnPressed, this, &DriveStation::runLine);
    connect(m_widget, &BoardWidget::typed, this, [this](const QString& text) {
        m_line->setFocus();
        m_line->insert(text);
    });
    connect(m_widget, &BoardWidget::dragged, this, &DriveStation::moveChosen);
    connect(m_widget, &BoardWidget::nudged, this,
            [this](std::int64_t dx, std::int64_t dy) { moveChosen(m_widget->chosen(), dx, dy, 0, true); });
    connect(m_widget, &BoardWidget::chosenChanged, this, &DriveStation::showMotor);
    connect(m_side, &QTabWidget::currentChanged, this, &DriveStation::showSelectorPage);
    connect(m_functions, &QTableWidget::itemSelectionChanged, this, &DriveStation::showMotor);
    connect(m_functions, &QTableWidget::cellDoubleClicked, this, &DriveStation::changeFunction);
    connect(m_finder, &FinderPanel::placeAsked, this, &DriveStation::place);
    connect(&m_clock, &QTimer::timeout, this, &DriveStation::tick);
    m_clock.setInterval(33);
    rebuild();
}

QWidget* DriveStation::makeSide() {
    m_side = new QTabWidget(this);
    m_side->setObjectName("driveTabs");
    m_side->setMinimumWidth(kLeastSideWidth);
    auto* page = new QWidget(m_side);
    auto* layout = new QVBoxLayout(page);
    layout->setContentsMargins(4, 4, 4, 4);
    m_train->setObjectName("trainText");
    m_train->setWordWrap(true);
    layout->addWidget(m_train);
    m_functions->setObjectName("functions");
    m_functions->setAccessibleName("Functions, present position of the selector");
    setUpTable(m_functions, "functions");
    m_functions->setToolTip("Double click: load, travel and what is asked of the function");
    layout->addWidget(m_functions, 3);
    layout->addWidget(m_chart, 2);
    m_side->addTab(page, "Functions");
    m_side->addTab(m_finder, "Find a train");
    auto* positions = new QWidget(m_side);
    auto* positionsLayout = new QVBoxLayout(positions);
    positionsLayout->setContentsMargins(4, 4, 4, 4);
    m_table->setObjectName("selectorTable");
    m_table->setAccessibleName("What every position of the selectors drives");
    setUpTable(m_table, "selector");
    positionsLayout->addWidget(m_table, 1);
    m_tableText->setObjectName("selectorText");
    m_tableText->setWordWrap(true);
    positionsLayout->addWidget(m_tableText);
    m_compare->setObjectName("selectorCompare");
    m_compare->setAccessibleName("Selector against one motor for each function");
    setUpTable(m_compare, "selector compared");
    positionsLayout->addWidget(m_compare, 1);
    m_compareText->setObjectName("selectorCompareText");
    m_compareText->setWordWrap(true);
    positionsLayout->addWidget(m_compareText);
    auto* change = new QPushButton("positions of the selector …", positions);
    change->setObjectName("changeSelector");
    change->setToolTip("Which clutch wheels each position engages (Ctrl+J)");
    connect(change, &QPushButton::clicked, this, &DriveStation::changeSelector);
    positionsLayout->addWidget(change);
    m_side->addTab(positions, "Selector");
    m_side->addTab(m_travel, "Travel");
    return m_side;
}

QWidget* DriveStation::makeStrip() {
    auto* strip = new QWidget(this);
    auto* layout = new QHBoxLayout(strip);
    layout->setContentsMargins(0, 0, 0, 0);
    new QHBoxLayout(m_positions);
    m_positions->layout()->setContentsMargins(0, 0, 0, 0);
    layout->addWidget(m_positions);
    layout->addStretch(1);
    m_play->setObjectName("play");
    m_play->setText("▷");
    m_play->setAccessibleName("Play");
    m_play->setToolTip("Turns the train in its own time (F5)");
    connect(m_play, &QPushButton::clicked, this, &DriveStation::play);
    m_time->setObjectName("time");
    m_time->setAccessibleName("Time");
    m_time->setRange(0, kTicks);
    m_time->setMinimumWidth(scaled(160));
    connect(m_time, &QSlider::valueChanged, this, [this](int value) {
        const double seconds = static_cast<double>(value) * kMostSeconds / kTicks;
        m_timeText->setText(numberText(seconds, 1) + " s");
        m_widget->setSeconds(seconds);
    });
    m_timeText->setText("0 s");
    m_timeText->setMinimumWidth(scaled(48));
    layout->addWidget(m_play);
    layout->addWidget(m_time);
    layout->addWidget(m_timeText);
    return strip;
}

void DriveStation::makeCommands() {
    addCommand(this, "Play the train", QKeySequence("F5"), [this] { play(); });
    addCommand(this, "Remove from the board", QKeySequence(Qt::Key_Delete), [this] { removeChosen(); });
    addCommand(this, "Take something off the shaft", QKeySequence("Shift+Del"), [this] { takeOff(); });
    addCommand(this, "Name the chosen shaft", QKeySequence("F2"), [this] { renameChosen(); });
    addCommand(this, "Load and asks of the function", QKeySequence("Ctrl+L"), [this] { changeFunction(); });
    addCommand(this, "Layer up", QKeySequence(Qt::Key_PageUp), [this] { stepLayer(1); });
    addCommand(this, "Layer down", QKeySequence(Qt::Key_PageDown), [this] { stepLayer(-1); });
    addCommand(this, "Fit the board", QKeySequence("Ctrl+0"), [this] { m_widget->fit(); });
    addCommand(this, "Walls, seats and a lid round the board", QKeySequence("Ctrl+Shift+B"), [this] { buildWalls(); });
    addCommand(this, "Show the board from its side as well", QKeySequence("Ctrl+E"), [this] {
        m_elevation = !m_elevation;
        m_widget->setElevation(m_elevation);
    });
    addCommand(this, "Find a train for a ratio", QKeySequence("Ctrl+R"), [this] {
        m_side->setCurrentIndex(1);
        m_finder->ratioEdit()->setFocus();
        m_finder->ratioEdit()->selectAll();
    });
    addCommand(this, "Find a rack or screw for a travel", {}, [this] {
        m_side->setCurrentWidget(m_travel);
        m_travel->travelEdit()->setFocus();
        m_travel->travelEdit()->selectAll();
    });
    addCommand(this, "New gear board", {}, [this] {
        const int index = static_cast<int>(m_session.project().boards.size());
        if (m_session.apply("New gear board", [](const model::Project& p) {
                model::BoardId id;
                return drive::beginBoard(p, id);
            }))
            m_boards->setCurrentIndex(index);
    });
    addCommand(this, "Place and walls of the board", QKeySequence("Ctrl+B"), [this] { changeBoard(); });
    addCommand(this, "Make parts of what lies on the boards", {}, [this] { convertBoards(); });
    addCommand(this, "Positions of the selector", QKeySequence("Ctrl+J"), [this] { changeSelector(); });
    addCommand(this, "Rename the board", {}, [this] {
        if (!boardId()) return;
        bool good = false;
        const QString name = QInputDialog::getText(this, "Rename the board", "Name", QLineEdit::Normal,
                                                   m_boards->tabText(m_board), &good);
        if (good)
            m_session.apply("Rename the board", [&](const model::Project& p) {
                return model::renameBoard(p, *boardId(), name.trimmed().toStdString());
            });
    });
    addCommand(this, "Remove the board", {}, [this] {
        if (boardId())
            m_session.apply("Remove the board",
                            [&](const model::Project& p) { return model::removeBoard(p, *boardId()); });
    });
    addCommand(this, "Export the board as drawing", {}, [this] {
        const QString path =
            QFileDialog::getSaveFileName(this, "Export the board", "board.svg", "Drawings (*.svg *.png)");
        if (!path.isEmpty() && !m_widget->saveDrawing(path))
            m_session.warn("The drawing could not be written to " + path);
    });
    addCommand(this, "Copy a picture of the board", {}, [this] { m_widget->copyPicture(); });
}

std::optional<model::BoardId> DriveStation::boardId() const {
    const auto& boards = m_session.project().boards;
    if (m_board < 0 || m_board >= static_cast<int>(boards.size())) return std::nullopt;
    return ivrant::at(boards, m_board)->id;
}

void DriveStation::showEvent(QShowEvent* event) {
    Station::showEvent(event);
    if (m_stale) rebuild();
}

void DriveStation::setSelector(const QString& id, int position) {
    m_session.apply("Move the selector", [&](const model::Project& p) {
        return model::setSelectorPosition(p, {id.toStdString()}, position);
    });
}

drive::BoardHand DriveStation::hand() const {
    drive::BoardHand hand;
    if (const auto id = boardId()) hand.board = *id;
    hand.chosen = m_widget->chosen();
    hand.cursorUm = m_widget->cursorUm();
    if (m_layer->currentIndex() > 0) hand.layerUm = m_layer->currentData().toLongLong();
    return hand;
}

void DriveStation::runLine() {
    const auto line = drive::parseBoardLine(m_line->text().toStdString());
    if (!line) return m_session.say(qs(line.error().message), true);
    std::string added;
    std::vector<std::string> notes;
    drive::BoardHand at = hand();
    const bool done = m_session.apply("Put " + m_line->text().trimmed() + " on the board",
                                      [&](const model::Project& p) -> model::EditResult {
                                          model::Project start = p;
                                          if (p.boards.empty()) {
                                              auto begun = drive::beginBoard(p, at.board);
                                              if (!begun) return begun;
                                              start = *begun;
                                          }
                                          auto result = drive::applyBoardLine(start, at, *line);
                                          if (!result) return result.error();
                                          added = result->added;
                                          notes = result->notes;
                                          return result->project;
                                      });
    if (!done) return;
    m_line->clear();
    if (!notes.empty()) m_session.say(sentences(notes), true);
    if (!added.empty()) m_widget->choose({added});
}

void DriveStation::place(const drive::FoundTrain& train) {
    std::string added;
    drive::BoardHand at = hand();
    const bool done = m_session.apply("Place the train", [&](const model::Project& p) -> model::EditResult {
        model::Project start = p;
        if (p.boards.empty()) {
            auto begun = drive::beginBoard(p, at.board);
            if (!begun) return begun;
            start = *begun;
        }
        auto result = drive::placeTrain(start, at, train);
        if (!result) return result.error();
        added = result->added;
        return result->project;
    });
    if (!done) return;
    m_widget->fit();
    m_widget->choose({added});
}

void DriveStation::moveChosen(const std::vector<std::string>& ids, std::int64_t dxUm, std::int64_t dyUm,
                              std::int64_t dzUm, bool done) {
    const auto board = boardId();
    if (!board || ids.empty()) return;
    const std::array<std::int64_t, 3> by{dxUm - m_lastX, dyUm - m_lastY, dzUm - m_lastZ};
    // What was fixed to it when it was taken goes along, not what it comes to on the way.
    if (!m_dragging && m_state) m_dragged = drive::listWithParts(m_state->report.net, ids);
    const auto edit = [&](const model::Project& p) { return model::moveSeen(p, *board, m_dragged, by); };
    if (by != std::array<std::int64_t, 3>{}) {
        // The first step of a drag begins an entry of the undo list, the others join it.
        if (m_dragging ? m_session.applyLive("Move on the board", edit) : m_session.apply("Move on the board", edit)) {
            m_lastX = dxUm;
            m_lastY = dyUm;
            m_lastZ = dzUm;
        }
        m_dragging = true;
    }
    if (!done) return;
    m_lastX = m_lastY = m_lastZ = 0;
    m_dragging = false;
}

void DriveStation::removeChosen() {
    if (m_widget->chosen().empty() || !m_state)
        return m_session.say("Choose a shaft or a rack on the board first", true);
    const auto ids = drive::listWithParts(m_state->report.net, m_widget->chosen());
    if (m_session.apply("Remove from the board", [&](const model::Project& p) { return model::removeSeen(p, ids); }))
        m_widget->choose({});
}

/// A menu of what hangs on the chosen shafts, or lies on the board; picking one takes it off.
void DriveStation::takeOff() {
    if (!boardId()) return m_session.say("There is no gear board yet", true);
    if (!m_state) return;
    const auto list = listRemovable(ivrant::at(m_state->seen, m_board), m_widget->chosen());
    if (list.empty()) return m_session.say("Nothing hangs on what is chosen", true);
    auto* menu = new QMenu(this);
    menu->setObjectName("takeOff");
    menu->setAttribute(Qt::WA_DeleteOnClose);
    for (const Removable& thing : list)
        menu->addAction("Take off " + thing.text.trimmed(), this, [this, thing] {
            m_session.apply("Take off " + thing.text.trimmed(),
                            [&](const model::Project& p) { return model::removeSeen(p, {thing.id}); });
        });
    menu->popup(m_widget->mapToGlobal(m_widget->rect().center()));
}

void DriveStation::renameChosen() {
    const auto ids = m_widget->chosen();
    const auto board = boardId();
    if (ids.size() != 1 || !board) return m_session.say("Choose one shaft to name", true);
    if (const auto spot = model::PartIndex(m_session.project()).find({ids[0]}); spot.section >= 0) {
        bool good = false;
        const QString name = QInputDialog::getText(this, "Name the shaft", "Name", QLineEdit::Normal,
                                                   qs(model::getPart(m_session.project(), spot).name), &good);
        if (good)
            m_session.apply("Name the shaft", [&](const model::Project& p) {
                return model::namePart(p, {ids[0]}, name.trimmed().toStdString());
            });
        return;
    }
    for (const auto& shaft : ivrant::at(m_session.project().boards, m_board)->shafts) {
        if (shaft.id.text != ids[0]) continue;
        bool good = false;
        const QString name =
            QInputDialog::getText(this, "Name the shaft", "Name", QLineEdit::Normal, qs(shaft.name), &good);
        model::Shaft named = shaft;
        named.name = name.trimmed().toStdString();
        if (good)
            m_session.apply("Name the shaft",
                            [&](const model::Project& p) { return model::putShaft(p, *board, named); });
        return;
    }
}

void DriveStation::changeFunction() {
    const int row = m_functions->currentRow();
    if (row < 0 || !m_functions->item(row, 0))
        return m_session.say("Type function and a name on a chosen shaft first", true);
    const std::string id = rowId(m_functions, row).toString().toStdString();
    for (const auto& board : m_session.project().boards)
        for (const auto& function : board->functions) {
            if (function.id.text != id) continue;
            FunctionDialog dialog(function, m_session.project().joints, this);
            if (dialog.exec() != QDialog::Accepted) return;
            const auto changed = dialog.function();
            m_session.apply("Change the function", [&, to = board->id](const model::Project& p) {
                return model::putFunction(p, to, changed);
            });
            return;
        }
}

void DriveStation::changeBoard() {
    if (!boardId()) return m_session.say("There is no gear board yet: type a wheel below, such as 24", true);
    BoardDialog dialog(m_session.project(), m_board, this);
    if (dialog.exec() != QDialog::Accepted) return;
    const model::Board changed = dialog.board();
    m_session.apply("Change the board", [&](const model::Project& p) { return model::changeBoardHead(p, changed); });
}

void DriveStation::buildWalls() {
    if (!boardId()) return m_session.say("There is no gear board yet: type a wheel below, such as 24", true);
    const auto& X_WS = m_session.placed().X_WS;
    WallsDialog dialog(
        m_session.project(), m_board,
        [&](std::shared_ptr<const model::Project> trial) {
            return print::makeDriveState(trial, study::calcDrive({trial.get(), X_WS}, m_session.tree()), X_WS);
        },
        this);
    if (dialog.exec() != QDialog::Accepted) return;
    m_session.apply("Walls round the board", [&](const model::Project& p) {
        return drive::addWalls(p, *ivrant::at(p.boards, m_board), dialog.plan());
    });
}

void DriveStation::convertBoards() {
    std::vector<std::string> notes;
    int parts = 0;
    const bool done =
        m_session.apply("Make parts of what lies on the boards", [&](const model::Project& p) -> model::EditResult {
            auto made = drive::convertBoards(p);
            if (!made) return made.error();
            notes = made->notes;
            parts = made->parts;
            return made->project;
        });
    if (!done) return;
    const QString put = QString("%1 parts put in. ").arg(parts);
    m_session.say(put + sentences(notes), !notes.empty());
}

void DriveStation::changeSelector() {
    for (const auto& board : m_session.project().boards)
        for (const auto& selector : board->selectors) {
            if (board->id != boardId() && ivrant::at(m_session.project().boards, m_board)->selectors.size() > 0)
                continue;
            SelectorDialog dialog(m_session.project(), selector, this);
            if (dialog.exec() != QDialog::Accepted) return;
            const model::Selector changed = dialog.selector();
            m_session.apply("Change the selector", [&, to = board->id](const model::Project& p) {
                return model::putSelector(p, to, changed);
            });
            return;
        }
    m_session.say("There is no selector yet: put clutch wheels on shafts, then type selector and a name", true);
}

void DriveStation::stepLayer(int by) {
    m_layer->setCurrentIndex(std::clamp(m_layer->currentIndex() + by, 0, m_layer->count() - 1));
}

void DriveStation::play() {
    if (m_clock.isActive()) {
        m_clock.stop();
        m_play->setText("▷");
        return;
    }
    if (!m_state) return;
    if (m_time->value() >= kTicks) m_time->setValue(0);
    m_clock.start();
    m_play->setText("▯▯");
}

void DriveStation::tick() {
    const int next = m_time->value() + std::max(1, m_clock.interval() * kTicks / (kMostSeconds * 1000));
    m_time->setValue(std::min(next, kTicks));
    if (next >= kTicks) play();
}

void DriveStation::goTo(const verdict::Place& place) {
    if (m_stale) rebuild();
    if (place.board) {
        const int board = m_session.project().findBoard(*place.board);
        if (board >= 0) m_boards->setCurrentIndex(board);
    }
    m_widget->mark({place.things.begin(), place.things.end()});
    if (!place.things.empty())
        if (const int row = findRow(m_functions, qs(place.things[0])); row >= 0) m_functions->selectRow(row);
    m_side->setCurrentIndex(0);
}

} // namespace ivrant::app
