// SPDX-License-Identifier: GPL-3.0-or-later
// Do the rings of a figure close, and how do their joints follow when one of them moves?
//
// A joint that closes a ring (a hand holding what the other hand carries) is a constraint: its two ports must meet as
// the joint allows. How far a pose misses that is its gap: the rest of the way and of the turn after the closing joint
// itself has taken its best values. Closing: damped least squares over the other joints (core/pose/solve.h). Range in a
// ring: the joint is moved on and the others follow on their branch (core/pose/loops.h); it ends at a dead point, at
// the limit of any joint or where something runs into something, looked at every 2° and bisected. A stop narrower than
// that can be missed. Rings that leave something free (two arms of balls) are followed by least squares, 180° either
// way. Formulas and checks: docs/derivations/rings.md, docs/derivations/loops.md.
#pragma once

#include <map>

#include "core/model/edits.h"
#include "core/pose/loops.h"
#include "core/pose/solve.h"

namespace ivrant::pose {

inline constexpr double kRingGapMm = 0.05; ///< up to here two ports meet (docs/parts.md)
inline constexpr double kRingTurnDeg = 0.5;

struct RingGap {
    int joint = 0;              ///< the closing one
    double gapMm = 0;           ///< that its ports are apart
    double turnDeg = 0;         ///< that they are turned against each other, beyond what the joint allows
    std::vector<double> values; ///< of the closing joint, nearest to closing
    [[nodiscard]] bool isClosed() const { return gapMm <= kRingGapMm && turnDeg <= kRingTurnDeg; }
};

/// One entry for each closing joint of the tree, for sections placed by `kinematics`.
[[nodiscard]] std::vector<RingGap> calcRingGaps(const Kinematics& kinematics, const std::vector<geometry::Frame>& X_WS);
[[nodiscard]] std::vector<RingGap> calcRingGaps(const Kinematics& kinematics, const JointValues& values);

struct Closed {
    JointValues values;  ///< closing joints included
    bool closed = false; ///< all rings
    double gapMm = 0, turnDeg = 0;
};

/// Closes all rings from the given values, leaving the freedoms in `kept` as they are; other joints than those of rings
/// keep their values. Limits are the checker's. Without rings: the values as they are. Some ms a ring.
[[nodiscard]] Closed calcClosed(const PoseChecker& checker, const JointValues& values,
                                const std::vector<FreedomRef>& kept = {});

/// The project with all its rings closed from the present values; joints in `kept` stay as they are. `result`: what is
/// left open. Error "ring.none": there is no ring.
[[nodiscard]] base::Result<model::Project> closeRings(const model::Project& project,
                                                      const std::vector<model::JointId>& kept, Closed& result);

/// Range of a freedom whose joint lies in a ring, carrying or closing it; the ring is closed at `range.value` if it can
/// be. Fills free, low, high.
void calcRingRange(const RangeContext& context, const JointValues& values, FreedomRange& range,
                   const base::Progress* progress = nullptr);

/// Sets joint values; where one of the joints lies in a ring, the others of the ring follow, on their branch when it
/// alone is set. Error "ring.open" when a
/// ring that closed before could not close any more: it says which and by how much.
[[nodiscard]] base::Result<model::Project> poseJoints(const model::Project& project,
                                                      const std::map<model::JointId, std::vector<double>>& values);

} // namespace ivrant::pose
