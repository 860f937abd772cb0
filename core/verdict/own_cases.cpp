// Cases of the builder's own: how each came out, as verdicts. Part of check_stand.h.
#include <cmath>

#include "core/base/units.h"
#include "core/verdict/check_stand.h"
#include "core/verdict/stand_cases.h"

namespace ivrant::verdict {

std::vector<OwnCaseReport> calcOwnCases(const Report& report, const base::Progress* progress) {
    std::vector<OwnCaseReport> results;
    for (const model::OwnCase& own : report.project->cases) {
        OwnCaseReport result;
        result.id = own.id;
        const PoseReport& pose = findPoseOf(report, own);
        const auto made = makeOwnCase(report, pose, own);
        if (!made) {
            result.problem = made.error().message;
        } else {
            stand::EquilibriumRequest request;
            request.use = false;
            request.progress = progress;
            auto solved = calcStandCase(report, pose, *made, request);
            if (solved)
                result.result = std::make_shared<const stand::CaseResult>(std::move(solved).value());
            else
                result.problem = solved.error().message;
        }
        results.push_back(std::move(result));
    }
    return results;
}

void addOwnCaseVerdicts(const Report& report, std::vector<Verdict>& verdicts) {
    const bool measured = calcBondLimits(*report.project).studPull.measured;
    for (std::size_t i = 0; i < report.ownCases.size(); ++i) {
        const OwnCaseReport& own = report.ownCases[i];
        const PoseReport& pose = findPoseOf(report, report.project->cases[i]);
        const std::string& name = report.project->cases[i].name;
        Verdict v;
        v.check = "case";
        v.id = "case/" + own.id.text;
        v.station = Station::Stand;
        v.place.pose = pose.id;
        v.unit = "λ";
        v.limit = 1;
        v.basis = measured ? Basis::Measured : Basis::Starting;
        if (!own.result) {
            v.state = State::Thin;
            v.text = name + " cannot be looked at";
            v.detail = own.problem;
            verdicts.push_back(std::move(v));
            continue;
        }
        const stand::Equilibrium& e = own.result->equilibrium;
        if (e.lambda && !std::isinf(*e.lambda)) {
            v.value = *e.lambda;
            v.margin = 1 / *e.lambda;
        }
        v.state = e.stands ? getStateOfMargin(v.margin) : State::Fail;
        if (!e.stands && v.margin && *v.margin >= 1) v.margin.reset();
        v.text = name + ": " + describeOutcome(*own.result);
        v.detail = "in " + pose.name;
        const auto weakest = e.firstToGo ? std::vector<int>{*e.firstToGo} : listWeakest(*own.result, 1);
        if (!weakest.empty()) {
            v.detail += (e.stands ? "; weakest: " : "; first lets go: ") + describeContact(*report.project, *own.result, weakest[0]);
            v.place.parts = listParts(*report.project, *own.result, weakest[0]);
        }
        v.detail += measured ? "" : " (limits are starting values)";
        verdicts.push_back(std::move(v));
    }
}

} // namespace ivrant::verdict
