// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stations/pose/chain_tab.h"

#include <QHBoxLayout>
#include <QVBoxLayout>
#include <algorithm>

#include "app/shell/table_tools.h"
#include "core/base/at.h"
#include "core/base/units.h"
#include "core/pose/stance.h"
#include "core/trials/strengths.h"

namespace ivrant::app {
namespace {

/// The longest run of joints in the model: from the joint nearest to a root to the one that carries nothing further.
std::pair<int, int> findLongestRun(const model::SectionTree& tree) {
    std::pair<int, int> best{-1, -1};
    std::size_t most = 0;
    for (std::size_t j = 0; j < tree.from.size(); ++j) {
        std::size_t count = 0;
        int first = -1;
        for (int k = static_cast<int>(j); k >= 0; k = at(tree.carrier, at(tree.from, k).section)) {
            ++count;
            first = k;
        }
        if (count <= most) continue;
        most = count;
        best = {first, static_cast<int>(j)};
    }
    return best;
}

} // namespace

ChainTab::ChainTab(Session& session, QWidget* parent)
    : PoseTab(session, parent), m_first(new QComboBox(this)), m_last(new QComboBox(this)), m_text(new QLabel(this)),
      m_table(new QTableWidget(this)), m_low(new QPushButton("bend low", this)),
      m_high(new QPushButton("bend high", this)), m_sagged(new QPushButton("let it sag", this)),
      m_live(session.jobs()) {
    m_first->setObjectName("chainFirst");
    m_first->setAccessibleName("First joint of the run");
    m_last->setObjectName("chainLast");
    m_last->setAccessibleName("Last joint of the run");
    m_text->setObjectName("chainText");
    m_text->setWordWrap(true);
    m_text->setTextFormat(Qt::RichText);
    m_text->setAlignment(Qt::AlignTop);
    m_table->setObjectName("chainTable");
    m_table->setAccessibleName("Joints of the run");
    setUpTable(m_table, "chain");
    m_low->setToolTip("Pose the whole run at its low bend");
    m_high->setToolTip("Pose the whole run at its high bend");
    m_sagged->setObjectName("chainSagged");
    m_sagged->setToolTip("Pose the run where it comes to rest when the joints that cannot hold give way");
    auto* row = new QHBoxLayout;
    auto* from = new QLabel("from", this);
    auto* to = new QLabel("to", this);
    from->setBuddy(m_first);
    to->setBuddy(m_last);
    for (QWidget* w : {static_cast<QWidget*>(from), static_cast<QWidget*>(m_first), static_cast<QWidget*>(to),
                       static_cast<QWidget*>(m_last)})
        row->addWidget(w);
    row->addStretch(1);
    for (QPushButton* b : {m_low, m_high, m_sagged}) row->addWidget(b);
    auto* body = new QHBoxLayout;
    body->addWidget(m_text, 2);
    body->addWidget(m_table, 3);
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(0, 2, 0, 0);
    layout->addLayout(row);
    layout->addLayout(body, 1);
    for (QComboBox* box : {m_first, m_last})
        connect(box, &QComboBox::activated, this, [this] {
            m_chosen = true;
            refresh();
        });
    connect(m_low, &QPushButton::clicked, this, [this] { takeValues("Bend the run low", m_result.study.low.values); });
    connect(m_high, &QPushButton::clicked, this,
            [this] { takeValues("Bend the run high", m_result.study.high.values); });
    connect(m_sagged, &QPushButton::clicked, this, [this] { takeValues("Let the run sag", m_result.sag.values); });
}

/// All of it is in the tool tip too, where the tab is low.
void ChainTab::showText(const QString& text) {
    m_text->setText(text);
    m_text->setToolTip(text);
}

void ChainTab::refresh() {
    fillJoints(m_first);
    fillJoints(m_last);
    for (QPushButton* b : {m_low, m_high, m_sagged}) b->setEnabled(false);
    if (m_session.project().joints.empty()) {
        showText("A chain needs joints: two or more, each carrying the next.");
        m_table->setRowCount(0);
        return;
    }
    if (!m_chosen) {
        const auto run = findLongestRun(m_session.tree());
        m_first->setCurrentIndex(run.first);
        m_last->setCurrentIndex(run.second);
    }
    const PoseSnapshot s = snapshot();
    const int first = m_first->currentIndex(), last = m_last->currentIndex();
    m_live.ask(
        "chain",
        [s, first, last](base::Progress& progress) -> std::optional<Result> {
            Result result;
            const auto context = s.context();
            const auto chain = pose::makeChain(context, s.values, first, last);
            if (!chain) {
                result.trouble = chain.error().message;
                return result;
            }
            const auto strengths = trials::calcStrengths(*s.project);
            result.study = pose::calcChain(context, s.values, *chain, &progress);
            if (progress.stopped()) return std::nullopt;
            result.sag = pose::calcSag(context, s.values, *chain, s.stance, strengths);
            result.firm = pose::calcFirmFirst(context, s.values, *chain, s.stance, strengths);
            model::Placed placed = pose::calcPlaced(*s.project, s.tree, s.values);
            pose::applyStance(placed, s.stance);
            result.loads = pose::calcLoads(placed, s.tree, strengths, pose::calcGroundForces(placed, s.tree, s.stance));
            if (progress.stopped()) return std::nullopt;
            return result;
        },
        [this](Result result) {
            m_result = std::move(result);
            show(m_result);
        });
}

void ChainTab::show(const Result& r) {
    if (!r.trouble.empty()) {
        showText(QString::fromStdString(r.trouble).toHtmlEscaped());
        m_table->setRowCount(0);
        return;
    }
    const auto bend = [&](const pose::BendLimit& limit) {
        QString text = numberText(limit.totalDeg, 1) + "° (singly " + numberText(limit.singleSumDeg, 1) +
                       "°), radius " + numberText(limit.radiusMm, 1) + " mm";
        if (limit.moving) {
            const auto& project = m_session.project();
            const auto name = [&](const pose::SolidRef& s) {
                return QString::fromStdString(at(project.sections, s.spot.section)->name).toHtmlEscaped();
            };
            text += ", then " + name(*limit.moving) + " meets " + name(*limit.fixed);
        }
        return text;
    };
    QString text = "<b>Together low:</b> " + bend(r.study.low) + "<br><b>Together high:</b> " + bend(r.study.high) +
                   "<br><b>Length</b> " + numberText(r.study.lengthMm, 1) + " mm · <b>play at the tip</b> ±" +
                   numberText(r.study.tipPlayMm, 1) + " mm";
    if (r.sag.steps.empty()) {
        text += "<br><b>Nothing sags</b> in the present pose.";
    } else {
        text += "<br><b>Sags</b> " + numberText(r.sag.tipDropMm, 1) + " mm at the tip" +
                (r.sag.settled ? "" : " and goes on") + ": ";
        QStringList steps;
        for (const auto& step : r.sag.steps)
            steps << jointName(step.joint).toHtmlEscaped() + " " + numberText(step.fromDeg, 1) + " → " +
                         numberText(step.toDeg, 1) + "°" + (step.stopped ? " (stopped)" : "");
        text += steps.join("; ");
        QStringList firm;
        for (const auto& f : r.firm)
            firm << jointName(f.joint).toHtmlEscaped() + " (then " + numberText(f.dropWithoutMm, 1) + " mm)";
        if (!firm.isEmpty()) text += "<br><b>Make firm first:</b> " + firm.join(", then ");
    }
    showText(text);
    std::vector<TableRow> rows;
    for (const auto& play : r.study.play) {
        const auto& load = at(r.loads, play.joint);
        const auto sag =
            std::find_if(r.sag.steps.begin(), r.sag.steps.end(), [&](const auto& s) { return s.joint == play.joint; });
        rows.push_back({{jointName(play.joint), {}},
                        numberCell(play.leverMm, 1),
                        numberCell(play.playMm, 2),
                        marginCell(load.margin),
                        sag == r.sag.steps.end()
                            ? TableCell{"holds", {}}
                            : TableCell{"gives way " + QString::number(sag - r.sag.steps.begin() + 1) + ".", {}}});
    }
    fillTable(m_table, {"Joint", "Lever mm", "Play ± mm", "Margin", "Now"}, rows);
    m_low->setEnabled(true);
    m_high->setEnabled(true);
    m_sagged->setEnabled(!r.sag.steps.empty());
}

} // namespace ivrant::app
