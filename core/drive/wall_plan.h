// SPDX-License-Identifier: GPL-3.0-or-later
// How are the bricks round a gear board planned? What those for boards that stand upright and for boards that lie flat
// share; part of board_walls.h, for use inside core/drive.
//
// Flat: a base plate on which upright shafts stand, plates with holes on it as their feet, two walls of bricks beside
// the wheels, and plates with holes from wall to wall as their heads. Section frame, mm.
#pragma once

#include <set>

#include "core/drive/board_walls.h"

namespace ivrant::drive {

inline constexpr double kFitMm = 0.1;   ///< what lies nearer to a place than that is there
inline constexpr double kClearMm = 0.4; ///< between a wheel and what is built beside it
/// How far `x` lies beyond the nearest place of the grid below it; within kFitMm of a place: about 0, also below it.
[[nodiscard]] double calcOffGrid(double x, double origin, double step);

inline constexpr int kMostSpanCells = 8; ///< of a plate with holes, from wall to wall

/// planWalls for a board that stands upright in its section.
[[nodiscard]] base::Result<WallsPlan> planUprightWalls(const model::Project& project, const model::Board& board,
                                                       const WallsWish& wish);
/// For one whose way out is up or down.
[[nodiscard]] base::Result<WallsPlan> planFlatWalls(const model::Project& project, const model::Board& board,
                                                    const WallsWish& wish);

/// The shafts with these ids and all that sits on them (wheels, bushes, motors), to be built from `step` on in their
/// own order. Returns the step for what comes when all of it is in.
int orderDrive(const model::Section& section, const std::set<std::string>& shafts, int step, WallsPlan& plan);

/// Bricks of the plan that would stand in something are taken out of it and told. O(parts of the section).
void leaveOutWhatIsInTheWay(const model::Section& section, WallsPlan& plan);

} // namespace ivrant::drive
