// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stations/pose/study_tab.h"

#include <QHBoxLayout>
#include <QVBoxLayout>
#include <set>

#include "app/shell/flow_layout.h"
#include "app/shell/table_tools.h"
#include "core/base/at.h"
#include "core/base/units.h"
#include "core/pose/chain.h"
#include "core/pose/clearance.h"
#include "core/pose/covers.h"
#include "core/pose/gaps.h"
#include "core/pose/path.h"
#include "core/pose/stance.h"

namespace ivrant::app {
namespace {

constexpr int kReachSamples = 6000;

QString partName(const model::Project& project, model::PartSpot spot) {
    return QString::fromStdString(model::getPart(project, spot).shape->name + " of " +
                                  ivrant::at(project.sections, spot.section)->name);
}
QString pointText(const geometry::Vec3& p) {
    return numberText(p.x(), 0) + ", " + numberText(p.y(), 0) + ", " + numberText(p.z(), 0);
}
pose::FreedomRef turnOf(const model::Project& project, int joint) {
    return {joint, ivrant::at(project.joints, joint).kind->axisFreedom()};
}

} // namespace

StudyTab::StudyTab(Session& session, QWidget* parent)
    : PoseTab(session, parent), m_study(new QComboBox(this)), m_other(new QComboBox(this)),
      m_otherLabel(new QLabel(this)), m_text(new QLabel(this)), m_table(new QTableWidget(this)),
      m_buttons(new QWidget(this)), m_live(session.jobs()) {
    m_study->setObjectName("study");
    m_study->setAccessibleName("Study");
    m_study->addItems({"how far the tip reaches", "turning past", "what shows at the joint", "what a cover costs",
                       "the way to another pose"});
    m_other->setObjectName("studyOther");
    m_other->setAccessibleName("Of what");
    m_text->setObjectName("studyText");
    m_text->setWordWrap(true);
    m_text->setAlignment(Qt::AlignTop);
    m_table->setObjectName("studyTable");
    m_table->setAccessibleName("Result of the study");
    setUpTable(m_table, "study");
    auto* row = new QHBoxLayout;
    row->addWidget(m_study);
    row->addWidget(m_otherLabel);
    row->addWidget(m_other);
    row->addWidget(m_buttons, 1);
    new FlowLayout(m_buttons);
    auto* body = new QHBoxLayout;
    body->addWidget(m_text, 2);
    body->addWidget(m_table, 3);
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(0, 2, 0, 0);
    layout->addLayout(row);
    layout->addLayout(body, 1);
    connect(m_study, &QComboBox::activated, this, [this] { refresh(); });
    connect(m_other, &QComboBox::activated, this, [this] { refresh(); });
}

void StudyTab::fillOther() {
    const QSignalBlocker quiet(m_other);
    const int study = m_study->currentIndex();
    const QString kept = m_other->property("study") == study ? m_other->currentData().toString() : QString();
    const auto& project = m_session.project();
    m_other->setProperty("study", study);
    m_other->clear();
    const auto add = [&](const std::string& name, const std::string& id) {
        m_other->addItem(QString::fromStdString(name), QString::fromStdString(id));
    };
    m_otherLabel->setText(study == Path ? "to" : study == Turn ? "while this is off" : "of");
    if (study == Reach || study == Covers)
        for (const auto& s : project.sections) add(s->name, s->id.text);
    if (study == Turn) {
        add("nothing", "");
        for (const auto& j : project.joints) add(j.name, j.id.text);
    }
    if (study == Path)
        for (const auto& q : project.poses) add(q.name, q.id.text);
    int at = m_other->findData(kept);
    if (at < 0 && study == Reach) { // the section at the end of the longest run of joints
        int most = -1;
        for (int s = 0; s < m_other->count(); ++s) {
            int joints = 0;
            for (int up = m_session.tree().parent(s); up >= 0; up = m_session.tree().parent(up)) ++joints;
            if (joints > most) at = s;
            most = std::max(most, joints);
        }
    }
    m_other->setCurrentIndex(std::max(0, at));
    m_other->setVisible(m_other->count() > 0);
    m_otherLabel->setVisible(m_other->count() > 0);
}

void StudyTab::refresh() {
    fillOther();
    m_cloud.clear();
    const int study = m_study->currentIndex();
    const bool needsJoint = study == Turn || study == Gaps;
    if ((needsJoint && currentJoint() < 0) || (study != Gaps && m_other->count() == 0) ||
        m_session.project().joints.empty()) {
        show({study == Path ? "Keep a pose first (C)." : "This needs a joint.", {}, {}, {}, {}});
        return;
    }
    m_text->setText("…");
    const Work work = study == Reach    ? makeReach()
                      : study == Turn   ? makeTurn()
                      : study == Gaps   ? makeGaps()
                      : study == Covers ? makeCovers()
                                        : makePath();
    m_live.ask(
        m_study->currentText(),
        [s = snapshot(), work](base::Progress& progress) -> std::optional<Result> {
            Result result = work(s, progress);
            if (progress.stopped()) return std::nullopt;
            return result;
        },
        [this](Result result) { show(std::move(result)); });
}

void StudyTab::show(Result result) {
    m_text->setText(result.text);
    m_text->setToolTip(result.text); // all of it, where the tab is low
    fillTable(m_table, result.heads, result.rows);
    m_table->setVisible(!result.rows.empty());
    m_cloud = std::move(result.cloud);
    auto* layout = m_buttons->layout();
    while (auto* item = layout->takeAt(0)) {
        if (item->widget()) item->widget()->deleteLater();
        delete item;
    }
    for (const auto& [name, values] : result.offers) {
        auto* button = new QPushButton(name, m_buttons);
        button->setObjectName("studyOffer");
        connect(button, &QPushButton::clicked, this,
                [this, name = name, values = values] { takeValues(name, values); });
        layout->addWidget(button);
    }
    emit overlayChanged();
}

StudyTab::Work StudyTab::makeReach() const {
    return [section = m_other->currentIndex()](const PoseSnapshot& s, base::Progress& progress) {
        Result r;
        const auto context = s.context();
        auto request = pose::makeReachRequest(context, s.values, s.stance, section);
        if (request.freedoms.empty()) {
            r.text = "No joint moves this section.";
            return r;
        }
        std::vector<int> moving;
        for (const auto& f : request.freedoms) moving.push_back(f.joint);
        const pose::PoseChecker checker(context, s.values, moving);
        request.samples = kReachSamples;
        const auto reach = pose::calcReach(checker, s.values, request, &progress);
        const std::size_t joints = std::set<int>(moving.begin(), moving.end()).size();
        r.text =
            QString::number(reach.points.size()) + " free poses of " + QString::number(reach.tried) +
            " tried with the last " + QString::number(joints) + " joints" +
            (reach.underGround > 0 ? ", " + QString::number(reach.underGround) + " more would go through the ground"
                                   : QString()) +
            ". The dots in the sheet are where the tip has been; more may be reachable.";
        r.heads = {"Tip", "x, y, z mm", "From the first joint mm"};
        const auto add = [&](const char* name, int index) {
            if (index < 0) return;
            const auto& p = ivrant::at(reach.points, index);
            model::Placed placed = pose::calcPlaced(*s.project, s.tree, s.values);
            pose::applyStance(placed, s.stance);
            const geometry::Vec3 root =
                checker.kinematics().jointFrame(placed.X_WS, request.freedoms.back().joint).translation();
            r.rows.push_back({{name, {}}, {pointText(p), {}}, numberCell((p - root).norm(), 1)});
            r.offers.emplace_back(QString("show ") + name, ivrant::at(reach.poses, index));
        };
        add("lowest", reach.lowest);
        add("highest", reach.highest);
        add("farthest", reach.farthest);
        r.cloud = reach.points;
        return r;
    };
}

StudyTab::Work StudyTab::makeTurn() const {
    const int other = m_session.project().findJoint({m_other->currentData().toString().toStdString()});
    return [joint = currentJoint(), other](const PoseSnapshot& s, base::Progress& progress) {
        Result r;
        const auto context = s.context();
        const auto turning = turnOf(*s.project, joint);
        const auto c = pose::calcTurnClearance(context, s.values, turning, &progress);
        const QString name = QString::fromStdString(ivrant::at(s.project->joints, joint).name);
        if (!c) {
            r.text = QString::fromStdString(c.error().message);
            return r;
        }
        r.text = c->passes ? name + " passes over its whole turn. Smallest gap " + numberText(c->gapMm, 2) + " mm at " +
                                 numberText(c->atDeg, 1) + "°, between " + partName(*s.project, c->moving.spot) +
                                 " and " + partName(*s.project, c->fixed.spot) + "."
                           : name + " does not pass: " + partName(*s.project, c->moving.spot) + " meets " +
                                 partName(*s.project, c->fixed.spot) + " at " + numberText(c->atDeg, 1) + "°.";
        if (const auto play = pose::calcOffAxisPlay(context, s.values, turning); play && c->passes)
            r.text += " It may be " + numberText(*play, 2) + " mm off its axis and still passes.";
        if (other >= 0 && other != joint && c->passes) {
            const auto off =
                pose::calcMisalignment(context, s.values, turning, turnOf(*s.project, other), 45, &progress);
            const QString otherName = QString::fromStdString(ivrant::at(s.project->joints, other).name);
            if (off && off->endless)
                r.text += " " + otherName + " may stand anywhere.";
            else if (off)
                r.text += " It still passes while " + otherName + " is off by " + numberText(off->lowDeg, 1) + " to " +
                          numberText(off->highDeg, 1) + "°.";
        }
        r.heads = {"Angle °", "Gap mm"};
        for (const auto& [angle, gap] : c->profile) r.rows.push_back({numberCell(angle, 1), numberCell(gap, 2)});
        return r;
    };
}

StudyTab::Work StudyTab::makeGaps() const {
    return [joint = currentJoint()](const PoseSnapshot& s, base::Progress&) {
        Result r;
        r.text =
            "Mechanism of " + QString::fromStdString(ivrant::at(s.project->joints, joint).name) +
            " that can be seen, over its wanted range: fingers, ball, cup, clip or bar that no plate or tile hides.";
        r.heads = {"Seen from", "Now mm²", "Least mm²", "Most mm²", "at °"};
        for (const auto& g : pose::calcGapsOverRange(s.context(), s.values, s.stance, joint))
            r.rows.push_back({{ivrant::at(pose::getGapViews(), g.view).name, {}},
                              numberCell(g.nowMm2, 0),
                              numberCell(g.leastMm2, 0),
                              numberCell(g.mostMm2, 0),
                              numberCell(g.mostAt, 1)});
        return r;
    };
}

StudyTab::Work StudyTab::makeCovers() const {
    std::vector<model::PartSpot> cover;
    const auto& project = m_session.project();
    const model::PartIndex index(project);
    for (const auto& id : m_session.selectedParts()) cover.push_back(index.find(id));
    const bool selected = !cover.empty();
    const int section = m_other->currentIndex();
    if (!selected)
        for (std::size_t p = 0; p < ivrant::at(project.sections, section)->parts.size(); ++p)
            cover.push_back({section, static_cast<int>(p)});
    return [cover, selected, joint = currentJoint()](const PoseSnapshot& s, base::Progress& progress) {
        Result r;
        r.text = selected ? "Range that the " + QString::number(cover.size()) + " selected parts cost."
                          : QString("Range that the parts of this section cost (select parts to look at fewer). Parts "
                                    "that carry a joint stay.");
        r.heads = {"Joint", "Freedom", "With", "Without", "Cost"};
        const auto range = [](const pose::FreedomRange& f) {
            return f.endless ? QString("all round") : numberText(f.free.low, 1) + ".." + numberText(f.free.high, 1);
        };
        const auto context = s.context();
        for (const auto& c : pose::calcCoverCosts(context, s.values, cover, std::nullopt, &progress)) {
            const auto& j = ivrant::at(s.project->joints, c.freedom.joint);
            r.rows.push_back({{QString::fromStdString(j.name), {}},
                              {QString::fromStdString(std::string(j.kind->freedomName(c.freedom.freedom))), {}},
                              {range(c.with), {}},
                              {range(c.without), {}},
                              numberCell(c.costDeg, 1)});
        }
        if (r.rows.empty()) r.text += " They cost nothing in the present pose.";
        if (joint < 0) return r;
        for (const bool high : {false, true})
            for (const auto& gain : pose::calcStopGains(context, s.values, {joint, 0}, high))
                r.text += QString("\nWithout ") + partName(*s.project, gain.part) + ", " +
                          QString::fromStdString(ivrant::at(s.project->joints, joint).name) + " goes " +
                          numberText(gain.gain, 1) + "° further " + (high ? "up." : "down.");
        return r;
    };
}

StudyTab::Work StudyTab::makePath() const {
    const int target = m_session.project().findPose({m_other->currentData().toString().toStdString()});
    return [target](const PoseSnapshot& s, base::Progress& progress) {
        Result r;
        const auto context = s.context();
        const pose::PoseChecker checker(context, s.values);
        const auto to = pose::getValues(*s.project, &ivrant::at(s.project->poses, target));
        const auto check = pose::calcPath(checker, s.values, to);
        if (check.free) {
            r.text = "The straight way is free";
            for (std::size_t i = 0; i < check.otherWay.size(); ++i)
                r.text += (i == 0 ? " when " : " and ") +
                          QString::fromStdString(ivrant::at(s.project->joints, check.otherWay[i]).name);
            if (!check.otherWay.empty())
                r.text += check.otherWay.size() == 1 ? " goes the other way round" : " go the other way round";
            r.text += ".";
            return r;
        }
        r.text = "The straight way is blocked after " + numberText(check.freeShare * 100, 0) + " %";
        if (check.blockedBy)
            r.text += ": " + partName(*s.project, check.blockedBy->first.spot) + " meets " +
                      partName(*s.project, check.blockedBy->second.spot);
        else if (check.limitOf)
            r.text += ": " + QString::fromStdString(ivrant::at(s.project->joints, *check.limitOf).name) +
                      " comes to its own limit";
        r.text += ".";
        const auto detour = pose::calcDetour(checker, s.values, to, 4000, &progress);
        if (!detour) {
            r.text += " " + QString::fromStdString(detour.error().message) + ".";
            return r;
        }
        r.text += " Go through " + QString::number(detour->through.size() - 2) +
                  (detour->through.size() == 3 ? " pose" : " poses") + " between: every leg is free.";
        r.heads = {"Joint"};
        for (std::size_t i = 0; i < detour->through.size(); ++i)
            r.heads << (i == 0                            ? QString("now")
                        : i + 1 == detour->through.size() ? QString("end")
                                                          : QString::number(i));
        for (std::size_t j = 0; j < s.project->joints.size(); ++j) {
            TableRow row{{QString::fromStdString(s.project->joints[j].name), {}}};
            bool changes = false;
            for (const auto& values : detour->through) {
                changes = changes || values[j] != s.values[j];
                row.push_back(numberCell(ivrant::at(values[j], s.project->joints[j].kind->bendFreedom()), 1));
            }
            if (changes) r.rows.push_back(std::move(row));
        }
        for (std::size_t i = 1; i + 1 < detour->through.size(); ++i)
            r.offers.emplace_back("pose " + QString::number(i), detour->through[i]);
        return r;
    };
}

} // namespace ivrant::app
