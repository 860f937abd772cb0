// SPDX-License-Identifier: GPL-3.0-or-later
// Which bricks stand in the way of a gear board's shafts, wheels and motors, and what stands in the way of its motors'
// bodies?
//
// Wheels count as their full round, so that what is free stays free while they turn. A shaft may go through any hole
// that lies on its line. Bricks of other sections are collisions of a pose (core/pose/bodies.h); a board that lives
// alone is held against all. Contacts up to geometry::kContactToleranceMm are touching. Shafts and wheels against each
// other are core/drive/drive_net.h's business. mm.
#pragma once

#include "core/bonds/section_bonds.h"
#include "core/model/board_parts.h"

namespace ivrant::bonds {

struct BoardOverlap {
    int board = 0;
    std::string id; ///< of the shaft, wheel or motor
    std::string shape;
    model::PartSpot spot; ///< of the brick; no section: it is a thing of a board,
    std::string other;    ///< with this id
    double depthMm = 0;
};

/// At most `most` of them, deepest contact of each pair, in order of boards. With spheres about parts first: O(board
/// parts × bricks near them).
[[nodiscard]] std::vector<BoardOverlap>
calcBoardOverlaps(const model::Placed& placed, const std::vector<SectionBondsPtr>& bonds, std::size_t most = 100);

/// Part of a board against a brick: a shaft in one of the brick's holes, or a brick's pin or axle in one of the
/// wheel's. Poses in one frame.
[[nodiscard]] bool sharesLine(const parts::Shape& shape, const geometry::Frame& X_WP, const parts::Shape& brick,
                              const geometry::Frame& X_WB);

} // namespace ivrant::bonds
