// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/study/walk_ground.h"

#include <Eigen/LU>
#include <Eigen/QR>
#include <algorithm>
#include <array>
#include <cmath>
#include <numbers>

#include "core/base/at.h"
#include "core/base/units.h"
#include "core/geometry/corners.h"
#include "core/geometry/hull.h"

namespace ivrant::study {
namespace {

using geometry::Vec3;
using Vec2 = Eigen::Vector2d;

constexpr int kMostPivots = 400, kMostUps = 60;
constexpr int kReweightings = 120;
constexpr double kStillMm = 1e-7;
constexpr double kSameUp = 1e-10, kBelowMm = 1e-9;

struct Axes {
    Vec3 x, y, up;
    explicit Axes(const Vec3& u) : up(u) {
        x = u.unitOrthogonal();
        y = u.cross(x);
    }
    [[nodiscard]] Vec2 flat(const Vec3& p) const { return {p.dot(x), p.dot(y)}; }
};

/// Shares of a point in a triangle; all of them 0 or more: it lies inside.
std::optional<Vec3> calcShares(const Vec2& a, const Vec2& b, const Vec2& c, const Vec2& p) {
    const auto cross = [](const Vec2& l, const Vec2& r) { return l.x() * r.y() - l.y() * r.x(); };
    const double area = cross(b - a, c - a);
    if (std::abs(area) < 1e-12) return std::nullopt;
    return Vec3(cross(b - p, c - p) / area, cross(c - p, a - p) / area, cross(a - p, b - p) / area);
}

/// Three points about the centre, as seen from above; none: it lies beside all of them.
std::optional<std::array<std::size_t, 3>> findAround(const std::vector<Vec2>& flat, const Vec2& centre) {
    std::vector<std::pair<double, std::size_t>> angles;
    for (std::size_t i = 0; i < flat.size(); ++i) {
        const Vec2 d = flat[i] - centre;
        if (d.norm() > 1e-9) angles.emplace_back(std::atan2(d.y(), d.x()), i);
    }
    if (angles.size() < 3) return std::nullopt;
    std::sort(angles.begin(), angles.end());
    const double first = angles.front().first;
    std::size_t k = 0;
    while (k + 1 < angles.size() && angles[k + 1].first - first <= std::numbers::pi) ++k;
    if (k == 0 || k + 1 == angles.size()) return std::nullopt;
    const double gap = angles[k + 1].first - angles[k].first;
    if (gap >= std::numbers::pi) return std::nullopt;
    return std::array{angles.front().second, angles[k].second, angles[k + 1].second};
}

/// The plane z = a·x + b·y + c below all points, highest at the centre.
std::optional<Vec3> findPlane(const std::vector<Vec3>& points, const Axes& axes, const Vec3& centre) {
    std::vector<Vec2> flat;
    flat.reserve(points.size());
    for (const Vec3& p : points) flat.push_back(axes.flat(p));
    const Vec2 middle = axes.flat(centre);
    auto triangle = findAround(flat, middle);
    if (!triangle) return std::nullopt;
    for (int pivot = 0; pivot < kMostPivots; ++pivot) {
        Eigen::Matrix3d m;
        Vec3 z;
        for (int k = 0; k < 3; ++k) {
            const std::size_t i = (*triangle)[static_cast<std::size_t>(k)];
            m.row(k) << flat[i].x(), flat[i].y(), 1;
            z[k] = points[i].dot(axes.up);
        }
        const Vec3 plane = m.fullPivLu().solve(z);
        double deepest = -kBelowMm;
        std::size_t worst = points.size();
        for (std::size_t i = 0; i < points.size(); ++i) {
            const double above =
                points[i].dot(axes.up) - (plane.x() * flat[i].x() + plane.y() * flat[i].y() + plane.z());
            if (above >= deepest) continue;
            deepest = above;
            worst = i;
        }
        if (worst == points.size()) return plane;
        // It takes the place of the one that leaves the centre inside.
        double best = -1e300;
        std::size_t out = 0;
        for (std::size_t k = 0; k < 3; ++k) {
            auto next = *triangle;
            next[k] = worst;
            const auto shares = calcShares(flat[next[0]], flat[next[1]], flat[next[2]], middle);
            if (!shares || shares->minCoeff() <= best) continue;
            best = shares->minCoeff();
            out = k;
        }
        if (best < -1e-9) return std::nullopt;
        (*triangle)[out] = worst;
    }
    return std::nullopt;
}

/// Weight shared by what touches: linear over the points, never pulling.
std::vector<double> sharePressures(const std::vector<Vec2>& at, const Vec2& centre) {
    std::vector<bool> active(at.size(), true);
    std::vector<double> shares(at.size(), 0);
    for (std::size_t round = 0; round <= at.size(); ++round) {
        Eigen::Matrix3d m = Eigen::Matrix3d::Zero();
        for (std::size_t i = 0; i < at.size(); ++i)
            if (active[i]) {
                const Vec3 row(1, at[i].x() - centre.x(), at[i].y() - centre.y());
                m += row * row.transpose();
            }
        const Vec3 linear = m.completeOrthogonalDecomposition().solve(Vec3(1, 0, 0));
        bool pulls = false;
        for (std::size_t i = 0; i < at.size(); ++i) {
            shares[i] = active[i] ? linear.dot(Vec3(1, at[i].x() - centre.x(), at[i].y() - centre.y())) : 0;
            if (shares[i] >= -1e-12) continue;
            active[i] = false;
            shares[i] = 0;
            pulls = true;
        }
        if (!pulls) break;
    }
    return shares;
}

} // namespace

Vec3 FootPoint::findLowest(const Vec3& up) const {
    if (radius <= 0) return at;
    if (axis.isZero()) return at - radius * up;
    const Vec3 across = up - up.dot(axis) * axis;
    const double length = across.norm();
    return length < 1e-9 ? at : Vec3(at - radius * across / length);
}

std::vector<FootPoint> listFootPoints(const model::Section& section, int foot) {
    std::vector<FootPoint> points;
    for (const model::Part& part : section.parts) {
        const geometry::Frame X = part.place.frame();
        for (const auto& own : part.shape->solids) {
            const geometry::Solid& solid = own.solid;
            const geometry::Frame at = X * solid.X_PS;
            if (solid.kind == geometry::SolidKind::Sphere) {
                points.push_back({foot, at.translation(), Vec3::Zero(), solid.radius()});
            } else if (solid.kind == geometry::SolidKind::Cylinder) {
                for (const double end : {-1.0, 1.0})
                    points.push_back({foot, at * Vec3(0, 0, end * solid.half.z()), at.linear().col(2), solid.radius()});
            } else {
                std::vector<Vec3> corners;
                geometry::appendCorners(corners, solid, X);
                for (const Vec3& p : corners) points.push_back({foot, p, Vec3::Zero(), 0});
            }
        }
    }
    return points;
}

std::optional<Support> calcSupport(const std::vector<FootPoint>& points, const Vec3& centre, const Vec3& lastUp) {
    Support support;
    support.up = lastUp.normalized();
    std::vector<Vec3> lowest(points.size());
    double slope = 0;
    for (int round = 0; round < kMostUps; ++round) {
        const Axes axes(support.up);
        for (std::size_t i = 0; i < points.size(); ++i) lowest[i] = points[i].findLowest(support.up);
        const auto plane = findPlane(lowest, axes, centre);
        if (!plane) return std::nullopt;
        const Vec3 up = (support.up - plane->x() * axes.x - plane->y() * axes.y).normalized();
        slope = (up - support.up).norm();
        support.up = up;
        if (slope < kSameUp) break;
    }
    const Axes axes(support.up);
    for (std::size_t i = 0; i < points.size(); ++i) lowest[i] = points[i].findLowest(support.up);
    support.offset = 1e300;
    for (const Vec3& p : lowest) support.offset = std::min(support.offset, p.dot(support.up));
    std::vector<Vec2> flat;
    for (std::size_t i = 0; i < points.size(); ++i) {
        if (lowest[i].dot(support.up) > support.offset + kTouchMm) continue;
        support.touching.push_back(static_cast<int>(i));
        support.contacts.push_back(lowest[i]);
        flat.push_back(axes.flat(lowest[i]));
    }
    const Vec2 middle = axes.flat(centre);
    support.shares = sharePressures(flat, middle);
    const auto hull = geometry::calcHull2(flat);
    const double height = centre.dot(support.up) - support.offset;
    double least = 1e300;
    Vec2 out = Vec2::Zero();
    for (std::size_t k = 0; k < hull.size(); ++k) {
        const Vec2 edge = hull[(k + 1) % hull.size()] - hull[k];
        if (edge.norm() < 1e-9) continue;
        const Vec2 outward = Vec2(edge.y(), -edge.x()).normalized();
        const double inside = outward.dot(hull[k] - middle);
        if (inside >= least) continue;
        least = inside;
        out = outward;
    }
    if (hull.size() < 3) least = 0;
    support.tipDeg = base::radToDeg(std::atan2(least, std::max(height, 1e-9)));
    support.tipWay = out.x() * axes.x + out.y() * axes.y;
    return support;
}

Eigen::Vector2d turnBy(double angle, const Eigen::Vector2d& v) {
    return {std::cos(angle) * v.x() - std::sin(angle) * v.y(), std::sin(angle) * v.x() + std::cos(angle) * v.y()};
}

PlaneMove calcPlaneMove(const std::vector<Vec2>& before, const std::vector<Vec2>& now,
                        const std::vector<double>& shares) {
    PlaneMove move;
    std::vector<double> weight = shares;
    for (int round = 0; round < kReweightings; ++round) {
        double sum = 0;
        Vec2 a = Vec2::Zero(), b = Vec2::Zero();
        for (std::size_t i = 0; i < now.size(); ++i) {
            sum += weight[i];
            a += weight[i] * before[i];
            b += weight[i] * now[i];
        }
        if (sum <= 0) return move;
        a /= sum;
        b /= sum;
        double sine = 0, cosine = 0;
        for (std::size_t i = 0; i < now.size(); ++i) {
            const Vec2 p = now[i] - b, q = before[i] - a;
            sine += weight[i] * (p.x() * q.y() - p.y() * q.x());
            cosine += weight[i] * p.dot(q);
        }
        const double turn = std::atan2(sine, cosine);
        const PlaneMove last = move;
        move.turn = std::hypot(sine, cosine) > 1e-15 ? turn : 0;
        move.shift = a - turnBy(move.turn, b);
        move.slip = 0;
        for (std::size_t i = 0; i < now.size(); ++i) {
            const double left = (turnBy(move.turn, now[i]) + move.shift - before[i]).norm();
            move.slip += shares[i] * left;
            weight[i] = shares[i] / std::max(left, kStillMm);
        }
        if (round > 0 && std::abs(last.turn - move.turn) < 1e-12 && (last.shift - move.shift).norm() < 1e-10) break;
    }
    return move;
}

} // namespace ivrant::study
