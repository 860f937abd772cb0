// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stations/stand/stand_station.h"

#include <QFileDialog>
#include <QSplitter>
#include <QVBoxLayout>

#include "app/sheet3d/plumb.h"
#include "app/shell/plain_labels.h"
#include "app/shell/table_tools.h"
#include "app/shell/text.h"
#include "app/shell/theme.h"
#include "core/study/asked_tip.h"

namespace ivrant::app {
namespace {

constexpr int kLeastPanel = 330;
constexpr double kThinUse = 0.67, kFullUse = 1; ///< margin 1.5 and 1
constexpr double kPale = 0.75;                  ///< of a part that is told nothing of, as much paper

std::array<std::uint8_t, 3> rgb(const QColor& c) {
    return {static_cast<std::uint8_t>(c.red()), static_cast<std::uint8_t>(c.green()),
            static_cast<std::uint8_t>(c.blue())};
}

/// The move that comes nearest to tipping, when it does so on the way.
QString leastOnTheWay(const verdict::Report& report) {
    const study::MoveTip* least = nullptr;
    for (const auto& move : report.moves)
        if ((move.joint || move.leastDeg < move.endsDeg - 0.05) && (!least || move.leastDeg < least->leastDeg))
            least = &move;
    if (!least) return {};
    return "<br>moving: least " + numberText(least->leastDeg, 1) + "° in " + qs(least->name).toHtmlEscaped() + ", " +
           numberText(100 * least->atShare, 0) + " % of the way";
}

} // namespace

StandStation::StandStation(Session& session, QWidget* parent)
    : Station(parent), m_session(session), m_sheet(new Sheet3d(session, this)), m_balance(makeMarkup(new QLabel(this))),
      m_rose(new TipRose(this)), m_tabs(new QTabWidget(this)), m_strip(new CaseStrip(session, this)),
      m_bonds(new BondsTab(session, m_strip, this)), m_weight(new WeightTab(session, this)),
      m_moves(new MovesTab(session, this)), m_posts(new PostsTab(session, this)), m_shell(new ShellTab(session, this)) {
    auto* left = new QWidget(this);
    auto* leftLayout = new QVBoxLayout(left);
    leftLayout->setContentsMargins(0, 0, 0, 0);
    leftLayout->setSpacing(0);
    m_views = new ViewBar(*m_sheet, left);
    leftLayout->addWidget(m_views);
    leftLayout->addWidget(m_sheet, 1);
    auto* panel = new QWidget(this);
    auto* panelLayout = new QVBoxLayout(panel);
    panelLayout->setContentsMargins(8, 6, 8, 4);
    m_balance->setObjectName("balance");
    m_balance->setWordWrap(true);
    panelLayout->addWidget(m_balance);
    panelLayout->addWidget(m_rose, 4);
    panelLayout->addWidget(m_tabs, 5);
    auto* splitter = new QSplitter(Qt::Horizontal, this);
    splitter->addWidget(left);
    splitter->addWidget(panel);
    panel->setMinimumWidth(scaled(kLeastPanel));
    splitter->setStretchFactor(0, 1);
    splitter->setChildrenCollapsible(false);
    splitter->setSizes({470, 400});
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->setSpacing(0);
    layout->addWidget(splitter, 1);
    layout->addWidget(m_strip);
    makeTabs();
    makeCommands();
    makeHooks();
    connect(&session, &Session::projectOpened, this, [this] {
        m_bonds->startAnew();
        m_weight->tryWeight(false);
        m_tabs->setCurrentWidget(m_bonds);
    });
    connect(&session, &Session::projectChanged, this, &StandStation::projectChanged);
    connect(&session, &Session::reportChanged, this, &StandStation::reportChanged);
    connect(&session, &Session::selectionChanged, this, [this] {
        if (m_bonds->isVisible()) m_bonds->showWay();
        m_sheet->refresh();
    });
}

void StandStation::makeTabs() {
    m_tabs->setObjectName("standTabs");
    m_tabs->setDocumentMode(true);
    const auto add = [&](StandTab* tab, const QString& title, const QString& tip) {
        m_tabs->setTabToolTip(m_tabs->addTab(tab, title), tip);
        connect(tab, &StandTab::overlayChanged, this, &StandStation::showModel);
    };
    add(m_bonds, "bonds", "What the bonds carry in the chosen case (B)");
    add(m_weight, "weight", "What each section weighs, and a counterweight to try (S, W)");
    add(m_moves, "moves", "Tip angle all along each move, and the model there (M)");
    add(m_posts, "posts", "Where a post on the base must touch, and what it carries; kept ones (P)");
    add(m_shell, "shell", "The core left out, shells made firm, what is never seen, statues");
    connect(m_tabs, &QTabWidget::currentChanged, this, [this] {
        m_rose->setVisible(up() != m_moves); // it tells of the model as it stands
        showModel();
        m_sheet->fitAgain();
    });
    connect(m_bonds, &BondsTab::chosen, this, [this] { m_tabs->setCurrentWidget(m_bonds); });
    connect(m_strip, &CaseStrip::poseShown, m_sheet, &Sheet3d::fitAgain);
    connect(m_shell, &ShellTab::statueMade, m_sheet, &Sheet3d::fitAgain);
}

void StandStation::showEvent(QShowEvent* event) {
    Station::showEvent(event);
    if (m_stale) m_strip->showProject();
    m_stale = false;
    showModel();
}

void StandStation::projectChanged() {
    for (int i = 0; i < m_tabs->count(); ++i) {
        tab(i)->forget();
        tab(i)->outdate();
    }
    m_stale = !isVisible();
    if (m_stale) return; // looked at when it is shown
    m_strip->showProject();
    m_sheet->refresh();
}

void StandStation::reportChanged() {
    for (int i = 0; i < m_tabs->count(); ++i) tab(i)->outdate();
    if (isVisible()) showModel();
}

/// What the sheet and the rose show of it.
void StandStation::showModel() {
    const bool moves = up() == m_moves;
    m_sheet->showElsewhere(moves && m_moves->place() ? std::optional(m_moves->place()->placed) : std::nullopt);
    showBalance();
    m_sheet->refresh();
}

void StandStation::showBalance() {
    const auto report = m_session.report();
    const double asked = study::getAskedTipDeg(m_session.project());
    if (!report || !report->present.tipping) {
        m_rose->show({}, asked, 1);
        return m_balance->clear();
    }
    const auto& tip = *report->present.tipping;
    m_rose->show(tip, asked, stand::calcTopMm(report->present.placed),
                 up() == m_weight ? m_weight->after() : std::nullopt);
    m_balance->setText("<b>" + numberText(tip.massG, 0) + " g</b>, centre " + numberText(tip.centre.z(), 0) +
                       " mm up; tips at <b>" + numberText(tip.angleDeg, 1) + "°</b> towards " +
                       numberText(tip.towardDeg, 0) + "°; asked " + numberText(asked, 0) +
                       "° all round (ring); N: push at the top" + leastOnTheWay(*report));
}

void StandStation::toggleTab(StandTab* tab) {
    m_tabs->setCurrentWidget(up() == tab ? static_cast<StandTab*>(m_bonds) : tab);
}

void StandStation::makeCommands() {
    const auto onBonds = [this](auto&& act) {
        m_tabs->setCurrentWidget(m_bonds);
        act();
    };
    addCommand(this, "Next case", QKeySequence("N"), [this] { m_strip->nextCase(); });
    addCommand(this, "Next bond", QKeySequence("B"), [this, onBonds] { onBonds([this] { m_bonds->nextBond(); }); });
    addCommand(this, "Carried by the chosen parts", QKeySequence("C"), [this] { m_bonds->carryChosen(); });
    addCommand(this, "Half-built at a step", QKeySequence("H"), [this] { m_strip->focusStep(); });
    addCommand(this, "Leave out the core", {}, [this] {
        m_tabs->setCurrentWidget(m_shell);
        m_shell->leaveCoreOut();
    });
    addCommand(this, "Keep a case of your own …", QKeySequence("K"), [this] { m_bonds->keepCase(); });
    addCommand(this, "Remove the chosen case", {}, [this] { m_bonds->dropCase(); });
    addCommand(this, "Posts under it", QKeySequence("P"), [this] {
        m_tabs->setCurrentWidget(m_posts);
        m_posts->look();
    });
    addCommand(this, "Make a shell firm", {}, [this] {
        m_tabs->setCurrentWidget(m_shell);
        m_shell->makeFirm();
    });
    addCommand(this, "Choose what is never seen", {}, [this] {
        m_tabs->setCurrentWidget(m_shell);
        m_shell->chooseHidden();
    });
    addCommand(this, "Statue desk …", {}, [this] { m_shell->openDesk(); });
    addCommand(this, "Weights of the sections", QKeySequence("S"), [this] { toggleTab(m_weight); });
    addCommand(this, "Moves from pose to pose", QKeySequence("M"), [this] { toggleTab(m_moves); });
    addCommand(this, "Play the move", {}, [this] {
        m_tabs->setCurrentWidget(m_moves);
        m_moves->play();
    });
    addCommand(this, "Try a counterweight", QKeySequence("W"), [this] {
        const bool on = up() != m_weight || !m_weight->isTrying();
        m_tabs->setCurrentWidget(on || up() == m_weight ? static_cast<StandTab*>(m_weight) : m_bonds);
        m_weight->tryWeight(on);
    });
    addCommand(this, "Put the counterweight in, or keep the post", QKeySequence("Return"), [this] {
        if (up() == m_weight) m_weight->putIn();
        if (up() == m_posts) m_posts->keep();
    });
    addCommand(this, "Save the tip rose, or the chart of moves …", {}, [this] { saveChart(); });
    m_sheet->addPictureCommands(this);
}

void StandStation::saveChart() {
    const bool moves = up() == m_moves;
    const QString path = QFileDialog::getSaveFileName(this, "Save the chart", moves ? "moves.svg" : "tip-rose.svg",
                                                      "Drawings (*.svg *.png)");
    if (path.isEmpty() || (moves ? m_moves->chart()->saveChart(path) : m_rose->saveChart(path))) return;
    m_session.warn("The chart could not be written to " + path);
}

void StandStation::makeHooks() {
    m_sheet->hooks.state = [this](model::PartSpot, const model::Part& part) {
        auto state = render::makeState(part.colour);
        const Theme& t = theme();
        if (m_session.marked().count(part.id) > 0) return render::mix(state, rgb(t.brine), 0.75);
        if (!up()->hasTints()) return render::mix(state, rgb(t.ground), kPale / 2);
        const auto use = up()->findUse(part.id);
        if (!use) return render::mix(state, rgb(t.ground), kPale);
        if (*use < 0) return render::mix(state, rgb(t.ember), 0.85);
        const QColor& tint = *use >= kFullUse ? t.ember : *use >= kThinUse ? t.straw : t.moss;
        return render::mix(render::mix(state, rgb(t.ground), kPale), rgb(tint), std::min(0.95, 0.05 + *use));
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
        return up()->takesDrag(position, *m_sheet);
    };
    m_sheet->hooks.dragMoves = [this](QPointF position) { up()->drag(position, *m_sheet); };
}

void StandStation::drawOverlay(QPainter& painter) const {
    const auto report = m_session.report();
    if (!report || !m_session.isReportCurrent()) return;
    if (up() != m_moves) { // which draws those of the place on the way
        if (report->present.tipping) drawPlumb(painter, *m_sheet, *report->present.tipping);
        drawPosts(painter, *m_sheet, m_session.placed());
    }
    up()->drawOverlay(painter, *m_sheet);
}

void StandStation::goTo(const verdict::Place& place) {
    const std::string thing = place.things.empty() ? std::string() : place.things.front();
    if (!thing.empty() && m_moves->goTo(thing)) return m_tabs->setCurrentWidget(m_moves);
    if (place.pose) m_strip->lookAt(*place.pose);
    const auto& posts = m_session.project().posts;
    const bool post = std::any_of(posts.begin(), posts.end(), [&](const auto& s) { return s.id.text == thing; });
    m_tabs->setCurrentWidget(post ? static_cast<StandTab*>(m_posts) : m_bonds);
    m_session.setMarked({place.parts.begin(), place.parts.end()});
}

} // namespace ivrant::app
