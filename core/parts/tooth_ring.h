// SPDX-License-Identifier: GPL-3.0-or-later
// What on a part takes power from other parts: teeth, a thread, a row of teeth, a groove?
//
// Part frame, mm. What meshes follows from where two of them lie (core/drive/net_mesh.h).
#pragma once

#include <vector>

#include "core/geometry/frames.h"

namespace ivrant::parts {

enum class GearKind {
    Spur,
    Bevel,        ///< double bevel: meshes with parallel shafts and across
    Crown,        ///< teeth on its face towards +axis
    Worm,         ///< teeth: its starts
    Ring,         ///< teeth inside
    Rack,         ///< has no shaft: a straight row of teeth
    Sprocket,     ///< for chain
    Pulley,       ///< for belts and strings; teeth: pitch diameter in mm
    Differential, ///< the case with its outer teeth; `shaft` is one side, `other` the other
    Turntable,    ///< turns freely about its shaft's line; may carry boards and shafts
    Actuator      ///< screw in a case that its shaft turns; pushes along the shaft's way; teeth: pitches of its case
};

struct ToothRing {
    GearKind kind = GearKind::Spur;
    int teeth = 0; ///< a worm's: starts; a pulley's: pitch diameter in mm; an actuator's: pitches of its case
    geometry::Vec3 centre = geometry::Vec3::Zero(); ///< of its middle plane; a rack's: the middle of its pitch line
    /// Unit; positive turns are right-handed about it. A crown's teeth look along it, an actuator pushes along it, a
    /// rack runs along it.
    geometry::Vec3 axis = geometry::Vec3::UnitX();
    geometry::Vec3 face = geometry::Vec3::Zero(); ///< racks: unit, out of the teeth
    double halfLengthMm = 0;                      ///< racks
    std::vector<int> solids;                      ///< of the shape that mesh with other teeth
};

} // namespace ivrant::parts
