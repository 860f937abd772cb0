// SPDX-License-Identifier: GPL-3.0-or-later
// Where is every wheel of a board in its plane? For drawing and for finding what lies under the pointer.
#pragma once

#include "print/board_scene.h"

namespace ivrant::print {

struct Spot {
    const model::Gear* gear = nullptr;
    const model::Shaft* shaft = nullptr; ///< null: a rack
    QPointF at;                          ///< mm, centre
    double height = 0;
    model::WheelSize size;
    model::BoardAxis axis = model::BoardAxis::Out;
};

[[nodiscard]] const model::Board& boardOf(const DriveState& state, int board);
/// Big ones first, so that small ones stay in sight; without wheels whose shaft lies on another board.
[[nodiscard]] std::vector<Spot> listSpots(const model::Board& board);
/// Outline in the board's plane, mm.
[[nodiscard]] QRectF findBox(const Spot& spot);

} // namespace ivrant::print
