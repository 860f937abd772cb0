// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/pose/loop_loads.h"

#include <algorithm>
#include <cmath>

#include "core/base/at.h"
#include "core/base/units.h"

namespace ivrant::pose {
namespace {

using geometry::Frame;
using geometry::Vec3;

constexpr double kRigidRate = 1e-6; ///< mm left open for one radian: it cannot move

double calcPower(const model::Placed& placed, const std::vector<Screw>& speeds, const GroundForces& ground) {
    double power = 0;
    for (std::size_t s = 0; s < speeds.size(); ++s) {
        if (speeds[s].isZero()) continue;
        const Vec3 turn = speeds[s].head<3>(), way = speeds[s].tail<3>();
        const model::MassPoint mass = model::calcMass(placed, {static_cast<int>(s)});
        power -= base::weightN(mass.massG) * (way + turn.cross(mass.centre)).z();
        for (const auto* wrenches : {&ground.onSection, &ground.pulled}) {
            if (wrenches->empty()) continue;
            const Wrench& w = (*wrenches)[s];
            power += w.force.dot(way) + w.moment.dot(turn);
        }
    }
    return power;
}

} // namespace

std::vector<Screw> calcSpeeds(const Kinematics& kinematics, const model::Placed& placed, const LoopPlace& place,
                              int ground) {
    const model::Project& project = kinematics.project();
    const model::SectionTree& tree = kinematics.tree();
    std::vector<Screw> speeds(project.sections.size(), Screw::Zero());
    for (const int s : tree.order) {
        const int j = at(tree.carrier, s);
        if (j < 0) continue;
        Screw speed = at(speeds, at(tree.from, j).section);
        const Frame X = kinematics.jointFrame(placed.X_WS, j);
        const auto& rates = at(place.rates, j);
        const auto turn = [&](const Vec3& axis, double rate) {
            speed.head<3>() += axis * rate;
            speed.tail<3>() += X.translation().cross(axis) * rate;
        };
        const auto& kind = *at(project.joints, j).kind;
        switch (kind.motion) {
        case parts::JointMotion::Turn: turn(X.linear().col(2), rates[0]); break;
        case parts::JointMotion::TurnSlide:
            turn(X.linear().col(2), rates[0]);
            speed.tail<3>() += X.linear().col(2) * rates[1];
            break;
        case parts::JointMotion::Ball:
            for (int k = 0; k < 3; ++k) turn(X.linear().col(k), at(rates, k));
            break;
        case parts::JointMotion::Universal:
            turn(X.linear().col(0), rates[0]);
            turn(X.linear() * (geometry::expMap(Vec3(base::degToRad(at(place.values, j)[0]), 0, 0)) * Vec3::UnitY()),
                 rates[1]);
            break;
        }
        at(speeds, s) = speed;
    }
    const int root = tree.rootOf(ground);
    const Screw resting = at(speeds, ground);
    for (std::size_t s = 0; s < speeds.size(); ++s)
        if (tree.rootOf(static_cast<int>(s)) == root) speeds[s] -= resting;
    return speeds;
}

double calcTurnSpeed(const parts::JointKind& kind, const std::vector<double>& rates) {
    if (!kind.tilts()) return std::abs(rates[0]);
    double sum = 0;
    for (const double rate : rates) sum += rate * rate;
    return std::sqrt(sum);
}

int findGround(const model::Project& project, const model::SectionTree& tree, const model::Stance& stance, int joint) {
    const int root = tree.rootOf(at(tree.from, joint).section);
    const int stands = stance.kind == model::Stance::Kind::Settle ? -1 : project.findSection(stance.section);
    return stands >= 0 && tree.rootOf(stands) == root ? stands : root;
}

void applyLoops(std::vector<JointLoad>& loads, const model::Placed& placed, const model::SectionTree& tree,
                const JointValues& values, const model::Stance& stance, const model::JointStrengths& strengths,
                const GroundForces& ground) {
    if (tree.closing.empty()) return;
    const model::Project& project = *placed.project;
    const Kinematics kinematics(project, tree);
    for (JointLoad& load : loads) {
        const auto& kind = *at(project.joints, load.joint).kind;
        if (kind.tilts() || kind.stepDeg > 0 || !tree.isInRing(load.joint)) continue;
        const LoopFollower follower(kinematics, planLoops(kinematics, values, {load.joint, 0}));
        if (!follower.plan().leavesNothingFree() || follower.plan().blocks.empty()) continue;
        const LoopPlace place = follower.start(values);
        if (!place.isClosed()) continue;
        load.ring = *std::min_element(follower.plan().moved.begin(), follower.plan().moved.end());
        load.restsOn.reset();
        if (follower.calcRateGap(place) > kRigidRate) {
            load.needNmm = 0;
            load.margin.reset();
            continue;
        }
        const auto speeds = calcSpeeds(kinematics, placed, place, findGround(project, tree, stance, load.joint));
        load.needNmm = std::abs(calcPower(placed, speeds, ground));
        model::Capacity all{0, true, strengths[static_cast<std::size_t>(load.joint)].holding.basis};
        for (const int j : follower.plan().moved) {
            const model::Capacity& one = at(strengths, j).holding;
            all.value += one.value * calcTurnSpeed(*at(project.joints, j).kind, at(place.rates, j));
            all.measured = all.measured && one.measured;
            if (!one.measured) all.basis = one.basis;
        }
        load.have = all;
        load.margin = calcHoldMargin(load.needNmm, load.have.value);
    }
}

} // namespace ivrant::pose
