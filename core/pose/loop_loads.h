// SPDX-License-Identifier: GPL-3.0-or-later
// What must the joints of a ring hold together?
//
// A ring that leaves nothing free moves as one: it holds when the friction in all its joints together outweighs what
// gravity and the ground do, in virtual work for one radian of any of its joints: |Σ F·v + M·ω| ≤ Σ τ |q̇|. A ring that
// cannot move holds by itself. So every joint of it has the same margin, and one finding stands for all. Source:
// virtual work (Meriam and Kraige, Statics, ch. 7); docs/derivations/loops.md. World frame, N·mm.
#pragma once

#include "core/pose/hold.h"
#include "core/pose/loops.h"

namespace ivrant::pose {

/// Velocity of each section for one radian (mm) of the driver, [ω; v at the world's origin], with `ground` at rest.
[[nodiscard]] std::vector<Screw> calcSpeeds(const Kinematics& kinematics, const model::Placed& placed,
                                            const LoopPlace& place, int ground);
/// How fast the two halves of a joint turn against each other, for these rates of its freedoms.
[[nodiscard]] double calcTurnSpeed(const parts::JointKind& kind, const std::vector<double>& rates);
/// The section that stays: what it stands on, else the root of the joint's group.
[[nodiscard]] int findGround(const model::Project& project, const model::SectionTree& tree, const model::Stance& stance,
                             int joint);

/// Puts what their ring needs and has in the place of the loads of joints in rings that leave nothing free; others stay
/// as those of the opened ring. `placed` of these values, as it stands. Some 10 µs a joint in a ring.
void applyLoops(std::vector<JointLoad>& loads, const model::Placed& placed, const model::SectionTree& tree,
                const JointValues& values, const model::Stance& stance, const model::JointStrengths& strengths,
                const GroundForces& ground);

} // namespace ivrant::pose
