// SPDX-License-Identifier: GPL-3.0-or-later
// Edits of joints, and the exchange of a joint's kind in place.
#include <algorithm>
#include <cmath>

#include "core/base/at.h"
#include "core/model/edits_common.h"
#include "core/parts/family.h"

namespace ivrant::model {

using base::Error;
using detail::changeSection;
using detail::checked;
using detail::noSuch;
using detail::takeId;
using parts::PortKind;

namespace {

const parts::Port& portOf(const Project& project, const PartIndex& index, const PortRef& ref) {
    const parts::Shape& shape = *getPart(project, index.find(ref.part)).shape;
    return at(shape.ports, shape.findPort(ref.port));
}

/// Family whose one special port is `kind` and whose frame is shared by all end pieces; "" when there is none.
std::string exchangeFamily(PortKind kind) {
    switch (kind) {
    case PortKind::ForkSmall: return "stepped hinge small fork";
    case PortKind::TongueSmall: return "stepped hinge small tongue";
    case PortKind::ForkLarge: return "stepped hinge large fork";
    case PortKind::TongueLarge: return "stepped hinge large tongue";
    case PortKind::BallSmall: return "ball plate small";
    case PortKind::CupSmall: return "cup plate small";
    case PortKind::BallLarge: return "ball plate large";
    case PortKind::CupLarge: return "cup plate large";
    case PortKind::Clip: return "clip plate";
    case PortKind::Bar: return "bar plate";
    case PortKind::PinSmooth: return "pin smooth";
    case PortKind::PinRibbed: return "pin ribbed";
    default: return "";
    }
}

bool isPin(PortKind kind) { return kind == PortKind::PinSmooth || kind == PortKind::PinRibbed; }
bool isHinge(const std::string& family) { return family.starts_with("stepped hinge"); }

/// The shape that can take the place of `shape` with a port of `wanted` in the same frame.
std::optional<std::string> findTwin(const parts::Shape& shape, PortKind present, PortKind wanted) {
    if (present == wanted) return shape.name;
    const std::string family = exchangeFamily(wanted);
    if (family.empty() || shape.family != exchangeFamily(present) || isPin(present) != isPin(wanted))
        return std::nullopt;
    if (isPin(wanted)) return family;
    const std::string size = isHinge(shape.family) ? "1x2" : shape.name.substr(shape.family.size() + 1);
    if (isHinge(family)) return size == "1x2" ? std::optional(family) : std::nullopt;
    return family + " " + size;
}

struct Exchange {
    const parts::JointKind* kind;
    std::string fromShape, toShape;
    PortKind fromPort, toPort;
};

std::optional<Exchange> findExchange(const Project& project, const PartIndex& index, const Joint& joint,
                                     const parts::JointKind& kind) {
    const PartSpot from = index.find(joint.from.part), to = index.find(joint.to.part);
    const PortKind fromKind = portOf(project, index, joint.from).kind, toKind = portOf(project, index, joint.to).kind;
    const bool carriesFirst = std::any_of(joint.kind->ports.begin(), joint.kind->ports.end(),
                                          [&](const auto& pair) { return pair.first == fromKind; });
    for (const auto& [first, second] : kind.ports) {
        const PortKind newFrom = carriesFirst ? first : second, newTo = carriesFirst ? second : first;
        const auto fromTwin = findTwin(*getPart(project, from).shape, fromKind, newFrom);
        const auto toTwin = findTwin(*getPart(project, to).shape, toKind, newTo);
        if (fromTwin && toTwin) return Exchange{&kind, *fromTwin, *toTwin, newFrom, newTo};
    }
    return std::nullopt;
}

double bendOf(const parts::JointKind& kind, const std::vector<double>& value) { return at(value, kind.bendFreedom()); }

/// The nearest value of `kind` to a bend angle about the shared hinge axis.
std::vector<double> valueFromBend(const parts::JointKind& kind, double bend) {
    const double limit = kind.tilts() ? kind.coneDeg : kind.turnLimitDeg.value_or(360);
    bend = std::clamp(bend, kind.turnLimitDeg ? kind.turnLowDeg : -limit, limit);
    if (kind.stepDeg > 0) bend = std::round(bend / kind.stepDeg) * kind.stepDeg;
    std::vector<double> value(static_cast<std::size_t>(kind.freedomCount()), 0.0);
    at(value, kind.bendFreedom()) = bend;
    return value;
}

std::vector<double> convertValue(const parts::JointKind& from, const parts::JointKind& to,
                                 const std::vector<double>& value) {
    if (from.motion == to.motion && from.motion == parts::JointMotion::Ball) {
        const double tilt = std::hypot(value[0], value[1]);
        const double shrink = tilt > to.coneDeg ? to.coneDeg / tilt : 1.0;
        return {value[0] * shrink, value[1] * shrink, value[2]};
    }
    return valueFromBend(to, bendOf(from, value));
}

std::vector<Range> convertWanted(const parts::JointKind& from, const parts::JointKind& to,
                                 const std::vector<Range>& wanted) {
    if (wanted.empty() || (from.motion == to.motion)) return wanted;
    std::vector<Range> ranges(static_cast<std::size_t>(to.freedomCount()), Range{0, 0});
    at(ranges, to.bendFreedom()) = at(wanted, from.bendFreedom());
    return ranges;
}

std::string findPortName(const parts::Shape& shape, PortKind kind, const std::string& present) {
    if (shape.findPort(present) >= 0) return present;
    for (const auto& port : shape.ports)
        if (port.kind == kind) return port.name;
    return present;
}

} // namespace

EditResult addJoint(const Project& project, Joint joint) {
    Project next = project;
    joint.id.text = takeId(next, "j");
    if (joint.name.empty()) joint.name = "Joint " + std::to_string(project.joints.size() + 1);
    next.joints.push_back(std::move(joint));
    return checked(std::move(next));
}

EditResult removeJoint(const Project& project, const JointId& id, const Place& carriedPlace) {
    const int j = project.findJoint(id);
    if (j < 0) return noSuch("joint", id.text);
    Project next = project;
    const int carried = PartIndex(project).find(at(project.joints, j).to.part).section;
    changeSection(next, carried, [&](Section& section) { section.place = carriedPlace; });
    next.joints.erase(next.joints.begin() + j);
    detail::forgetMissingJoints(next);
    for (NamedPose& pose : next.poses) pose.values.erase(id);
    return checked(std::move(next));
}

EditResult renameJoint(const Project& project, const JointId& id, const std::string& name) {
    if (name.empty()) return Error{"edit.name", "a joint needs a name", id.text};
    return detail::changeOne(project, project.findJoint(id), &Project::joints, noSuch("joint", id.text),
                             [&](Joint& joint) { joint.name = name; });
}

EditResult moveJoint(const Project& project, const JointId& id, const PortRef& from, const PortRef& to) {
    return detail::changeOne(project, project.findJoint(id), &Project::joints, noSuch("joint", id.text),
                             [&](Joint& joint) {
                                 joint.from = from;
                                 joint.to = to;
                             });
}

EditResult setJointValue(const Project& project, const JointId& id, const std::vector<double>& value) {
    return detail::changeOne(project, project.findJoint(id), &Project::joints, noSuch("joint", id.text),
                             [&](Joint& joint) { joint.value = value; });
}

EditResult setJointValues(const Project& project, const std::map<JointId, std::vector<double>>& values) {
    Project next = project;
    for (const auto& [id, value] : values) {
        const int j = project.findJoint(id);
        if (j < 0) return noSuch("joint", id.text);
        at(next.joints, j).value = value;
    }
    return checked(std::move(next));
}

EditResult setWanted(const Project& project, const JointId& id, const std::vector<Range>& wanted) {
    return detail::changeOne(project, project.findJoint(id), &Project::joints, noSuch("joint", id.text),
                             [&](Joint& joint) { joint.wanted = wanted; });
}

std::vector<std::string> listExchanges(const Project& project, const JointId& id) {
    std::vector<std::string> names;
    const int j = project.findJoint(id);
    if (j < 0) return names;
    const Joint& joint = at(project.joints, j);
    const PartIndex index(project);
    for (const auto& kind : parts::getJointKinds())
        if (&kind != joint.kind && findExchange(project, index, joint, kind)) names.push_back(kind.name);
    return names;
}

EditResult exchangeJointKind(const Project& project, const JointId& id, const std::string& kindName) {
    const int j = project.findJoint(id);
    if (j < 0) return noSuch("joint", id.text);
    const parts::JointKind* kind = parts::findJointKind(kindName);
    if (!kind) return noSuch("joint kind", kindName);
    Project next = project;
    Joint& joint = at(next.joints, j);
    const PartIndex index(project);
    const auto exchange = findExchange(project, index, joint, *kind);
    if (!exchange)
        return Error{"joint.exchange", "the parts at '" + joint.name + "' have no twin for a " + kindName, id.text};
    const auto put = [&](PortRef& ref, const std::string& shapeName, PortKind port) {
        const PartSpot spot = index.find(ref.part);
        const auto shape = parts::makeShape(shapeName);
        changeSection(next, spot.section, [&](Section& section) { at(section.parts, spot.part).shape = *shape; });
        ref.port = findPortName(**shape, port, ref.port);
    };
    put(joint.from, exchange->fromShape, exchange->fromPort);
    put(joint.to, exchange->toShape, exchange->toPort);
    for (NamedPose& pose : next.poses)
        if (const auto found = pose.values.find(id); found != pose.values.end())
            found->second = convertValue(*joint.kind, *kind, found->second);
    joint.value = convertValue(*joint.kind, *kind, joint.value);
    joint.wanted = convertWanted(*joint.kind, *kind, joint.wanted);
    joint.kind = kind;
    return checked(std::move(next));
}

} // namespace ivrant::model
