// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/stand/tipping.h"
#include "core/stand/counterweight.h"

#include <algorithm>
#include <cmath>

#include "core/base/units.h"
#include "core/geometry/hull.h"
#include "core/model/board_parts.h"
#include "core/stand/posts.h"
#include "core/stand/support_edges.h"

namespace ivrant::stand {
namespace {

using geometry::Vec3;

/// Smallest tip angle over the edges of the support, and its direction.
void findLeastAngle(Tipping& tipping) {
    const Eigen::Vector2d foot = tipping.centre.head<2>();
    const double height = std::max(tipping.centre.z(), 1e-9);
    tipping.angleDeg = 90;
    const auto offer = [&](double distance, const Eigen::Vector2d& outward) {
        const double angle = base::radToDeg(std::atan2(distance, height));
        if (angle >= tipping.angleDeg) return;
        tipping.angleDeg = angle;
        tipping.towardDeg = base::radToDeg(std::atan2(outward.y(), outward.x()));
        if (tipping.towardDeg < 0) tipping.towardDeg += 360;
    };
    const auto& s = tipping.support;
    if (s.size() < 3) { // a point or a line carries nothing sideways
        Eigen::Vector2d nearest = s.empty() ? foot : s[0];
        if (s.size() == 2) {
            const Eigen::Vector2d along = s[1] - s[0];
            nearest = s[0] + along * std::clamp((foot - s[0]).dot(along) / along.squaredNorm(), 0.0, 1.0);
        }
        const Eigen::Vector2d away = foot - nearest;
        offer(-away.norm(), away.norm() > 1e-9 ? away : Eigen::Vector2d::UnitX());
        return;
    }
    for (const SupportEdge& edge : listEdges(s)) offer(edge.inside(foot), edge.outward);
}

std::optional<Tipping> calcTippingOn(const model::Placed& placed, const std::vector<Vec3>& groundCorners,
                                     const std::vector<Post>& posts) {
    const model::MassPoint mass = model::calcMass(placed);
    if (!(mass.massG > 0)) return std::nullopt;
    Tipping tipping;
    tipping.massG = mass.massG;
    tipping.centre = mass.centre;
    std::vector<Eigen::Vector2d> touching;
    for (const Vec3& p : groundCorners) {
        tipping.belowGroundMm = std::max(tipping.belowGroundMm, -p.z());
        if (p.z() <= model::kGroundContactMm) touching.push_back(p.head<2>());
    }
    for (const Post& post : posts) {
        if (post.state != PostState::Touches) continue;
        for (const double dx : {-kPostMm / 2, kPostMm / 2})
            for (const double dy : {-kPostMm / 2, kPostMm / 2})
                touching.emplace_back(post.top.head<2>() + Eigen::Vector2d(dx, dy));
    }
    tipping.support = geometry::calcHull2(std::move(touching));
    findLeastAngle(tipping);
    return tipping;
}

} // namespace

std::optional<Tipping> calcTipping(const model::Placed& placed, const std::vector<Vec3>& groundCorners) {
    return calcTippingOn(placed, groundCorners, placePosts(placed));
}
std::optional<Tipping> calcTippingWithout(const model::Placed& placed, const std::vector<Vec3>& groundCorners,
                                          std::size_t support) {
    auto posts = placePosts(placed);
    posts.at(support).state = PostState::Free;
    return calcTippingOn(placed, groundCorners, posts);
}

std::vector<SectionWeight> listSectionWeights(const model::Placed& placed, const Tipping& tipping) {
    const double toward = base::degToRad(tipping.towardDeg);
    const Eigen::Vector2d outward(std::cos(toward), std::sin(toward));
    double edge = 0; // of the support, that way
    for (std::size_t i = 0; i < tipping.support.size(); ++i)
        edge = i == 0 ? outward.dot(tipping.support[i]) : std::max(edge, outward.dot(tipping.support[i]));
    std::vector<SectionWeight> weights;
    for (std::size_t s = 0; s < placed.project->sections.size(); ++s) {
        const model::MassPoint mass = model::calcMass(placed, {static_cast<int>(s)});
        if (!(mass.massG > 0)) continue;
        weights.push_back({static_cast<int>(s), mass.massG, mass.centre,
                           base::weightN(mass.massG) * (edge - outward.dot(mass.centre.head<2>()))});
    }
    return weights;
}

double calcTipAngleToward(const Tipping& tipping, double directionDeg) {
    const Eigen::Vector2d d(std::cos(base::degToRad(directionDeg)), std::sin(base::degToRad(directionDeg)));
    // The first edge the plumb line's foot crosses when it moves along d.
    const Eigen::Vector2d foot = tipping.centre.head<2>();
    double reach = 1e30;
    for (const SupportEdge& edge : listEdges(tipping.support))
        if (const double speed = edge.outward.dot(d); speed > 1e-9) reach = std::min(reach, edge.inside(foot) / speed);
    if (reach > 1e29) reach = 0;
    return base::radToDeg(std::atan2(reach, std::max(tipping.centre.z(), 1e-9)));
}

Tipping calcTippingWith(Tipping tipping, double gram, const Vec3& at) {
    tipping.centre = (tipping.massG * tipping.centre + gram * at) / (tipping.massG + gram);
    tipping.massG += gram;
    findLeastAngle(tipping);
    return tipping;
}

double calcTipPushN(const Tipping& tipping, double directionDeg, double heightMm) {
    const double reach =
        std::tan(base::degToRad(calcTipAngleToward(tipping, directionDeg))) * std::max(tipping.centre.z(), 1e-9);
    return base::weightN(tipping.massG) * reach / heightMm;
}

double calcTopMm(const model::Placed& placed) {
    double top = 0;
    model::forPlacedShapes(placed, [&](const model::PlacedShape& part) {
        for (const auto& solid : part.shape.solids)
            top = std::max(top, geometry::calcBounds(solid.solid, part.X_WP).high.z());
    });
    return top;
}

} // namespace ivrant::stand
