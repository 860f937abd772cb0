// SPDX-License-Identifier: GPL-3.0-or-later
// Which holding torque does a lever test show?
//
// The joint is held with its axis level and a bar (or the model's own arm) level to one side; weights are hung on at a
// distance until the joint slips. Torque = g·(W·d + m·c), m and c the arm's own mass and the distance of its centre
// from the axis. Source: moment about the axis (Meriam and Kraige, Statics, ch. 2). g, mm, N, N·mm.
#pragma once

#include "core/base/result.h"

namespace ivrant::trials {

struct Lever {
    double distanceMm = 0;  ///< from the axis to the weight, > 0
    double armG = 0;        ///< the arm's own mass, ≥ 0
    double armCentreMm = 0; ///< distance of its centre from the axis; negative on the other side
};

/// Torque at which it slipped with `weightG` hung on. Errors "lever.distance", "lever.weight" (negative or not finite),
/// "lever.arm", "lever.lost" (no torque is left: the arm outweighs the weight).
base::Result<double> calcLeverTorque(const Lever& lever, double weightG);
/// The same from the force of a scale that pulls at the distance, square to the arm.
base::Result<double> calcLeverTorqueFromForce(const Lever& lever, double forceN);
/// A weight to begin with: a third of what the starting value would bear at that distance.
[[nodiscard]] double calcFirstWeightG(const Lever& lever, double expectedNmm);

} // namespace ivrant::trials
