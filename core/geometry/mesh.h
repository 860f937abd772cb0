// SPDX-License-Identifier: GPL-3.0-or-later
// What does a solid look like as flat faces?
//
// Faces are outward, with the distance of each vertex to the face's real edges, so that a picture can ink the edges
// without drawing lines. mm; frame of the part.
#pragma once

#include <array>
#include <vector>

#include "core/geometry/solid.h"

namespace ivrant::geometry {

/// A flat convex face. `inked[i]` tells whether the edge from corner i to i + 1 is a real edge of the solid (and not
/// just a facet border of something round). `normals` has one entry (flat) or one per corner (round).
struct Face {
    std::vector<Vec3> corners; ///< counter-clockwise seen from outside
    std::vector<Vec3> normals;
    std::vector<bool> inked;
};

/// Faces of the solid in the part frame; round ones with `sides` facets (≥ 3).
[[nodiscard]] std::vector<Face> makeFaces(const Solid& solid, int sides);

/// Fan triangles of the faces: 3 points each.
[[nodiscard]] std::vector<std::array<Vec3, 3>> makeTriangles(const std::vector<Face>& faces);

} // namespace ivrant::geometry
