// SPDX-License-Identifier: GPL-3.0-or-later
// What stands on the sheets about gear boards: where every wheel goes, what every function does, which motor is wired
// where, what to keep in reach, what wears?
//
// Words only; the drawing to scale is print/board_sheet.h's business.
#pragma once

#include <string>
#include <vector>

#include "core/verdict/report.h"

namespace ivrant::files {

struct SheetWheel {
    std::string wheel; ///< "spur gear 24", "clutch gear 20 (loose)"
    std::string shaft, hole, layer, meshes;
};

struct SheetBoard {
    int board = 0; ///< index in the project
    std::string name, place;
    std::vector<SheetWheel> wheels;
    std::vector<std::pair<std::string, std::string>> shafts; ///< "Input" → "axle 5, out of hole 2, 3"
};

struct SheetFunction {
    std::string function, position, motor, ratio, speed, travel, asks, margin, holds;
};

struct SheetWire {
    std::string motor, line, port, board, moves;
};

struct SheetDrive {
    std::vector<SheetBoard> boards;
    std::vector<SheetFunction> functions; ///< every function in every position that moves it
    std::vector<SheetWire> wires;
    std::vector<std::string> reach;                          ///< where battery and selectors must be got at
    std::vector<std::pair<std::string, std::string>> spares; ///< part → why one is taken along
    std::vector<std::string> cautions;
};

/// Empty lists when there are no boards.
[[nodiscard]] SheetDrive makeSheetDrive(const verdict::Report& report);

} // namespace ivrant::files
