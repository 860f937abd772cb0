// SPDX-License-Identifier: GPL-3.0-or-later
// How small a box does a piece lie in, and which pieces lie in one box together?
//
// Pieces stand upright as they are built, turned about the vertical only. mm.
#pragma once

#include <array>
#include <vector>

#include "core/geometry/frames.h"

namespace ivrant::study {

struct UprightSize {
    geometry::Vec3 mm = geometry::Vec3::Zero(); ///< longer side, shorter side, height
    double turnDeg = 0;                         ///< about the vertical, so that the longer side lies along x
};
/// Least rectangle about the points seen from above (one side of it lies on an edge of their hull: Freeman and Shapira
/// 1975), and their height. Zero without points. O(n log n + edges × corners).
[[nodiscard]] UprightSize calcUprightSize(const std::vector<geometry::Vec3>& points);

/// Where a piece lies in a box, from its inner corner: middle of the foam round it is its own.
struct BoxPlace {
    int box = 0;
    std::array<double, 2> atMm{0, 0};
    bool across = false; ///< its longer side across the box
};
/// One layer of pieces in rows, the deepest first into the first box that has room: no piece stands on another. Sizes
/// with foam; a piece larger than the box, or heavier than it may be, gets a box of its own. O(n² rows).
[[nodiscard]] std::vector<BoxPlace> placeInBoxes(const std::vector<geometry::Vec3>& sizes,
                                                 const std::vector<double>& massG, const geometry::Vec3& box,
                                                 double mostG);

} // namespace ivrant::study
