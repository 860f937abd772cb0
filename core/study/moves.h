// SPDX-License-Identifier: GPL-3.0-or-later
// How near to tipping does a figure come on the way: from each pose to the next, and over the travel of each function
// that turns a joint of the model or a turntable with gear boards on it?
#pragma once

#include <optional>
#include <string>
#include <vector>

#include "core/model/placed.h"
#include "core/stand/ballast.h"

namespace ivrant::study {

struct Facts;

inline constexpr int kMoveSteps =
    24; ///< places looked at between both ends; nothing is known of what lies between them

struct MoveTip {
    std::string key;  ///< "q1-q2", "f3"
    std::string name; ///< "Down to Up", "span lift"
    std::optional<model::PoseId> from, to;
    std::optional<model::JointId> joint; ///< that a function turns
    std::vector<double> anglesDeg;       ///< tip angle at kMoveSteps + 1 places, evenly
    double leastDeg = 0, atShare = 0;    ///< the smallest of them and where, 0 start to 1 end
    double towardDeg = 0;                ///< there
    double endsDeg = 0;                  ///< the smaller of both ends
};

/// The model at one place of a move. `share` 0 start to 1 end. None when it has no weight or touches nothing there, or
/// the move is not of these facts' project.
[[nodiscard]] std::optional<stand::Standing> calcPlaceOnWay(const Facts& facts, const MoveTip& move, double share);

/// All places looked at on the way.
[[nodiscard]] std::vector<stand::Standing> listStandings(const Facts& facts, const MoveTip& move);

/// One move; both poses stand on the same section, else none. All values change evenly.
[[nodiscard]] std::optional<MoveTip> calcMoveTip(const Facts& facts, const model::NamedPose& from,
                                                 const model::NamedPose& to);
/// All poses in their order, and all functions that move weight; a turntable that goes round without end goes once.
/// Poses that are held do not count. O(moves × parts).
[[nodiscard]] std::vector<MoveTip> calcMoveTips(const Facts& facts);

} // namespace ivrant::study
