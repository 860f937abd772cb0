// SPDX-License-Identifier: GPL-3.0-or-later
// What is the convex hull of a set of points, in the plane and in space?
#pragma once

#include <vector>

#include "core/geometry/frames.h"

namespace ivrant::geometry {

/// Convex hull in the plane, counter-clockwise, without points on its edges. Exact on a grid of 1e-6 mm (Andrew's
/// monotone chain in whole numbers), then without corners nearer than 1e-5 mm to the line of their neighbours, so that
/// rounding neither drops a corner nor makes one: the same corners, all of them input points, in any attitude and order
/// of the input. Two points come back when all lie on a line, fewer when there are no more. |coordinates| below 1e9 mm.
/// O(n log n).
[[nodiscard]] std::vector<Eigen::Vector2d> calcHull2(std::vector<Eigen::Vector2d> points);

/// A flat face of the hull in space.
struct HullFace {
    Vec3 normal;               ///< unit, outward
    std::vector<Vec3> outline; ///< counter-clockwise seen from outside
};

/// Faces of the convex hull in space; coplanar facets (within 0.01 mm) are one face. Empty for points that all lie in a
/// plane within 0.001 mm. The hull is the Qhull library's (Barber, Dobkin, Huhdanpaa 1996), which joins facets that
/// rounding would tell apart. O(n log n) where most points lie inside. Error: std::runtime_error when the library gives
/// up (not seen; coordinates must be finite).
[[nodiscard]] std::vector<HullFace> calcHullFaces(const std::vector<Vec3>& points);

/// The points without those that lie between two others on a line along x, y or z (within 1e-6 mm): the same hull from
/// far fewer points where studs and corners stand on a grid. O(n).
[[nodiscard]] std::vector<Vec3> dropInnerOfLines(std::vector<Vec3> points);

} // namespace ivrant::geometry
