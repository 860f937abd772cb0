// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/stand/post_design.h"

#include <algorithm>
#include <cmath>

#include "core/base/units.h"
#include "core/geometry/hull.h"
#include "core/stand/counterweight.h"
#include "core/stand/support_edges.h"

namespace ivrant::stand {
namespace {

using Eigen::Vector2d;
using geometry::Bounds;

constexpr double kSlackMm = 0.3, kLeastPostN = 1e-6; ///< a post that carries less is idle

/// Places under a box where a post may touch: the middles of its pitches.
std::vector<Vec3> listTops(const Bounds& box) {
    std::vector<Vec3> tops;
    const auto middles = [](double low, double high) {
        const int count = std::max(1, static_cast<int>(std::lround((high - low) / base::kPitchMm)));
        std::vector<double> at;
        at.reserve(static_cast<std::size_t>(count));
        for (int i = 0; i < count; ++i) at.push_back(low + (i + 0.5) * (high - low) / count);
        return at;
    };
    for (const double x : middles(box.low.x(), box.high.x()))
        for (const double y : middles(box.low.y(), box.high.y())) tops.emplace_back(x, y, box.low.z());
    return tops;
}

} // namespace

Tipping calcTippingOn(Tipping tipping, const Vector2d& foot) {
    for (const double dx : {-kPostMm / 2, kPostMm / 2})
        for (const double dy : {-kPostMm / 2, kPostMm / 2}) tipping.support.emplace_back(foot + Vector2d(dx, dy));
    tipping.support = geometry::calcHull2(std::move(tipping.support));
    const Vec3 centre = tipping.centre;
    return calcTippingWith(std::move(tipping), 0, centre);
}

double calcPostN(const Tipping& tipping, const Vector2d& foot, double tiltDeg) {
    const double weight = base::weightN(tipping.massG), tilt = base::degToRad(tiltDeg);
    if (tipping.support.size() < 3) return weight; // on a line or a point it may have to carry nearly all
    double most = 0;
    for (const SupportEdge& edge : listEdges(tipping.support)) {
        const double arm = -edge.inside(foot);
        if (arm <= kSlackMm) continue; // it does not help against turning over this edge
        const double turning =
            weight * (std::sin(tilt) * tipping.centre.z() - std::cos(tilt) * edge.inside(tipping.centre.head<2>()));
        most = std::max(most, turning / arm);
    }
    return std::clamp(most, 0.0, weight);
}

std::vector<PostSpot> listPosts(const model::Placed& placed, const Tipping& tipping, double wishDeg, std::size_t most) {
    const PartBoxes boxes = listPartBoxes(placed);
    std::vector<PostSpot> spots;
    for (const auto& [spot, box] : boxes) {
        if (box.low.z() < kLowestPostMm) continue;
        for (const Vec3& top : listTops(box)) {
            const Vector2d foot = top.head<2>();
            PostSpot support{spot, top, calcTippingOn(tipping, foot).angleDeg, calcPostN(tipping, foot, 0),
                             calcPostN(tipping, foot, wishDeg)};
            if (support.tipDeg >= wishDeg && support.tiltN > kLeastPostN && isWayFree(boxes, top))
                spots.push_back(support);
        }
    }
    std::stable_sort(spots.begin(), spots.end(), [](const PostSpot& l, const PostSpot& r) {
        return std::pair(l.at.z(), l.tiltN) < std::pair(r.at.z(), r.tiltN);
    });
    std::vector<PostSpot> apart;
    for (const PostSpot& spot : spots) {
        if (apart.size() >= most) break;
        if (std::none_of(apart.begin(), apart.end(),
                         [&](const PostSpot& other) { return (other.at - spot.at).norm() < 2 * base::kPitchMm; }))
            apart.push_back(spot);
    }
    return apart;
}

} // namespace ivrant::stand
