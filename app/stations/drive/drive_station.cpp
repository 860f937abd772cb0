#include "app/stations/drive/drive_station.h"

#include <QFileDialog>
#include <QHBoxLayout>
#include <QHeaderView>
#include <QInputDialog>
#include <QSplitter>
#include <QVBoxLayout>

#include "app/shell/table_tools.h"
#include "app/shell/theme.h"
#include "app/stations/drive/function_dialog.h"
#include "core/base/units.h"
#include "core/drive/board_line.h"

namespace ivrant::app {
namespace {

constexpr int kIdRole = Qt::UserRole + 1;
constexpr int kMostSeconds = 20; ///< length of the play bar
constexpr int kTicks = 1000;
constexpr int kFunctionWidths[] = {90, 74, 76, 52, 60};

QString qs(const std::string& text) { return QString::fromStdString(text); }

} // namespace

DriveStation::DriveStation(Session& session, QWidget* parent)
    : Station(parent), m_session(session), m_widget(new BoardWidget(this)), m_boards(new QTabBar(this)), m_layer(new QComboBox(this)),
      m_line(new QLineEdit(this)), m_side(nullptr), m_train(new QLabel(this)), m_functions(new QTableWidget(this)), m_table(new QTableWidget(this)),
      m_tableText(new QLabel(this)), m_chart(new MotorChart(this)), m_finder(new FinderPanel(this)), m_positions(new QWidget(this)),
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
    m_line->setPlaceholderText("24 · clutch 24 · bevel 12 right · worm at 3 2 · shaft 6 · motor medium · function lift · chain · wall 2");
    column->addWidget(m_line);
    split->addWidget(left);
    split->addWidget(makeSide());
    split->setStretchFactor(0, 1);
    split->setStretchFactor(1, 0);
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
    connect(m_layer, &QComboBox::currentIndexChanged, this,
            [this] { m_widget->setLayer(m_layer->currentIndex() <= 0 ? std::nullopt : std::optional<std::int64_t>(m_layer->currentData().toLongLong())); });
    connect(m_line, &QLineEdit::returnPressed, this, &DriveStation::runLine);
    connect(m_widget, &BoardWidget::typed, this, [this](const QString& text) {
        m_line->setFocus();
        m_line->insert(text);
    });
    connect(m_widget, &BoardWidget::dragged, this, &DriveStation::moveChosen);
    connect(m_widget, &BoardWidget::nudged, this, [this](std::int64_t dx, std::int64_t dy) { moveChosen(m_widget->chosen(), dx, dy, true); });
    connect(m_widget, &BoardWidget::chosenChanged, this, &DriveStation::showMotor);
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
    m_side->setMinimumWidth(352);
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
    m_side->addTab(positions, "Selector");
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
    m_time->setMinimumWidth(160);
    connect(m_time, &QSlider::valueChanged, this, [this](int value) {
        const double seconds = static_cast<double>(value) * kMostSeconds / kTicks;
        m_timeText->setText(numberText(seconds, 1) + " s");
        m_widget->setSeconds(seconds);
    });
    m_timeText->setText("0 s");
    m_timeText->setMinimumWidth(48);
    layout->addWidget(m_play);
    layout->addWidget(m_time);
    layout->addWidget(m_timeText);
    return strip;
}

