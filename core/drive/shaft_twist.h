// SPDX-License-Identifier: GPL-3.0-or-later
// By what torque is each axle twisted?
//
// A torque twists an axle between the place where it comes in and the place where it leaves: the sum of all torques on
// one side of a cut. An idler's axle carries none, both its meshes are on one wheel; neither does what turns without an
// axle. N·mm; cost O(relations).
#pragma once

#include <vector>

#include "core/drive/drive_net.h"

namespace ivrant::drive {

/// A torque from outside on a rotor. Where it comes in: mm from the shaft's start; none: at whichever end is worse.
struct OuterTorque {
    int rotor = 0;
    double nmm = 0;
    std::optional<double> alongMm;
};

/// Largest torque in each rotor's axle, by rotor; 0 for what is no shaft. `load`: of the net's train, or of one with
/// more relations after the net's own, which are not looked at.
[[nodiscard]] std::vector<double> calcTwists(const DriveNet& net, const LoadResult& load,
                                             const std::vector<OuterTorque>& outer);

} // namespace ivrant::drive
