// SPDX-License-Identifier: GPL-3.0-or-later
// In which pose of the wanted ranges, and on which tilt of the base, does a joint have to hold most?
//
// The carried side of a joint is the side that does not stand on the ground. With the other joints fixed, the moment
// that a turn about one axis gives is A + B·cos θ + C·sin θ in that angle (gravity and levers turn rigidly), so the
// largest of its amount over an interval is known in closed form; the joints are maximised one after another, round
// after round, from many starting poses (coordinate ascent, exact along each coordinate). The tilt of the base turns
// the down direction within a cone about it: also in closed form. Collisions are not looked at: a wanted range is meant
// to be usable. docs/derivations/worst-case.md. N·mm, degrees.
#pragma once

#include <functional>

#include "core/base/progress.h"
#include "core/pose/hold.h"
#include "core/pose/range.h"

namespace ivrant::pose {

struct WorstLoad {
    int joint = 0;
    double needNmm = 0;
    model::Stance stance;                           ///< how it stands then
    JointValues values;                             ///< the pose that asks most, within the wanted ranges
    geometry::Vec3 down = -geometry::Vec3::UnitZ(); ///< the way the weight pulls then, seen from the level base
    double tiltDeg = 0;                             ///< between `down` and straight down
    model::Capacity have;
    std::optional<double> margin;
    bool amongStanding = false; ///< the worst of those that do not fall over
};

/// The figure stands with the section of `stance` on the ground (Flat, Held) or held at its first root (Settle).
/// Freedoms without a wanted range keep their value in `values`; wanted ranges are cut to the kind's own limits. Balls
/// vary by tilt and twist. `tiltDeg`: 0 to 45. Cost: starts × rounds × freedoms × sections, some ms for 16 joints.
[[nodiscard]] WorstLoad calcWorstLoad(const RangeContext& context, const JointValues& values,
                                      const model::Stance& stance, int joint, double tiltDeg,
                                      const model::JointStrength& strength);

/// The tilts of the base with which a figure still stands, as seen from its grounded section.
struct StandSet {
    geometry::Mat3 axes; ///< columns: world x, y, z in the grounded section's frame
    std::vector<Eigen::Vector2d>
        polygon; ///< counter-clockwise, about (0, 0): (gx, gy)/|gz| of the ways the weight may pull
};
/// What stands in given values, the grounded section by index; none: it falls on level ground.
using StandsIn = std::function<std::optional<StandSet>(const JointValues&, int)>;

/// The same among values and tilts with which the figure does not fall over. For given values exact at corners and
/// where the tilt's circle meets the edges, to 1 % along edges; the values by samples one after another from each of
/// `starts`, so a lower bound of the true worst (by brute force within 10 %). needNmm 0 when nothing stands. Cost: some
/// hundred times `stands`.
[[nodiscard]] WorstLoad calcWorstStanding(const RangeContext& context, const std::vector<JointValues>& starts,
                                          const model::Stance& stance, int joint, double tiltDeg,
                                          const model::JointStrength& strength, const StandsIn& stands);

/// The need of a joint in given values with the weight pulling along `down` (unit; seen from the level base). The
/// second route for tests and the start of the search.
[[nodiscard]] double calcNeed(const RangeContext& context, const JointValues& values, const model::Stance& stance,
                              int joint, const geometry::Vec3& down);

} // namespace ivrant::pose
