// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/pose/stance.h"

#include <algorithm>
#include <cmath>
#include <random>

#include "core/base/at.h"
#include "core/base/units.h"
#include "core/geometry/corners.h"
#include "core/geometry/hull.h"
#include "core/model/board_parts.h"
#include "core/model/mass.h"
#include "core/model/section_body.h"
#include "core/pose/ground_corners.h"

namespace ivrant::pose {
namespace {

using geometry::Frame;
using geometry::Vec3;

/// Of one section, or of all; none when there is nothing.
bool isEmpty(const model::Placed& placed) {
    bool empty = true;
    model::forPlacedShapes(placed, [&](const model::PlacedShape& part) { empty = empty && part.shape.solids.empty(); });
    return empty;
}

std::optional<double> findLowest(const model::Placed& placed, std::optional<int> section = {}) {
    std::optional<double> low;
    model::forPlacedShapes(
        placed,
        [&](const model::PlacedShape& placedShape) {
            const geometry::Bounds& b = placedShape.shape.bounds;
            if (low && (placedShape.X_WP * b.centre()).z() - 0.5 * b.size().norm() > *low)
                return; // all of it lies higher
            for (const auto& s : placedShape.shape.solids)
                low = std::min(low.value_or(1e30), geometry::calcBounds(s.solid, placedShape.X_WP).low.z());
        },
        section,
        [&](std::size_t s) {
            return low && model::getSectionBody(placed.project->sections[s])->calcLowBound(placed.X_WS[s]) > *low;
        });
    return low;
}

void moveAll(model::Placed& placed, const Frame& move) {
    for (auto& X : placed.X_WS) X = move * X;
}

constexpr double kSameAgreement = 1e-9;
constexpr std::size_t kManyParts = 400; ///< from here on it pays to leave out what lies inside first

/// A definite order of directions, by z, then x, then y.
bool isBefore(const Vec3& l, const Vec3& r) {
    for (const int k : {2, 0, 1})
        if (std::abs(l[k] - r[k]) > 1e-6) return l[k] < r[k];
    return false;
}

/// Points gathered section by section, in its frame, where corners of parts stand in rows; what lives on a board of its
/// own, in the world.
class Rows {
public:
    explicit Rows(const model::Placed& placed) : m_placed(placed), m_points(placed.X_WS.size() + 1) {
        for (const Frame& X_WS : placed.X_WS) m_X_SW.push_back(X_WS.inverse());
    }
    void add(const model::PlacedShape& part, const geometry::Solid& solid) {
        const bool alone = part.section < 0;
        auto& points = alone ? m_points.back() : at(m_points, part.section);
        geometry::appendCorners(points, solid, alone ? part.X_WP : at(m_X_SW, part.section) * part.X_WP);
    }
    /// In the world, without those between two others of a row.
    [[nodiscard]] std::vector<Vec3> take() {
        std::vector<Vec3> corners;
        for (std::size_t s = 0; s < m_points.size(); ++s)
            for (const Vec3& p : geometry::dropInnerOfLines(std::move(m_points[s])))
                corners.push_back(s < m_X_SW.size() ? m_placed.X_WS[s] * p : p);
        return corners;
    }

private:
    const model::Placed& m_placed;
    std::vector<std::vector<Vec3>> m_points;
    std::vector<Frame> m_X_SW;
};

/// Hull of the parts' first solids (their bodies), which lies within that of all; empty for few parts.
std::vector<geometry::HullFace> calcInnerHull(const model::Placed& placed) {
    Rows rows(placed);
    std::size_t parts = 0;
    model::forPlacedShapes(placed, [&](const model::PlacedShape& part) {
        ++parts;
        const auto& solids = part.shape.solids;
        if (!solids.empty() && solids.front().solid.kind == geometry::SolidKind::Box)
            rows.add(part, solids.front().solid);
    });
    return parts < kManyParts ? std::vector<geometry::HullFace>() : geometry::calcHullFaces(rows.take());
}

bool isInside(const std::vector<geometry::HullFace>& hull, const geometry::Bounds& bounds, const Frame& X_WP) {
    if (hull.empty()) return false;
    const Vec3 middle = X_WP * bounds.centre(), half = bounds.size() / 2;
    return std::all_of(hull.begin(), hull.end(), [&](const geometry::HullFace& face) {
        const Vec3 n = X_WP.linear().transpose() * face.normal;
        return face.normal.dot(middle - face.outline.front()) + n.cwiseAbs().dot(half) < -1e-6;
    });
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

namespace {

/// `parts`: of which sections the parts count; what is on boards counts always.
std::vector<Vec3> listLowCorners(const model::Placed& placed, double height,
                                 const std::function<bool(std::size_t)>& parts) {
    std::vector<Vec3> corners;
    const auto visit = [&](const model::PlacedShape& part) {
        const auto& b = part.shape.bounds;
        if ((part.X_WP * b.centre()).z() - 0.5 * b.size().norm() > height) return;
        for (const auto& solid : part.shape.solids)
            if (geometry::calcBounds(solid.solid, part.X_WP).low.z() <= height)
                geometry::appendCorners(corners, solid.solid, part.X_WP);
    };
    const auto leaveOut = [&](std::size_t s) {
        return !parts(s) || model::getSectionBody(placed.project->sections[s])->calcLowBound(placed.X_WS[s]) > height;
    };
    model::forPlacedShapes(placed, visit, {}, leaveOut);
    return corners;
}

} // namespace

std::vector<Vec3> listGroundCorners(const model::Placed& placed, double height) {
    return listLowCorners(placed, height, [](std::size_t) { return true; });
}

std::vector<Vec3> listGroundCornersBut(const model::Placed& placed, double height, int section) {
    return listLowCorners(placed, height, [&](std::size_t s) { return static_cast<int>(s) != section; });
}

std::vector<Vec3> listGroundCornersOf(const model::Placed& placed, double height, int section) {
    std::vector<Vec3> corners;
    for (const model::Part& part : at(placed.project->sections, section)->parts) {
        const Frame X_WP = at(placed.X_WS, section) * part.place.frame();
        for (const auto& solid : part.shape->solids)
            if (geometry::calcBounds(solid.solid, X_WP).low.z() <= height)
                geometry::appendCorners(corners, solid.solid, X_WP);
    }
    return corners;
}

std::vector<Vec3> listHullCorners(const model::Placed& placed) {
    const auto hull = calcInnerHull(placed);
    Rows rows(placed);
    model::forPlacedShapes(placed, [&](const model::PlacedShape& part) {
        if (isInside(hull, part.shape.bounds, part.X_WP)) return;
        for (const auto& solid : part.shape.solids) rows.add(part, solid.solid);
    });
    return rows.take();
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
        if (held >= 0) moveAll(placed, at(project.sections, held)->place.frame() * at(placed.X_WS, held).inverse());
        return;
    }
    if (isEmpty(placed)) return;
    if (stance.kind == model::Stance::Kind::Flat) {
        const int flat = project.findSection(stance.section);
        const auto s = static_cast<std::size_t>(flat);
        if (!findLowest(placed, flat)) return;
        // Undo the tilt, keep the heading; the section stands at its own stored place, so that a foot stays while the
        // rest moves.
        const geometry::Mat3 r = placed.X_WS[s].linear();
        const double heading = std::atan2(r(1, 0) - r(0, 1), r(0, 0) + r(1, 1));
        const geometry::Mat3 upright = Eigen::AngleAxisd(heading, Vec3::UnitZ()).toRotationMatrix();
        const Frame X_new = geometry::makeFrame(upright, project.sections[s]->place.frame().translation());
        moveAll(placed, X_new * placed.X_WS[s].inverse());
        moveAll(placed, geometry::makeFrame(geometry::Mat3::Identity(), Vec3(0, 0, -*findLowest(placed, flat))));
        return;
    }
    const Vec3 wish = Vec3(stance.up[0], stance.up[1], stance.up[2]).normalized();
    const auto ups = calcStableUps(listHullCorners(placed), model::calcMass(placed).centre);
    Vec3 up = wish;
    double best = -2;
    for (const Vec3& candidate : ups) {
        const double agrees = candidate.dot(wish);
        // Of faces that agree alike, the same one whatever the order in which they are found.
        if (agrees > best + kSameAgreement || (agrees > best - kSameAgreement && isBefore(up, candidate))) {
            best = std::max(best, agrees);
            up = candidate;
        }
    }
    moveAll(placed, geometry::makeFrame(Eigen::Quaterniond::FromTwoVectors(up, Vec3::UnitZ()).toRotationMatrix(),
                                        Vec3::Zero()));
    moveAll(placed, geometry::makeFrame(geometry::Mat3::Identity(), Vec3(0, 0, -*findLowest(placed))));
}

model::Stance getDefaultStance(const model::Project& project, const model::SectionTree& tree) {
    if (!project.poses.empty()) return project.poses.front().stands;
    model::Stance stance;
    for (int s : tree.order)
        if (at(tree.carrier, s) < 0) {
            stance.kind = model::Stance::Kind::Flat;
            stance.section = at(project.sections, s)->id;
            return stance;
        }
    return stance;
}

} // namespace ivrant::pose
