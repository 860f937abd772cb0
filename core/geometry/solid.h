// SPDX-License-Identifier: GPL-3.0-or-later
// What space does a part fill?
//
// A part is a set of convex solids. Each solid has its own frame X_PS in the part frame P; all sizes in mm.
// Cylinders lie along their own z, prisms are convex polygons in their own xy, extruded along ±z; a hull is what its
// points span, about its centre of volume.
#pragma once

#include <memory>
#include <vector>

#include "core/geometry/frames.h"
#include "core/geometry/hull.h"

namespace ivrant::geometry {

enum class SolidKind { Box, Cylinder, Sphere, Prism, Hull };

/// A convex body by its faces, in the frame of its solid: origin at the centre of volume.
struct Polytope {
    std::vector<Vec3> corners;
    std::vector<HullFace> faces;
    double volume = 0; ///< mm³
};

struct Solid {
    SolidKind kind = SolidKind::Box;
    Frame X_PS = Frame::Identity();
    Vec3 half = Vec3::Zero(); ///< Box: half sizes; Cylinder: (r, r, half length); Sphere: (r, r, r); Prism: z only;
                              ///< Hull: unused
    std::vector<Eigen::Vector2d> polygon; ///< Prism only: convex, counter-clockwise
    std::shared_ptr<const Polytope> hull; ///< Hull only
    double reach = 0;                     ///< radius of a sphere about the solid's origin that holds it

    [[nodiscard]] double radius() const { return half.x(); }
};

[[nodiscard]] Solid makeBox(const Vec3& low, const Vec3& high);
/// Cylinder from `start` to `end`. Throws std::invalid_argument when both coincide or radius ≤ 0.
[[nodiscard]] Solid makeCylinder(const Vec3& start, const Vec3& end, double radius);
[[nodiscard]] Solid makeSphere(const Vec3& centre, double radius);
/// Convex polygon (counter-clockwise in the xy of X_PS) extruded to ±halfLength along z of X_PS.
[[nodiscard]] Solid makePrism(const Frame& X_PS, std::vector<Eigen::Vector2d> polygon, double halfLength);

/// Convex hull of the points (part frame). Throws std::invalid_argument when they span less than a hundredth of a mm³.
[[nodiscard]] Solid makeHull(const std::vector<Vec3>& points);

/// Volume in mm³.
[[nodiscard]] double calcVolume(const Solid& solid);
/// Centre of volume in the part frame.
[[nodiscard]] Vec3 calcCentroid(const Solid& solid);
/// The solid with every face moved inwards by `depth` mm (a face closer than that to its opposite stops at the middle).
[[nodiscard]] Solid calcEroded(const Solid& solid, double depth);
/// Farthest point of the solid, given in its own frame, along `direction` (own frame, any length but zero).
[[nodiscard]] Vec3 findSupport(const Solid& solid, const Vec3& direction);

struct Bounds {
    Vec3 low = Vec3::Constant(1e30);
    Vec3 high = Vec3::Constant(-1e30);

    void include(const Vec3& p) {
        low = low.cwiseMin(p);
        high = high.cwiseMax(p);
    }
    void include(const Bounds& b) {
        low = low.cwiseMin(b.low);
        high = high.cwiseMax(b.high);
    }
    [[nodiscard]] bool empty() const { return low.x() > high.x(); }
    [[nodiscard]] bool overlaps(const Bounds& b, double slack) const {
        return (low.array() <= b.high.array() + slack).all() && (b.low.array() <= high.array() + slack).all();
    }
    [[nodiscard]] Vec3 centre() const { return 0.5 * (low + high); }
    [[nodiscard]] Vec3 size() const { return high - low; }
};

/// Axis-parallel bounds of the solid in frame F, with X_FP the frame of its part. Tight.
[[nodiscard]] Bounds calcBounds(const Solid& solid, const Frame& X_FP);

/// First hit of the ray origin + t·direction (frame of the part) with the solid, as t ≥ 0; negative when it misses.
[[nodiscard]] double calcRayHit(const Solid& solid, const Vec3& origin, const Vec3& direction);

} // namespace ivrant::geometry
