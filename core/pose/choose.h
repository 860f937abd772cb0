// SPDX-License-Identifier: GPL-3.0-or-later
// Which kind of joint goes here?
//
// Every kind is tried on the model itself: where the ports allow it, the joint is exchanged and its range, what it must
// hold at worst, what it runs into and how much of it shows are computed anew in every pose; where they do not, the
// parts to change are listed and only the kind's own numbers are given. Sorted by a preference between smooth posing
// and firm holding:
//   score = firm · m / (1 + m) + (1 − firm) · (½ (1 − step / 45°) + ¼ freedoms / 3 + ¼ / (1 + gap / 50 mm²)),
// m the margin in the worst case (100 when nothing is needed); kinds that are ruled out come after all others. The
// weights are our choice, not a measurement: the columns say what is behind them.
#pragma once

#include <functional>

#include "core/pose/worst.h"

namespace ivrant::pose {

using StrengthOf = std::function<model::JointStrength(const parts::JointKind&)>;

struct NearestStep {
    std::string pose;
    double wanted = 0, nearest = 0; ///< degrees
};

struct JointChoice {
    const parts::JointKind* kind = nullptr;
    bool present = false;               ///< the kind that is there now
    bool inPlace = false;               ///< the ports allow an exchange; else only the kind's own numbers are known
    std::optional<model::Range> wanted; ///< of the bend
    std::optional<model::Range> free;   ///< of the bend, the least over the poses; none: endless, or not in place
    bool endless = false;
    bool covers = true; ///< the wanted range is free in every pose
    double needNmm = 0; ///< worst case over the wanted ranges and the tilt of the base
    model::JointStrength strength;
    std::optional<double> margin;
    int newCollisions = 0;     ///< pairs of parts in each other in some pose that were not before
    int newOverlaps = 0;       ///< pairs of parts of one section that do not fit beside each other any more
    double lengthChangeMm = 0; ///< largest change of a distance between this joint's centre and a neighbouring one
    double gapMm2 = 0;         ///< most mechanism seen from any side in the present pose
    std::vector<NearestStep> nearest;     ///< stepped kinds: each pose's angle and the nearest that can be had
    std::vector<std::string> remove, add; ///< not in place: shapes to take away and to put there
    std::vector<std::string> ruledOut;    ///< why it does not do; empty: it does
    std::string says;                     ///< one sentence for the table
    double score = 0;                     ///< 0 to 1
};

struct ChooseRequest {
    int joint = 0;
    double firm = 0.5;         ///< 0 smooth posing … 1 firm holding
    double wantedMargin = 1.0; ///< below: ruled out
    double tiltDeg = 0;
    StrengthOf strengthOf;
};

/// All kinds, the best first. `project` valid. Cost: (exchangeable kinds) × (poses) sweeps, below a second for 150
/// parts.
[[nodiscard]] std::vector<JointChoice> calcChoices(const model::Project& project, const ChooseRequest& request,
                                                   const base::Progress* progress = nullptr);
/// Sorts anew for another preference.
void sortChoices(std::vector<JointChoice>& choices, double firm);

} // namespace ivrant::pose
