// SPDX-License-Identifier: GPL-3.0-or-later
// Which ways are there for two ports to hold or to move, and how strongly?
//
// Joint kinds and their starting values come from data/joints.json; nobody has measured them. Source of the rules:
// docs/parts.md. Angles in degrees here (they go to files and screens unchanged), torque N·mm, force N.
#pragma once

#include <optional>
#include <span>
#include <string>
#include <string_view>
#include <vector>

#include "core/parts/shape.h"

namespace ivrant::parts {

enum class JointMotion {
    Turn,      ///< one turn about the from-port's axis
    TurnSlide, ///< turn, and a slide along the axis in mm
    Ball,      ///< s1, s2, t: R = exp(s1·b + s2·(a×b)) · exp(t·a), cone limit on hypot(s1, s2)
    Universal ///< s1, s2: R = exp(s1·b) · exp(s2·(a×b)), a fork that turns in a cross; limit on the angle between the
              ///< shafts
};

struct JointKind {
    std::string name;
    JointMotion motion = JointMotion::Turn;
    std::optional<double> turnLimitDeg; ///< own upper limit; none: endless
    double turnLowDeg = 0;              ///< own lower limit when there is an upper one
    double coneDeg = 0;                 ///< those that tilt only
    double stepDeg = 0;                 ///< > 0: values are multiples of it
    double slideMm = 0;                 ///< ± own limit of the slide
    double holdingNmm = 0;              ///< starting value
    std::optional<double> pullOutN;     ///< starting value; none: does not come out along its axis by pulling
    double playDeg = 0;                 ///< ±
    int priceClass = 1;                 ///< of both halves, 1 cheap to 5 dear: starting value
    std::string found;                  ///< "everywhere", "often", "seldom": starting value
    std::string note;                   ///< good and bad sides
    std::vector<std::pair<PortKind, PortKind>> ports; ///< which pairs make this joint, in either order

    [[nodiscard]] int freedomCount() const {
        return motion == JointMotion::Turn ? 1 : motion == JointMotion::Ball ? 3 : 2;
    }
    /// Its first two freedoms tilt the axis.
    [[nodiscard]] bool tilts() const { return motion == JointMotion::Ball || motion == JointMotion::Universal; }
    /// The freedom that bends a limb: the turn of a hinge, the second tilt of the others.
    [[nodiscard]] int bendFreedom() const { return tilts() ? 1 : 0; }
    /// The freedom about the axis: the turn of a hinge, the twist of a ball; a universal joint has none and gives its
    /// bend.
    [[nodiscard]] int axisFreedom() const { return motion == JointMotion::Ball ? 2 : bendFreedom(); }
    /// "turn", "slide", "s1" …; `index` below freedomCount().
    [[nodiscard]] std::string_view freedomName(int index) const;
    /// "deg" or "mm".
    [[nodiscard]] std::string_view freedomUnit(int index) const;
};

[[nodiscard]] std::span<const JointKind> getJointKinds();
/// nullptr when there is none of that name.
[[nodiscard]] const JointKind* findJointKind(std::string_view name);
/// The joint kind that a pair of ports makes, or nullptr.
[[nodiscard]] const JointKind* findJointKindFor(PortKind a, PortKind b);

/// How two fitting ports of one section hold each other.
enum class BondKind {
    None,     ///< the kinds do not fit
    Stud,     ///< stud in cell or tube: one alone is a swivel
    Pin,      ///< pin in hole: one axis alone turns
    Fixed,    ///< axle in cross hole, stud in pin hole
    Friction, ///< bar in hollow stud or tube
    Movable   ///< a joint's ports, held in their present place by friction
};
[[nodiscard]] BondKind findBondKind(const Port& a, const Port& b);

} // namespace ivrant::parts
