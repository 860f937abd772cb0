// What does a function's load ask over its travel, where is it hardest, and how long does the travel take?
//
// Torque N·mm at the function's own shaft (N·mm-like on a rack: force N times 1 mm for each mm), angles in degrees, positive against the motion in
// the sense of the travel; negative: it pushes. Weights by standard gravity.
#pragma once

#include <functional>

#include "core/model/board.h"

namespace ivrant::drive {

/// Torque against the motion at `done` of the travel (degrees or mm from its start). Lift: m·g·r; arm: m·g·r·cos(angle above level).
[[nodiscard]] double calcLoadNmm(const model::DriveFunction& function, double done);

struct Hardest {
    double nmm = 0;   ///< largest torque against the motion over the travel; at least 0
    double at = 0;    ///< degrees (mm) from the start of the travel
    double least = 0; ///< the smallest, which may push
};
/// Exact for all kinds of load; endless functions are looked at over a full turn.
[[nodiscard]] Hardest calcHardest(const model::DriveFunction& function);

/// Seconds for the travel when the function runs at `speed(torque)` (degrees or mm a second) at each torque. None when it stops on the way or has no
/// travel. Simpson's rule on 200 pieces.
[[nodiscard]] std::optional<double> calcTravelS(const model::DriveFunction& function, const std::function<double(double nmm)>& speed);

} // namespace ivrant::drive
