// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/parts/joint_kind.h"

#include <array>
#include <nlohmann/json.hpp>
#include <stdexcept>

#include "core/parts/data_files.h"

namespace ivrant::parts {
namespace {

PortKind portKindFromName(const std::string& name) {
    if (const auto kind = findPortKind(name)) return *kind;
    throw std::logic_error("joints.json names an unknown port kind: " + name);
}

JointKind readKind(const nlohmann::json& entry) {
    JointKind kind;
    kind.name = entry.at("name").get<std::string>();
    const auto motion = entry.at("motion").get<std::string>();
    kind.motion = motion == "ball"             ? JointMotion::Ball
                  : motion == "turn and slide" ? JointMotion::TurnSlide
                  : motion == "universal"      ? JointMotion::Universal
                                               : JointMotion::Turn;
    if (entry.contains("turn_limit_deg")) kind.turnLimitDeg = entry.at("turn_limit_deg").get<double>();
    kind.turnLowDeg = entry.value("turn_low_deg", -kind.turnLimitDeg.value_or(0));
    kind.coneDeg = entry.value("cone_deg", 0.0);
    kind.stepDeg = entry.value("step_deg", 0.0);
    kind.slideMm = entry.value("slide_mm", 0.0);
    kind.holdingNmm = entry.at("holding_nmm").get<double>();
    if (entry.contains("pull_out_n")) kind.pullOutN = entry.at("pull_out_n").get<double>();
    kind.playDeg = entry.at("play_deg").get<double>();
    kind.priceClass = entry.at("price_class").get<int>();
    kind.found = entry.at("found").get<std::string>();
    kind.note = entry.at("note").get<std::string>();
    for (const auto& pair : entry.at("ports"))
        kind.ports.emplace_back(portKindFromName(pair.at(0).get<std::string>()),
                                portKindFromName(pair.at(1).get<std::string>()));
    return kind;
}

bool isPair(const Port& a, const Port& b, PortKind x, PortKind y) {
    return (a.kind == x && b.kind == y) || (a.kind == y && b.kind == x);
}

} // namespace

std::string_view JointKind::freedomName(int index) const {
    static constexpr std::array<std::string_view, 3> kBall{"s1", "s2", "t"};
    if (tilts()) return kBall.at(static_cast<std::size_t>(index));
    return index == 0 ? "turn" : "slide";
}

std::string_view JointKind::freedomUnit(int index) const {
    return motion == JointMotion::TurnSlide && index == 1 ? "mm" : "deg";
}

std::span<const JointKind> getJointKinds() {
    static const std::vector<JointKind> kinds = [] {
        std::vector<JointKind> all;
        const auto json = nlohmann::json::parse(kJointsJson);
        for (const auto& entry : json.at("kinds")) all.push_back(readKind(entry));
        return all;
    }();
    return kinds;
}

const JointKind* findJointKind(std::string_view name) {
    for (const JointKind& kind : getJointKinds())
        if (kind.name == name) return &kind;
    return nullptr;
}

const JointKind* findJointKindFor(PortKind a, PortKind b) {
    for (const JointKind& kind : getJointKinds())
        for (const auto& [x, y] : kind.ports)
            if ((x == a && y == b) || (x == b && y == a)) return &kind;
    return nullptr;
}

BondKind findBondKind(const Port& a, const Port& b) {
    if (isPair(a, b, PortKind::Stud, PortKind::Cell) || isPair(a, b, PortKind::Stud, PortKind::Tube))
        return BondKind::Stud;
    if (isPair(a, b, PortKind::PinSmooth, PortKind::Hole) || isPair(a, b, PortKind::PinRibbed, PortKind::Hole))
        return BondKind::Pin;
    if (isPair(a, b, PortKind::Axle, PortKind::CrossHole) || isPair(a, b, PortKind::Stud, PortKind::Hole))
        return BondKind::Fixed;
    if (isPair(a, b, PortKind::Axle, PortKind::Hole) || isPair(a, b, PortKind::Axle, PortKind::TurningHole))
        return BondKind::Pin;
    if ((a.kind == PortKind::BarEnd && b.hollow) || (b.kind == PortKind::BarEnd && a.hollow)) return BondKind::Friction;
    return findJointKindFor(a.kind, b.kind) ? BondKind::Movable : BondKind::None;
}

} // namespace ivrant::parts
