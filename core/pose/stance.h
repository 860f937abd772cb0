// SPDX-License-Identifier: GPL-3.0-or-later
// How does a posed figure stand in the world?
//
// Flat: the named section upright (its z up), its lowest point on the ground z = 0, sideways at its own stored place:
// in every pose that stands on it, it stands at the same spot. Settle: the rigid whole rests on the stable face of its
// hull whose downward normal is nearest to the wished up direction. Held: the named root section where the file puts
// it.
#pragma once

#include "core/pose/kinematics.h"

namespace ivrant::pose {

/// Moves a placed figure as a rigid whole to how it stands. O(parts). Settle: of stable faces that agree
/// with the wish alike, the one whose up has the larger z, then x, then y.
void applyStance(model::Placed& placed, const model::Stance& stance);

/// How the present joint values stand: as the first pose does, else the first root section flat on the ground.
[[nodiscard]] model::Stance getDefaultStance(const model::Project& project, const model::SectionTree& tree);

/// Corner points of all solids (round ones by 48 points a rim, spheres by 92) in the world.
[[nodiscard]] std::vector<geometry::Vec3> listCorners(const model::Placed& placed,
                                                      std::optional<int> onlySection = std::nullopt);

/// The same of those solids alone that come as low as `height` mm above the ground z = 0: all that may touch it.
[[nodiscard]] std::vector<geometry::Vec3> listGroundCorners(const model::Placed& placed, double height);

/// The corners that can be corners of the whole's convex hull: all but those between others in a row, and those of
/// parts inside. World, mm. O(solids).
[[nodiscard]] std::vector<geometry::Vec3> listHullCorners(const model::Placed& placed);

/// Up directions (in the frame of `placed`) for which the figure rests stably on a face of its hull.
[[nodiscard]] std::vector<geometry::Vec3> calcStableUps(const std::vector<geometry::Vec3>& corners,
                                                        const geometry::Vec3& centre);

} // namespace ivrant::pose
