// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/geometry/hull_solid.h"

#include <algorithm>
#include <optional>
#include <stdexcept>

namespace ivrant::geometry {
namespace {

constexpr double kSameMm = 2e-3;

/// Volume and moment of the body within the faces, by cones from a point (inside or not).
std::pair<double, Vec3> measureFaces(const std::vector<HullFace>& faces, const Vec3& apex) {
    double volume = 0;
    Vec3 moment = Vec3::Zero();
    for (const HullFace& face : faces)
        for (std::size_t i = 2; i < face.outline.size(); ++i) {
            const Vec3 a = face.outline[0] - apex, b = face.outline[i - 1] - apex, c = face.outline[i] - apex;
            const double v = a.dot(b.cross(c)) / 6;
            volume += v;
            moment += v * (a + b + c) / 4;
        }
    return {volume, moment};
}

/// The body within planes n·p ≤ offset that all have the origin inside: corners are the faces of the dual hull.
std::optional<std::vector<Vec3>> findCorners(const std::vector<HullFace>& faces, double depth) {
    std::vector<Vec3> dual;
    double nearest = 1e300;
    for (const HullFace& face : faces) nearest = std::min(nearest, face.normal.dot(face.outline.front()) - depth);
    if (nearest < 1e-3) return std::nullopt;
    dual.reserve(faces.size());
    for (const HullFace& face : faces)
        dual.push_back(face.normal * (nearest / (face.normal.dot(face.outline.front()) - depth)));
    std::vector<Vec3> corners;
    const double scale = 100; // the hull works on lengths of some mm
    for (Vec3& d : dual) d *= scale;
    for (const HullFace& face : calcHullFaces(dual)) {
        const double offset = face.normal.dot(face.outline.front()) / scale;
        if (offset > 1e-9) corners.push_back(face.normal * (nearest / offset));
    }
    if (corners.size() < 4) return std::nullopt;
    return corners;
}

} // namespace

Solid makeHull(const std::vector<Vec3>& points) {
    std::vector<Vec3> apart; // points that nearly coincide make faces without a direction
    for (const Vec3& p : points)
        if (std::none_of(apart.begin(), apart.end(),
                         [&](const Vec3& q) { return (q - p).squaredNorm() < kSameMm * kSameMm; }))
            apart.push_back(p);
    auto faces = calcHullFaces(apart);
    const Vec3 start = faces.empty() ? Vec3::Zero() : faces.front().outline.front();
    const auto [volume, moment] = measureFaces(faces, start);
    if (!(volume > 0.01)) throw std::invalid_argument("makeHull: the points are flat");
    const Vec3 centre = start + moment / volume;
    auto body = std::make_shared<Polytope>();
    body->volume = volume;
    Solid s;
    s.kind = SolidKind::Hull;
    s.X_PS.translation() = centre;
    for (HullFace& face : faces)
        for (Vec3& p : face.outline) {
            p -= centre;
            const bool known = std::any_of(body->corners.begin(), body->corners.end(),
                                           [&](const Vec3& c) { return (c - p).squaredNorm() < 1e-6; });
            if (!known) body->corners.push_back(p);
            s.reach = std::max(s.reach, p.norm());
        }
    body->faces = std::move(faces);
    s.hull = std::move(body);
    return s;
}

double calcOutside(const Solid& hull, const Vec3& p) {
    double out = 0;
    for (const HullFace& face : hull.hull->faces)
        out = std::max(out, face.normal.dot(p - hull.X_PS.translation() - face.outline.front()));
    return out;
}

Solid calcErodedHull(const Solid& solid, double depth) {
    Solid s = solid;
    auto body = std::make_shared<Polytope>();
    body->corners = findCorners(solid.hull->faces, depth)
                        .value_or(std::vector<Vec3>{Vec3::Zero()}); // thinner than twice the depth: its middle
    s.hull = std::move(body);
    return s;
}

} // namespace ivrant::geometry
