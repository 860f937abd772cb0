// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/parts/own_shape.h"

#include <algorithm>
#include <cmath>
#include <map>
#include <set>
#include <stdexcept>

#include "core/base/at.h"
#include "core/base/units.h"
#include "core/geometry/gap.h"
#include "core/geometry/hull_solid.h"
#include "core/parts/shape_builder.h"

namespace ivrant::parts {
namespace {

using base::Error;
using geometry::Vec3;

constexpr double kInkDeg = 25; ///< edges sharper than this are inked

base::Status checkPort(const OwnPort& port, std::set<std::string>& names) {
    if (port.name.empty() || port.name.size() > 60)
        return Error{"own.port", "a port needs a name of at most 60 letters", ""};
    if (!names.insert(port.name).second) return Error{"own.port", "two ports are called '" + port.name + "'", ""};
    if (!port.at.allFinite() || port.at.norm() > geometry::kMostMeshMm)
        return Error{"own.port", "'" + port.name + "' lies nowhere near the mesh", ""};
    if (!(port.axis.norm() > 1e-6) || !port.axis.allFinite())
        return Error{"own.port", "the axis of '" + port.name + "' has no length", ""};
    if (!(port.axis.normalized().cross(port.reference).norm() > 1e-3) || !port.reference.allFinite())
        return Error{"own.port", "the reference of '" + port.name + "' must stand across its axis", ""};
    return {};
}

/// Faces of the mesh; inked where two meet at an angle.
std::vector<geometry::Face> makeMeshFaces(const geometry::TriangleMesh& mesh) {
    const auto corner = [&](int i) -> const Vec3& { return at(mesh.points, i); };
    std::vector<Vec3> normals;
    std::map<std::pair<int, int>, std::size_t> owner;
    for (std::size_t i = 0; i < mesh.triangles.size(); ++i) {
        const auto& t = mesh.triangles[i];
        normals.push_back((corner(t[1]) - corner(t[0])).cross(corner(t[2]) - corner(t[0])).normalized());
        for (std::size_t k = 0; k < 3; ++k) owner[{t[k], t[(k + 1) % 3]}] = i;
    }
    std::vector<geometry::Face> faces;
    for (std::size_t i = 0; i < mesh.triangles.size(); ++i) {
        const auto& t = mesh.triangles[i];
        geometry::Face face;
        face.normals = {normals[i]};
        for (std::size_t k = 0; k < 3; ++k) {
            face.corners.push_back(corner(t[k]));
            const auto other = owner.find({t[(k + 1) % 3], t[k]});
            face.inked.push_back(other == owner.end() ||
                                 normals[i].dot(normals[other->second]) < std::cos(base::degToRad(kInkDeg)));
        }
        faces.push_back(std::move(face));
    }
    return faces;
}

} // namespace

base::Result<ShapePtr> makeOwnShape(const std::string& name, double massG, OwnSource source) {
    const std::string whole = isOwnName(name) ? name : std::string(kOwnPrefix) + name;
    if (whole.size() <= kOwnPrefix.size() || whole.size() > 60)
        return Error{"own.name", "an own shape needs a name of at most 56 letters", ""};
    auto body = geometry::makeMeshBody(source.mesh);
    if (!body) return body.error();
    if (source.pieces.empty() || source.pieces.size() > kMostOwnPieces)
        return Error{"own.pieces", "1 to " + std::to_string(kMostOwnPieces) + " convex pieces are expected", ""};
    Shape shape;
    shape.name = whole;
    shape.family = "own";
    shape.massG = body->volume * kDensityGPerMm3;
    shape.fillFactor = 1;
    shape.centre = body->centre;
    for (const auto& corners : source.pieces) {
        try {
            const auto solid = geometry::makeHull(corners);
            shape.solids.push_back({solid, geometry::calcEroded(solid, geometry::kContactToleranceMm), -1});
            shape.drawn.push_back(solid);
            shape.bounds.include(geometry::calcBounds(solid, geometry::Frame::Identity()));
        } catch (const std::invalid_argument&) {
            return Error{"own.pieces", "a convex piece is flat", ""};
        }
    }
    source.mesh = std::move(body).value().mesh;
    source.faces = makeMeshFaces(source.mesh);
    std::vector<OwnPort> ports = std::move(source.ports);
    shape.own = std::make_shared<const OwnSource>(std::move(source));
    return changeOwnShape(shape, massG, std::move(ports));
}

base::Result<ShapePtr> changeOwnShape(const Shape& shape, double massG, std::vector<OwnPort> ports) {
    if (!(massG > 0 && massG < 100'000)) return Error{"own.mass", "a mass above 0 g and below 100 kg is expected", ""};
    if (ports.size() > kMostOwnPorts)
        return Error{"own.port", "at most " + std::to_string(kMostOwnPorts) + " ports are expected", ""};
    auto changed = std::make_shared<Shape>(shape);
    changed->fillFactor *= massG / changed->massG; // of the mesh's volume
    changed->massG = massG;
    changed->ports.clear();
    std::set<std::string> names;
    for (const OwnPort& given : ports) {
        if (auto st = checkPort(given, names); !st) return st.error();
        Port port;
        port.kind = given.kind;
        port.name = given.name;
        port.origin = given.at;
        port.axis = given.axis.normalized();
        port.reference = (given.reference - given.reference.dot(port.axis) * port.axis).normalized();
        for (std::size_t k = 0; k < shape.solids.size(); ++k)
            if (geometry::calcOutside(shape.solids[k].solid, given.at) <= kStudRadiusMm)
                port.solids.push_back(static_cast<int>(k));
        changed->ports.push_back(std::move(port));
    }
    auto source = std::make_shared<OwnSource>(*shape.own);
    source->ports = std::move(ports);
    changed->own = std::move(source);
    return ShapePtr(std::move(changed));
}

std::vector<PortKind> listOwnPortKinds() {
    std::vector<PortKind> kinds;
    for (int k = 0; k <= static_cast<int>(kLastPortKind); ++k) kinds.push_back(static_cast<PortKind>(k));
    return kinds;
}

std::vector<geometry::Face> listFaces(const Shape& shape, int sides) {
    if (shape.own) return shape.own->faces;
    std::vector<geometry::Face> faces;
    for (const auto& solid : shape.drawn)
        for (auto& face : geometry::makeFaces(solid, sides)) faces.push_back(std::move(face));
    return faces;
}

} // namespace ivrant::parts