void DriveStation::makeCommands() {
    addCommand(this, "Play the train", QKeySequence("F5"), [this] { play(); });
    addCommand(this, "Remove from the board", QKeySequence(Qt::Key_Delete), [this] { removeChosen(); });
    addCommand(this, "Name the chosen shaft", QKeySequence("F2"), [this] { renameChosen(); });
    addCommand(this, "Load and asks of the function", QKeySequence("Ctrl+L"), [this] { changeFunction(); });
    addCommand(this, "Layer up", QKeySequence(Qt::Key_PageUp), [this] { stepLayer(1); });
    addCommand(this, "Layer down", QKeySequence(Qt::Key_PageDown), [this] { stepLayer(-1); });
    addCommand(this, "Fit the board", QKeySequence("Ctrl+0"), [this] { m_widget->fit(); });
    addCommand(this, "Find a train for a ratio", QKeySequence("Ctrl+R"), [this] {
        m_side->setCurrentIndex(1);
        m_finder->ratioEdit()->setFocus();
        m_finder->ratioEdit()->selectAll();
    });
    addCommand(this, "New gear board", {}, [this] {
        const int index = static_cast<int>(m_session.project().boards.size());
        if (m_session.apply("New gear board", [](const model::Project& p) { return model::addBoard(p, ""); })) m_boards->setCurrentIndex(index);
    });
    addCommand(this, "Rename the board", {}, [this] {
        if (!boardId()) return;
        bool good = false;
        const QString name = QInputDialog::getText(this, "Rename the board", "Name", QLineEdit::Normal, m_boards->tabText(m_board), &good);
        if (good) m_session.apply("Rename the board", [&](const model::Project& p) { return model::renameBoard(p, *boardId(), name.trimmed().toStdString()); });
    });
    addCommand(this, "Remove the board", {}, [this] {
        if (boardId()) m_session.apply("Remove the board", [&](const model::Project& p) { return model::removeBoard(p, *boardId()); });
    });
    addCommand(this, "Export the board as drawing", {}, [this] {
        const QString path = QFileDialog::getSaveFileName(this, "Export the board", "board.svg", "Drawings (*.svg *.png)");
        if (!path.isEmpty() && !m_widget->saveDrawing(path)) m_session.say("The drawing could not be written to " + path, true);
    });
    addCommand(this, "Copy a picture of the board", {}, [this] { m_widget->copyPicture(); });
}

std::optional<model::BoardId> DriveStation::boardId() const {
    const auto& boards = m_session.project().boards;
    if (m_board < 0 || m_board >= static_cast<int>(boards.size())) return std::nullopt;
    return boards[static_cast<std::size_t>(m_board)]->id;
}

void DriveStation::showEvent(QShowEvent* event) {
    Station::showEvent(event);
    if (m_stale) rebuild();
}

void DriveStation::rebuild() {
    m_stale = false;
    m_state.reset();
    if (!m_session.project().boards.empty()) {
        auto state = std::make_shared<DriveState>();
        state->project = std::make_shared<const model::Project>(m_session.project());
        state->report = drive::calcDriveReport(*state->project, drive::calcBoardPoses(*state->project, m_session.placed().X_WS));
        m_state = std::move(state);
    }
    m_board = std::clamp(m_board, 0, std::max(0, static_cast<int>(m_session.project().boards.size()) - 1));
    showTabs();
    m_widget->show(m_state, m_board);
    m_widget->setSpeeds(m_state ? calcSpeeds() : std::vector<double>());
    showLayers();
    showFunctions();
    showSelector();
    showPositions();
}

void DriveStation::showTabs() {
    const QSignalBlocker quiet(m_boards);
    const auto& boards = m_session.project().boards;
    while (m_boards->count() > static_cast<int>(boards.size())) m_boards->removeTab(m_boards->count() - 1);
    for (std::size_t b = 0; b < boards.size(); ++b) {
        if (static_cast<int>(b) >= m_boards->count()) m_boards->addTab("");
        m_boards->setTabText(static_cast<int>(b), qs(boards[b]->name));
    }
    m_boards->setCurrentIndex(boards.empty() ? -1 : m_board);
}

void DriveStation::showLayers() {
    const QSignalBlocker quiet(m_layer);
    const QVariant kept = m_layer->currentData();
    m_layer->clear();
    m_layer->addItem("all layers");
    if (m_state) {
        std::set<std::int64_t> heights;
        const auto& board = *m_state->project->boards[static_cast<std::size_t>(m_board)];
        for (const auto& gear : board.gears)
            for (const auto& shaft : board.shafts)
                if (shaft.id == gear.shaft) heights.insert(shaft.atUm[2] + (shaft.axis == model::BoardAxis::Out ? gear.alongUm : 0));
        for (const std::int64_t height : heights)
            m_layer->addItem("layer " + numberText(static_cast<double>(height) / static_cast<double>(base::kPitchUm), 2),
                             QVariant::fromValue<qlonglong>(height));
    }
    const int index = m_layer->findData(kept);
    m_layer->setCurrentIndex(kept.isValid() && index > 0 ? index : 0);
    m_widget->setLayer(m_layer->currentIndex() <= 0 ? std::nullopt : std::optional<std::int64_t>(m_layer->currentData().toLongLong()));
}

