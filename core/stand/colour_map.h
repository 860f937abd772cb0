// SPDX-License-Identifier: GPL-3.0-or-later
// Which colours do the cells of a statue get from one picture, laid over it from the front?
//
// The picture is stretched over the grid's box: its left edge at the smallest x, its top at the highest layer, seen
// along +y. Cells at the surface and those right behind them are painted; what lies deeper may have any colour, so that
// bricks reach inwards from the surface.
#pragma once

#include "core/stand/cell_grid.h"

namespace ivrant::stand {

inline constexpr int kPaintedCells = 2; ///< from the air inwards, in cells of a brick

struct ColourMap {
    int width = 0, height = 0;
    std::vector<std::int16_t> colour; ///< palette index, rows from the top; −1: leaves the cells as they are
};

/// Expects a map that is not empty. O(cells).
[[nodiscard]] CellGrid paintCells(const CellGrid& grid, const ColourMap& map);

} // namespace ivrant::stand
