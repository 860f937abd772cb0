// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/pose/meetings.h"

#include <algorithm>
#include <cmath>

#include "core/base/at.h"

namespace ivrant::pose {

using geometry::Frame;
using geometry::PlacedSolid;
using geometry::Vec3;

MeetingFinder::MeetingFinder(const Bodies& bodies, const std::vector<int>& group) : m_bodies(bodies) {
    for (const auto& body : bodies.sections) {
        geometry::Bounds bounds;
        for (const BodyPart& part : body->parts) {
            bounds.include(Vec3(part.centre - Vec3::Constant(part.radius)));
            bounds.include(Vec3(part.centre + Vec3::Constant(part.radius)));
        }
        Sphere sphere{bounds.empty() ? Vec3::Zero() : bounds.centre(), 0};
        for (const BodyPart& part : body->parts)
            sphere.radius = std::max(sphere.radius, (part.centre - sphere.centre).norm() + part.radius);
        m_spheres.push_back(sphere);
        geometry::Bounds box;
        for (const BodyPart& part : body->parts)
            for (const BodySolid& s : part.solids)
                box.include(
                    geometry::calcBounds(*s.inSection.solid, geometry::makeFrame(s.inSection.R, s.inSection.centre)));
        m_boxes.push_back(box);
    }
    for (std::size_t a = 0; a < group.size(); ++a)
        for (std::size_t b = a + 1; b < group.size(); ++b)
            if (group[a] != group[b]) m_pairs.emplace_back(static_cast<int>(a), static_cast<int>(b));
}

std::vector<MeetingFinder::Meeting> MeetingFinder::find(const model::Placed& placed) const {
    std::vector<Meeting> met;
    std::vector<Vec3> centres;
    for (std::size_t s = 0; s < m_spheres.size(); ++s) centres.push_back(placed.X_WS[s] * m_spheres[s].centre);
    for (const auto& pair : m_pairs) {
        const int a = pair.first, b = pair.second;
        const Sphere &sa = at(m_spheres, a), &sb = at(m_spheres, b);
        const double near = sa.radius + sb.radius;
        if ((at(centres, a) - at(centres, b)).squaredNorm() > near * near) continue;
        const Frame X_AB = at(placed.X_WS, a).inverse(Eigen::Isometry) * at(placed.X_WS, b);
        for (const BodyPart& q : at(m_bodies.sections, b)->parts) {
            const Vec3 centre = X_AB * q.centre;
            if ((centre - sa.centre).norm() > sa.radius + q.radius) continue;
            for (const BodyPart& p : at(m_bodies.sections, a)->parts) {
                if ((centre - p.centre).squaredNorm() > (p.radius + q.radius) * (p.radius + q.radius)) continue;
                const auto meets = [&]() -> std::optional<Meeting> {
                    for (const BodySolid& t : q.solids) {
                        const Vec3 at = X_AB * t.inSection.centre;
                        const PlacedSolid moved{t.inSection.solid, t.inSection.eroded, X_AB.linear() * t.inSection.R,
                                                at};
                        for (const BodySolid& s : p.solids) {
                            const double sum = s.inSection.solid->reach + t.inSection.solid->reach;
                            if ((at - s.inSection.centre).squaredNorm() > sum * sum) continue;
                            const SolidRef ra{{a, p.part}, s.solid}, rb{{b, q.part}, t.solid};
                            if (geometry::calcToleratedGap(s.inSection, moved).distance > 0) continue;
                            if (!m_bodies.isExempt(ra, rb)) return Meeting(ra, rb);
                        }
                    }
                    return std::nullopt;
                }();
                if (meets) met.push_back(*meets);
            }
        }
    }
    if (met.empty()) return met;
    std::set<std::pair<SolidRef, SolidRef>> seated;
    for (const auto& mate : bonds::findMatesAcross(placed)) addPortSolids(*placed.project, mate, seated);
    std::erase_if(
        met, [&](const Meeting& m) { return seated.count(m.first < m.second ? m : Meeting(m.second, m.first)) > 0; });
    std::sort(met.begin(), met.end());
    return met;
}

double MeetingFinder::boundSpeed(const std::vector<Frame>& X_WS,
                                 const std::vector<Eigen::Matrix<double, 6, 1>>& speeds) const {
    double most = 0;
    for (std::size_t s = 0; s < m_boxes.size(); ++s) {
        const geometry::Bounds& box = m_boxes[s];
        const Vec3 turn = speeds[s].head<3>(), way = speeds[s].tail<3>();
        if (box.empty() || speeds[s].isZero()) continue;
        for (int c = 0; c < 8; ++c) { // speed is convex over the box: largest at a corner
            const Vec3 corner(c & 1 ? box.high.x() : box.low.x(), c & 2 ? box.high.y() : box.low.y(),
                              c & 4 ? box.high.z() : box.low.z());
            most = std::max(most, (way + turn.cross(X_WS[s] * corner)).norm());
        }
    }
    return most;
}

} // namespace ivrant::pose
