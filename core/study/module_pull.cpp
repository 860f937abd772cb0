// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/study/module_pull.h"

#include <algorithm>
#include <cmath>
#include <map>

#include "core/base/at.h"
#include "core/study/stand_cases.h"

namespace ivrant::study {

using geometry::Vec3;
using model::PartSpot;

std::vector<Parting> findPartings(const stand::BondNet& net, const std::vector<bool>& inModule,
                                  std::vector<LiftBond>& bonds) {
    std::vector<Parting> partings;
    std::map<std::pair<bool, int>, LiftBond> kinds; // studs first
    for (const stand::Contact& contact : net.contacts) {
        if (contact.a < 0 || at(inModule, contact.a) == at(inModule, contact.b)) continue;
        const int own = at(inModule, contact.a) ? contact.a : contact.b, other = contact.a + contact.b - own;
        const bool studs = !contact.studs.empty();
        for (const stand::ForceColumn& column : contact.columns) {
            if (column.role != stand::ColumnRole::Pull) continue;
            const double pull = column.high * column.force.norm();
            partings.push_back({at(net.bodies, own).spot, at(net.bodies, other).spot, column.at, pull});
            LiftBond& kind = kinds[{!studs, contact.joint}];
            kind.isStuds = studs;
            kind.joint = contact.joint;
            ++kind.count;
            kind.pullN += pull;
        }
    }
    for (const auto& [key, bond] : kinds) bonds.push_back(bond);
    return partings;
}

namespace {

/// Limit analysis of a net that one body of it is held by.
struct Held {
    std::optional<stand::Equilibrium> solved;
    double bonds = 0;
};
Held solveHeld(stand::BondNet net, int hand, const std::vector<stand::BodyLoad>& loads) {
    stand::Contact grip;
    grip.kind = stand::ContactKind::Hand;
    grip.b = hand;
    grip.corners = {at(net.bodies, hand).centre};
    net.contacts.push_back(std::move(grip));
    net.floating.clear();
    stand::EquilibriumRequest request;
    request.use = false;
    request.gap = kPullGap;
    auto solved = stand::calcEquilibrium(net, loads, request);
    Held held;
    if (!solved) return held;
    held.solved = std::move(solved).value();
    const auto& lambda = held.solved->lambda;
    if (lambda && std::isfinite(*lambda)) held.bonds = 1 / std::max(*lambda, 1 / stand::kEnoughShare);
    return held;
}

} // namespace

Pulled calcPulled(const Facts& facts, const PoseFacts& pose, const stand::BondLimits& limits,
                  const std::function<bool(PartSpot)>& built, const std::vector<Parting>& partings, const Vec3& way,
                  double sign) {
    stand::NetRequest request;
    // What else stands on the ground goes on doing so; a module is in the hand.
    request.ground = sign > 0 && pose.stance.kind != model::Stance::Kind::Held;
    request.built = built;
    const stand::BondNet net = stand::makeBondNet(pose.placed, facts.bonds, limits, request);
    Pulled pulled;
    if (net.bodies.empty() || partings.empty()) return pulled;
    std::map<PartSpot, int> bodyOf;
    int heaviest = 0;
    for (std::size_t b = 0; b < net.bodies.size(); ++b) {
        bodyOf[net.bodies[b].spot] = static_cast<int>(b);
        if (net.bodies[b].massG > at(net.bodies, heaviest).massG) heaviest = static_cast<int>(b);
    }
    auto loads = stand::calcLoads(net, {0, 0, -1});
    std::map<int, double> pullOf;
    for (const Parting& parting : partings) {
        const int body = bodyOf.at(sign > 0 ? parting.other : parting.own);
        stand::addPush(loads, net, body, parting.at, sign * parting.pullN * way);
        pullOf[body] += parting.pullN;
    }
    const int nearest = std::max_element(pullOf.begin(), pullOf.end(), [](const auto& l, const auto& r) {
                            return l.second < r.second;
                        })->first;
    Held held = solveHeld(net, heaviest, loads);
    pulled.hold = at(net.bodies, heaviest).spot;
    if (held.bonds < 1 && nearest != heaviest)
        if (Held closer = solveHeld(net, nearest, loads); closer.bonds > held.bonds) {
            held = std::move(closer);
            pulled.hold = at(net.bodies, nearest).spot;
            pulled.holdThere = true;
        }
    if (!held.solved) return pulled;
    pulled.bonds = held.bonds;
    if (held.bonds < 1)
        for (const int body : held.solved->falling) pulled.along.push_back(at(net.bodies, body).spot);
    return pulled;
}

} // namespace ivrant::study
