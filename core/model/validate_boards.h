// SPDX-License-Identifier: GPL-3.0-or-later
// Are the gear boards of a project whole? Part of validate(); not for use outside core/model.
#pragma once

#include "core/base/result.h"
#include "core/model/project.h"

namespace ivrant::model {

inline constexpr int kMostTeeth = 200;
inline constexpr std::int64_t kMostBoardUm = 10'000'000; ///< 10 m
inline constexpr std::size_t kMostItems = 20'000;        ///< on one board

/// Names, sizes and references of all boards; ids are looked at elsewhere. Codes: "board.size", "board.section",
/// "board.carrier", "board.place", "gear.teeth", "gear.shaft", "shaft.length", "loop.gears", "coupling.shafts",
/// "strand.value", "motor.shaft", "selector.position", "function.target", "function.value".
[[nodiscard]] base::Status checkBoards(const Project& project);

/// `visit(list name, index, id)` for everything on a board that has an id.
template <class Visit> void forEachItem(const Board& board, Visit visit) {
    const auto all = [&](const auto& list, const char* name) {
        for (std::size_t i = 0; i < list.size(); ++i) visit(name, i, list[i].id.text);
    };
    all(board.shafts, "shafts");
    all(board.gears, "gears");
    all(board.loops, "loops");
    all(board.couplings, "couplings");
    all(board.strands, "strands");
    all(board.motors, "motors");
    all(board.selectors, "selectors");
    all(board.functions, "functions");
}

} // namespace ivrant::model
