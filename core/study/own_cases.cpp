// SPDX-License-Identifier: GPL-3.0-or-later
// Cases of the builder's own: what each comes to. Part of stand_cases.h.
#include "core/study/stand_cases.h"

namespace ivrant::study {

std::vector<OwnCaseFacts> calcOwnCases(const Facts& facts, const base::Progress* progress) {
    std::vector<OwnCaseFacts> results;
    for (const model::OwnCase& own : facts.project->cases) {
        OwnCaseFacts result;
        result.id = own.id;
        const PoseFacts& pose = findPoseOf(facts, own);
        const auto made = makeOwnCase(facts, pose, own);
        if (!made) {
            result.problem = made.error().message;
        } else {
            stand::EquilibriumRequest request;
            request.use = false;
            request.progress = progress;
            auto solved = calcStandCase(facts, pose, *made, request);
            if (solved)
                result.result = std::make_shared<const stand::CaseResult>(std::move(solved).value());
            else
                result.problem = solved.error().message;
        }
        results.push_back(std::move(result));
    }
    return results;
}

} // namespace ivrant::study
