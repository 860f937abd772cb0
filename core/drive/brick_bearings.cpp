// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/drive/brick_bearings.h"

#include <algorithm>
#include <cmath>

#include "core/base/at.h"
#include "core/base/units.h"

namespace ivrant::drive {
namespace {

using base::umToMm;
using geometry::Vec3;

constexpr double kOffLineMm = 0.3;
constexpr double kAlongLine = 0.99996; ///< cosine of 0.5°
constexpr double kSameMm = 0.1;        ///< both mouths of one hole

} // namespace

BrickBearings::BrickBearings(const model::Project& project) : m_project(project) {
    for (const auto& board : project.boards) {
        const int section = board->section.empty() ? -1 : project.findSection(board->section);
        if (section < 0 || m_holes.count(section) > 0) continue;
        auto& holes = m_holes[section];
        for (const model::Part& part : at(project.sections, section)->parts)
            for (const parts::Port& port : part.shape->ports)
                if (port.kind == parts::PortKind::Hole) {
                    const auto X_SP = part.place.frame();
                    holes.push_back({X_SP * port.origin, X_SP.linear() * port.axis});
                }
    }
}

std::vector<double> BrickBearings::listAlong(int index, const model::Shaft& shaft) const {
    std::vector<double> found;
    const model::Board& board = *at(m_project.boards, index);
    const int section = board.section.empty() ? -1 : m_project.findSection(board.section);
    const auto holes = m_holes.find(section);
    if (section < 0 || holes == m_holes.end()) return found;
    const geometry::Frame X_SB = board.place.frame();
    const Vec3 start = X_SB * Vec3(umToMm(shaft.atUm[0]), umToMm(shaft.atUm[1]), umToMm(shaft.atUm[2]));
    const Vec3 axis = X_SB.linear().col(static_cast<int>(shaft.axis));
    for (const Hole& hole : holes->second) {
        if (std::abs(hole.axis.dot(axis)) < kAlongLine) continue;
        const Vec3 offset = hole.at - start;
        const double along = offset.dot(axis);
        if (along < 0 || along > umToMm(shaft.lengthUm) || (offset - along * axis).norm() > kOffLineMm) continue;
        if (std::none_of(found.begin(), found.end(), [&](double other) { return std::abs(other - along) < kSameMm; }))
            found.push_back(along);
    }
    std::sort(found.begin(), found.end());
    return found;
}

} // namespace ivrant::drive
