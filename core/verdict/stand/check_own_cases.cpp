// SPDX-License-Identifier: GPL-3.0-or-later
// Cases of the builder's own: how each came out, as verdicts. Part of check_stand.h.
#include <cmath>

#include "core/base/units.h"
#include "core/study/case_words.h"
#include "core/study/stand_cases.h"
#include "core/verdict/stand/check_stand.h"

namespace ivrant::verdict {

void judgeOwnCases(const study::Facts& facts, VerdictList& list) {
    const bool measured = study::calcBondLimits(*facts.project).studPull.measured;
    for (std::size_t i = 0; i < facts.ownCases.size(); ++i) {
        const study::OwnCaseFacts& own = facts.ownCases[i];
        const study::PoseFacts& pose = study::findPoseOf(facts, facts.project->cases[i]);
        const std::string& name = facts.project->cases[i].name;
        Verdict& v = list.add("case", own.id.text, Station::Stand);
        v.place.pose = pose.id;
        v.unit = "λ";
        v.limit = 1;
        v.basis = measured ? Basis::Measured : Basis::Starting;
        if (!own.result) {
            v.state = State::Thin;
            v.text = name + " cannot be looked at";
            v.detail = own.problem;
            continue;
        }
        const stand::Equilibrium& e = own.result->equilibrium;
        if (e.lambda && !std::isinf(*e.lambda)) {
            v.value = *e.lambda;
            v.margin = 1 / *e.lambda;
        }
        v.state = e.stands ? getStateOfMargin(v.margin) : State::Fail;
        if (!e.stands && v.margin && *v.margin >= 1) v.margin.reset();
        v.text = name + ": " + study::describeOutcome(*own.result);
        v.detail = "in " + pose.name;
        const auto weakest = e.firstToGo ? std::vector<int>{*e.firstToGo} : study::listWeakest(*own.result, 1);
        if (!weakest.empty()) {
            v.detail += (e.stands ? "; weakest: " : "; first lets go: ") +
                        study::describeContact(*facts.project, *own.result, weakest[0]);
            v.place.parts = study::listParts(*facts.project, *own.result, weakest[0]);
        }
        v.detail += measured ? "" : " (limits are starting values)";
    }
}

} // namespace ivrant::verdict
