// SPDX-License-Identifier: GPL-3.0-or-later
// What does a function's load ask over its travel, where is it hardest, and how long does the travel take?
//
// Torque N·mm at the function's own shaft (N·mm-like on a rack: force N times 1 mm for each mm), angles in degrees,
// positive against the motion in the sense of the travel; negative: it pushes. Weights by standard gravity.
// Derivations: docs/derivations/drive.md.
#pragma once

#include <functional>
#include <memory>
#include <vector>

#include "core/model/board.h"

namespace ivrant::drive {

/// What a joint of the model asks for as a function of its value v (degrees): `nmm`·cos(v + `offsetDeg`), positive
/// against growing values. Handed in by who knows the poses.
struct JointArm {
    double nmm = 0;
    double offsetDeg = 0;
};
/// What a joint that lies on loops asks for, place by place: weights of all that is carried along, and friction in all
/// joints that turn with it. Handed in like an arm.
struct LoadCurve {
    std::vector<double> at;      ///< values of the joint, ascending, at least 2; degrees
    std::vector<double> nmm;     ///< against growing values
    std::vector<double> rubbing; ///< against either way
    bool round = false;          ///< it goes on all round: `at` is a whole turn
};

/// A function with what its joint asks. Other loads stay as they are.
struct LoadedFunction : model::DriveFunction {
    LoadedFunction() = default;
    LoadedFunction(model::DriveFunction function) : model::DriveFunction(std::move(function)) {} // NOLINT: is one
    std::shared_ptr<const LoadCurve> curve;                                                      ///< null: none
};
/// The same function with its joint's load written as an arm or a curve; without either nothing is asked.
[[nodiscard]] LoadedFunction resolveLoad(model::DriveFunction function, const JointArm* arm,
                                         std::shared_ptr<const LoadCurve> curve = nullptr);

/// The same function of something that moves along a line: a weight or a slope pulls with its whole force, whatever
/// radius is written; an arm is a weight.
[[nodiscard]] LoadedFunction makeStraight(LoadedFunction function);

/// Torque against the motion at `done` of the travel (degrees or mm from its start). Lift: m·g·r; arm: m·g·r·cos(angle
/// above level); slope: m·g·r·(sin α + kRolling·cos α); band: r·(F + rate·stretch), the stretch being the way of its
/// end. With radius 0 a band pulls straight, as on a rack.
/// Curves are interpolated; beyond their ends they stay as they are there.
[[nodiscard]] double calcLoadNmm(const LoadedFunction& function, double done);

struct Hardest {
    double nmm = 0;   ///< largest torque against the motion over the travel; at least 0
    double at = 0;    ///< degrees (mm) from the start of the travel
    double least = 0; ///< the smallest, which may push
};
/// Exact for all kinds of load (joints resolved; curves at their own places); endless functions are looked at over a
/// full turn.
[[nodiscard]] Hardest calcHardest(const LoadedFunction& function);

/// Seconds for the travel when the function runs at `speed(torque)` (degrees or mm a second) at each torque. None when
/// it stops on the way or has no travel. Simpson's rule on 200 pieces.
[[nodiscard]] std::optional<double> calcTravelS(const LoadedFunction& function,
                                                const std::function<double(double nmm)>& speed);

} // namespace ivrant::drive
