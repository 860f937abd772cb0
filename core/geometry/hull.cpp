#include "core/geometry/hull.h"

#include <algorithm>
#include <array>
#include <map>
#include <random>

namespace ivrant::geometry {
namespace {

double cross2(const Eigen::Vector2d& o, const Eigen::Vector2d& a, const Eigen::Vector2d& b) {
    return (a.x() - o.x()) * (b.y() - o.y()) - (a.y() - o.y()) * (b.x() - o.x());
}

struct Triangle {
    std::array<int, 3> v;
    Vec3 normal;
    double offset = 0;
};

Triangle makeTriangle(const std::vector<Vec3>& p, int a, int b, int c) {
    const auto at = [&](int i) -> const Vec3& { return p[static_cast<std::size_t>(i)]; };
    Triangle t{{a, b, c}, (at(b) - at(a)).cross(at(c) - at(a)).normalized(), 0};
    t.offset = t.normal.dot(at(a));
    return t;
}

/// Four points that span a volume, as triangles facing outwards; empty when there are none.
std::vector<Triangle> makeStart(const std::vector<Vec3>& p) {
    std::size_t b = 0, c = 0, d = 0;
    double best = 0;
    for (std::size_t i = 1; i < p.size(); ++i)
        if ((p[i] - p[0]).norm() > best) best = (p[i] - p[0]).norm(), b = i;
    best = 1e-3;
    for (std::size_t i = 1; i < p.size(); ++i)
        if (const double v = (p[i] - p[0]).cross(p[b] - p[0]).norm(); v > best) best = v, c = i;
    if (b == 0 || c == 0) return {};
    const Vec3 n = (p[b] - p[0]).cross(p[c] - p[0]).normalized();
    best = 1e-3;
    for (std::size_t i = 1; i < p.size(); ++i)
        if (const double v = std::abs(n.dot(p[i] - p[0])); v > best) best = v, d = i;
    if (d == 0) return {};
    std::array<int, 4> t{0, static_cast<int>(b), static_cast<int>(c), static_cast<int>(d)};
    if (n.dot(p[d] - p[0]) > 0) std::swap(t[1], t[2]);
    return {makeTriangle(p, t[0], t[1], t[2]), makeTriangle(p, t[0], t[3], t[1]), makeTriangle(p, t[1], t[3], t[2]), makeTriangle(p, t[2], t[3], t[0])};
}

} // namespace

std::vector<Eigen::Vector2d> calcHull2(std::vector<Eigen::Vector2d> points) {
    std::sort(points.begin(), points.end(), [](const auto& l, const auto& r) { return l.x() != r.x() ? l.x() < r.x() : l.y() < r.y(); });
    points.erase(std::unique(points.begin(), points.end(), [](const auto& l, const auto& r) { return (l - r).norm() < 1e-9; }), points.end());
    if (points.size() < 3) return points;
    std::vector<Eigen::Vector2d> hull;
    for (int pass = 0; pass < 2; ++pass) {
        const std::size_t base = hull.size();
        for (const auto& p : points) {
            while (hull.size() >= base + 2 && cross2(hull[hull.size() - 2], hull.back(), p) <= 1e-9) hull.pop_back();
            hull.push_back(p);
        }
        hull.pop_back();
        std::reverse(points.begin(), points.end());
    }
    return hull;
}

std::vector<HullFace> calcHullFaces(const std::vector<Vec3>& points) {
    std::vector<Vec3> p = points;
    std::mt19937 random(7); // fixed seed: the same points give the same hull
    std::uniform_real_distribution<double> nudge(-1e-6, 1e-6);
    for (Vec3& q : p) q += Vec3(nudge(random), nudge(random), nudge(random));
    std::shuffle(p.begin(), p.end(), random);
    std::vector<Triangle> hull = makeStart(p);
    if (hull.empty()) return {};
    for (std::size_t i = 1; i < p.size(); ++i) {
        std::vector<Triangle> kept;
        std::map<std::pair<int, int>, bool> rim; // directed edges of the faces seen from the new point
        for (const Triangle& t : hull) {
            if (t.normal.dot(p[i]) <= t.offset + 1e-9) {
                kept.push_back(t);
                continue;
            }
            for (std::size_t k = 0; k < 3; ++k) rim[{t.v[k], t.v[(k + 1) % 3]}] = true;
        }
        if (kept.size() == hull.size()) continue;
        for (const auto& entry : rim)
            if (rim.count({entry.first.second, entry.first.first}) == 0)
                kept.push_back(makeTriangle(p, entry.first.first, entry.first.second, static_cast<int>(i)));
        hull = std::move(kept);
    }
    std::vector<HullFace> faces;
    std::vector<bool> taken(hull.size(), false);
    std::vector<std::size_t> bySize(hull.size());
    for (std::size_t i = 0; i < hull.size(); ++i) bySize[i] = i;
    const auto area = [&](const Triangle& t) {
        const auto at = [&](std::size_t k) { return p[static_cast<std::size_t>(t.v[k])]; };
        return (at(1) - at(0)).cross(at(2) - at(0)).norm();
    };
    std::stable_sort(bySize.begin(), bySize.end(), [&](std::size_t l, std::size_t r) { return area(hull[l]) > area(hull[r]); });
    for (std::size_t i : bySize) { // the largest triangle of a face has the most reliable normal
        if (taken[i] || area(hull[i]) < 1e-4) continue;
        const Triangle& lead = hull[i];
        std::vector<Vec3> members;
        for (std::size_t k = 0; k < hull.size(); ++k) {
            bool coplanar = !taken[k];
            for (int v : hull[k].v) coplanar = coplanar && std::abs(lead.normal.dot(p[static_cast<std::size_t>(v)]) - lead.offset) < 0.01;
            if (!coplanar || hull[k].normal.dot(lead.normal) < 0.9) continue;
            taken[k] = true;
            for (int v : hull[k].v) members.push_back(p[static_cast<std::size_t>(v)]);
        }
        const Pose frame = makeAxisFrame(members.front(), lead.normal, lead.normal.unitOrthogonal());
        std::vector<Eigen::Vector2d> flat;
        for (const Vec3& m : members) flat.push_back((frame.inverse() * m).head<2>());
        HullFace face{lead.normal, {}};
        for (const auto& q : calcHull2(flat)) face.outline.push_back(frame * Vec3(q.x(), q.y(), 0));
        if (face.outline.size() >= 3) faces.push_back(std::move(face));
    }
    return faces;
}

} // namespace ivrant::geometry
