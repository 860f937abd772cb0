// In which pose of the wanted ranges, and on which tilt of the base, does a joint have to hold most?
//
// The carried side of a joint is the side that does not stand on the ground. With the other joints fixed, the moment that
// a turn about one axis gives is A + B·cos θ + C·sin θ in that angle (gravity and levers turn rigidly), so the largest of
// its amount over an interval is known in closed form; the joints are maximised one after another, round after round, from
// many starting poses (coordinate ascent, exact along each coordinate). The tilt of the base turns the down direction within a
// cone about it: also in closed form. Collisions are not looked at: a wanted range is meant to be usable.
// docs/derivations/worst-case.md. N·mm, degrees.
#pragma once

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
};

/// The figure stands with the section of `stance` on the ground (Flat, Held) or held at its first root (Settle). Freedoms
/// without a wanted range keep their value in `values`; wanted ranges are cut to the kind's own limits. Balls vary by tilt and twist.
/// `tiltDeg`: 0 to 45. Cost: starts × rounds × freedoms × sections, some ms for 16 joints.
[[nodiscard]] WorstLoad calcWorstLoad(const RangeContext& context, const JointValues& values, const model::Stance& stance, int joint, double tiltDeg,
                                      const model::JointStrength& strength);

/// The need of a joint in given values with the weight pulling along `down` (unit; seen from the level base). The second route
/// for tests and the start of the search.
[[nodiscard]] double calcNeed(const RangeContext& context, const JointValues& values, const model::Stance& stance, int joint, const geometry::Vec3& down);

} // namespace ivrant::pose
