// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/geometry/solid.h"

#include <algorithm>
#include <cmath>
#include <stdexcept>

#include "core/base/units.h"
#include "core/geometry/hull_solid.h"

namespace ivrant::geometry {
namespace {

double signedArea(const std::vector<Eigen::Vector2d>& polygon) {
    double twice = 0;
    for (std::size_t i = 0; i < polygon.size(); ++i) {
        const auto& p = polygon[i];
        const auto& q = polygon[(i + 1) % polygon.size()];
        twice += p.x() * q.y() - p.y() * q.x();
    }
    return 0.5 * twice;
}

Eigen::Vector2d polygonCentroid(const std::vector<Eigen::Vector2d>& polygon) {
    Eigen::Vector2d sum = Eigen::Vector2d::Zero();
    double twice = 0;
    for (std::size_t i = 0; i < polygon.size(); ++i) {
        const auto& p = polygon[i];
        const auto& q = polygon[(i + 1) % polygon.size()];
        const double cross = p.x() * q.y() - p.y() * q.x();
        sum += cross * (p + q);
        twice += cross;
    }
    return sum / (3.0 * twice);
}

/// Polygon with each edge moved inwards by `depth`, by clipping with each moved edge line.
std::vector<Eigen::Vector2d> insetPolygon(const std::vector<Eigen::Vector2d>& polygon, double depth) {
    std::vector<Eigen::Vector2d> rest = polygon;
    for (std::size_t i = 0; i < polygon.size(); ++i) {
        const Eigen::Vector2d edge = (polygon[(i + 1) % polygon.size()] - polygon[i]).normalized();
        const Eigen::Vector2d inward(-edge.y(), edge.x());
        const double offset = inward.dot(polygon[i]) + depth;
        std::vector<Eigen::Vector2d> kept;
        for (std::size_t k = 0; k < rest.size(); ++k) {
            const auto& p = rest[k];
            const auto& q = rest[(k + 1) % rest.size()];
            const double dp = inward.dot(p) - offset;
            const double dq = inward.dot(q) - offset;
            if (dp >= 0) kept.push_back(p);
            if ((dp > 0 && dq < 0) || (dp < 0 && dq > 0)) kept.push_back(p + (q - p) * (dp / (dp - dq)));
        }
        rest = std::move(kept);
    }
    if (rest.size() < 3) return {polygonCentroid(polygon)};
    return rest;
}

/// Clips [t0, t1] of the ray to the half space n·p ≤ offset; false when nothing is left.
bool clipRay(const Vec3& n, double offset, const Vec3& o, const Vec3& d, double& t0, double& t1) {
    const double speed = n.dot(d);
    const double room = offset - n.dot(o);
    if (std::abs(speed) < 1e-14) return room >= 0;
    const double t = room / speed;
    if (speed > 0)
        t1 = std::min(t1, t);
    else
        t0 = std::max(t0, t);
    return t0 <= t1;
}

/// Clips [t0, t1] to x² + y² ≤ r² (cylinder) or |p|² ≤ r² (sphere, with `spatial`).
bool clipRound(double r, bool spatial, Vec3 o, Vec3 d, double& t0, double& t1) {
    if (!spatial) o.z() = d.z() = 0;
    const double a = d.squaredNorm();
    const double c = o.squaredNorm() - r * r;
    if (a < 1e-18) return c <= 0;
    const double b = o.dot(d);
    const double root = b * b - a * c;
    if (root < 0) return false;
    t0 = std::max(t0, (-b - std::sqrt(root)) / a);
    t1 = std::min(t1, (-b + std::sqrt(root)) / a);
    return t0 <= t1;
}

} // namespace

Solid makeBox(const Vec3& low, const Vec3& high) {
    Solid s;
    s.kind = SolidKind::Box;
    s.X_PS.translation() = 0.5 * (low + high);
    s.half = 0.5 * (high - low);
    if (!(s.half.minCoeff() > 0)) throw std::invalid_argument("makeBox: low must be below high");
    s.reach = s.half.norm();
    return s;
}

Solid makeCylinder(const Vec3& start, const Vec3& end, double radius) {
    const Vec3 along = end - start;
    if (!(along.norm() > 0) || !(radius > 0)) throw std::invalid_argument("makeCylinder: no size");
    Solid s;
    s.kind = SolidKind::Cylinder;
    s.X_PS = makeAxisFrame(0.5 * (start + end), along, along.unitOrthogonal());
    s.half = Vec3(radius, radius, 0.5 * along.norm());
    s.reach = std::hypot(radius, s.half.z());
    return s;
}

Solid makeSphere(const Vec3& centre, double radius) {
    Solid s;
    s.kind = SolidKind::Sphere;
    s.X_PS.translation() = centre;
    s.half = Vec3::Constant(radius);
    s.reach = radius;
    return s;
}

Solid makePrism(const Frame& X_PS, std::vector<Eigen::Vector2d> polygon, double halfLength) {
    if (polygon.size() < 3 || !(signedArea(polygon) > 0) || !(halfLength > 0))
        throw std::invalid_argument("makePrism: needs a counter-clockwise polygon and a length");
    Solid s;
    s.kind = SolidKind::Prism;
    const Eigen::Vector2d c = polygonCentroid(polygon);
    for (auto& p : polygon) p -= c;
    s.X_PS = X_PS * Eigen::Translation3d(c.x(), c.y(), 0);
    s.half = Vec3(0, 0, halfLength);
    for (const auto& p : polygon) s.reach = std::max(s.reach, std::hypot(p.norm(), halfLength));
    s.polygon = std::move(polygon);
    return s;
}

double calcVolume(const Solid& solid) {
    switch (solid.kind) {
    case SolidKind::Box: return 8.0 * solid.half.prod();
    case SolidKind::Cylinder: return base::kPi * solid.radius() * solid.radius() * 2.0 * solid.half.z();
    case SolidKind::Sphere: return 4.0 / 3.0 * base::kPi * std::pow(solid.radius(), 3);
    case SolidKind::Prism: return signedArea(solid.polygon) * 2.0 * solid.half.z();
    case SolidKind::Hull: return solid.hull->volume;
    }
    throw std::logic_error("unknown solid");
}

Vec3 calcCentroid(const Solid& solid) { return solid.X_PS.translation(); } // makePrism and makeHull centre theirs

Solid calcEroded(const Solid& solid, double depth) {
    if (solid.kind == SolidKind::Hull) return calcErodedHull(solid, depth);
    Solid s = solid;
    s.half = (solid.half.array() - depth).cwiseMax(0.0).matrix();
    if (solid.kind == SolidKind::Prism) {
        s.half.head<2>().setZero();
        s.polygon = insetPolygon(solid.polygon, depth);
    }
    return s;
}

Vec3 findSupport(const Solid& solid, const Vec3& d) {
    switch (solid.kind) {
    case SolidKind::Box:
        return {std::copysign(solid.half.x(), d.x()), std::copysign(solid.half.y(), d.y()),
                std::copysign(solid.half.z(), d.z())};
    case SolidKind::Cylinder: {
        const double across = std::sqrt(d.x() * d.x() + d.y() * d.y());
        const double scale = across > 1e-14 ? solid.radius() / across : 0.0;
        return {d.x() * scale, d.y() * scale, std::copysign(solid.half.z(), d.z())};
    }
    case SolidKind::Sphere: return d.normalized() * solid.radius();
    case SolidKind::Prism: {
        const Eigen::Vector2d flat = d.head<2>();
        double best = -1e300;
        Eigen::Vector2d at = Eigen::Vector2d::Zero();
        for (const auto& p : solid.polygon)
            if (const double along = p.dot(flat); along > best) {
                best = along;
                at = p;
            }
        return {at.x(), at.y(), std::copysign(solid.half.z(), d.z())};
    }
    case SolidKind::Hull: {
        const Vec3* best = &solid.hull->corners.front();
        double most = best->dot(d);
        for (const Vec3& p : solid.hull->corners)
            if (const double along = p.dot(d); along > most) {
                most = along;
                best = &p;
            }
        return *best;
    }
    }
    throw std::logic_error("unknown solid");
}

Bounds calcBounds(const Solid& solid, const Frame& X_FP) {
    const Frame x = X_FP * solid.X_PS;
    Bounds b;
    for (int axis = 0; axis < 3; ++axis) {
        const Vec3 local = x.linear().row(axis).transpose();
        b.high[axis] = x.translation()[axis] + local.dot(findSupport(solid, local));
        b.low[axis] = x.translation()[axis] + local.dot(findSupport(solid, -local));
    }
    return b;
}

double calcRayHit(const Solid& solid, const Vec3& origin, const Vec3& direction) {
    const Mat3 toOwn = solid.X_PS.linear().transpose();
    const Vec3 o = toOwn * (origin - solid.X_PS.translation());
    const Vec3 d = toOwn * direction;
    double t0 = 0, t1 = 1e30;
    const auto slab = [&](int axis) {
        const Vec3 n = Vec3::Unit(axis);
        return clipRay(n, solid.half[axis], o, d, t0, t1) && clipRay(-n, solid.half[axis], o, d, t0, t1);
    };
    bool hit = false;
    switch (solid.kind) {
    case SolidKind::Box: hit = slab(0) && slab(1) && slab(2); break;
    case SolidKind::Cylinder: hit = slab(2) && clipRound(solid.radius(), false, o, d, t0, t1); break;
    case SolidKind::Sphere: hit = clipRound(solid.radius(), true, o, d, t0, t1); break;
    case SolidKind::Prism:
        hit = slab(2);
        for (std::size_t i = 0; hit && i < solid.polygon.size(); ++i) {
            const auto& p = solid.polygon[i];
            const auto& q = solid.polygon[(i + 1) % solid.polygon.size()];
            const Vec3 n(q.y() - p.y(), p.x() - q.x(), 0);
            hit = clipRay(n, n.head<2>().dot(p), o, d, t0, t1);
        }
        break;
    case SolidKind::Hull:
        hit = true;
        for (std::size_t i = 0; hit && i < solid.hull->faces.size(); ++i) {
            const HullFace& face = solid.hull->faces[i];
            hit = clipRay(face.normal, face.normal.dot(face.outline.front()), o, d, t0, t1);
        }
        break;
    }
    return hit ? t0 : -1.0;
}

} // namespace ivrant::geometry
