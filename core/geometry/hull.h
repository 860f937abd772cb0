// What is the convex hull of a set of points, in the plane and in space?
#pragma once

#include <vector>

#include "core/geometry/frames.h"

namespace ivrant::geometry {

/// Convex hull in the plane, counter-clockwise, without points on its edges (Andrew's monotone chain). Fewer than three
/// points come back when the input is that small or lies on a line. O(n log n).
[[nodiscard]] std::vector<Eigen::Vector2d> calcHull2(std::vector<Eigen::Vector2d> points);

/// A flat face of the hull in space.
struct HullFace {
    Vec3 normal;               ///< unit, outward
    std::vector<Vec3> outline; ///< counter-clockwise seen from outside
};

/// Faces of the convex hull in space; coplanar triangles (within 0.01 mm and 0.05°) are one face. Empty for points that
/// all lie in a plane. Incremental hull (O'Rourke, Computational Geometry in C, ch. 4) on points moved by at most
/// 1e-6 mm to keep them in general position. O(n · faces).
[[nodiscard]] std::vector<HullFace> calcHullFaces(const std::vector<Vec3>& points);

} // namespace ivrant::geometry
