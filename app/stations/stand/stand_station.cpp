#include "app/stations/stand/stand_station.h"

#include <QHBoxLayout>
#include <QHeaderView>
#include <QSplitter>
#include <QVBoxLayout>
#include <cmath>

#include "app/shell/plain_labels.h"
#include "app/shell/table_tools.h"
#include "app/shell/text.h"
#include "app/shell/theme.h"
#include "core/base/units.h"
#include "core/make/steps.h"
#include "core/model/mass.h"
#include "core/pose/kinematics.h"
#include "core/study/case_words.h"

namespace ivrant::app {
namespace {

constexpr std::size_t kListed = 40;

} // namespace

StandStation::StandStation(Session& session, QWidget* parent)
    : Station(parent), m_session(session), m_sheet(new Sheet3d(session, this)), m_rose(new TipRose(this)), m_moves(new MovesPanel(this)),
      m_bonds(new QTableWidget(this)), m_outcome(new QLabel(this)), m_balance(new QLabel(this)), m_chips(new QWidget(this)), m_live(session.jobs()),
      m_steps(session.jobs()), m_core(session.jobs()), m_design(session.jobs()), m_firm(session.jobs()), m_hidden(session.jobs()) {
    makeMarkup(m_outcome);
    makeMarkup(m_balance);
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
        m_supporting = false;
    });
    connect(&session, &Session::projectChanged, this, &StandStation::projectChanged);
    connect(&session, &Session::reportChanged, this, &StandStation::reportChanged);
    connect(&session, &Session::selectionChanged, this, [this] {
        if (isVisible()) findPath();
        m_sheet->refresh();
    });
    rebuildChips();
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
    m_supports.reset(); // looked for again once the verdicts are there
    m_supportRows.clear();
    m_standings.clear();
    m_postRow->hide();
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
    if (m_weight.on) findStandings();
    showRose();
    rebuildChips();
    solve();
    // Looked for again after each change, where that does not take long.
    if (m_supporting && m_session.isReportCurrent() && m_session.project().partCount() <= study::kMostPartsLive) designSupport();
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
    for (const model::OwnCase& own : m_session.project().cases) add(qs(own.id.text), qs(own.name), "Your own case; K changes it");
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
        m_pose->addItem(qs(named.name), qs(named.id.text));
        if (pose::getValues(m_session.project(), &named) == present) m_pose->setCurrentIndex(m_pose->count() - 1);
    }
    m_pose->setVisible(m_pose->count() > 1);
}

void StandStation::takePose(const model::PoseId& id) {
    const int q = m_session.project().findPose(id);
    if (q < 0) return;
    m_session.apply("Take pose " + qs(m_session.project().poses[static_cast<std::size_t>(q)].name),
                    [&](const model::Project& p) { return model::takePose(p, id); });
    m_sheet->fitAgain();
}

void StandStation::choose(const QString& key) {
    m_key = key;
    leaveSupports();
    m_weighing = false;
    rebuildChips();
    m_solved.reset();
    solve(true);
}

std::optional<stand::StandCase> StandStation::findCase() const {
    const auto report = m_session.report();
    if (!report || !m_session.isReportCurrent() || !report->present.tipping) return std::nullopt;
    if (m_key == "half") return study::makeHalfBuilt(*report, m_step->value());
    if (m_key == "own") return stand::makeCarried(m_hands);
    for (auto& standCase : study::listStandCases(*report, report->present))
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
    m_outcome->setText("Working out " + qs(standCase->name).toHtmlEscaped() + " …");
    const bool large = m_session.project().partCount() > study::kMostPartsLive;
    if (large && m_key == "standing" && !m_session.report()->poses.front().id) { // the verdicts have it already, or soon will
        if (const auto& standing = m_session.report()->poses.front().standing; standing && m_session.report()->present.tipping->angleDeg >= 0) {
            m_solved = std::make_shared<const files::SolvedCase>(files::SolvedCase{*standCase, *standing});
            return showSolved();
        }
        if (!asked && study::lacksBonds(*m_session.report())) return;
    }
    m_live.ask(
        "Bonds, " + qs(standCase->name),
        [report = m_session.report(), standCase = *standCase](base::Progress& progress) -> std::optional<files::SolvedCase> {
            stand::EquilibriumRequest request;
            request.progress = &progress;
            auto result = study::calcStandCase(*report, report->present, standCase, request);
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
    QString line = "<b>" + qs(m_solved->of.name) + "</b>: " + qs(study::describeOutcome(m_solved->result)).toHtmlEscaped();
    if (e.firstToGo) line += "<br>first lets go: " + qs(study::describeContact(project, m_solved->result, *e.firstToGo)).toHtmlEscaped();
    line += m_session.report() && study::calcBondLimits(project).studPull.measured ? "<br>pull limit measured" : "<br>limits: starting values";
    line += " · tint: use of bonds, red falls";
    m_outcome->setText(line);
    std::vector<TableRow> rows;
    m_listed = study::listWeakest(m_solved->result, kListed);
    for (const int contact : m_listed) {
        const auto& force = e.forces[static_cast<std::size_t>(contact)];
        rows.push_back({{qs(study::describeContact(project, m_solved->result, contact)), {}}, {QString(force.mode), {}}, numberCell(100 * force.use, 0)});
    }
    fillTable(m_bonds, {"bond", "by", "% used"}, rows, {m_listed.begin(), m_listed.end()});
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
                const auto result = study::calcStandCase(*report, report->present, study::makeHalfBuilt(*report, step), request);
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
    const auto& supports = m_session.project().supports;
    if (!place.things.empty() && std::any_of(supports.begin(), supports.end(), [&](const auto& s) { return s.id.text == place.things.front(); }))
        return designSupport();
    m_session.setMarked({place.parts.begin(), place.parts.end()});
}

} // namespace ivrant::app
