// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/verdict/stand/check_stand.h"

#include <algorithm>
#include <cmath>

#include "core/base/at.h"
#include "core/base/units.h"
#include "core/study/asked_tip.h"
#include "core/study/case_words.h"
#include "core/study/stand_cases.h"

namespace ivrant::verdict {

bool isWeighed(const model::Project& project) {
    return std::all_of(project.sections.begin(), project.sections.end(), [](const auto& section) {
        return std::all_of(section->parts.begin(), section->parts.end(),
                           [](const model::Part& part) { return part.weighedG.has_value(); });
    });
}

namespace {

using base::formatNumber;

class StandCheck {
public:
    StandCheck(const study::Facts& facts, const study::PoseFacts& pose, VerdictList& list)
        : m_facts(facts), m_pose(pose), m_key(pose.id ? pose.id->text : "present"), m_list(list) {}

    void runBonds() {
        if (m_pose.standing)
            addBonds();
        else if (m_pose.provenUse)
            addProof();
    }
    void runTip() {
        if (m_pose.tipping && m_pose.stance.kind != model::Stance::Kind::Held) addTip();
    }

private:
    Verdict& add(const std::string& check) {
        Verdict& v = m_list.add(check, m_key, Station::Stand);
        v.place.pose = m_pose.id;
        return v;
    }

    void addTip() {
        const stand::Tipping& tip = *m_pose.tipping;
        Verdict& v = add("tip");
        v.value = tip.angleDeg;
        const double asked = study::getAskedTipDeg(*m_facts.project);
        v.limit = asked;
        v.unit = "deg";
        v.margin = tip.angleDeg / asked;
        const bool weighed = isWeighed(*m_facts.project);
        v.basis = weighed ? Basis::Measured : Basis::Starting;
        v.state = getStateOfMargin(v.margin);
        v.text = tip.angleDeg < 0 ? "Falls over in " + m_pose.name
                                  : (v.state == State::Fail ? "Tips too easily in " : "Stands in ") + m_pose.name;
        v.detail = "tips at " + formatNumber(tip.angleDeg, 1) + "° towards " + formatNumber(tip.towardDeg, 0) +
                   "°, asked " + formatNumber(asked, 0) + "° (" + study::describeAskedTip(*m_facts.project) +
                   (weighed ? "; all parts weighed)" : "; masses not weighed)");
        if (tip.belowGroundMm <= geometry::kContactToleranceMm) return;
        Verdict& under = add("ground");
        under.value = tip.belowGroundMm;
        under.limit = geometry::kContactToleranceMm;
        under.unit = "mm";
        under.state = State::Fail;
        under.text = "Reaches through the ground in " + m_pose.name;
        under.detail = formatNumber(tip.belowGroundMm, 1) + " mm below the ground";
    }

    /// Forces within all limits are known; how much of the bonds is really asked follows.
    void addProof() {
        Verdict& v = add("bonds");
        v.unit = "λ";
        v.limit = 1;
        v.value = std::max(*m_pose.provenUse, 1e-3);
        v.margin = 1 / v.value;
        v.basis = study::calcBondLimits(*m_facts.project).studPull.measured ? Basis::Measured : Basis::Starting;
        v.state = getStateOfMargin(v.margin);
        v.text = "Bonds hold in " + m_pose.name;
        v.detail = "quick proof: holds; λ ≤ " + formatNumber(v.value, 2) + ", the exact answer follows";
        v.detail += v.basis == Basis::Measured ? "" : " (limits are starting values)";
    }

    /// λ against 1: how much stronger the bonds are than they need to be.
    void addBonds() {
        const stand::CaseResult& result = *m_pose.standing;
        const stand::Equilibrium& e = result.equilibrium;
        Verdict& v = add("bonds");
        v.unit = "λ";
        v.limit = 1;
        v.basis = study::calcBondLimits(*m_facts.project).studPull.measured ? Basis::Measured : Basis::Starting;
        const bool known = e.lambda && !std::isinf(*e.lambda);
        if (known) {
            v.value = *e.lambda;
            v.margin = 1 / *e.lambda;
        }
        v.state = e.stands ? getStateOfMargin(v.margin) : State::Fail;
        if (!e.stands && v.margin && *v.margin >= 1) v.margin.reset();
        if (e.stands) {
            v.text = "Bonds hold in " + m_pose.name;
            const auto weakest = study::listWeakest(result, 1);
            v.detail = study::describeOutcome(result);
            if (!weakest.empty()) {
                const auto& force = at(e.forces, weakest[0]);
                v.detail += "; weakest: " + study::describeContact(*m_facts.project, result, weakest[0]) + ", " +
                            force.mode + " " + formatNumber(100 * force.use, 0) + " % used";
                v.place.parts = study::listParts(*m_facts.project, result, weakest[0]);
            }
        } else {
            const std::size_t count = e.falling.size();
            v.text = (!e.certain                              ? std::string("Bonds could not be settled")
                      : e.givesWay == stand::GivesWay::Slides ? "Slides"
                      : e.givesWay == stand::GivesWay::Tips   ? "Tips over as a whole"
                      : count == 0                            ? "Bonds do not quite hold"
                      : count == 1                            ? "A part falls"
                                                              : std::to_string(count) + " parts fall") +
                     " in " + m_pose.name;
            v.detail = study::describeOutcome(result);
            if (e.firstToGo)
                if (const int joint = at(result.net.contacts, *e.firstToGo).joint; joint >= 0)
                    v.place.joint = at(m_facts.project->joints, joint).id;
            if (e.firstToGo)
                v.detail += "; first lets go: " + study::describeContact(*m_facts.project, result, *e.firstToGo);
            for (std::size_t i = 0; i < count && i < 200; ++i)
                v.place.parts.push_back(getPart(*m_facts.project, at(result.net.bodies, e.falling[i]).spot).id);
        }
        if (m_pose.tipping && m_pose.tipping->angleDeg < 0)
            v.detail += "; with its feet held, as it falls over otherwise";
        v.detail += v.basis == Basis::Measured ? "" : " (limits are starting values)";
    }

    const study::Facts& m_facts;
    const study::PoseFacts& m_pose;
    std::string m_key;
    VerdictList& m_list;
};

} // namespace

void judgeTips(const study::Facts& facts, VerdictList& list) {
    for (const study::PoseFacts& pose : facts.poses) StandCheck(facts, pose, list).runTip();
}

void judgeBonds(const study::Facts& facts, VerdictList& list) {
    for (const study::PoseFacts& pose : facts.poses) StandCheck(facts, pose, list).runBonds();
}

void proposeTipMends(const Report& report, const Verdict& verdict, std::vector<Mend>& mends) {
    if (verdict.check == "tip" || verdict.check == "tip-move") addBallastMends(report, verdict, mends);
    if (verdict.check == "tip") {
        addBasePlates(report, verdict, mends);
        addPosts(report, verdict, mends);
    }
    markTried(mends);
}

} // namespace ivrant::verdict
