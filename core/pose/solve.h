// SPDX-License-Identifier: GPL-3.0-or-later
// Which joint values bring points or sections where they are wanted?
//
// Damped least squares on the joint values (Levenberg 1944, Marquardt 1963; for joints: Nakamura and Hanafusa 1986):
// residuals are distances of points (mm) and turn errors of sections (mm at kAttitudeArmMm), the values stay within
// their free ranges. Freedoms far from what is moved are stiffer, so that the nearest joints follow first. Stepped
// joints are solved as if smooth, then set on their nearest step while the others make up for it. Rings that hold one
// of the freedoms are kept closed: the rest of their gap (core/pose/rings.h) is a residual as well, kRingWeight times.
// Frames: world, with the grounded section fixed where the given values put it.
#pragma once

#include "core/pose/checker.h"

namespace ivrant::pose {

inline constexpr double kRingWeight = 8;     ///< a ring that opens by 1 mm counts as a point 8 mm away
inline constexpr double kAttitudeArmMm = 40; ///< a turn error counts as much as this arm's end moves

struct Goal {
    int section = 0;
    geometry::Vec3 point = geometry::Vec3::Zero();  ///< in the section, mm
    geometry::Vec3 target = geometry::Vec3::Zero(); ///< in the world, mm
    std::optional<geometry::Mat3> attitude;         ///< wanted attitude of the section in the world
    double weight = 1;
};

struct FreeJoints {
    std::vector<FreedomRef> freedoms; ///< those that may change, nearest to what is moved first
    std::vector<model::Range> limits; ///< one per freedom
};

struct SolveRequest : FreeJoints {
    JointValues values; ///< where to begin
    std::vector<Goal> goals;
    int grounded = -1;                                       ///< section that stays; −1: the roots stay
    geometry::Frame X_WGround = geometry::Frame::Identity(); ///< where the grounded section is
    bool keepSteps = true;                                   ///< stepped joints end on a step
};

struct Solution {
    JointValues values;
    double errorMm = 0;  ///< largest distance of a point from its target
    double errorDeg = 0; ///< largest turn error of a section whose attitude is wanted
    int rounds = 0;
};

/// Best values found; never worse than the beginning. Some 10 µs a freedom and round.
[[nodiscard]] Solution calcSolution(const Kinematics& kinematics, const SolveRequest& request);

/// Adds the freedoms of a joint with their limits from the checker, but those that are there already or in `kept`.
void addFreedoms(const PoseChecker& checker, int joint, FreeJoints& free, const std::vector<FreedomRef>& kept = {});
/// The same for the joints on the way from a section to the grounded one (−1: to its root), nearest to the section
/// first, at most `most` joints.
void addFreedomsTo(const PoseChecker& checker, int section, int grounded, std::size_t most, FreeJoints& free);

/// The farthest share of the straight way between two sets of values that is free, 0 to 1: tested so densely that no
/// section moves more than `scanMm`, then bisected. 1: all free.
[[nodiscard]] double calcFreeShare(const PoseChecker& checker, const JointValues& from, const JointValues& to,
                                   double scanMm = 1.0);

/// Joint values between two sets, t from 0 to 1.
[[nodiscard]] JointValues calcBetween(const JointValues& from, const JointValues& to, double t);

} // namespace ivrant::pose
