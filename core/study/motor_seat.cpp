// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/study/motor_seat.h"

#include <algorithm>
#include <set>

#include "core/base/at.h"
#include "core/bonds/across.h"
#include "core/stand/equilibrium.h"
#include "core/study/stand_cases.h"

namespace ivrant::study {
namespace {

using model::PartSpot;

/// The motor alone, its bonds against something that stands.
stand::BondNet makeSeat(const stand::BondNet& whole, int motor) {
    stand::BondNet seat;
    seat.bodies.push_back(at(whole.bodies, motor));
    for (stand::Contact contact : whole.contacts) {
        if (contact.a != motor && contact.b != motor) continue;
        if (contact.a == motor) // told of the second body: the other way round
            for (stand::ForceColumn& column : contact.columns) {
                column.force = -column.force;
                column.moment = -column.moment;
            }
        contact.a = -1;
        contact.b = 0;
        seat.contacts.push_back(std::move(contact));
    }
    return seat;
}

/// The motor and what it is mated with, but for its own shaft: that turns, and bends.
std::set<PartSpot> listSeat(const Facts& facts, PartSpot motor) {
    std::set<PartSpot> parts{motor};
    for (const bonds::Mate& mate : at(facts.bonds, motor.section)->mates) {
        if (mate.partA != motor.part && mate.partB != motor.part) continue;
        const int other = mate.partA == motor.part ? mate.partB : mate.partA;
        const int port = mate.partA == motor.part ? mate.portA : mate.portB;
        if (bonds::getPort(*facts.project, motor, port).kind != parts::PortKind::TurningHole)
            parts.insert({motor.section, other});
    }
    return parts;
}

} // namespace

std::optional<SeatTorque> calcSeatTorque(const Facts& facts, const drive::PartMotor& motor) {
    if (!facts.drive || motor.rotor < 0 || motor.seat != drive::PartMotor::Seat::Firm) return std::nullopt;
    const auto& motors = facts.drive->motors;
    const auto known = std::find_if(motors.begin(), motors.end(),
                                    [&](const drive::MotorState& state) { return state.motor.id.text == motor.id; });
    if (known == motors.end() || !known->line || known->line->byHand) return std::nullopt;
    const PartSpot spot = model::PartIndex(*facts.project).find({motor.id});
    const auto parts = listSeat(facts, spot);
    stand::NetRequest request;
    request.ground = false;
    request.built = [&](PartSpot part) { return parts.count(part) > 0; };
    const stand::BondNet whole = stand::makeBondNet(facts.present.placed, facts.bonds, calcBondLimits(facts), request);
    int body = -1;
    for (std::size_t b = 0; b < whole.bodies.size(); ++b)
        if (whole.bodies[b].spot == spot) body = static_cast<int>(b);
    if (body < 0) return std::nullopt;
    const stand::BondNet seat = makeSeat(whole, body);
    SeatTorque result;
    result.stallNmm = drive::calcStallNmm(*known->line, facts.drive->battery);
    const geometry::Vec3 axis = at(facts.drive->net.rotors, motor.rotor).axis;
    for (const double way : {1.0, -1.0}) {
        auto loads = stand::calcLoads(seat, {0, 0, -1});
        loads.front().moment += way * result.stallNmm * axis;
        const auto balance = stand::calcEquilibrium(seat, loads, {});
        if (!balance || !balance->lambda) return std::nullopt;
        result.lambda = std::max(result.lambda, *balance->lambda);
    }
    return result;
}

} // namespace ivrant::study
