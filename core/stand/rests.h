// SPDX-License-Identifier: GPL-3.0-or-later
// Which parts lie on others by flat faces, whether or not anything holds them there?
//
// A brick on a tile, a lid on walls: faces that touch within 0.06 mm, square to each other within 0.5°, one more above
// than beside the other. Box, prism and cylinder ends count. World frame, mm.
#pragma once

#include <functional>
#include <vector>

#include "core/model/placed.h"

namespace ivrant::stand {

inline constexpr double kRestGapMm = 0.06;
inline constexpr double kSteepestRest =
    0.5; ///< z of the face's normal: steeper faces touch beside each other, and may have a gap

struct Rest {
    int below = 0, above = 0;                        ///< indices into the spots given
    geometry::Vec3 normal = geometry::Vec3::UnitZ(); ///< out of the lower part
    std::vector<geometry::Vec3> corners;             ///< of the common area, world
};

/// Among the parts given, but for pairs (by index) that something holds together anyway. O(parts log parts + touching
/// pairs × solids).
[[nodiscard]] std::vector<Rest> findRests(const model::Placed& placed, const std::vector<model::PartSpot>& spots,
                                          const std::function<bool(int, int)>& held);

} // namespace ivrant::stand
