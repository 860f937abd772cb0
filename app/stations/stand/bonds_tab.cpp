// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stations/stand/bonds_tab.h"

#include <QHeaderView>
#include <QVBoxLayout>
#include <cmath>

#include "app/shell/plain_labels.h"
#include "app/shell/table_tools.h"
#include "app/shell/text.h"
#include "app/shell/theme.h"
#include "app/stations/stand/case_dialog.h"
#include "core/base/at.h"
#include "core/base/units.h"
#include "core/study/case_words.h"

namespace ivrant::app {
namespace {

constexpr std::size_t kListed = 40;

} // namespace

BondsTab::BondsTab(Session& session, CaseStrip* strip, QWidget* parent)
    : StandTab(session, parent), m_strip(strip), m_outcome(new QLabel(this)), m_bonds(new QTableWidget(this)),
      m_live(session.jobs()), m_steps(session.jobs()) {
    makeMarkup(m_outcome);
    m_outcome->setObjectName("caseOutcome");
    m_outcome->setWordWrap(true);
    m_bonds->setObjectName("bonds");
    m_bonds->setAccessibleName("Bonds that are used most");
    setUpTable(m_bonds, "bonds");
    m_bonds->setWordWrap(true);
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(0, 4, 0, 0);
    layout->addWidget(m_outcome);
    layout->addWidget(m_bonds, 1);
    connect(m_bonds, &QTableWidget::itemSelectionChanged, this, [this] {
        const QVariant id = chosenRowId(m_bonds);
        if (!id.isValid() || !m_solved) return;
        const auto parts = study::listParts(m_session.project(), m_solved->result, id.toInt());
        m_session.setMarked({parts.begin(), parts.end()});
    });
    connect(strip, &CaseStrip::caseChosen, this, &BondsTab::choose);
    connect(strip, &CaseStrip::keepAsked, this, &BondsTab::keepCase);
    connect(strip, &CaseStrip::everyStepAsked, this, &BondsTab::tryEveryStep);
    showCases();
}

void BondsTab::startAnew() {
    m_hands.clear();
    m_key = "standing";
}

void BondsTab::forget() {
    m_live.cancel();
    m_steps.cancel();
    m_solved.reset();
    m_useOf.clear();
    m_way.clear();
    m_outcome->setText("…");
    m_bonds->setRowCount(0);
}

void BondsTab::choose(const QString& key) {
    m_key = key;
    m_solved.reset();
    showCases();
    emit chosen();
    solve(true);
}

void BondsTab::carryChosen() {
    const model::PartIndex index(m_session.project());
    m_hands.clear();
    for (const model::PartId& id : m_session.selection()) {
        const auto spot = index.find(id);
        if (spot.section >= 0)
            m_hands.push_back(m_session.placed().X_WP(spot) * model::getPart(m_session.project(), spot).shape->centre);
    }
    if (m_hands.empty())
        return m_session.say("Choose the parts where it is taken hold of: a click, with Ctrl several", true);
    choose("own");
}

void BondsTab::nextBond() {
    if (m_bonds->rowCount() == 0) return;
    const auto rows = m_bonds->selectionModel()->selectedRows();
    m_bonds->selectRow(rows.isEmpty() ? 0 : (rows[0].row() + 1) % m_bonds->rowCount());
}

std::optional<stand::StandCase> BondsTab::findCase() const {
    const auto report = currentReport();
    if (!report || !report->present.tipping) return std::nullopt;
    if (m_key == "half") return study::makeHalfBuilt(*report, m_strip->step());
    if (m_key == "own") return stand::makeCarried(m_hands);
    for (auto& standCase : study::listStandCases(*report, report->present))
        if (standCase.key == m_key.toStdString()) return standCase;
    return std::nullopt;
}

std::shared_ptr<const stand::CaseResult> BondsTab::findKnown() const {
    const auto report = currentReport();
    if (!report || m_key != "standing") return nullptr;
    // Of smaller models they find no use of each bond; what falls over as a whole they hold by its feet.
    if (report->project->partCount() <= study::kMostPartsLive || report->present.tipping->angleDeg < 0) return nullptr;
    for (const auto& pose : report->poses)
        if (pose.standing && pose.values == report->present.values) return pose.standing;
    return nullptr;
}

/// `asked`: by the person, who does not want to wait for the verdicts.
void BondsTab::solve(bool asked) {
    showCases();
    const auto report = currentReport();
    if (!report) return;
    const auto standCase = findCase();
    if (!standCase) {
        m_outcome->setText(report->present.tipping ? "This model is held, not standing: only lifting can be tried."
                                                   : "There is nothing with weight yet.");
        return;
    }
    m_outcome->setText("Working out " + qs(standCase->name).toHtmlEscaped() + " …");
    if (const auto known = findKnown()) {
        m_live.cancel();
        m_solved = std::make_shared<const files::SolvedCase>(files::SolvedCase{*standCase, *known});
        return show();
    }
    if (!asked && m_key == "standing" && study::lacksBonds(*report)) return; // the verdicts will soon have it
    m_live.ask(
        "Bonds, " + qs(standCase->name),
        [report, standCase = *standCase](base::Progress& progress) -> std::optional<files::SolvedCase> {
            stand::EquilibriumRequest request;
            request.progress = &progress;
            auto result = study::calcStandCase(*report, report->present, standCase, request);
            if (!result) return std::nullopt;
            return files::SolvedCase{standCase, std::move(result).value()};
        },
        [this](files::SolvedCase solved) {
            m_solved = std::make_shared<const files::SolvedCase>(std::move(solved));
            show();
        });
}

void BondsTab::show() {
    const auto& e = m_solved->result.equilibrium;
    const auto& net = m_solved->result.net;
    const auto& project = m_session.project();
    m_useOf.clear();
    std::vector<double> use(net.bodies.size(), 0.0);
    for (std::size_t k = 0; k < net.contacts.size(); ++k)
        for (const int body : {net.contacts[k].a, net.contacts[k].b})
            if (body >= 0) at(use, body) = std::max(at(use, body), e.forces[k].use);
    for (const int body : e.falling) at(use, body) = -1;
    for (std::size_t b = 0; b < use.size(); ++b) m_useOf[model::getPart(project, net.bodies[b].spot).id] = use[b];
    QString line =
        "<b>" + qs(m_solved->of.name) + "</b>: " + qs(study::describeOutcome(m_solved->result)).toHtmlEscaped();
    if (e.firstToGo)
        line +=
            "<br>first lets go: " + qs(study::describeContact(project, m_solved->result, *e.firstToGo)).toHtmlEscaped();
    line +=
        study::calcBondLimits(project).studPull.measured ? "<br>pull limit measured" : "<br>limits: starting values";
    line += " · tint: use of bonds, red falls";
    m_outcome->setText(line);
    fillBonds();
    showWay();
}

void BondsTab::fillBonds() {
    std::vector<TableRow> rows;
    const auto listed = study::listWeakest(m_solved->result, kListed);
    for (const int contact : listed) {
        const auto& force = at(m_solved->result.equilibrium.forces, contact);
        rows.push_back({{qs(study::describeContact(m_session.project(), m_solved->result, contact)), {}},
                        {QString(force.mode), {}},
                        numberCell(100 * force.use, 0)});
    }
    fillTable(m_bonds, {"bond", "by", "% used"}, rows, {listed.begin(), listed.end()});
    m_bonds->horizontalHeader()->setSectionResizeMode(0, QHeaderView::Stretch);
    m_bonds->setColumnWidth(1, scaled(52));
    m_bonds->setColumnWidth(2, scaled(64));
    // Two lines each: measuring every row would hold the window up.
    m_bonds->verticalHeader()->setDefaultSectionSize(2 * m_bonds->fontMetrics().height() + 4);
}

void BondsTab::tryEveryStep() {
    const auto report = currentReport();
    if (!report) return;
    emit chosen();
    m_outcome->setText("Building it up step by step …");
    m_steps.ask(
        "Every step",
        [report, count = m_strip->steps()](base::Progress& progress) -> std::optional<QString> {
            stand::EquilibriumRequest request;
            request.lambda = request.use = false;
            request.progress = &progress;
            for (int step = 1; step <= count; ++step) {
                progress.report(static_cast<double>(step) / count);
                const auto result =
                    study::calcStandCase(*report, report->present, study::makeHalfBuilt(*report, step), request);
                if (progress.stopped()) return std::nullopt;
                if (result && !result->equilibrium.stands) return QString::number(step);
            }
            return QString();
        },
        [this](const QString& step) {
            if (step.isEmpty())
                return m_outcome->setText("<b>Every step</b>: what is built stands by itself after each of them");
            m_strip->setStep(step.toInt());
            choose("half");
        });
}

void BondsTab::keepCase() {
    model::OwnCase own;
    for (const model::OwnCase& kept : m_session.project().cases)
        if (m_key.toStdString() == kept.id.text) own = kept;
    if (own.id.empty() && m_solved) { // starts from the case that is looked at
        const auto& of = m_solved->of;
        const double across = std::hypot(of.accelerationG.x(), of.accelerationG.y());
        const auto& way = across > 1e-9 ? of.accelerationG : of.pushN;
        own.towardDeg = std::round(base::radToDeg(std::atan2(way.y(), way.x())));
        own.strapped = of.strapped;
        own.pushN = of.pushN.norm();
        if (of.kind == stand::CaseKind::Slope)
            own.slopeDeg = std::round(base::radToDeg(std::atan2(across, -of.accelerationG.z())) * 10) / 10;
        if (of.kind == stand::CaseKind::Bumped) {
            own.asideG = across;
            own.downG = -of.accelerationG.z();
        }
    }
    CaseDialog dialog(m_session.project(), own, m_session.selectedParts(), this);
    if (dialog.exec() != QDialog::Accepted) return;
    const auto kept = dialog.ownCase();
    if (!m_session.apply((own.id.empty() ? "Case " : "Change case ") + qs(kept.name),
                         [&](const model::Project& p) { return model::putCase(p, kept); }))
        return;
    m_key = qs(own.id.empty() ? m_session.project().cases.back().id.text : own.id.text);
    showCases();
    emit chosen();
}

void BondsTab::dropCase() {
    for (const model::OwnCase& kept : m_session.project().cases) {
        if (m_key.toStdString() != kept.id.text) continue;
        const auto id = kept.id;
        const QString name = qs(kept.name);
        m_key = "standing";
        m_session.apply("Remove case " + name, [&](const model::Project& p) { return model::removeCase(p, id); });
        return showCases();
    }
    m_session.say("Choose a case of your own first", true);
}

} // namespace ivrant::app
