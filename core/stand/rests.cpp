// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/stand/rests.h"

#include <algorithm>
#include <cmath>
#include <optional>

#include "core/base/units.h"
#include "core/geometry/corners.h"
#include "core/geometry/hull.h"

namespace ivrant::stand {
namespace {

using geometry::Frame;
using geometry::Vec3;
using Polygon = std::vector<Eigen::Vector2d>;

constexpr double kLeastAreaMm2 = 0.5;
constexpr std::size_t kMostCorners = 8;

struct Face {
    int body = 0;
    Vec3 normal;
    double offset = 0; ///< normal · p
    Polygon outline;   ///< in the plane's own axes (see axesOf)
    std::vector<Vec3> corners;
};

struct Item {
    int index;
    const parts::Shape* shape;
    Frame X;
    geometry::Bounds bounds;
    std::optional<std::vector<Face>> tops, bottoms; ///< made when first needed
};

/// Faces of a part along its own z, up or down, that point the given way in the world.
std::vector<Face> listFaces(const Item& item, bool up) {
    std::vector<Face> faces;
    for (const geometry::Solid& solid : item.shape->drawn) { // edge to edge, as the faces are
        const Frame X = item.X * solid.X_PS;
        const auto kind = solid.kind;
        std::vector<Vec3> normals;
        if (kind == geometry::SolidKind::Box)
            normals = {X.linear().col(0), X.linear().col(1), X.linear().col(2)};
        else if (kind == geometry::SolidKind::Prism || kind == geometry::SolidKind::Cylinder)
            normals = {X.linear().col(2)};
        else
            continue;
        std::vector<Vec3> corners;
        geometry::appendCorners(corners, solid, item.X);
        for (Vec3 n : normals) {
            if (std::abs(n.z()) < kSteepestRest) continue;
            if ((n.z() > 0) != up) n = -n;
            Face face{item.index, n, -1e30, {}, {}};
            for (const Vec3& c : corners) face.offset = std::max(face.offset, n.dot(c));
            for (const Vec3& c : corners)
                if (face.offset - n.dot(c) < 1e-6) face.corners.push_back(c);
            if (face.corners.size() >= 3) faces.push_back(std::move(face));
        }
    }
    return faces;
}

/// Clips a convex polygon by the half planes of another (Sutherland and Hodgman 1974); both counter-clockwise.
Polygon intersect(Polygon subject, const Polygon& clip) {
    for (std::size_t i = 0; i < clip.size() && !subject.empty(); ++i) {
        const Eigen::Vector2d a = clip[i], edge = clip[(i + 1) % clip.size()] - a;
        const auto side = [&](const Eigen::Vector2d& p) {
            return edge.x() * (p.y() - a.y()) - edge.y() * (p.x() - a.x());
        };
        Polygon out;
        for (std::size_t k = 0; k < subject.size(); ++k) {
            const Eigen::Vector2d &p = subject[k], &q = subject[(k + 1) % subject.size()];
            const double sp = side(p), sq = side(q);
            if (sp >= 0) out.push_back(p);
            if ((sp > 0 && sq < 0) || (sp < 0 && sq > 0)) out.push_back(p + (q - p) * (sp / (sp - sq)));
        }
        subject = std::move(out);
    }
    return subject;
}

double calcArea(const Polygon& p) {
    double twice = 0;
    for (std::size_t i = 0; i < p.size(); ++i)
        twice += p[i].x() * p[(i + 1) % p.size()].y() - p[(i + 1) % p.size()].x() * p[i].y();
    return twice / 2;
}

void addRest(const Face& below, const Face& above, std::vector<Rest>& rests) {
    static const double kOpposed = -std::cos(base::degToRad(0.5));
    if (below.normal.dot(above.normal) > kOpposed) return;
    if (std::abs(below.offset + above.offset) > kRestGapMm) return;
    const Vec3 x = below.normal.unitOrthogonal(), y = below.normal.cross(x);
    const auto flatten = [&](const Face& face) {
        Polygon flat;
        for (const Vec3& c : face.corners) flat.emplace_back(c.dot(x), c.dot(y));
        return geometry::calcHull2(std::move(flat));
    };
    const Polygon one = flatten(below), other = flatten(above);
    if (one.size() < 3 || other.size() < 3) return;
    Polygon common = geometry::calcHull2(intersect(one, other));
    if (common.size() < 3 || calcArea(common) < kLeastAreaMm2) return;
    Rest rest{below.body, above.body, below.normal, {}};
    const std::size_t stride = (common.size() + kMostCorners - 1) / kMostCorners;
    for (std::size_t k = 0; k < common.size(); k += stride)
        rest.corners.push_back(below.normal * below.offset + common[k].x() * x + common[k].y() * y);
    rests.push_back(std::move(rest));
}

} // namespace

std::vector<Rest> findRests(const model::Placed& placed, const std::vector<model::PartSpot>& spots,
                            const std::function<bool(int, int)>& held) {
    std::vector<Item> items;
    for (std::size_t i = 0; i < spots.size(); ++i) {
        const model::Part& part = model::getPart(*placed.project, spots[i]);
        Item item{static_cast<int>(i), part.shape.get(), placed.X_WP(spots[i]), {}, {}, {}};
        const auto& b = part.shape->bounds;
        const Vec3 middle = item.X * b.centre(), half = item.X.linear().cwiseAbs() * b.size() / 2;
        item.bounds.include(middle - half);
        item.bounds.include(middle + half);
        items.push_back(std::move(item));
    }
    std::sort(items.begin(), items.end(),
              [](const Item& l, const Item& r) { return l.bounds.low.x() < r.bounds.low.x(); });
    std::vector<Rest> rests;
    for (std::size_t i = 0; i < items.size(); ++i)
        for (std::size_t j = i + 1; j < items.size() && items[j].bounds.low.x() < items[i].bounds.high.x(); ++j) {
            if (!items[i].bounds.overlaps(items[j].bounds, kRestGapMm) || held(items[i].index, items[j].index))
                continue;
            for (const bool first : {true, false}) {
                Item &low = first ? items[i] : items[j], &high = first ? items[j] : items[i];
                // A tilted part may lie on another and reach further down beside it: its faces decide.
                if (high.bounds.high.z() <= low.bounds.low.z()) continue;
                if (!low.tops) low.tops = listFaces(low, true);
                if (!high.bottoms) high.bottoms = listFaces(high, false);
                for (const Face& top : *low.tops)
                    for (const Face& bottom : *high.bottoms) addRest(top, bottom, rests);
            }
        }
    std::sort(rests.begin(), rests.end(),
              [](const Rest& l, const Rest& r) { return std::pair(l.below, l.above) < std::pair(r.below, r.above); });
    return rests;
}

} // namespace ivrant::stand
