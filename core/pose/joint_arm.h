// SPDX-License-Identifier: GPL-3.0-or-later
// What does turning a joint against gravity ask for, at every value of the joint at once?
//
// The carried side turns as one about a fixed axis a through p: with r the way to its centre of mass and F its weight,
// the torque against growing values is C·cos φ + S·sin φ for a turn φ from where it stands, C = −a·(r × F), S = −a·((a
// × r) × F): one cosine. Source: moment of a force about an axis (Meriam and Kraige, Statics, ch. 2);
// docs/derivations/drive.md. Degrees, N·mm.
#pragma once

#include "core/pose/kinematics.h"

namespace ivrant::pose {

struct GravityArm {
    double nmm = 0;       ///< largest torque over a full turn
    double offsetDeg = 0; ///< torque against growing values at value v: nmm·cos(v + offset)
};

/// None for joints that are not one turn (balls), and for what no joint carries. What stands on the ground on the
/// carried side is not looked at: it hangs freely. O(parts carried).
[[nodiscard]] std::optional<GravityArm> calcGravityArm(const model::Placed& placed, const model::SectionTree& tree,
                                                       int joint);

} // namespace ivrant::pose
