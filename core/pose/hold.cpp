// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/pose/hold.h"

#include <algorithm>

#include "core/base/at.h"
#include "core/base/units.h"

namespace ivrant::pose {

namespace {
constexpr double kRestsDeg = 0.1; ///< room that is none: less than a joint's play
}

using geometry::Frame;
using geometry::Vec3;

Vec3 getExitDirection(const parts::Port& port, const Frame& frame) {
    switch (port.kind) {
    case parts::PortKind::ForkSmall:
    case parts::PortKind::ForkLarge:
    case parts::PortKind::Clip: return frame.linear().col(0);
    case parts::PortKind::TongueSmall:
    case parts::PortKind::TongueLarge:
    case parts::PortKind::Bar: return -frame.linear().col(0);
    default: return frame.linear().col(2);
    }
}

std::optional<double> calcHoldMargin(double needNmm, double haveNmm) {
    if (needNmm <= 1e-6) return std::nullopt;
    return haveNmm / needNmm;
}

JointLoad calcJointLoad(const model::Placed& placed, const model::SectionTree& tree, int joint,
                        const model::JointStrength& strength, const GroundForces& ground) {
    const auto j = static_cast<std::size_t>(joint);
    const model::Project& project = *placed.project;
    const auto& kind = *project.joints[j].kind;
    const Frame frame = at(placed.X_WS, tree.from[j].section) * calcFromFrame(project, tree, joint);
    const auto sections = tree.carriedBy(joint);
    const model::MassPoint carried = model::calcMass(placed, sections);
    Vec3 force(0, 0, -base::weightN(carried.massG));

    JointLoad load;
    load.joint = joint;
    load.torque = (carried.centre - frame.translation()).cross(force);
    for (int s : sections) {
        if (ground.onSection.empty()) break;
        const Wrench& w = at(ground.onSection, s);
        if (w.force.isZero() && w.moment.isZero()) continue;
        load.torque += w.moment - frame.translation().cross(w.force);
        force += w.force;
        load.standsBelow = true;
    }
    load.carriedG = std::abs(force.z()) / base::weightN(1);
    for (int s : sections) {
        if (ground.pulled.empty()) break;
        const Wrench& w = at(ground.pulled, s);
        load.torque += w.moment - frame.translation().cross(w.force);
        force += w.force;
    }
    load.needNmm = kind.tilts() ? load.torque.norm() : std::abs(load.torque.dot(frame.linear().col(2)));
    load.have = strength.holding;
    load.margin = calcHoldMargin(load.needNmm, load.have.value);
    const auto& shape = *model::getPart(project, tree.from[j]).shape;
    const auto& port = at(shape.ports, shape.findPort(project.joints[j].from.port));
    load.pullN = std::max(0.0, force.dot(getExitDirection(port, frame)));
    load.pullLimit = strength.pull;
    return load;
}

std::vector<JointLoad> calcLoads(const model::Placed& placed, const model::SectionTree& tree,
                                 const model::JointStrengths& strengths, const GroundForces& ground) {
    std::vector<JointLoad> loads;
    for (std::size_t j = 0; j < placed.project->joints.size(); ++j)
        loads.push_back(calcJointLoad(placed, tree, static_cast<int>(j), strengths[j], ground));
    return loads;
}

void applyRests(std::vector<JointLoad>& loads, const std::vector<FreedomRange>& ranges, const model::Placed& placed,
                const model::SectionTree& tree) {
    for (const FreedomRange& range : ranges) {
        const auto& kind = *at(placed.project->joints, range.joint).kind;
        const auto load =
            std::find_if(loads.begin(), loads.end(), [&](const JointLoad& l) { return l.joint == range.joint; });
        if (range.freedom != 0 || kind.tilts() || range.collides || load == loads.end() || tree.isInRing(range.joint))
            continue;
        const Frame frame =
            at(placed.X_WS, at(tree.from, range.joint).section) * calcFromFrame(*placed.project, tree, range.joint);
        const double turns = load->torque.dot(frame.linear().col(2)); // positive: towards higher values
        if (std::abs(turns) < 1e-6) continue;
        const RangeStop& stop = turns > 0 ? range.high : range.low;
        const double room = turns > 0 ? range.free.high - range.value : range.value - range.free.low;
        if ((stop.by != StopBy::Contact && stop.by != StopBy::Seat) || room > kRestsDeg) continue;
        load->restsOn = {stop.moving.spot, stop.fixed.spot};
        load->margin.reset();
    }
}

double calcPotentialEnergy(const model::Placed& placed) {
    const model::MassPoint all = model::calcMass(placed);
    return base::weightN(all.massG) * all.centre.z();
}

} // namespace ivrant::pose
