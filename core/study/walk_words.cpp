// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/study/walk_words.h"

#include "core/base/units.h"

namespace ivrant::study {

using base::formatNumber;

std::string describeCourse(const WalkStudy& walk) {
    if (!walk.radiusMm) return "straight on";
    return "in a circle of " + formatNumber(*walk.radiusMm, 0) + " mm, " + formatNumber(walk.turnDeg, 1) + "° a turn";
}

std::string describeWalk(const WalkStudy& walk) {
    if (!walk.problem.empty()) return walk.problem;
    return describeCourse(walk) + "; rises and falls by " + formatNumber(walk.riseMm, 1) + " mm, tilts by " +
           formatNumber(walk.mostTiltDeg, 1) + "°; feet slip " + formatNumber(walk.slipMm, 1) +
           " mm a turn; asks at most " + formatNumber(walk.mostTorqueNmm, 1) + " N·mm at " +
           formatNumber(walk.mostTorqueAt, 0) + "° (friction of ground" +
           (walk.frictionMeasured ? ": starting value)" : " and joints: starting values)");
}

} // namespace ivrant::study
