// SPDX-License-Identifier: GPL-3.0-or-later
// What can each joint of a project be counted on to hold?
//
// The nearest measurement counts: of this joint, else of its kind in this project, else of its kind in the workshop's
// library; without any the starting value, for holding × kUnmeasuredFactor. Series of one scope are pooled. N·mm, N.
#pragma once

#include "core/model/project.h"
#include "core/model/strength.h"
#include "core/trials/statistics.h"

namespace ivrant::trials {

/// How much of an unmeasured holding torque is counted on.
inline constexpr double kUnmeasuredFactor = 0.6;

/// Strength of a joint of `kind`; with `joint` its own measurements count first. O(readings).
[[nodiscard]] model::JointStrength calcStrength(const model::Project& project, const parts::JointKind& kind,
                                                const model::JointId* joint = nullptr);
[[nodiscard]] model::JointStrengths calcStrengths(const model::Project& project);
/// Force at which one stud lets go along its axis (N).
[[nodiscard]] model::Capacity calcStudPull(const model::Project& project);
/// Force at which one stud lets go across it (N); without tests kStudShearN.
[[nodiscard]] model::Capacity calcStudShear(const model::Project& project);
inline constexpr double kStudShearN = 3; ///< starting value

} // namespace ivrant::trials
