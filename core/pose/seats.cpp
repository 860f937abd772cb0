// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/pose/seats.h"

#include <algorithm>
#include <cmath>

#include "core/base/at.h"
#include "core/base/units.h"
#include "core/pose/kinematics.h"

namespace ivrant::pose {
namespace {

using geometry::Frame;
using geometry::Vec3;

bool isOwn(const model::Project& project, const model::SectionTree& tree, std::size_t j,
           const bonds::AcrossMate& mate) {
    const auto is = [&](model::PartSpot spot, int port, model::PartSpot of, const std::string& name) {
        return spot == of && bonds::getPort(project, spot, port).name == name;
    };
    const model::Joint& joint = project.joints[j];
    return (is(mate.a, mate.portA, tree.from[j], joint.from.port) &&
            is(mate.b, mate.portB, tree.to[j], joint.to.port)) ||
           (is(mate.b, mate.portB, tree.from[j], joint.from.port) && is(mate.a, mate.portA, tree.to[j], joint.to.port));
}

bool joins(const model::SectionTree& tree, std::size_t j, const bonds::AcrossMate& mate) {
    return std::minmax(tree.from[j].section, tree.to[j].section) == std::minmax(mate.a.section, mate.b.section);
}

bool turns(const model::Joint& joint) {
    return joint.kind->motion == parts::JointMotion::Turn || joint.kind->motion == parts::JointMotion::TurnSlide;
}

} // namespace

bool isOnLine(const Frame& X_WJ, const model::Placed& placed, const bonds::AcrossMate& mate) {
    static const double kAlong = std::cos(base::degToRad(bonds::kMateAngleDeg));
    const Vec3 axis = X_WJ.linear().col(2), origin = X_WJ.translation();
    for (const auto& [spot, index] : {std::pair(mate.a, mate.portA), std::pair(mate.b, mate.portB)}) {
        const parts::Port& port = bonds::getPort(*placed.project, spot, index);
        const Frame X = placed.X_WP(spot);
        if (std::abs((X.linear() * port.axis).dot(axis)) < kAlong) return false;
        const Vec3 to = X * port.origin - origin;
        if ((to - axis * to.dot(axis)).norm() > bonds::kMateDistanceMm) return false;
    }
    return true;
}

std::vector<bonds::AcrossMate> listBearings(const model::Placed& placed, const model::SectionTree& tree, int joint,
                                            const std::vector<bonds::AcrossMate>& mates) {
    const auto j = static_cast<std::size_t>(joint);
    std::vector<bonds::AcrossMate> bearings;
    if (!turns(placed.project->joints[j])) return bearings;
    const Frame X_WJ = at(placed.X_WS, tree.from[j].section) * calcFromFrame(*placed.project, tree, joint);
    for (const auto& mate : mates)
        if (joins(tree, j, mate) && isOnLine(X_WJ, placed, mate)) bearings.push_back(mate);
    return bearings;
}

std::vector<bonds::AcrossMate> listSeats(const model::Placed& placed, const model::SectionTree& tree) {
    auto mates = bonds::findMatesAcross(placed);
    const model::Project& project = *placed.project;
    std::erase_if(mates, [&](const bonds::AcrossMate& mate) {
        for (std::size_t j = 0; j < project.joints.size(); ++j) {
            if (!joins(tree, j, mate)) continue;
            if (isOwn(project, tree, j, mate)) return true;
            const Frame X_WJ =
                at(placed.X_WS, tree.from[j].section) * calcFromFrame(project, tree, static_cast<int>(j));
            if (turns(project.joints[j]) && isOnLine(X_WJ, placed, mate)) return true;
        }
        return false;
    });
    return mates;
}

void addPortSolids(const model::Project& project, const bonds::AcrossMate& mate,
                   std::set<std::pair<SolidRef, SolidRef>>& pairs) {
    for (const int a : bonds::getPort(project, mate.a, mate.portA).solids)
        for (const int b : bonds::getPort(project, mate.b, mate.portB).solids) {
            const SolidRef ra{mate.a, a}, rb{mate.b, b};
            pairs.insert(ra < rb ? std::pair(ra, rb) : std::pair(rb, ra));
        }
}

} // namespace ivrant::pose
