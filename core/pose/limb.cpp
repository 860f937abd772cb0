// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/pose/limb.h"

#include <algorithm>

#include "core/base/at.h"
#include "core/pose/stance.h"

namespace ivrant::pose {
namespace {

/// Ends of the figure that touch the ground.
std::vector<int> listFeet(const model::Placed& placed, const model::SectionTree& tree) {
    std::vector<int> feet;
    for (int section = 0; section < static_cast<int>(placed.X_WS.size()); ++section) {
        const auto ends = [&](const model::PartSpot& spot) { return spot.section == section; };
        if (std::count_if(tree.from.begin(), tree.from.end(), ends) +
                std::count_if(tree.to.begin(), tree.to.end(), ends) >
            1)
            continue;
        const auto corners = listCorners(placed, section);
        if (std::any_of(corners.begin(), corners.end(), [](const auto& c) { return c.z() <= model::kGroundContactMm; }))
            feet.push_back(section);
    }
    return feet;
}

void addRings(const PoseChecker& checker, SolveRequest& request) {
    const auto& tree = checker.kinematics().tree();
    for (const int closing : tree.closing) {
        const auto ring = tree.ringOf(closing);
        const bool moves = std::any_of(request.freedoms.begin(), request.freedoms.end(), [&](const FreedomRef& f) {
            return std::find(ring.begin(), ring.end(), f.joint) != ring.end();
        });
        for (const int j : moves ? ring : std::vector<int>{}) addFreedoms(checker, j, request);
    }
}

} // namespace

SolveRequest makeLimbRequest(const PoseChecker& checker, const JointValues& values, const model::Placed& placed,
                             const model::Stance& stance, int section, const geometry::Vec3& point) {
    const auto& tree = checker.kinematics().tree();
    SolveRequest request;
    request.values = values;
    request.grounded = stance.kind == model::Stance::Kind::Settle ? -1 : placed.project->findSection(stance.section);
    if (request.grounded == section) return request; // what stands on the ground stays
    if (request.grounded >= 0) request.X_WGround = at(placed.X_WS, request.grounded);
    addFreedomsTo(checker, section, request.grounded, kMostLimbJoints, request);
    request.goals.push_back({section, at(placed.X_WS, section).inverse() * point, point, std::nullopt, 1});
    for (const int foot : request.grounded >= 0 ? listFeet(placed, tree) : std::vector<int>{}) {
        if (foot == request.grounded || foot == section || tree.rootOf(foot) != tree.rootOf(section)) continue;
        const auto& X = at(placed.X_WS, foot);
        request.goals.push_back({foot, geometry::Vec3::Zero(), X.translation(), X.linear(), kFootWeight});
        addFreedomsTo(checker, foot, request.grounded, kMostLimbJoints, request);
    }
    addRings(checker, request);
    return request;
}

} // namespace ivrant::pose
