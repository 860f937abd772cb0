// SPDX-License-Identifier: GPL-3.0-or-later
// How does a closed triangle mesh become a few convex pieces?
//
// The surface is cut by planes along the axes, the piece with the most hull beyond its own volume first, each time by
// the plane that saves most, until the hulls exceed the body by little or there are enough of them. Volumes by the
// divergence theorem with the cuts capped by signed fans; hulls of the points that are extreme in kHullDirections
// directions. What that leaves out is measured: how far the mesh sticks out of the pieces at most. Frame of the mesh,
// mm.
#pragma once

#include <array>

#include "core/base/progress.h"
#include "core/base/result.h"
#include "core/geometry/solid.h"

namespace ivrant::geometry {

struct TriangleMesh {
    std::vector<Vec3> points;
    std::vector<std::array<int, 3>> triangles; ///< counter-clockwise seen from outside
};

inline constexpr std::size_t kMostTriangles = 50'000;
inline constexpr double kMostMeshMm = 2'000; ///< across, in any direction
inline constexpr int kHullDirections = 218;

struct MeshBody {
    TriangleMesh mesh; ///< welded, without triangles that have no area, turned outwards
    double volume = 0; ///< mm³
    Vec3 centre = Vec3::Zero();
};

/// Welds points closer than 1 µm and checks. Errors: "mesh.empty", "mesh.size" (too many triangles, too small or too
/// large), "mesh.open" (how many edges have no second triangle, and where the first is), "mesh.number" (not finite).
/// O(n log n).
[[nodiscard]] base::Result<MeshBody> makeMeshBody(const TriangleMesh& mesh);

/// Is every corner's image in the plane x = `planeX` a corner too (within 0.01 mm)? O(n log n).
[[nodiscard]] bool isMirrored(const TriangleMesh& mesh, double planeX);

struct ConvexPieces {
    std::vector<Solid> pieces;
    double excessShare = 0; ///< volume of all pieces beyond the body's, as a share of it (overlaps count twice)
    double outsideMm = 0;   ///< the farthest that a corner of the mesh lies outside all pieces
};

/// Error "mesh.stopped". Seconds for tens of thousands of triangles.
[[nodiscard]] base::Result<ConvexPieces>
calcConvexPieces(const MeshBody& body, int most = 24, double enoughShare = 0.03, base::Progress* progress = nullptr);

} // namespace ivrant::geometry
