// SPDX-License-Identifier: GPL-3.0-or-later
// Do parts that are meant to turn past each other really pass, how narrowly, and how far may they be off?
//
// The gap between what a joint carries and everything else is followed over the whole turn. Between two angles it
// changes by at most (largest radius of the moving parts) × (angle), so that intervals that cannot hold the smallest
// gap are never looked into (Lipschitz branch and bound; Piyavskii 1972). Solids of the joint's own two ports do not
// count. mm, degrees.
#pragma once

#include "core/base/progress.h"
#include "core/pose/range.h"

namespace ivrant::pose {

struct TurnClearance {
    double gapMm = 0;       ///< smallest over the turn; 0: they touch or run into each other
    double atDeg = 0;       ///< where
    SolidRef moving, fixed; ///< the two nearest there
    bool passes = false;    ///< nothing is deeper in each other than the tolerance anywhere on the way
    std::vector<std::pair<double, double>> profile; ///< angle, gap: for drawing, every 2.5°
};

/// One full turn (or the own limits of a joint that has some) of a turning freedom from the given values; within 0.005
/// mm. Error "clearance.turn": the freedom does not turn; "clearance.alone": nothing else is there.
base::Result<TurnClearance> calcTurnClearance(const RangeContext& context, const JointValues& values,
                                              FreedomRef freedom, const base::Progress* progress = nullptr);

struct Misalignment {
    double lowDeg = 0, highDeg = 0; ///< the other joint may stand off its value by so much and the turn still passes
    bool endless = false;           ///< it never matters
};
/// How far another joint (a neighbouring layer, a lid) may be off its value so that the turn still passes, to 0.05°;
/// looked at up to ±`mostDeg` in steps of 1°. Same errors.
base::Result<Misalignment> calcMisalignment(const RangeContext& context, const JointValues& values, FreedomRef turning,
                                            FreedomRef other, double mostDeg = 45,
                                            const base::Progress* progress = nullptr);

/// How far the turning side may be moved off its axis, in the worst direction across it, and still pass: equal to the
/// smallest gap measured across the axis. mm.
[[nodiscard]] base::Result<double> calcOffAxisPlay(const RangeContext& context, const JointValues& values,
                                                   FreedomRef turning, double mostMm = 4);

} // namespace ivrant::pose