/// Motors at the working point of the function they drive now, others unloaded; without motors the first shaft by hand.
std::vector<double> DriveStation::calcSpeeds() const {
    const auto& report = m_state->report;
    std::map<int, double> given;
    constexpr double kByHandRpm = 30;
    for (const auto& motor : report.motors) given[motor.thing] = motor.line ? drive::calcSpeedRpm(*motor.line, drive::getStartingBattery(), 0) : kByHandRpm;
    for (const auto& function : report.positions[static_cast<std::size_t>(report.present)].functions)
        for (const auto& share : function.motors)
            if (share.known) given[report.motors[static_cast<std::size_t>(share.motor)].thing] = share.point.rpm;
    if (report.motors.empty())
        for (const int driver : report.drivers) given[driver] = kByHandRpm;
    return report.motion.speeds(given);
}

void DriveStation::showFunctions() {
    std::vector<TableRow> rows;
    std::vector<std::string> ids;
    if (m_state) {
        const auto& report = m_state->report;
        const auto& position = report.positions[static_cast<std::size_t>(report.present)];
        for (const auto& function : position.functions) {
            const bool driven = !function.motors.empty();
            const QString unit = function.rack ? " mm/s" : " rpm";
            rows.push_back({{qs(function.function->name), {}},
                            {driven            ? qs(drive::formatRatio(function.motors.front().ratio))
                             : function.locked ? "locked"
                                               : "not driven",
                             driven ? std::optional<double>(function.motors.front().ratio.get_d()) : std::nullopt},
                            {driven && function.motors.front().known ? numberText(function.speed, 1) + unit : "", function.speed},
                            {function.travelS ? numberText(*function.travelS, 1) + " s" : "", function.travelS.value_or(1e9)},
                            driven ? marginCell(function.margin) : TableCell{"", 1e9}});
            ids.push_back(function.function->id.text);
        }
    }
    m_functions->setSortingEnabled(false);
    m_functions->horizontalHeader()->setSortIndicator(-1, Qt::AscendingOrder); // rows keep the order of their ids
    fillTable(m_functions, {"Function", "Ratio", "Speed", "Travel", "Margin"}, rows);
    for (int r = 0; r < m_functions->rowCount(); ++r) m_functions->item(r, 0)->setData(kIdRole, qs(ids[static_cast<std::size_t>(r)]));
    for (int c = 0; c < 5; ++c) m_functions->setColumnWidth(c, kFunctionWidths[c]);
    if (m_functions->currentRow() < 0 && m_functions->rowCount() > 0) m_functions->selectRow(0);
    showMotor();
}

void DriveStation::showMotor() {
    std::optional<MotorPlot> plot;
    const int row = m_functions->currentRow();
    if (m_state && row >= 0 && m_functions->item(row, 0)) {
        const std::string id = m_functions->item(row, 0)->data(kIdRole).toString().toStdString();
        const auto& report = m_state->report;
        for (const auto& function : report.positions[static_cast<std::size_t>(report.present)].functions)
            if (function.function->id.text == id && !function.motors.empty() && function.motors.front().known) {
                const auto& share = function.motors.front();
                const auto& motor = report.motors[static_cast<std::size_t>(share.motor)];
                const double asked = share.point.stalls && share.point.margin > 0 ? share.point.stallNmm / share.point.margin : share.point.torqueNmm;
                plot = MotorPlot{*motor.line, drive::getStartingBattery(), share.point, asked, qs(motor.motor->name) + " on " + qs(function.function->name)};
            }
    }
    m_chart->show(plot);
    m_train->setText(trainText());
}

