#include "app/stations/stand/stand_station.h"

#include <QFileDialog>
#include <QHBoxLayout>
#include <QHeaderView>
#include <QSplitter>
#include <QVBoxLayout>
#include <cmath>

#include "app/shell/table_tools.h"
#include "app/shell/theme.h"
#include "core/base/units.h"
#include "core/make/steps.h"
#include "core/model/mass.h"
#include "core/pose/kinematics.h"

namespace ivrant::app {
namespace {

constexpr std::size_t kListed = 40;
constexpr double kThinUse = 0.67, kFullUse = 1; ///< margin 1.5 and 1

QString text(const std::string& s) { return QString::fromStdString(s); }
std::array<std::uint8_t, 3> rgb(const QColor& c) {
    return {static_cast<std::uint8_t>(c.red()), static_cast<std::uint8_t>(c.green()), static_cast<std::uint8_t>(c.blue())};
}

} // namespace

StandStation::StandStation(Session& session, QWidget* parent)
    : Station(parent), m_session(session), m_sheet(new Sheet3d(session, this)), m_rose(new TipRose(this)), m_moves(new MovesPanel(this)),
      m_bonds(new QTableWidget(this)), m_outcome(new QLabel(this)), m_balance(new QLabel(this)), m_chips(new QWidget(this)), m_live(session.jobs()),
      m_steps(session.jobs()), m_core(session.jobs()), m_design(session.jobs()), m_firm(session.jobs()), m_hidden(session.jobs()) {
    auto* left = new QWidget(this);
    auto* leftLayout = new QVBoxLayout(left);
    leftLayout->setContentsMargins(0, 0, 0, 0);
    leftLayout->setSpacing(0);
    m_views = new ViewBar(*m_sheet, left);
    leftLayout->addWidget(m_views);
    leftLayout->addWidget(m_sheet, 1);
    auto* panel = new QWidget(this);
    makePanel(panel);
    auto* splitter = new QSplitter(Qt::Horizontal, this);
    splitter->addWidget(left);
    splitter->addWidget(panel);
    splitter->setStretchFactor(0, 1);
    splitter->setSizes({470, 400});
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->setSpacing(0);
    layout->addWidget(splitter, 1);
    auto* foot = new QWidget(this);
    auto* footLayout = new QVBoxLayout(foot);
    footLayout->setContentsMargins(8, 4, 8, 4);
    auto* strip = new QHBoxLayout;
    auto* steps = new QHBoxLayout;
    makeStrip(strip, steps);
    footLayout->addLayout(strip);
    footLayout->addLayout(steps);
    layout->addWidget(foot);
    makeCommands();
    makeHooks();
    connect(&session, &Session::projectOpened, this, [this] {
        m_hands.clear();
        m_key = "standing";
        if (m_weight.on) startWeight();
    });
    connect(&session, &Session::projectChanged, this, &StandStation::projectChanged);
    connect(&session, &Session::reportChanged, this, &StandStation::reportChanged);
    connect(&session, &Session::selectionChanged, this, [this] {
        if (isVisible()) findPath();
        m_sheet->refresh();
    });
    rebuildChips();
}

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
    m_weightText = new QLabel(m_weightRow);
    m_weightText->setObjectName("weightText");
    m_weightText->setWordWrap(true);
    auto* smallest = new QPushButton("smallest", m_weightRow);
    smallest->setObjectName("smallestWeight");
    smallest->setToolTip("The least that passes at this place");
    auto* put = new QPushButton("put it in", m_weightRow);
    put->setObjectName("putWeight");
    put->setToolTip("Fixed in the section under it (Enter)");
    row->addWidget(m_gram);
    row->addWidget(smallest);
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
    connect(put, &QPushButton::clicked, this, &StandStation::putWeight);
    m_outcome->setObjectName("caseOutcome");
    m_outcome->setWordWrap(true);
    layout->addWidget(m_outcome);
    m_bonds->setObjectName("bonds");
    m_bonds->setAccessibleName("Bonds that are used most");
    setUpTable(m_bonds, "bonds");
    layout->addWidget(m_bonds, 4);
    connect(m_bonds, &QTableWidget::itemSelectionChanged, this, [this] {
        const auto rows = m_bonds->selectionModel()->selectedRows();
        if (m_weighing) {
            std::set<model::PartId> parts;
            const int section = rows.isEmpty() ? -1 : m_bonds->item(rows[0].row(), 0)->data(Qt::UserRole).toInt();
            if (section >= 0 && section < static_cast<int>(m_session.project().sections.size()))
                for (const auto& part : m_session.project().sections[static_cast<std::size_t>(section)]->parts) parts.insert(part.id);
            m_session.setMarked(std::move(parts));
            return m_sheet->refresh();
        }
        if (m_supports) {
            if (!rows.isEmpty()) {
                const auto spot = m_supports->spots[static_cast<std::size_t>(rows[0].row())].spot.part;
                m_session.setMarked({model::getPart(m_session.project(), spot).id});
            }
            return m_sheet->refresh();
        }
        if (rows.isEmpty() || !m_solved) return;
        const int contact = m_bonds->item(rows[0].row(), 2)->data(Qt::UserRole).toInt();
        const auto parts = verdict::listParts(m_session.project(), m_solved->result, contact);
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
    more("support", "support", "Where a post on the base must touch, and what it carries (P)", &StandStation::designSupport);
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
    addCommand(this, "Design a support", QKeySequence("P"), [this] { designSupport(); });
    addCommand(this, "Make a shell firm", {}, [this] { makeFirm(); });
    addCommand(this, "Choose what is never seen", {}, [this] { markHidden(); });
    addCommand(this, "Statue desk …", {}, [this] { openDesk(); });
    addCommand(this, "Weights of the sections", QKeySequence("S"), [this] {
        m_weighing = !m_weighing;
        m_supports.reset();
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
    addCommand(this, "Put the counterweight in", QKeySequence("Return"), [this] { putWeight(); });
    addCommand(this, "Save the tip rose, or the chart of moves …", {}, [this] {
        const bool moves = m_movesButton->isChecked();
        const QString path = QFileDialog::getSaveFileName(this, "Save the chart", moves ? "moves.svg" : "tip-rose.svg", "Drawings (*.svg *.png)");
        if (path.isEmpty() || (moves ? m_moves->chart()->saveChart(path) : m_rose->saveChart(path))) return;
        m_session.say("The chart could not be written to " + path, true);
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

void StandStation::showEvent(QShowEvent* event) {
    Station::showEvent(event);
    if (m_stale) projectChanged();
    if (!m_solved) reportChanged();
}

void StandStation::projectChanged() {
    m_stale = true;
    m_solved.reset();
    m_useOf.clear();
    m_live.cancel();
    m_steps.cancel();
    m_core.cancel();
    m_design.cancel();
    m_firm.cancel();
    m_hidden.cancel();
    m_supports.reset();
    m_path.clear();
    if (!isVisible()) return; // looked at again when it is shown
    m_stale = false;
    const int steps = static_cast<int>(make::listSteps(m_session.project(), m_session.tree()).size());
    const QSignalBlocker quiet(m_step);
    m_step->setRange(1, std::max(1, steps));
    m_weight.section = std::min(m_weight.section, std::max(0, static_cast<int>(m_session.project().sections.size()) - 1));
    listPoses();
    m_outcome->setText("…");
    m_bonds->setRowCount(0);
    m_sheet->refresh();
}

void StandStation::reportChanged() {
    if (!isVisible()) return;
    if (const auto report = m_session.report(); report && m_session.isReportCurrent()) m_moves->setReport(report);
    showRose();
    rebuildChips();
    solve();
}

void StandStation::rebuildChips() {
    auto* layout = static_cast<QHBoxLayout*>(m_chips->layout());
    while (auto* item = layout->takeAt(0)) {
        if (item->widget()) item->widget()->deleteLater();
        delete item;
    }
    layout->addWidget(new QLabel("Cases", m_chips));
    const auto add = [&](const QString& key, const QString& name, const QString& tip) {
        auto* chip = new QPushButton(name, m_chips);
        chip->setObjectName("caseChip");
        chip->setProperty("chip", true);
        chip->setProperty("key", key);
        chip->setCheckable(true);
        chip->setChecked(key == m_key);
        chip->setToolTip(tip);
        connect(chip, &QPushButton::clicked, this, [this, key] { choose(key); });
        layout->addWidget(chip);
    };
    add("standing", "at rest", "As it stands in the present pose");
    add("slope", "slope", "On ground that leans the way it tips first");
    add("bump", "bump", "In transport: 1.5 g down and 0.5 g sideways, strapped at its feet");
    add("knock", "knock", "A nudge of 1 N at its top, the way it tips first");
    add("carry", "lifted", "By the part nearest its centre of gravity");
    for (const model::OwnCase& own : m_session.project().cases) add(text(own.id.text), text(own.name), "Your own case; K changes it");
    auto* keep = new QPushButton("+", m_chips);
    keep->setObjectName("keepCase");
    keep->setAccessibleName("Keep a case of your own");
    keep->setToolTip("Keep a case of your own, or change the chosen one (K)");
    connect(keep, &QPushButton::clicked, this, &StandStation::keepCase);
    if (!m_hands.empty()) add("own", m_hands.size() > 1 ? QString("%1 hands").arg(m_hands.size()) : QString("by hand"), "Carried where you said");
    layout->addWidget(keep);
}

void StandStation::listPoses() {
    const QSignalBlocker quiet(m_pose);
    const auto present = pose::getValues(m_session.project(), nullptr);
    m_pose->clear();
    m_pose->addItem("as it is now", "");
    for (const auto& named : m_session.project().poses) {
        m_pose->addItem(text(named.name), text(named.id.text));
        if (pose::getValues(m_session.project(), &named) == present) m_pose->setCurrentIndex(m_pose->count() - 1);
    }
    m_pose->setVisible(m_pose->count() > 1);
}

void StandStation::takePose(const model::PoseId& id) {
    const int q = m_session.project().findPose(id);
    if (q < 0) return;
    m_session.apply("Take pose " + text(m_session.project().poses[static_cast<std::size_t>(q)].name),
                    [&](const model::Project& p) { return model::takePose(p, id); });
    m_sheet->fitAgain();
}

void StandStation::choose(const QString& key) {
    m_key = key;
    m_supports.reset();
    m_weighing = false;
    rebuildChips();
    m_solved.reset();
    solve(true);
}

std::optional<stand::StandCase> StandStation::findCase() const {
    const auto report = m_session.report();
    if (!report || !m_session.isReportCurrent() || !report->present.tipping) return std::nullopt;
    if (m_key == "half") return verdict::makeHalfBuilt(*report, m_step->value());
    if (m_key == "own") return stand::makeCarried(m_hands);
    for (auto& standCase : verdict::listStandCases(*report, report->present))
        if (standCase.key == m_key.toStdString()) return standCase;
    return std::nullopt;
}

/// `asked`: by the person, who does not want to wait for the verdicts.
void StandStation::solve(bool asked) {
    const auto standCase = findCase();
    if (!standCase) {
        const auto report = m_session.report();
        if (report && m_session.isReportCurrent())
            m_outcome->setText(report->present.tipping ? "This model is held, not standing: only lifting can be tried." : "There is nothing with weight yet.");
        return;
    }
    m_outcome->setText("Working out " + text(standCase->name) + " …");
    const bool large = m_session.project().partCount() > verdict::kMostPartsLive;
    if (large && m_key == "standing" && !m_session.report()->poses.front().id) { // the verdicts have it already, or soon will
        if (const auto& standing = m_session.report()->poses.front().standing; standing && m_session.report()->present.tipping->angleDeg >= 0) {
            m_solved = std::make_shared<const files::SolvedCase>(files::SolvedCase{*standCase, *standing});
            return showSolved();
        }
        if (!asked && verdict::lacksBonds(*m_session.report())) return;
    }
    m_live.ask(
        "Bonds, " + text(standCase->name),
        [report = m_session.report(), standCase = *standCase](base::Progress& progress) -> std::optional<files::SolvedCase> {
            stand::EquilibriumRequest request;
            request.progress = &progress;
            auto result = verdict::calcStandCase(*report, report->present, standCase, request);
            if (!result) return std::nullopt;
            return files::SolvedCase{standCase, std::move(result).value()};
        },
        [this](files::SolvedCase solved) {
            m_solved = std::make_shared<const files::SolvedCase>(std::move(solved));
            showSolved();
        });
}

void StandStation::showSolved() {
    findPath();
    if (m_supports) return; // shown in its place until a case is chosen
    if (m_weighing) return showWeights();
    const auto& e = m_solved->result.equilibrium;
    const auto& net = m_solved->result.net;
    const auto& project = m_session.project();
    m_useOf.clear();
    std::vector<double> use(net.bodies.size(), 0.0);
    for (std::size_t k = 0; k < net.contacts.size(); ++k)
        for (const int body : {net.contacts[k].a, net.contacts[k].b})
            if (body >= 0) use[static_cast<std::size_t>(body)] = std::max(use[static_cast<std::size_t>(body)], e.forces[k].use);
    for (const int body : e.falling) use[static_cast<std::size_t>(body)] = -1;
    for (std::size_t b = 0; b < use.size(); ++b) m_useOf[model::getPart(project, net.bodies[b].spot).id] = use[b];
    QString line = "<b>" + text(m_solved->of.name) + "</b>: " + text(verdict::describeOutcome(m_solved->result)).toHtmlEscaped();
    if (e.firstToGo) line += "<br>first lets go: " + text(verdict::describeContact(project, m_solved->result, *e.firstToGo)).toHtmlEscaped();
    line += m_session.report() && verdict::calcBondLimits(project).studPull.measured ? "<br>pull limit measured" : "<br>limits: starting values";
    line += " · tint: use of bonds, red falls";
    m_outcome->setText(line);
    std::vector<TableRow> rows;
    m_listed = verdict::listWeakest(m_solved->result, kListed);
    for (const int contact : m_listed) {
        const auto& force = e.forces[static_cast<std::size_t>(contact)];
        rows.push_back({{text(verdict::describeContact(project, m_solved->result, contact)), {}}, {QString(force.mode), {}}, numberCell(100 * force.use, 0)});
    }
    fillTable(m_bonds, {"bond", "by", "% used"}, rows);
    for (int row = 0; row < m_bonds->rowCount(); ++row) // rows may be sorted another way than the list
        for (const int contact : m_listed)
            if (m_bonds->item(row, 0)->text() == text(verdict::describeContact(project, m_solved->result, contact)))
                m_bonds->item(row, 2)->setData(Qt::UserRole, contact);
    m_bonds->horizontalHeader()->setSectionResizeMode(0, QHeaderView::Stretch);
    m_bonds->setWordWrap(true);
    m_bonds->setColumnWidth(1, 52);
    m_bonds->setColumnWidth(2, 64);
    m_bonds->resizeRowsToContents();
    m_sheet->refresh();
}

void StandStation::showMoves(bool on) {
    if (on && m_weight.on) startWeight(); // a counterweight is tried on what stands still
    m_rose->setVisible(!on);
    m_moves->setVisible(on);
    m_sheet->showElsewhere(on && m_moves->place() ? std::optional(m_moves->place()->placed) : std::nullopt);
    m_sheet->fitAgain();
}

void StandStation::nextBond() {
    if (m_bonds->rowCount() == 0) return;
    const auto rows = m_bonds->selectionModel()->selectedRows();
    m_bonds->selectRow(rows.isEmpty() ? 0 : (rows[0].row() + 1) % m_bonds->rowCount());
}

void StandStation::carryChosen() {
    const model::PartIndex index(m_session.project());
    m_hands.clear();
    for (const model::PartId& id : m_session.selection()) {
        const auto spot = index.find(id);
        if (spot.section >= 0) m_hands.push_back(m_session.placed().X_WP(spot) * model::getPart(m_session.project(), spot).shape->centre);
    }
    if (m_hands.empty()) return m_session.say("Choose the parts where it is taken hold of: a click, with Ctrl several", true);
    choose("own");
}

void StandStation::tryEveryStep() {
    const auto report = m_session.report();
    if (!report || !m_session.isReportCurrent()) return;
    m_outcome->setText("Building it up step by step …");
    m_steps.ask(
        "Every step",
        [report, count = m_step->maximum()](base::Progress& progress) -> std::optional<QString> {
            stand::EquilibriumRequest request;
            request.lambda = request.use = false;
            request.progress = &progress;
            for (int step = 1; step <= count; ++step) {
                progress.report(static_cast<double>(step) / count);
                const auto result = verdict::calcStandCase(*report, report->present, verdict::makeHalfBuilt(*report, step), request);
                if (progress.stopped()) return std::nullopt;
                if (result && !result->equilibrium.stands) return QString::number(step);
            }
            return QString();
        },
        [this](const QString& step) {
            if (step.isEmpty()) return m_outcome->setText("<b>Every step</b>: what is built stands by itself after each of them");
            const QSignalBlocker quiet(m_step);
            m_step->setValue(step.toInt());
            choose("half");
        });
}

void StandStation::goTo(const verdict::Place& place) {
    if (!place.things.empty() && m_moves->goTo(place.things.front())) return m_movesButton->setChecked(true);
    m_movesButton->setChecked(false);
    if (place.pose) {
        const auto& poses = m_session.project().poses;
        const int q = m_session.project().findPose(*place.pose);
        if (q >= 0 && pose::getValues(m_session.project(), &poses[static_cast<std::size_t>(q)]) != pose::getValues(m_session.project(), nullptr))
            takePose(*place.pose);
    }
    m_session.setMarked({place.parts.begin(), place.parts.end()});
}

} // namespace ivrant::app
