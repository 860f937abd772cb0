#include "core/pose/stance.h"

#include <algorithm>
#include <cmath>
#include <random>

#include "core/base/units.h"
#include "core/geometry/corners.h"
#include "core/geometry/hull.h"
#include "core/model/board_parts.h"
#include "core/model/mass.h"

namespace ivrant::pose {
namespace {

using geometry::Pose;
using geometry::Vec3;

/// Of one section, or of all; none when there is nothing.
std::optional<double> findLowest(const model::Placed& placed, std::optional<int> section = {}) {
    std::optional<double> low;
    model::forPlacedShapes(
        placed,
        [&](const model::PlacedShape& placedShape) {
            for (const auto& s : placedShape.shape.solids) low = std::min(low.value_or(1e30), geometry::calcBounds(s.solid, placedShape.X_WP).low.z());
        },
        section);
    return low;
}

void moveAll(model::Placed& placed, const Pose& move) {
    for (auto& X : placed.X_WS) X = move * X;
}

} // namespace

std::vector<Vec3> listCorners(const model::Placed& placed, std::optional<int> onlySection) {
    std::vector<Vec3> corners;
    model::forPlacedShapes(
        placed,
        [&](const model::PlacedShape& part) {
            for (const auto& solid : part.shape.solids) geometry::appendCorners(corners, solid.solid, part.X_WP);
        },
        onlySection);
    return corners;
}

std::vector<Vec3> listGroundCorners(const model::Placed& placed, double height) {
    std::vector<Vec3> corners;
    model::forPlacedShapes(placed, [&](const model::PlacedShape& part) {
        const auto& b = part.shape.bounds;
        if ((part.X_WP * b.centre()).z() - 0.5 * b.size().norm() > height) return;
        for (const auto& solid : part.shape.solids)
            if (geometry::calcBounds(solid.solid, part.X_WP).low.z() <= height) geometry::appendCorners(corners, solid.solid, part.X_WP);
    });
    return corners;
}

std::vector<Vec3> calcStableUps(const std::vector<Vec3>& corners, const Vec3& centre) {
    std::vector<Vec3> ups;
    for (const geometry::HullFace& face : geometry::calcHullFaces(corners)) {
        // The face is stable when the centre's foot on it lies inside its outline.
        bool inside = true;
        for (std::size_t i = 0; inside && i < face.outline.size(); ++i) {
            const Vec3& p = face.outline[i];
            const Vec3& q = face.outline[(i + 1) % face.outline.size()];
            inside = (q - p).cross(centre - p).dot(face.normal) > 0;
        }
        if (inside) ups.push_back(-face.normal);
    }
    return ups;
}

void applyStance(model::Placed& placed, const model::Stance& stance) {
    const model::Project& project = *placed.project;
    if (stance.kind == model::Stance::Kind::Held) {
        const int held = stance.section.empty() ? -1 : project.findSection(stance.section);
        if (held >= 0) moveAll(placed, project.sections[static_cast<std::size_t>(held)]->place.pose() * placed.X_WS[static_cast<std::size_t>(held)].inverse());
        return;
    }
    if (!findLowest(placed)) return; // there is nothing
    if (stance.kind == model::Stance::Kind::Flat) {
        const int flat = project.findSection(stance.section);
        const auto s = static_cast<std::size_t>(flat);
        if (!findLowest(placed, flat)) return;
        // Undo the tilt, keep the heading; the section stands at its own stored place, so that a foot stays while the rest moves.
        const geometry::Mat3 r = placed.X_WS[s].linear();
        const double heading = std::atan2(r(1, 0) - r(0, 1), r(0, 0) + r(1, 1));
        const geometry::Mat3 upright = Eigen::AngleAxisd(heading, Vec3::UnitZ()).toRotationMatrix();
        const Pose X_new = geometry::makePose(upright, project.sections[s]->place.pose().translation());
        moveAll(placed, X_new * placed.X_WS[s].inverse());
        moveAll(placed, geometry::makePose(geometry::Mat3::Identity(), Vec3(0, 0, -*findLowest(placed, flat))));
        return;
    }
    const Vec3 wish = Vec3(stance.up[0], stance.up[1], stance.up[2]).normalized();
    const auto corners = listCorners(placed);
    const auto ups = calcStableUps(corners, model::calcMass(placed).centre);
    Vec3 up = wish;
    double best = -2;
    for (const Vec3& candidate : ups)
        if (candidate.dot(wish) > best) {
            best = candidate.dot(wish);
            up = candidate;
        }
    moveAll(placed, geometry::makePose(Eigen::Quaterniond::FromTwoVectors(up, Vec3::UnitZ()).toRotationMatrix(), Vec3::Zero()));
    moveAll(placed, geometry::makePose(geometry::Mat3::Identity(), Vec3(0, 0, -*findLowest(placed))));
}

model::Stance getDefaultStance(const model::Project& project, const model::SectionTree& tree) {
    if (!project.poses.empty()) return project.poses.front().stands;
    model::Stance stance;
    for (int s : tree.order)
        if (tree.carrier[static_cast<std::size_t>(s)] < 0) {
            stance.kind = model::Stance::Kind::Flat;
            stance.section = project.sections[static_cast<std::size_t>(s)]->id;
            return stance;
        }
    return stance;
}

} // namespace ivrant::pose
