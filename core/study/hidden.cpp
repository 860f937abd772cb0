// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/study/hidden.h"

#include <algorithm>
#include <map>
#include <set>

#include "core/stand/sight.h"
#include "core/study/facts.h"

namespace ivrant::study {
namespace {

using stand::Look;

/// The colour that most of them have; the smaller index of two that are as many.
int findCommonColour(const model::Project& project, const std::vector<model::PartSpot>& parts) {
    std::map<int, int> counts;
    for (const model::PartSpot spot : parts) ++counts[getPart(project, spot).colour];
    return std::max_element(counts.begin(), counts.end(),
                            [](const auto& l, const auto& r) { return l.second < r.second; })
        ->first;
}

/// Parts that a joint holds on to.
std::set<model::PartId> listJointParts(const model::Project& project) {
    std::set<model::PartId> parts;
    for (const model::Joint& joint : project.joints) parts.insert({joint.from.part, joint.to.part});
    return parts;
}

} // namespace

base::Result<Hidden> calcHidden(const Facts& facts, base::Progress* progress) {
    const model::Project& project = *facts.project;
    stand::Sight sight;
    std::map<model::PartSpot, int> showing; // and the colour around
    const auto ofJoints = listJointParts(project);
    Hidden hidden;
    for (const PoseFacts& pose : facts.poses) {
        auto seen = stand::calcSight(pose.placed, sight.look, progress);
        if (!seen) return seen.error();
        sight = std::move(seen).value();
        hidden.rays += sight.rays;
        for (const stand::Peek& peek : sight.peeks) {
            const auto hasItsColour = [&](model::PartSpot other) {
                return getPart(project, other).colour == getPart(project, peek.part).colour;
            };
            if (!peek.around.empty() && ofJoints.count(getPart(project, peek.part).id) == 0 &&
                std::none_of(peek.around.begin(), peek.around.end(), hasItsColour))
                showing.emplace(peek.part, findCommonColour(project, peek.around));
        }
    }
    for (std::size_t s = 0; s < sight.look.size(); ++s)
        for (std::size_t p = 0; p < sight.look[s].size(); ++p) {
            const model::PartSpot spot{static_cast<int>(s), static_cast<int>(p)};
            if (const auto found = showing.find(spot); found != showing.end() && sight.look[s][p] == Look::Glimpse)
                hidden.showing.push_back({spot, found->second});
            if (sight.look[s][p] != Look::Never) continue;
            hidden.parts.push_back(spot);
            hidden.massG += getPart(project, spot).massG();
        }
    return hidden;
}

base::Result<Hidden> getHidden(const Facts& facts) {
    if (facts.hidden) return *facts.hidden;
    return calcHidden(facts);
}

} // namespace ivrant::study
