// SPDX-License-Identifier: GPL-3.0-or-later
// How far may a part turn before a string or wire that crosses it is tight or twisted too much?
//
// Two guides at radius r from the axis and g apart along it face each other at the start. At angle θ they are √(g² +
// (2r·sin θ/2)²) apart; when that is g and the slack together, the strand is tight. Beyond half a turn it would wind
// round what lies in the middle. Through the middle (r = 0) only twist counts. Source: chord of a circle;
// docs/derivations/drive.md. mm, degrees.
#pragma once

#include "core/model/board.h"

namespace ivrant::drive {

/// Twist that a wire or string through the middle stands. Starting value, not measured.
inline constexpr double kMostTwistDeg = 360;

/// Largest angle (deg, ≥ 0) it can be turned either way from the start. Lengths ≥ 0.
[[nodiscard]] double calcStrandTurnDeg(const model::Strand& strand);

} // namespace ivrant::drive
