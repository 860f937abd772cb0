// SPDX-License-Identifier: GPL-3.0-or-later
// Which usual bricks and plates make a row of cells, a layer, or a block? For use inside core/drive.
//
// Frame: x across the row, y along it, z up, mm; cell c has its middle at 8 c from the row's origin.
#pragma once

#include <set>
#include <string>
#include <vector>

#include "core/geometry/frames.h"
#include "core/parts/shape.h"

namespace ivrant::drive {

struct RowPiece {
    parts::ShapePtr shape;
    geometry::Vec3 at; ///< of its frame
};

/// One wide, from cell `low` to `high`. `family`: "brick" or "plate"; pieces with a hole are pin hole bricks. Holes by
/// twice their cell: odd ones lie between two cells, even ones in the middle of a piece of one. No piece ends at a
/// hole; few pieces, few ends on `seams` (cells after which the row below has one), which then tells those of this row.
/// Empty: it cannot be done.
[[nodiscard]] std::vector<RowPiece> makeRow(const std::string& family, int low, int high,
                                            const std::set<int>& holesTwice, std::set<int>& seams);

/// A rectangle of cells as one layer: rows two wide that run along y, or along x. Empty: it cannot be done.
[[nodiscard]] std::vector<RowPiece> makeLayer(const std::string& family, int countX, int countY, bool alongX);

/// The smallest usual plate of at least so many cells both ways, no more than two beyond either; 0: there is none.
struct PlateSize {
    int x = 0, y = 0;
};
[[nodiscard]] PlateSize findWholePlate(int countX, int countY);

} // namespace ivrant::drive
