// SPDX-License-Identifier: GPL-3.0-or-later
// Does a standing figure tip over, and how far is it from tipping?
//
// Support polygon: convex hull of all points that touch the ground (within 0.05 mm) and of the feet of the base's posts
// that it lies on. Tip angle towards an edge: atan(d / h), d the distance of the plumb line to the edge (negative
// outside), h the height of the centre of gravity. Source: statics; docs/derivations/tipping.md. mm, degrees.
#pragma once

#include <optional>
#include <vector>

#include "core/model/mass.h"

namespace ivrant::stand {

struct Tipping {
    std::vector<Eigen::Vector2d> support; ///< counter-clockwise; fewer than 3 points: stands on a line or a point
    double massG = 0;
    geometry::Vec3 centre = geometry::Vec3::Zero();
    double angleDeg = 0;      ///< smallest over all directions; negative: falls by itself
    double towardDeg = 0;     ///< direction of that fall, from +x towards +y
    double belowGroundMm = 0; ///< how far the lowest point is below the ground
};

/// `groundCorners`: corner points of all solids in the world, the ground being z = 0. None when nothing has mass.
[[nodiscard]] std::optional<Tipping> calcTipping(const model::Placed& placed,
                                                 const std::vector<geometry::Vec3>& groundCorners);
/// The same without one of the project's supports (by index).
[[nodiscard]] std::optional<Tipping>
calcTippingWithout(const model::Placed& placed, const std::vector<geometry::Vec3>& groundCorners, std::size_t support);

/// Tip angle in one direction (deg from +x), with the same support and centre.
[[nodiscard]] double calcTipAngleToward(const Tipping& tipping, double directionDeg);

/// Force (N) across at a height (mm, > 0) that tips it in that direction: W·d/z; negative where it falls by itself.
[[nodiscard]] double calcTipPushN(const Tipping& tipping, double directionDeg, double heightMm);
/// Height of the highest point above the ground (mm); 0 when there is nothing. O(solids).
[[nodiscard]] double calcTopMm(const model::Placed& placed);

/// What a section does to the balance.
struct SectionWeight {
    int section = 0;
    double massG = 0;
    geometry::Vec3 centre = geometry::Vec3::Zero(); ///< world
    double holdsNmm =
        0; ///< moment about the edge that it tips over first: above 0 it holds the model back, below it pulls it over
};
/// Of all sections that have weight, in their order. The moments sum up to weight times the plumb line's distance from
/// that edge.
[[nodiscard]] std::vector<SectionWeight> listSectionWeights(const model::Placed& placed, const Tipping& tipping);

} // namespace ivrant::stand
