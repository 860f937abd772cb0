// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/geometry/hull.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <cstdint>
#include <cstdio>
#include <memory>
#include <stdexcept>
#include <string>
#include <unordered_map>

extern "C" {
#include <libqhull_r/libqhull_r.h>
#include <libqhull_r/mem_r.h>
#include <libqhull_r/qset_r.h>
}

namespace ivrant::geometry {
namespace {

constexpr double kSameMm = 1e-5;  ///< a corner nearer to the line of its neighbours is none
constexpr double kGridMm = 1e-6;  ///< exact arithmetic works on whole steps of this
constexpr double kThickMm = 1e-3; ///< thinner clouds of points are flat

struct GridPoint {
    std::int64_t x, y;
    std::size_t index; ///< in the input
};

__extension__ using Wide = __int128; ///< products of 62-bit differences

/// Above 0 when o, a, b turn left. Exact: coordinates below 2^61 steps.
Wide cross2(const GridPoint& o, const GridPoint& a, const GridPoint& b) {
    return Wide(a.x - o.x) * (b.y - o.y) - Wide(a.y - o.y) * (b.x - o.x);
}

/// Distance of p from the line through a and b; from a where they coincide.
double distanceFromLine(const Eigen::Vector2d& p, const Eigen::Vector2d& a, const Eigen::Vector2d& b) {
    const Eigen::Vector2d along = b - a, to = p - a;
    const double length = along.norm();
    return length > 0 ? std::abs(along.x() * to.y() - along.y() * to.x()) / length : to.norm();
}

/// Corners of an exact hull that are corners within kSameMm too: between two kept ones the farthest from their line is
/// kept, and so on (Ramer 1972; Douglas and Peucker 1973). Starts from the corner farthest from the middle, which is
/// one in any attitude.
std::vector<std::size_t> keepCorners(const std::vector<Eigen::Vector2d>& hull) {
    const std::size_t n = hull.size();
    const auto farthestFrom = [&](const Eigen::Vector2d& p) {
        std::size_t best = 0;
        for (std::size_t i = 1; i < n; ++i)
            if ((hull[i] - p).squaredNorm() > (hull[best] - p).squaredNorm()) best = i;
        return best;
    };
    Eigen::Vector2d middle = Eigen::Vector2d::Zero();
    for (const auto& p : hull) middle += p / static_cast<double>(n);
    const std::size_t first = farthestFrom(middle), second = farthestFrom(hull[first]);
    std::vector<bool> kept(n, false);
    kept[first] = kept[second] = true;
    std::vector<std::pair<std::size_t, std::size_t>> spans{{first, second}, {second, first}};
    while (!spans.empty()) {
        const auto [from, to] = spans.back();
        spans.pop_back();
        double most = kSameMm;
        std::size_t at = n;
        for (std::size_t i = (from + 1) % n; i != to; i = (i + 1) % n)
            if (const double d = distanceFromLine(hull[i], hull[from], hull[to]); d > most) most = d, at = i;
        if (at == n) continue;
        kept[at] = true;
        spans.push_back({from, at});
        spans.push_back({at, to});
    }
    std::vector<std::size_t> corners;
    for (std::size_t i = 0; i < n; ++i)
        if (kept[i]) corners.push_back(i);
    // Of an edge that runs along the line between two kept corners all points are equally far, and one within it may
    // have been kept.
    for (bool again = true; again && corners.size() > 2;) {
        again = false;
        for (std::size_t i = 0; i < corners.size() && corners.size() > 2; ++i) {
            const std::size_t before = corners[(i + corners.size() - 1) % corners.size()],
                              after = corners[(i + 1) % corners.size()];
            if (before == after || distanceFromLine(hull[corners[i]], hull[before], hull[after]) > kSameMm) continue;
            if (corners.size() == 3) return {first, second}; // all on one line
            corners.erase(corners.begin() + static_cast<std::ptrdiff_t>(i));
            again = true;
        }
    }
    return corners;
}

/// A face as the library tells it, or several that lie in one plane.
struct Facet {
    Vec3 normal;
    double offset = 0; ///< normal · p
    std::vector<std::size_t> points;
    double area = 0;
};

std::vector<Vec3> makeOutline(const std::vector<Vec3>& points, const std::vector<std::size_t>& members,
                              const Vec3& normal) {
    const Frame frame = makeAxisFrame(points[members.front()], normal, normal.unitOrthogonal());
    const Frame inverse = frame.inverse();
    std::vector<Eigen::Vector2d> flat;
    flat.reserve(members.size());
    for (const std::size_t m : members) flat.push_back((inverse * points[m]).head<2>());
    std::vector<Vec3> outline;
    for (const auto& q : calcHull2(std::move(flat))) outline.push_back(frame * Vec3(q.x(), q.y(), 0));
    return outline;
}

double calcArea(const std::vector<Vec3>& outline) {
    Vec3 twice = Vec3::Zero();
    for (std::size_t i = 2; i < outline.size(); ++i)
        twice += (outline[i - 1] - outline[0]).cross(outline[i] - outline[0]);
    return twice.norm() / 2;
}

bool isFlat(const std::vector<Vec3>& p) {
    if (p.size() < 4) return true;
    const auto farthest = [&](const auto& measure) {
        double best = 0;
        std::size_t at = 0;
        for (std::size_t i = 0; i < p.size(); ++i)
            if (const double v = measure(p[i]); v > best) best = v, at = i;
        return std::pair{best, at};
    };
    const auto [length, b] = farthest([&](const Vec3& q) { return (q - p[0]).norm(); });
    if (length < kThickMm) return true;
    const Vec3 along = (p[b] - p[0]).normalized();
    const auto [width, c] = farthest([&](const Vec3& q) { return (q - p[0]).cross(along).norm(); });
    if (width < kThickMm) return true;
    const Vec3 normal = along.cross(p[c] - p[0]).normalized();
    return farthest([&](const Vec3& q) { return std::abs(normal.dot(q - p[0])); }).first < kThickMm;
}

/// Leaves out what lies inside the octagon of the farthest points in eight directions (Akl and Toussaint 1978): no
/// corner of a hull does.
void dropInside(std::vector<GridPoint>& grid) {
    constexpr std::size_t kFew = 32; // below, sorting is faster
    if (grid.size() < kFew) return;
    constexpr std::array<std::array<std::int64_t, 2>, 8> kWays{
        {{1, 0}, {1, 1}, {0, 1}, {-1, 1}, {-1, 0}, {-1, -1}, {0, -1}, {1, -1}}};
    std::array<GridPoint, 8> far;
    far.fill(grid.front());
    for (const GridPoint& p : grid)
        for (std::size_t k = 0; k < kWays.size(); ++k) {
            const auto [wx, wy] = kWays[k];
            if (wx * p.x + wy * p.y > wx * far[k].x + wy * far[k].y) far[k] = p;
        }
    const auto isInside = [&](const GridPoint& p) {
        for (std::size_t k = 0; k < far.size(); ++k) {
            const GridPoint &a = far[k], &b = far[(k + 1) % far.size()];
            if ((a.x != b.x || a.y != b.y) && cross2(a, b, p) <= 0) return false;
        }
        return true;
    };
    const bool isLine =
        std::all_of(far.begin(), far.end(), [&](const GridPoint& p) { return cross2(far[0], far[4], p) == 0; });
    if (!isLine) grid.erase(std::remove_if(grid.begin(), grid.end(), isInside), grid.end());
}

/// Closes the library's memory however this ends.
struct Quickhull {
    qhT state{};
    std::unique_ptr<std::FILE, int (*)(std::FILE*)> silent{std::fopen("/dev/null", "w"), &std::fclose};
    Quickhull() { qh_zero(&state, silent.get()); }
    Quickhull(const Quickhull&) = delete;
    Quickhull& operator=(const Quickhull&) = delete;
    ~Quickhull() {
        int left = 0, total = 0;
        qh_freeqhull(&state, !qh_ALL);
        qh_memfreeshort(&state, &left, &total);
    }
};

std::vector<Facet> calcFacets(const std::vector<Vec3>& points) {
    Quickhull hull;
    std::vector<double> flat; // the library may not write to it, but its header does not say so
    flat.reserve(3 * points.size());
    for (const Vec3& p : points) flat.insert(flat.end(), {p.x(), p.y(), p.z()});
    char options[] = "qhull Pp";
    if (qh_new_qhull(&hull.state, 3, static_cast<int>(points.size()), flat.data(), False, options, nullptr,
                     hull.silent.get()) != 0)
        throw std::runtime_error("calcHullFaces: the hull of " + std::to_string(points.size()) +
                                 " points was not found");
    std::vector<Facet> facets;
    for (facetT* f = hull.state.facet_list; f && f->next; f = f->next) {
        Facet facet{Vec3(f->normal[0], f->normal[1], f->normal[2]), -f->offset, {}, 0};
        for (int i = 0; i < qh_setsize(&hull.state, f->vertices); ++i) {
            const auto* vertex = static_cast<const vertexT*>(f->vertices->e[i].p);
            facet.points.push_back(static_cast<std::size_t>(qh_pointid(&hull.state, vertex->point)));
        }
        if (facet.points.size() < 3) continue;
        std::sort(facet.points.begin(), facet.points.end());
        facet.area = calcArea(makeOutline(points, facet.points, facet.normal));
        facets.push_back(std::move(facet));
    }
    return facets;
}

} // namespace

std::vector<Eigen::Vector2d> calcHull2(std::vector<Eigen::Vector2d> points) {
    std::vector<GridPoint> grid;
    grid.reserve(points.size());
    for (std::size_t i = 0; i < points.size(); ++i)
        grid.push_back({std::llround(points[i].x() / kGridMm), std::llround(points[i].y() / kGridMm), i});
    dropInside(grid);
    const auto place = [](const GridPoint& p) { return std::pair(p.x, p.y); };
    std::sort(grid.begin(), grid.end(), [&](const GridPoint& l, const GridPoint& r) {
        return std::pair(place(l), l.index) < std::pair(place(r), r.index);
    });
    grid.erase(std::unique(grid.begin(), grid.end(),
                           [&](const GridPoint& l, const GridPoint& r) { return place(l) == place(r); }),
               grid.end());
    const auto take = [&](const std::vector<GridPoint>& chosen) {
        std::vector<Eigen::Vector2d> taken;
        for (const GridPoint& p : chosen) taken.push_back(points[p.index]);
        return taken;
    };
    if (grid.size() < 3) return take(grid);
    std::vector<GridPoint> hull;
    for (int pass = 0; pass < 2; ++pass) {
        const std::size_t base = hull.size();
        for (const GridPoint& p : grid) {
            while (hull.size() >= base + 2 && cross2(hull[hull.size() - 2], hull.back(), p) <= 0) hull.pop_back();
            hull.push_back(p);
        }
        hull.pop_back();
        std::reverse(grid.begin(), grid.end());
    }
    const auto exact = take(hull);
    if (exact.size() < 3) return exact;
    std::vector<Eigen::Vector2d> corners;
    for (const std::size_t i : keepCorners(exact)) corners.push_back(exact[i]);
    return corners;
}

std::vector<Vec3> dropInnerOfLines(std::vector<Vec3> points) {
    for (int axis = 0; axis < 3; ++axis) {
        const int u = (axis + 1) % 3, v = (axis + 2) % 3;
        struct Ends {
            std::size_t low, high;
        };
        struct KeyHash {
            std::size_t operator()(const std::pair<std::int64_t, std::int64_t>& k) const {
                return static_cast<std::size_t>(k.first) * 0x9E3779B97F4A7C15ULL ^ static_cast<std::size_t>(k.second);
            }
        };
        std::unordered_map<std::pair<std::int64_t, std::int64_t>, Ends, KeyHash> lines;
        lines.reserve(points.size() / 4);
        for (std::size_t i = 0; i < points.size(); ++i) {
            const auto [line, isNew] = lines.try_emplace(
                {std::llround(points[i][u] / kGridMm), std::llround(points[i][v] / kGridMm)}, Ends{i, i});
            if (isNew) continue;
            if (points[i][axis] < points[line->second.low][axis]) line->second.low = i;
            if (points[i][axis] > points[line->second.high][axis]) line->second.high = i;
        }
        std::vector<std::size_t> kept;
        for (const auto& [key, ends] : lines) {
            kept.push_back(ends.low);
            if (ends.high != ends.low) kept.push_back(ends.high);
        }
        std::sort(kept.begin(), kept.end());
        std::vector<Vec3> left;
        left.reserve(kept.size());
        for (const std::size_t i : kept) left.push_back(points[i]);
        points = std::move(left);
    }
    return points;
}

std::vector<HullFace> calcHullFaces(const std::vector<Vec3>& points) {
    if (isFlat(points)) return {};
    std::vector<Facet> facets = calcFacets(points);
    // The largest facet of a face has the most reliable normal; ties by place, so that the order of the points does not
    // count.
    std::sort(facets.begin(), facets.end(), [](const Facet& l, const Facet& r) {
        if (std::abs(l.area - r.area) > kSameMm) return l.area > r.area;
        for (int k = 0; k < 3; ++k)
            if (std::abs(l.normal[k] - r.normal[k]) > 1e-9) return l.normal[k] > r.normal[k];
        return l.offset > r.offset + kSameMm;
    });
    std::vector<HullFace> faces;
    std::vector<bool> taken(facets.size(), false);
    for (std::size_t i = 0; i < facets.size(); ++i) {
        if (taken[i] || facets[i].area < 5e-5) continue;
        const Facet& lead = facets[i];
        std::vector<std::size_t> members;
        for (std::size_t k = i; k < facets.size(); ++k) {
            if (taken[k] || facets[k].normal.dot(lead.normal) < 0.9) continue;
            const bool coplanar = std::all_of(facets[k].points.begin(), facets[k].points.end(), [&](std::size_t p) {
                return std::abs(lead.normal.dot(points[p]) - lead.offset) < 0.01;
            });
            if (!coplanar) continue;
            taken[k] = true;
            members.insert(members.end(), facets[k].points.begin(), facets[k].points.end());
        }
        HullFace face{lead.normal, makeOutline(points, members, lead.normal)};
        if (face.outline.size() >= 3) faces.push_back(std::move(face));
    }
    return faces;
}

} // namespace ivrant::geometry
