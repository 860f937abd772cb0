// SPDX-License-Identifier: GPL-3.0-or-later
// What moves as one, and on which lines is it carried? Part of part_reader.h; for use inside core/drive.
//
// A body is all that bonds fix to each other: studs, cross holes, friction. Pins and axles in round holes, turning
// holes and turntables leave a turn about their line; two bodies of a section that share two such lines are fixed to
// each other after all (walls on both sides of a gearbox, a ring on its pins). World frame, mm.
#pragma once

#include <vector>

#include "core/bonds/section_bonds.h"
#include "core/model/placed.h"

namespace ivrant::drive {

using geometry::Vec3;

/// A rod (a pin, an axle, half of a turntable) in a hole of another body, about whose line it can turn.
struct Carry {
    int rod = 0, hole = 0; ///< bodies
    model::PartSpot rodPart, holePart;
    int holePort = 0;
    Vec3 at = Vec3::Zero();    ///< the middle of the hole, on the line
    Vec3 axis = Vec3::UnitX(); ///< unit, along the line
    bool turning = false;      ///< the hole turns in its part: a motor's output, a differential's side
};

struct PartBodies {
    std::vector<std::vector<int>> of;                ///< by section and part: its body
    std::vector<std::vector<model::PartSpot>> parts; ///< by body
    std::vector<int> ground;                         ///< by section: the body that stands; −1: it has none
    std::vector<Carry> carries;                      ///< each hole once
    std::vector<std::vector<int>> carriesOf;         ///< by body: those that it takes part in, in their order
    std::vector<model::PartSpot> locked; ///< in whose turning hole is an axle that is fixed to the part itself
    std::vector<std::pair<model::PartSpot, model::PartSpot>> universals; ///< fork and cross that meet

    [[nodiscard]] int bodyOf(model::PartSpot spot) const;
    [[nodiscard]] bool isGround(int body) const;
};

/// Ground of a section is the body that most of its joints hang on (axles do not count), else the heaviest, motors and
/// batteries not counted. A section without joints that is nothing but axles and what sits on them has none. O(mates ·
/// log).
[[nodiscard]] PartBodies findPartBodies(const model::Placed& placed, const std::vector<bonds::SectionBondsPtr>& bonds);

/// Do two lines (point, unit axis) coincide within `mm` and half a degree?
[[nodiscard]] bool isOneLine(const Vec3& p, const Vec3& a, const Vec3& q, const Vec3& b, double mm = 0.1);

} // namespace ivrant::drive
