// What Stand consists of: its panel, its strip of cases, its commands, and what the sheet asks it.
#include <QFileDialog>
#include <QHBoxLayout>
#include <QHeaderView>
#include <QVBoxLayout>

#include "app/shell/plain_labels.h"
#include "app/shell/table_tools.h"
#include "app/shell/theme.h"
#include "app/stations/stand/stand_station.h"

namespace ivrant::app {
namespace {

constexpr double kThinUse = 0.67, kFullUse = 1; ///< margin 1.5 and 1

std::array<std::uint8_t, 3> rgb(const QColor& c) {
    return {static_cast<std::uint8_t>(c.red()), static_cast<std::uint8_t>(c.green()), static_cast<std::uint8_t>(c.blue())};
}

} // namespace

void StandStation::makePanel(QWidget* panel) {
    auto* layout = new QVBoxLayout(panel);
    layout->setContentsMargins(8, 6, 8, 4);
    m_balance->setObjectName("balance");
    m_balance->setWordWrap(true);
    layout->addWidget(m_balance);
    layout->addWidget(m_rose, 5);
    layout->addWidget(m_moves, 5);
    m_moves->hide();
    connect(m_moves, &MovesPanel::placeChanged, this, [this] {
        if (m_moves->isHidden()) return;
        m_sheet->showElsewhere(m_moves->place() ? std::optional(m_moves->place()->placed) : std::nullopt);
    });
    m_weightRow = new QWidget(panel);
    auto* row = new QHBoxLayout(m_weightRow);
    row->setContentsMargins(0, 0, 0, 0);
    m_gram = new QDoubleSpinBox(m_weightRow);
    m_gram->setObjectName("weightGram");
    m_gram->setAccessibleName("Counterweight");
    m_gram->setRange(1, 5000);
    m_gram->setDecimals(0);
    m_gram->setMinimumWidth(110);
    m_gram->setSuffix(" g");
    m_gram->setValue(m_weight.gram);
    m_weightText = makeMarkup(new QLabel(m_weightRow));
    m_weightText->setObjectName("weightText");
    m_weightText->setWordWrap(true);
    auto* smallest = new QPushButton("smallest", m_weightRow);
    smallest->setObjectName("smallestWeight");
    smallest->setToolTip("The least that passes at this place, now and on all moves");
    auto* best = new QPushButton("where least", m_weightRow);
    best->setObjectName("bestWeight");
    best->setToolTip("The part in which the least weight passes, now and on all moves");
    auto* put = new QPushButton("put it in", m_weightRow);
    put->setObjectName("putWeight");
    put->setToolTip("Fixed in the section under it (Enter)");
    row->addWidget(m_gram);
    row->addWidget(smallest);
    row->addWidget(best);
    row->addWidget(put);
    row->addStretch(1);
    layout->addWidget(m_weightRow);
    layout->addWidget(m_weightText);
    m_weightRow->hide();
    m_weightText->hide();
    connect(m_gram, &QDoubleSpinBox::valueChanged, this, [this](double gram) {
        m_weight.gram = gram;
        showRose();
    });
    connect(smallest, &QPushButton::clicked, this, &StandStation::smallestWeight);
    connect(best, &QPushButton::clicked, this, &StandStation::bestWeight);
    connect(put, &QPushButton::clicked, this, &StandStation::putWeight);
    m_outcome->setObjectName("caseOutcome");
    m_outcome->setWordWrap(true);
    layout->addWidget(m_outcome);
    m_bonds->setObjectName("bonds");
    m_bonds->setAccessibleName("Bonds that are used most");
    setUpTable(m_bonds, "bonds");
    layout->addWidget(m_bonds, 4);
    m_postRow = new QWidget(panel);
    auto* postRow = new QHBoxLayout(m_postRow);
    postRow->setContentsMargins(0, 0, 0, 0);
    m_keepPost = new QPushButton("keep this post", m_postRow);
    m_keepPost->setObjectName("keepPost");
    m_keepPost->setToolTip("From now on it is counted in every pose in which a part lies on it (Enter)");
    m_dropPost = new QPushButton("take it away", m_postRow);
    m_dropPost->setObjectName("dropPost");
    postRow->addWidget(m_keepPost);
    postRow->addWidget(m_dropPost);
    postRow->addStretch(1);
    layout->addWidget(m_postRow);
    m_postRow->hide();
    connect(m_keepPost, &QPushButton::clicked, this, &StandStation::keepPost);
    connect(m_dropPost, &QPushButton::clicked, this, &StandStation::dropPost);
    connect(m_bonds, &QTableWidget::itemSelectionChanged, this, [this] {
        const QVariant id = chosenRowId(m_bonds);
        if (m_weighing) {
            std::set<model::PartId> parts;
            const int section = id.isValid() ? id.toInt() : -1;
            if (section >= 0 && section < static_cast<int>(m_session.project().sections.size()))
                for (const auto& part : m_session.project().sections[static_cast<std::size_t>(section)]->parts) parts.insert(part.id);
            m_session.setMarked(std::move(parts));
            return m_sheet->refresh();
        }
        if (m_supports) return chooseSupport();
        if (!id.isValid() || !m_solved) return;
        const auto parts = study::listParts(m_session.project(), m_solved->result, id.toInt());
        m_session.setMarked({parts.begin(), parts.end()});
    });
}

void StandStation::makeStrip(QHBoxLayout* strip, QHBoxLayout* steps) {
    auto* chips = new QHBoxLayout(m_chips);
    chips->setContentsMargins(0, 0, 0, 0);
    chips->setSpacing(6);
    m_pose = new QComboBox(this);
    m_pose->setObjectName("standPose");
    m_pose->setAccessibleName("Pose");
    m_pose->setToolTip("The pose in which it is tried");
    m_pose->setSizeAdjustPolicy(QComboBox::AdjustToContents);
    strip->addWidget(m_pose);
    connect(m_pose, &QComboBox::activated, this, [this](int index) {
        if (const auto id = m_pose->itemData(index).toString().toStdString(); !id.empty()) takePose({id});
    });
    strip->addWidget(m_chips);
    strip->addStretch(1);
    auto* label = new QLabel("half-built", this);
    m_step = new QSpinBox(this);
    m_step->setObjectName("halfStep");
    m_step->setAccessibleName("Half-built at step");
    m_step->setRange(1, 1);
    m_step->setMinimumWidth(110);
    m_step->setKeyboardTracking(false);
    label->setBuddy(m_step);
    steps->addWidget(label);
    steps->addWidget(m_step);
    connect(m_step, &QSpinBox::valueChanged, this, [this] { choose("half"); });
    m_movesButton = new QPushButton("moves", this);
    m_movesButton->setObjectName("moves");
    m_movesButton->setCheckable(true);
    m_movesButton->setToolTip("Tip angle all along each move, and the model there (M)");
    connect(m_movesButton, &QPushButton::toggled, this, &StandStation::showMoves);
    auto* every = new QPushButton("every step", this);
    every->setObjectName("everyStep");
    every->setToolTip("Builds it up step by step and stops at the first at which something falls");
    steps->addWidget(every);
    auto* core = new QPushButton("leave core out", this);
    core->setObjectName("leaveOutCore");
    core->setToolTip("Looks for parts deep inside that carry nothing; what is left is a variant of its own");
    steps->addWidget(core);
    connect(core, &QPushButton::clicked, this, &StandStation::proposeCore);
    const auto more = [&](const char* name, const QString& caption, const QString& tip, auto slot) {
        auto* button = new QPushButton(caption, this);
        button->setObjectName(name);
        button->setToolTip(tip);
        steps->addWidget(button);
        connect(button, &QPushButton::clicked, this, slot);
    };
    more("makeFirm", "make firm", "Looks where parts inside the hollow help the bonds most, and puts them in", &StandStation::makeFirm);
    more("support", "posts", "Where a post on the base must touch, and what it carries; kept ones (P)", &StandStation::designSupport);
    more("statueDesk", "statue …", "A closed mesh or pictures of layers, at several sizes side by side, laid in bricks", &StandStation::openDesk);
    steps->addWidget(m_movesButton);
    steps->addStretch(1);
    connect(every, &QPushButton::clicked, this, &StandStation::tryEveryStep);
}

void StandStation::makeCommands() {
    addCommand(this, "Next case", QKeySequence("N"), [this] {
        const auto chips = m_chips->findChildren<QPushButton*>("caseChip");
        for (int i = 0; i < chips.size(); ++i)
            if (chips[i]->isChecked()) return chips[(i + 1) % chips.size()]->click();
        if (!chips.isEmpty()) chips[0]->click();
    });
    addCommand(this, "Next bond", QKeySequence("B"), [this] { nextBond(); });
    addCommand(this, "Carried by the chosen parts", QKeySequence("C"), [this] { carryChosen(); });
    addCommand(this, "Half-built at a step", QKeySequence("H"), [this] { m_step->setFocus(); });
    addCommand(this, "Leave out the core", {}, [this] { proposeCore(); });
    addCommand(this, "Keep a case of your own …", QKeySequence("K"), [this] { keepCase(); });
    addCommand(this, "Remove the chosen case", {}, [this] { dropCase(); });
    addCommand(this, "Posts under it", QKeySequence("P"), [this] { designSupport(); });
    addCommand(this, "Make a shell firm", {}, [this] { makeFirm(); });
    addCommand(this, "Choose what is never seen", {}, [this] { markHidden(); });
    addCommand(this, "Statue desk …", {}, [this] { openDesk(); });
    addCommand(this, "Weights of the sections", QKeySequence("S"), [this] {
        m_weighing = !m_weighing;
        leaveSupports();
        if (m_weighing)
            showWeights();
        else if (m_solved)
            showSolved();
        else
            solve(true);
    });
    addCommand(this, "Moves from pose to pose", QKeySequence("M"), [this] { m_movesButton->toggle(); });
    addCommand(this, "Play the move", {}, [this] {
        m_movesButton->setChecked(true);
        m_moves->play();
    });
    addCommand(this, "Try a counterweight", QKeySequence("W"), [this] { startWeight(); });
    addCommand(this, "Put the counterweight in, or keep the post", QKeySequence("Return"), [this] { m_weight.on ? putWeight() : keepPost(); });
    addCommand(this, "Save the tip rose, or the chart of moves …", {}, [this] {
        const bool moves = m_movesButton->isChecked();
        const QString path = QFileDialog::getSaveFileName(this, "Save the chart", moves ? "moves.svg" : "tip-rose.svg", "Drawings (*.svg *.png)");
        if (path.isEmpty() || (moves ? m_moves->chart()->saveChart(path) : m_rose->saveChart(path))) return;
        m_session.warn("The chart could not be written to " + path);
    });
    m_sheet->addPictureCommands(this);
    m_views->addStretch();
}

void StandStation::makeHooks() {
    m_sheet->hooks.state = [this](model::PartSpot, const model::Part& part) {
        auto state = render::makeState(part.colour);
        const Theme& t = theme();
        if (m_session.marked().count(part.id) > 0) return render::mix(state, rgb(t.brine), 0.75);
        const auto found = m_useOf.find(part.id);
        if (found == m_useOf.end()) return render::mix(state, rgb(t.sheet), 0.75);
        if (found->second < 0) return render::mix(state, rgb(t.ember), 0.85);
        const QColor& tint = found->second >= kFullUse ? t.ember : found->second >= kThinUse ? t.straw : t.moss;
        return render::mix(render::mix(state, rgb(t.sheet), 0.75), rgb(tint), std::min(0.95, 0.05 + found->second));
    };
    m_sheet->hooks.overlay = [this](QPainter& painter) { drawOverlay(painter); };
    m_sheet->hooks.clicked = [this](model::PartSpot spot, Qt::KeyboardModifiers modifiers) {
        m_session.setMarked({});
        if (spot.section < 0) return m_session.select({});
        auto chosen = modifiers.testFlag(Qt::ControlModifier) ? m_session.selection() : std::set<model::PartId>{};
        chosen.insert(model::getPart(m_session.project(), spot).id);
        m_session.select(std::move(chosen));
    };
    m_sheet->hooks.dragBegins = [this](model::PartSpot, QPointF position) {
        m_dragging = m_weight.on && QLineF(position, weightOnScreen()).length() < 18;
        return m_dragging;
    };
    m_sheet->hooks.dragMoves = [this](QPointF position) { moveWeight(position); };
    m_sheet->hooks.dragEnds = [this] { m_dragging = false; };
}

} // namespace ivrant::app
