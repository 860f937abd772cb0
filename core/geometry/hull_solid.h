// SPDX-License-Identifier: GPL-3.0-or-later
// Solids that are convex hulls: what solid.h has no call for with other kinds.
#pragma once

#include "core/geometry/solid.h"

namespace ivrant::geometry {

/// calcEroded for a hull: the corners within its moved faces, by the hull of the dual points; what is thinner than
/// twice the depth becomes its centre of volume. O(faces²).
[[nodiscard]] Solid calcErodedHull(const Solid& solid, double depth);

/// How far a point (part frame) lies beyond the hull's farthest face, mm; 0 inside. Never more than its distance.
[[nodiscard]] double calcOutside(const Solid& hull, const Vec3& p);

} // namespace ivrant::geometry
