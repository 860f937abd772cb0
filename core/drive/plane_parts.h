// SPDX-License-Identifier: GPL-3.0-or-later
// Shafts, wheels and motors in the plane of a gear board, as parts of its section: how do they lie there, and which
// part stands for one that is asked for?
//
// A part is told by where it lies alone; what holds it is not asked (part_reader.h does). Board frame as in
// core/model/board.h; lengths in whole µm there, mm elsewhere.
#pragma once

#include "core/base/result.h"
#include "core/model/board.h"
#include "core/model/edits.h"

namespace ivrant::drive {

/// Axles and what sits on them, along the axes of a board; ids are those of the parts.
struct PlaneParts {
    std::vector<model::Shaft> shafts;
    std::vector<model::Gear> gears; ///< wheels on one of the shafts, and racks

    [[nodiscard]] const model::Shaft* findShaft(const std::string& id) const;
    [[nodiscard]] const model::Gear* findGear(const std::string& id) const;
};
/// None for a board that belongs to no section. O(axles · wheels).
[[nodiscard]] PlaneParts listPlaneParts(const model::Project& project, const model::Board& board);

/// What there is on an axle: from where to where it is taken, mm from its start.
struct Taken {
    double lowMm = 0, highMm = 0;
    bool wall = false; ///< it carries the axle: a round hole in something that is no wheel
    int part = -1;     ///< of the section
};
/// Wheels, bushes, rings and connectors of the section that sit on an axle (part index), and walls that it goes
/// through. O(parts).
[[nodiscard]] std::vector<Taken> listTaken(const model::Section& section, int axle);

/// An axle, what is made to sit on one, or a motor: built when the walls stand.
[[nodiscard]] bool isDrivePart(const parts::Shape& shape);

/// Do two shafts lie in one line, the one ending where the other begins, no more than half a pitch between? In either
/// order.
[[nodiscard]] bool isEndToEnd(const model::Shaft& a, const model::Shaft& b);

/// An axle of whole pitches, 2 to 16, the next longer one: it keeps its start. Errors "line.axle".
[[nodiscard]] base::Result<model::NewPart> makeAxlePart(const model::Board& board, const model::Shaft& shaft);
/// Error "gear.teeth": no part is like that.
[[nodiscard]] base::Result<model::NewPart> makeWheelPart(const model::Board& board, const model::Shaft& shaft,
                                                         const model::Gear& gear);
/// Teeth look up in the plane (right for a rack that runs up); `down`: the other way.
[[nodiscard]] base::Result<model::NewPart> makeRackPart(const model::Board& board, const model::Gear& rack, bool down);

/// The board's colour; on a board that has none of its own (the first of the palette) one by what the part is.
[[nodiscard]] int chooseColour(const model::Board& board, const parts::Shape& shape);

/// Frame with x along a direction of a board.
[[nodiscard]] geometry::Frame alongAxis(model::BoardAxis axis, const geometry::Vec3& at);

} // namespace ivrant::drive
