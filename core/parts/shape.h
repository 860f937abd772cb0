// SPDX-License-Identifier: GPL-3.0-or-later
// What is a part's shape: which space it fills, where it connects, what it weighs?
//
// Shapes come from parametric families (core/parts/family.h) and never change once made. Frame: the part frame P of
// docs/parts.md, origin at the centre of the underside of cell (0, 0); mm and gram.
#pragma once

#include <memory>
#include <optional>
#include <string>
#include <string_view>
#include <vector>

#include "core/geometry/solid.h"
#include "core/parts/tooth_ring.h"

namespace ivrant::parts {

enum class PortKind {
    Stud,
    Cell,
    Tube,
    Bar,
    BarEnd,
    Clip,
    Hole,
    CrossHole,
    PinSmooth,
    PinRibbed,
    Axle,
    BallSmall,
    BallLarge,
    CupSmall,
    CupLarge,
    ForkSmall,
    TongueSmall,
    ForkLarge,
    TongueLarge,
    TurntableLower,
    TurntableUpper,
    HingePlateLower,
    HingePlateUpper,
    GearedLower,
    GearedUpper,
    UniversalFork,
    UniversalCross,
    TurningHole, ///< a cross hole in what turns in the part: a motor's shaft, a differential's side
    Eye          ///< a string goes through it; mates with nothing
};
inline constexpr PortKind kLastPortKind = PortKind::Eye;

/// Plain name of a port kind, as docs/parts.md prints it: "stud", "pin hole" …
[[nodiscard]] std::string_view getPortKindName(PortKind kind);
[[nodiscard]] std::optional<PortKind> findPortKind(std::string_view name);

struct Port {
    PortKind kind = PortKind::Stud;
    std::string name;         ///< stable, part of the project file: "stud 0,1", "finger" …
    geometry::Vec3 origin;    ///< mm, in P
    geometry::Vec3 axis;      ///< unit, out of the part along the way of insertion
    geometry::Vec3 reference; ///< unit, ⟂ axis
    bool hollow = false;      ///< a stud or tube that takes a bar
    double depth = 0;         ///< mm to either side along the axis within which the port mates as well
    std::vector<int> solids;  ///< indices of the solids that form this port
    [[nodiscard]] geometry::Frame X_PF() const { return geometry::makeAxisFrame(origin, axis, reference); }
};

struct ShapeSolid {
    geometry::Solid solid;
    geometry::Solid eroded; ///< by geometry::kContactToleranceMm
    int studPort = -1;      ///< index of the port when this solid is a stud, else −1
};

struct OwnSource; // core/parts/own_shape.h

struct Shape {
    std::string name;                   ///< canonical: "plate 2x4"
    std::string family;                 ///< "plate"
    std::vector<ShapeSolid> solids;     ///< for collision: side faces inset by 0.1 mm
    std::vector<geometry::Solid> drawn; ///< for pictures: edge to edge, without studs
    std::vector<Port> ports;
    std::vector<ToothRing> rings;
    geometry::Bounds bounds; ///< of the solids
    double massG = 0;        ///< volume × 1.05 mg/mm³ × fill factor: a starting value, not weighed
    double fillFactor = 1;
    geometry::Vec3 centre = geometry::Vec3::Zero(); ///< centre of mass, assuming even filling
    std::shared_ptr<const OwnSource>
        own; ///< what a shape of the builder's own is made from; null for those of families

    /// Index of the port called `name`, or −1.
    [[nodiscard]] int findPort(std::string_view name) const;
};

using ShapePtr = std::shared_ptr<const Shape>;

} // namespace ivrant::parts
