// SPDX-License-Identifier: GPL-3.0-or-later
// How far are two convex solids apart, or how deep are they in each other?
//
// Boxes are compared by separating axes (Gottschalk, Lin, Manocha 1996: 15 axes), every other pair by
// Gilbert–Johnson–Keerthi distance on exact support points (van den Bergen 2003, ch. 4), so that cylinders and
// spheres are truly round. Penetration of round pairs is measured by eroding one solid until the two are apart.
#pragma once

#include "core/geometry/solid.h"

namespace ivrant::geometry {

/// Contacts no deeper than this (mm) are touching or grazing, not collisions.
inline constexpr double kContactToleranceMm = 0.05;

/// A solid placed in a common frame, with the eroded twin that stands for "deeper than the tolerance".
struct PlacedSolid {
    const Solid* solid = nullptr;
    const Solid* eroded = nullptr; ///< calcEroded(*solid, kContactToleranceMm)
    Mat3 R = Mat3::Identity();     ///< own axes in the common frame
    Vec3 centre = Vec3::Zero();    ///< own origin in the common frame
};

struct Gap {
    double distance = 0;         ///< mm; > 0: a lower bound of the distance (exact for round pairs); ≤ 0: not apart
    Vec3 normal = Vec3::UnitX(); ///< unit, from a towards b; the plane across it separates the two when distance > 0
};

/// Gap of a and b. For boxes a negative distance is the exact depth along the best axis; for other pairs that
/// intersect the distance is 0 and the normal is not meaningful. About 0.1 µs (boxes) to 2 µs (round).
[[nodiscard]] Gap calcGap(const PlacedSolid& a, const PlacedSolid& b);

/// The same with a eroded by the tolerance: positive until the contact is deeper than kContactToleranceMm.
[[nodiscard]] Gap calcToleratedGap(const PlacedSolid& a, const PlacedSolid& b);

/// Does a, eroded by the tolerance, meet b nowhere on its way along `sweep` (mm)? What a convex solid passes is convex:
/// its support is that of the solid and, ahead, the sweep. Exact to about 1e-7 mm; about 1 µs.
[[nodiscard]] bool isSweepClear(const PlacedSolid& a, const Vec3& sweep, const PlacedSolid& b);

/// Exact distance in mm for every pair of kinds, 0 when they touch or overlap.
[[nodiscard]] double calcDistance(const PlacedSolid& a, const PlacedSolid& b);

/// Penetration depth in mm (0 when apart), within 0.001 mm: the smallest erosion of a that sets the two apart.
[[nodiscard]] double calcDepth(const PlacedSolid& a, const PlacedSolid& b);

} // namespace ivrant::geometry
