// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/geometry/mesh.h"

#include <cmath>

#include "core/base/units.h"

namespace ivrant::geometry {
namespace {

/// Prism over a counter-clockwise outline in own xy from −h to +h; `smooth` normals for the mantle of a cylinder.
std::vector<Face> makePrismFaces(const std::vector<Eigen::Vector2d>& outline, double h, bool smooth) {
    const std::size_t n = outline.size();
    std::vector<Face> faces(2);
    for (std::size_t i = 0; i < n; ++i) {
        faces[0].corners.emplace_back(outline[i].x(), outline[i].y(), h);
        faces[1].corners.emplace_back(outline[n - 1 - i].x(), outline[n - 1 - i].y(), -h);
    }
    faces[0].normals = {Vec3::UnitZ()};
    faces[1].normals = {-Vec3::UnitZ()};
    faces[0].inked = faces[1].inked = std::vector<bool>(n, true);
    for (std::size_t i = 0; i < n; ++i) {
        const auto& p = outline[i];
        const auto& q = outline[(i + 1) % n];
        Face side;
        side.corners = {Vec3(p.x(), p.y(), -h), Vec3(q.x(), q.y(), -h), Vec3(q.x(), q.y(), h), Vec3(p.x(), p.y(), h)};
        side.inked = {true, !smooth, true, !smooth};
        const Vec3 np = Vec3(p.x(), p.y(), 0).normalized(), nq = Vec3(q.x(), q.y(), 0).normalized();
        if (smooth)
            side.normals = {np, nq, nq, np};
        else
            side.normals = {Vec3(q.y() - p.y(), p.x() - q.x(), 0).normalized()};
        faces.push_back(std::move(side));
    }
    return faces;
}

std::vector<Face> makeSphereFaces(double r, int sides) {
    std::vector<Face> faces;
    const int rings = std::max(2, sides / 2);
    const auto point = [&](int ring, int side) {
        const double polar = base::kPi * ring / rings, turn = 2 * base::kPi * side / sides;
        return Vec3(std::sin(polar) * std::cos(turn), std::sin(polar) * std::sin(turn), std::cos(polar));
    };
    for (int ring = 0; ring < rings; ++ring)
        for (int side = 0; side < sides; ++side) {
            Face face;
            std::vector<Vec3> units{point(ring, side), point(ring + 1, side), point(ring + 1, side + 1),
                                    point(ring, side + 1)};
            if (ring == 0)
                units.pop_back();
            else if (ring == rings - 1)
                units.erase(units.begin() + 2);
            for (const Vec3& u : units) face.corners.push_back(u * r);
            face.normals = units;
            face.inked.assign(units.size(), false);
            faces.push_back(std::move(face));
        }
    return faces;
}

} // namespace

std::vector<Face> makeFaces(const Solid& solid, int sides) {
    std::vector<Face> faces;
    switch (solid.kind) {
    case SolidKind::Box: {
        const Vec3& h = solid.half;
        faces = makePrismFaces({{-h.x(), -h.y()}, {h.x(), -h.y()}, {h.x(), h.y()}, {-h.x(), h.y()}}, h.z(), false);
        break;
    }
    case SolidKind::Prism: faces = makePrismFaces(solid.polygon, solid.half.z(), false); break;
    case SolidKind::Cylinder: {
        std::vector<Eigen::Vector2d> outline;
        for (int i = 0; i < sides; ++i) {
            const double turn = 2 * base::kPi * i / sides;
            outline.emplace_back(solid.radius() * std::cos(turn), solid.radius() * std::sin(turn));
        }
        faces = makePrismFaces(outline, solid.half.z(), true);
        break;
    }
    case SolidKind::Sphere: faces = makeSphereFaces(solid.radius(), sides); break;
    case SolidKind::Hull:
        for (const HullFace& face : solid.hull->faces)
            faces.push_back({face.outline, {face.normal}, std::vector<bool>(face.outline.size(), true)});
        break;
    }
    for (Face& face : faces) {
        for (Vec3& c : face.corners) c = solid.X_PS * c;
        for (Vec3& n : face.normals) n = solid.X_PS.linear() * n;
    }
    return faces;
}

std::vector<std::array<Vec3, 3>> makeTriangles(const std::vector<Face>& faces) {
    std::vector<std::array<Vec3, 3>> triangles;
    for (const Face& face : faces)
        for (std::size_t i = 2; i < face.corners.size(); ++i)
            triangles.push_back({face.corners[0], face.corners[i - 1], face.corners[i]});
    return triangles;
}

} // namespace ivrant::geometry