/// Why it is locked; else what the chosen shaft does, exactly; else what the whole does.
QString DriveStation::trainText() const {
    if (!m_state) return "No gear board yet. Type a wheel below the board, or find a train for a ratio and place it.";
    const auto& report = m_state->report;
    const auto& position = report.positions[static_cast<std::size_t>(report.present)];
    const auto nameOf = [&](int thing) { return qs(report.net.things[static_cast<std::size_t>(thing)].name); };
    if (!position.lock.empty()) {
        QStringList sentences;
        for (const auto& sentence : position.lock) sentences << qs(sentence);
        return "Locked: " + sentences.join("; ") + (sentences.size() > 1 ? ". Without any one of them it would turn." : ".");
    }
    const auto chosen = m_widget->chosen();
    if (const int thing = chosen.size() == 1 ? report.net.findThing(chosen[0]) : -1; thing >= 0) {
        QStringList turns;
        for (const auto& [independent, factor] : report.motion.motions[static_cast<std::size_t>(thing)])
            turns << (independent == thing ? QString("by itself") : qs(drive::formatRatio(factor)) + " of " + nameOf(independent));
        return nameOf(thing) + ": " + (turns.isEmpty() ? QString("cannot turn") : "turns " + turns.join(" and "));
    }
    QString text = QString("Freedom %1, %2 connections.").arg(report.motion.freedom()).arg(report.net.relations.size());
    if (report.motors.empty() && !report.net.things.empty()) text += " No motor: turned by hand at " + nameOf(0) + ".";
    QStringList loose;
    for (const int thing : report.motion.listLoose(report.drivers)) loose << nameOf(thing);
    if (!loose.isEmpty())
        text += QString(" Loose: %1%2.").arg(loose.mid(0, 4).join(", "), loose.size() > 4 ? QString(" and %1 more").arg(loose.size() - 4) : "");
    return text;
}

void DriveStation::showSelector() {
    qDeleteAll(m_positions->findChildren<QWidget*>(QString(), Qt::FindDirectChildrenOnly));
    if (!m_state) return;
    auto* layout = static_cast<QHBoxLayout*>(m_positions->layout());
    for (const auto& board : m_state->project->boards)
        for (const auto& selector : board->selectors) {
            auto* name = new QLabel(qs(selector.name), m_positions);
            layout->addWidget(name);
            name->show();
            for (std::size_t p = 0; p < selector.positions.size(); ++p) {
                auto* button = new QPushButton(qs(selector.positions[p].name), m_positions);
                button->setObjectName(QString("position%1").arg(p));
                button->setCheckable(true);
                button->setChecked(static_cast<int>(p) == selector.at);
                connect(button, &QPushButton::clicked, this, [this, id = qs(selector.id.text), p] {
                    // The button goes with the strip that the edit rebuilds.
                    QTimer::singleShot(0, this, [this, id, p] { setSelector(id, static_cast<int>(p)); });
                });
                layout->addWidget(button);
                button->show();
            }
        }
}

/// Function by position: motor, ratio, margin. Below it what moves together and what creeps.
void DriveStation::showPositions() {
    std::vector<TableRow> rows;
    QStringList heads{"Function"};
    QStringList notes;
    if (m_state) {
        const auto& report = m_state->report;
        const auto motorOf = [&](const drive::MotorShare& share) { return qs(report.motors[static_cast<std::size_t>(share.motor)].motor->name); };
        for (const auto& position : report.positions) heads << (position.name.empty() ? QString("Always") : qs(position.name));
        for (std::size_t f = 0; f < report.positions.front().functions.size(); ++f) {
            TableRow row{{qs(report.positions.front().functions[f].function->name), {}}};
            for (const auto& position : report.positions) {
                const auto& function = position.functions[f];
                QStringList drives;
                for (const auto& share : function.motors) drives << motorOf(share) + " " + qs(drive::formatRatio(share.ratio));
                QString text = function.locked ? "locked" : drives.join(" + ");
                if (function.margin) text += " ×" + qs(base::formatMargin(*function.margin));
                row.push_back({text, {}});
            }
            rows.push_back(std::move(row));
        }
        for (const auto& position : report.positions) {
            QStringList moving;
            for (const auto& function : position.functions)
                if (!function.motors.empty()) moving << qs(function.function->name);
            notes << (position.name.empty() ? QString("Together") : qs(position.name)) + ": " +
                         (moving.isEmpty() ? QString("nothing moves") : moving.join(", "));
            for (const auto& function : position.functions)
                for (const auto& share : function.creep)
                    notes << qs(function.function->name) + " creeps " + qs(drive::formatRatio(share.ratio)) + " of " + motorOf(share) +
                                 ", which turns what it stands on";
        }
    }
    m_table->setSortingEnabled(false);
    fillTable(m_table, heads, rows);
    m_table->resizeColumnsToContents();
    m_tableText->setText(notes.join("\n"));
}

