// SPDX-License-Identifier: GPL-3.0-or-later
// A shape of the builder's own: a closed mesh that stands in for a part that no family makes.
//
// Mass is typed (weighed or guessed by the person), the centre of mass that of an evenly filled body. It collides as
// its convex pieces, is drawn as its mesh, and connects by the ports that the person puts on it. Own shapes live in the
// project; their names begin with "own ". Frame: the part frame, mm.
#pragma once

#include "core/base/result.h"
#include "core/geometry/mesh.h"
#include "core/geometry/pieces.h"
#include "core/parts/shape.h"

namespace ivrant::parts {

struct OwnPort {
    PortKind kind = PortKind::Stud;
    std::string name;
    geometry::Vec3 at = geometry::Vec3::Zero(); ///< mm
    geometry::Vec3 axis = geometry::Vec3::UnitZ();
    geometry::Vec3 reference = geometry::Vec3::UnitX();
};

struct OwnSource {
    geometry::TriangleMesh mesh;
    std::vector<std::vector<geometry::Vec3>> pieces; ///< corners of the convex pieces
    double excessShare = 0, outsideMm = 0;           ///< as geometry::ConvexPieces found them
    std::vector<OwnPort> ports;
    std::vector<geometry::Face> faces; ///< of the mesh, for pictures; made by makeOwnShape
};

inline constexpr std::string_view kOwnPrefix = "own ";
inline constexpr std::size_t kMostOwnPieces = 200, kMostOwnPorts = 200;

[[nodiscard]] inline bool isOwnName(std::string_view name) { return name.starts_with(kOwnPrefix); }

/// The shape of a source. `name` with or without the prefix. Errors: "own.name" (empty or longer than 60), "own.mass"
/// (not above 0 g and below 100 kg), "own.port" (name twice, axis of no length, reference along the axis), "own.pieces"
/// (flat, too many), and those of geometry::makeMeshBody. Solids of a port: every piece that comes within a stud's
/// radius of it.
[[nodiscard]] base::Result<ShapePtr> makeOwnShape(const std::string& name, double massG, OwnSource source);

/// The same shape with another mass and other ports: mesh and pieces are not looked at again. Errors "own.mass",
/// "own.port".
[[nodiscard]] base::Result<ShapePtr> changeOwnShape(const Shape& shape, double massG, std::vector<OwnPort> ports);

/// Names of port kinds that the person may put, in the order of PortKind.
[[nodiscard]] std::vector<PortKind> listOwnPortKinds();

/// Faces to draw a shape by, in the part frame: the mesh of an own shape, else its drawn solids; studs are not among
/// them. `sides` facets for round solids.
[[nodiscard]] std::vector<geometry::Face> listFaces(const Shape& shape, int sides);

} // namespace ivrant::parts
