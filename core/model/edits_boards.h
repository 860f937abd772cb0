// SPDX-License-Identifier: GPL-3.0-or-later
// How do gear boards change? Pure functions from one project to the next, as in core/model/edits.h.
//
// `put…` adds an entry when its id is empty, else replaces the one with that id on the board. Places in µm on the
// board.
#pragma once

#include "core/model/edits.h"

namespace ivrant::model {

EditResult addBoard(const Project& project, const std::string& name, const SectionId& section = {},
                    const Place& place = {}, BoardId* newId = nullptr);
EditResult removeBoard(const Project& project, const BoardId& board);
EditResult renameBoard(const Project& project, const BoardId& board, const std::string& name);
/// Where it is, and in which section (empty: it lives alone).
EditResult placeBoard(const Project& project, const BoardId& board, const SectionId& section, const Place& place);
/// Takes name, section, place, carrier, walls, step and colour of `changed`; what lies on the board stays. Its id says
/// which.
EditResult changeBoardHead(const Project& project, const Board& changed);
/// The turntable (or wheel) that the board goes round with; empty: it stands still.
EditResult carryBoard(const Project& project, const BoardId& board, const GearId& carrier);
EditResult setWalls(const Project& project, const BoardId& board, const std::vector<std::int64_t>& wallsUm);

EditResult putShaft(const Project& project, const BoardId& board, Shaft shaft, ShaftId* newId = nullptr);
EditResult putGear(const Project& project, const BoardId& board, Gear gear, GearId* newId = nullptr);
EditResult putLoop(const Project& project, const BoardId& board, Loop loop);
EditResult putCoupling(const Project& project, const BoardId& board, Coupling coupling);
EditResult putStrand(const Project& project, const BoardId& board, Strand strand);
EditResult putMotor(const Project& project, const BoardId& board, DriveMotor motor);
EditResult putSelector(const Project& project, const BoardId& board, Selector selector);
EditResult putFunction(const Project& project, const BoardId& board, DriveFunction function);

/// Moves shafts (with all that sits on them) and racks by an offset.
EditResult moveOnBoard(const Project& project, const BoardId& board, const std::vector<std::string>& ids,
                       const std::array<std::int64_t, 3>& byUm);
/// The same for what is seen on the board: parts of sections among `ids` move along with its plane.
EditResult moveSeen(const Project& project, const BoardId& board, const std::vector<std::string>& ids,
                    const std::array<std::int64_t, 3>& byUm);
/// Removes parts of sections and things on boards.
EditResult removeSeen(const Project& project, const std::vector<std::string>& ids);
/// Removes things by id with all that hangs on them: a shaft's wheels and motors, loops round a wheel, functions that
/// lose what they move. In other boards as well.
EditResult removeFromBoard(const Project& project, const std::vector<std::string>& ids);
/// Puts a selector at one of its positions.
EditResult setSelectorPosition(const Project& project, const SelectorId& selector, int position);

} // namespace ivrant::model
