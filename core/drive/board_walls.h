// SPDX-License-Identifier: GPL-3.0-or-later
// Which bricks carry the shafts of a gear board and hold its motors?
//
// For boards that lie flat see wall_plan.h. For those that stand upright in their section: walls of bricks with
// round holes along the section's studs, courses and plates by the heights of the shafts, a floor below the lowest
// wheel and a lid above the highest, seats under motors. Everything is proposed as parts to add; of what is there only
// axles that end short of a wall are exchanged for longer ones. Section frame, mm.
#pragma once

#include <string>
#include <vector>

#include "core/base/result.h"
#include "core/model/board.h"
#include "core/model/edits.h"

namespace ivrant::drive {

struct WallsWish {
    std::vector<std::int64_t> heightsUm; ///< of the walls' middles on the board
    bool walls = true, floor = true, lid = false, seats = false;
    bool reach = true; ///< axles that end short of a wall become longer
};

/// An axle that is exchanged for a longer one.
struct LongerAxle {
    model::PartId id;
    parts::ShapePtr shape;
    geometry::Vec3 by = geometry::Vec3::Zero(); ///< that its start moves, in the section
};

struct WallsPlan {
    std::vector<model::NewPart> parts; ///< from below upwards, each with its step
    std::vector<LongerAxle> longer;    ///< so that every shaft reaches every wall
    std::vector<std::string> notes;    ///< what could not be done, in words
    std::vector<model::PartId> drive;  ///< shafts, wheels and motors, in the order of building
    int driveStep = 1;                 ///< the first of them go in at this step, when the walls stand
};

/// Heights of walls: those noted on the board, else a pitch beyond the outermost wheels on shafts square to the board.
[[nodiscard]] std::vector<std::int64_t> chooseWallHeights(const model::Project& project, const model::Board& board);

/// Errors: "walls.section" (the board belongs to none), "walls.flat" (it leans), "walls.shafts"
/// (nothing to carry), "walls.holes" (none fits what there is), "walls.span" (too far apart), "walls.there" (all of it
/// is there). O(parts of the section).
[[nodiscard]] base::Result<WallsPlan> planWalls(const model::Project& project, const model::Board& board,
                                                const WallsWish& wish);

/// Puts the parts in; steps of shafts, wheels and motors that would come before their walls move behind them.
model::EditResult addWalls(const model::Project& project, const model::Board& board, const WallsPlan& plan);

} // namespace ivrant::drive