void DriveStation::setSelector(const QString& id, int position) {
    m_session.apply("Move the selector", [&](const model::Project& p) { return model::setSelectorPosition(p, {id.toStdString()}, position); });
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
    drive::BoardHand at = hand();
    const bool done = m_session.apply("Put " + m_line->text().trimmed() + " on the board", [&](const model::Project& p) -> model::EditResult {
        model::Project start = p;
        if (p.boards.empty()) {
            auto begun = model::addBoard(p, "", {}, {}, &at.board);
            if (!begun) return begun;
            start = *begun;
        }
        auto result = drive::applyBoardLine(start, at, *line);
        if (!result) return result.error();
        added = result->added;
        return result->project;
    });
    if (!done) return;
    m_line->clear();
    if (!added.empty()) m_widget->choose({added});
}

void DriveStation::place(const drive::FoundTrain& train) {
    std::string added;
    drive::BoardHand at = hand();
    const bool done = m_session.apply("Place the train", [&](const model::Project& p) -> model::EditResult {
        model::Project start = p;
        if (p.boards.empty()) {
            auto begun = model::addBoard(p, "", {}, {}, &at.board);
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

void DriveStation::moveChosen(const std::vector<std::string>& ids, std::int64_t dxUm, std::int64_t dyUm, bool done) {
    const auto board = boardId();
    if (!board || ids.empty()) return;
    const std::array<std::int64_t, 3> by{dxUm - m_lastX, dyUm - m_lastY, 0};
    const auto edit = [&](const model::Project& p) { return model::moveOnBoard(p, *board, ids, by); };
    if (by[0] != 0 || by[1] != 0) {
        // The first step of a drag begins an entry of the undo list, the others join it.
        if (m_dragging ? m_session.applyLive("Move on the board", edit) : m_session.apply("Move on the board", edit)) {
            m_lastX = dxUm;
            m_lastY = dyUm;
        }
        m_dragging = true;
    }
    if (!done) return;
    m_lastX = m_lastY = 0;
    m_dragging = false;
}

void DriveStation::removeChosen() {
    const auto ids = m_widget->chosen();
    if (ids.empty()) return m_session.say("Choose a shaft or a rack on the board first", true);
    if (m_session.apply("Remove from the board", [&](const model::Project& p) { return model::removeFromBoard(p, ids); })) m_widget->choose({});
}

void DriveStation::renameChosen() {
    const auto ids = m_widget->chosen();
    const auto board = boardId();
    if (ids.size() != 1 || !board) return m_session.say("Choose one shaft to name", true);
    for (const auto& shaft : m_session.project().boards[static_cast<std::size_t>(m_board)]->shafts) {
        if (shaft.id.text != ids[0]) continue;
        bool good = false;
        const QString name = QInputDialog::getText(this, "Name the shaft", "Name", QLineEdit::Normal, qs(shaft.name), &good);
        model::Shaft named = shaft;
        named.name = name.trimmed().toStdString();
        if (good) m_session.apply("Name the shaft", [&](const model::Project& p) { return model::putShaft(p, *board, named); });
        return;
    }
}

void DriveStation::changeFunction() {
    const int row = m_functions->currentRow();
    if (row < 0 || !m_functions->item(row, 0)) return m_session.say("Type function and a name on a chosen shaft first", true);
    const std::string id = m_functions->item(row, 0)->data(kIdRole).toString().toStdString();
    for (const auto& board : m_session.project().boards)
        for (const auto& function : board->functions) {
            if (function.id.text != id) continue;
            FunctionDialog dialog(function, this);
            if (dialog.exec() != QDialog::Accepted) return;
            const auto changed = dialog.function();
            m_session.apply("Change the function", [&, to = board->id](const model::Project& p) { return model::putFunction(p, to, changed); });
            return;
        }
}

void DriveStation::stepLayer(int by) { m_layer->setCurrentIndex(std::clamp(m_layer->currentIndex() + by, 0, m_layer->count() - 1)); }

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
    for (int r = 0; r < m_functions->rowCount() && !place.things.empty(); ++r)
        if (m_functions->item(r, 0)->data(kIdRole).toString().toStdString() == place.things[0]) m_functions->selectRow(r);
    m_side->setCurrentIndex(0);
}

} // namespace ivrant::app
