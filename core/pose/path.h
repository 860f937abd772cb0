// SPDX-License-Identifier: GPL-3.0-or-later
// Can the figure go from one pose to another without parts running into each other, and if not straight, how else?
//
// Straight: all values change evenly, tested so densely that nothing moves further than kPathScanMm between two tests,
// so that a contact deeper than that plus the tolerance cannot be missed; a joint that turns endlessly may go the other
// way round. Detour: two trees of random poses grow from both ends towards each other (RRT-Connect: Kuffner and LaValle
// 2000), then the way is shortened by straight cuts and tested again as a whole. The seed is fixed: the same question
// gives the same way.
#pragma once

#include "core/base/progress.h"
#include "core/pose/solve.h"

namespace ivrant::pose {

inline constexpr double kPathScanMm = 0.5;

struct PathCheck {
    bool free = false;
    double freeShare = 0;                                   ///< of the straight way, up to the first contact
    std::optional<std::pair<SolidRef, SolidRef>> blockedBy; ///< what meets there
    std::optional<int> limitOf; ///< else the joint that comes to its own limit there, by index
    JointValues to;             ///< where it goes: as asked, or with endless joints the other way round
    std::vector<int> otherWay;  ///< joints that go the other way round
};

struct Detour {
    std::vector<JointValues> through; ///< from, …, to; every leg is straight and free
    int tried = 0;                    ///< poses looked at
};

[[nodiscard]] PathCheck calcPath(const PoseChecker& checker, const JointValues& from, const JointValues& to);

/// Errors "path.end" (one of the ends collides: no way can begin or end there), "path.none" (none found within `most`
/// poses), "path.stopped".
base::Result<Detour> calcDetour(const PoseChecker& checker, const JointValues& from, const JointValues& to,
                                int most = 4000, const base::Progress* progress = nullptr);

} // namespace ivrant::pose
