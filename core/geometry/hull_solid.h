// Solids that are convex hulls: what solid.h does with them beyond making them.
#pragma once

#include "core/geometry/solid.h"

namespace ivrant::geometry {

/// calcEroded for a hull: the corners within its moved faces, by the hull of the dual points; what is thinner than twice the depth
/// becomes its centre of volume. O(faces²).
[[nodiscard]] Solid calcErodedHull(const Solid& solid, double depth);

} // namespace ivrant::geometry
