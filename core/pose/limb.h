// SPDX-License-Identifier: GPL-3.0-or-later
// What follows when a point of a figure is pulled somewhere?
//
// The joints between that point and what stands on the ground give way, the nearest first. Other feet on the ground
// stay as they are, and their legs give way too: a foot is an end of the figure that touches the ground. Rings that
// move stay closed.
#pragma once

#include "core/pose/rings.h"

namespace ivrant::pose {

inline constexpr std::size_t kMostLimbJoints = 8; ///< on each way, nearest first
inline constexpr double kFootWeight = 4;          ///< a foot on the ground is held more firmly than the hand follows

/// Request for calcSolution whose first goal is the point (in the world of `placed`, as the figure stands) where it is
/// now; the caller moves its target. No freedoms: nothing can follow, as the section stands on the ground itself or no
/// joint moves it. O(parts).
[[nodiscard]] SolveRequest makeLimbRequest(const PoseChecker& checker, const JointValues& values,
                                           const model::Placed& placed, const model::Stance& stance, int section,
                                           const geometry::Vec3& point);

} // namespace ivrant::pose
