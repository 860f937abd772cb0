// SPDX-License-Identifier: GPL-3.0-or-later
// What does a run of joints do together: a tail, a neck, a finger?
//
// Total bend, tightest radius, play at the tip, and what happens when joints give way one after another.
// - Bend of a joint: its turn, or a ball's tilt about the axis asked for. Total bend each way: all bends moved together
//   towards their free ends until something meets (proven free on the way by the pose checker's pairs, tested densely).
// - Radius: of the circle through three successive joint centres, the smallest of the bent chain (circumscribed circle,
//   R = abc / 4A; for equal links L and bend θ it is L / (2 sin(θ/2))).
// - Play at the tip = Σ lever × play, the lever from the joint's axis (ball: its centre) to the tip. Source: linear
//   stack-up, worst case (Fischer, Mechanical Tolerance Stackup and Analysis, ch. 7).
// mm and degrees.
#pragma once

#include "core/base/progress.h"
#include "core/pose/checker.h"
#include "core/pose/hold.h"

namespace ivrant::pose {

/// A run of joints, root first: each carries the section on which the next stands.
struct Chain {
    std::vector<FreedomRef> bends; ///< one bending freedom of each joint
    int tipSection = 0;
    geometry::Vec3 tip = geometry::Vec3::Zero(); ///< the point looked at, in the tip's section
};

/// The run between two joints (either order), bending about the freedom that balls share with hinges (s2). The tip is
/// the farthest corner of what the last joint carries. Error "chain.run" when neither joint is carried by the other.
base::Result<Chain> makeChain(const RangeContext& context, const JointValues& values, int firstJoint, int lastJoint);

struct BendLimit {
    double totalDeg = 0;     ///< Σ of all bends reached together, counted from straight (0)
    double singleSumDeg = 0; ///< Σ of the joints' own free ends: never exceeded
    JointValues values;      ///< the pose reached
    double radiusMm = 0;     ///< tightest circle through three successive joint centres; 0 with fewer than 3
    std::optional<SolidRef> moving, fixed; ///< what met before all were at their ends
};

struct TipPlay {
    int joint = 0;
    double leverMm = 0;
    double playMm = 0; ///< ±
};

struct ChainStudy {
    BendLimit low, high;       ///< all bends towards their low and their high ends
    std::vector<TipPlay> play; ///< per joint, root first
    double tipPlayMm = 0;      ///< ± Σ
    double lengthMm = 0;       ///< through the joint centres to the tip
};

/// Play and length alone: without looking at poses. O(joints).
[[nodiscard]] ChainStudy calcPlay(const RangeContext& context, const JointValues& values, const Chain& chain);

/// Total bend both ways, radius and play, from these values. About a hundred pose checks.
[[nodiscard]] ChainStudy calcChain(const RangeContext& context, const JointValues& values, const Chain& chain,
                                   const base::Progress* progress = nullptr);

struct SagStep {
    int joint = 0;
    double margin = 0; ///< before it gave way
    double fromDeg = 0, toDeg = 0;
    bool stopped = false; ///< it ended at its limit or against something, not because it held again
    double tipDropMm = 0; ///< how much lower the tip is after this step
};

struct SagStudy {
    std::vector<SagStep> steps; ///< in the order in which joints give way
    JointValues values;         ///< where everything comes to rest
    double tipDropMm = 0;
    bool settled = true; ///< false: still moving after the most steps looked at
};

/// Joints whose margin is below 1 turn the way their load pulls, the least margin first, until they hold or are
/// stopped. Hinges only; balls sink about the axis of their torque. The figure stands as `stance` says. `strengths` per
/// joint.
[[nodiscard]] SagStudy calcSag(const RangeContext& context, const JointValues& values, const Chain& chain,
                               const model::Stance& stance, const model::JointStrengths& strengths);

struct FirmAdvice {
    int joint = 0;
    double dropWithoutMm = 0; ///< drop of the tip when this joint (and those before it in the list) cannot give way
};
/// Which joints to make firm first: greedily the one that leaves the least drop, until nothing sags. Empty when nothing
/// does.
[[nodiscard]] std::vector<FirmAdvice> calcFirmFirst(const RangeContext& context, const JointValues& values,
                                                    const Chain& chain, const model::Stance& stance,
                                                    const model::JointStrengths& strengths);

/// Radius of the circle through three points; infinity when they lie on a line.
[[nodiscard]] double calcCircleRadius(const geometry::Vec3& a, const geometry::Vec3& b, const geometry::Vec3& c);

} // namespace ivrant::pose
