// SPDX-License-Identifier: GPL-3.0-or-later
// Where can a tip get to?
//
// Poses are drawn evenly (Halton sequence) over the free ranges of the joints between the tip and what it hangs on;
// those that collide, or would go through the ground, are dropped. What is left is a cloud of tip positions with its
// pose each; an estimate from below: more samples only add to it.
#pragma once

#include "core/base/progress.h"
#include "core/pose/solve.h"

namespace ivrant::pose {

struct ReachRequest : FreeJoints {
    int section = 0;                             ///< of the tip
    geometry::Vec3 tip = geometry::Vec3::Zero(); ///< in the section
    int samples = 20'000;
    model::Stance stance; ///< flat and held: the named section stays where it stands; settled: the root does
};

struct Reach {
    std::vector<geometry::Vec3> points; ///< in the world, as the figure stands
    std::vector<JointValues> poses;     ///< one per point
    int tried = 0;
    int underGround = 0; ///< dropped for that alone; nothing is when the figure is held
    geometry::Bounds bounds;
    int lowest = -1, highest = -1, farthest = -1; ///< indices of points; farthest from the first freedom's joint centre
};

inline constexpr std::size_t kMostReachJoints = 8;

/// The farthest corner of a section, moved by the joints between it and its root. No freedoms: no joint moves it.
[[nodiscard]] ReachRequest makeReachRequest(const RangeContext& context, const JointValues& values,
                                            const model::Stance& stance, int section);

[[nodiscard]] Reach calcReach(const PoseChecker& checker, const JointValues& values, const ReachRequest& request,
                              base::Progress* progress = nullptr);

/// Element `index` (from 1) of the Halton sequence in a base: evenly spread numbers in (0, 1).
[[nodiscard]] double calcHalton(int index, int base);

} // namespace ivrant::pose
