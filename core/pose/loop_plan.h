// SPDX-License-Identifier: GPL-3.0-or-later
// In which order are the loops of a linkage closed when one joint is driven?
//
// Clusters are sections that stand still against each other while the driver is held; both sides of the driver are one,
// and so are those of joints that lie on no loop with it. A cycle through joints of unknown value is a block when its
// screws have full rank: then it is solved by itself, its sections join one cluster, and so on. Where no single cycle
// has full rank, cycles that share unknowns are taken together. What can still move is idle and named. Which joint the
// file lets close a ring does not matter. Source: Nikravesh, Computer-Aided Analysis of Mechanical Systems, ch. 3 (loop
// equations); docs/derivations/loops.md. Screws are [ω; v] with v at the cycle's own reference point, seen from the
// section where the cycle begins; rad and mm.
#pragma once

#include "core/pose/range.h"

namespace ivrant::pose {

using Screw = Eigen::Matrix<double, 6, 1>;

/// Rotations count as the way at this distance (mm), so that turns and gaps can be compared.
inline constexpr double kLoopArmMm = 40;

struct LoopHop {
    int joint = 0;
    bool forward = true; ///< from the joint's carrying port to the carried one
};
struct LoopCycle {
    std::vector<LoopHop> hops;                      ///< from its first section round to it again
    int section = 0;                                ///< where it begins
    geometry::Vec3 centre = geometry::Vec3::Zero(); ///< reference point, in that section
};
struct LoopBlock {
    std::vector<LoopCycle> cycles;
    std::vector<FreedomRef> unknown;
    bool loose = false; ///< it can still move while the driver is held: solved by the smallest step
};
struct LoopPlan {
    FreedomRef driver;
    std::vector<LoopBlock> blocks; ///< in the order of solving
    std::vector<int> moved;        ///< joints that lie on loops with the driver, the driver first
    std::vector<FreedomRef> idle;  ///< free to move while the driver is held, and seen doing so
    std::vector<FreedomRef> spins; ///< idle too, but only turning a link about its own line
    std::vector<FreedomRef> stiff; ///< stepped hinges within loops: they keep their step
    /// Every place of the driver is one place of all: nothing moves by itself.
    [[nodiscard]] bool leavesNothingFree() const;
};

/// One screw of a cycle: what a freedom's change moves the end of the cycle by, with the sign of its hop.
struct LoopTerm {
    FreedomRef freedom;
    Screw screw = Screw::Zero();
    enum class Base {
        Own,
        Group,
        GroupEnd
    } base = Base::Own; ///< balls: three that move at once, seen from before or after
};
struct LoopTerms {
    std::vector<LoopTerm> terms;
    geometry::Frame round = geometry::Frame::Identity(); ///< all the way round; identity when it closes
};
/// A cycle evaluated for these values. O(hops).
void evaluateCycle(const Kinematics& kinematics, const LoopCycle& cycle, const JointValues& values, LoopTerms& into);

/// The plan for a driven freedom, made once near `values`. O(joints² · log joints).
[[nodiscard]] LoopPlan planLoops(const Kinematics& kinematics, const JointValues& values, FreedomRef driver);

} // namespace ivrant::pose
