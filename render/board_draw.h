// SPDX-License-Identifier: GPL-3.0-or-later
// How do gear boards get into a picture? Their shafts, wheels and motors are drawn like the parts of one more section
// each.
#pragma once

#include "core/model/placed.h"
#include "render/renderer.h"

namespace ivrant::render {

struct BoardDraw {
    int board = 0; ///< index in the project
    SectionDraw draw;
};

/// All boards of the project where they stand. What a board comes to is kept as long as the board itself lives. Any
/// thread.
[[nodiscard]] std::vector<BoardDraw> makeBoardDraws(const model::Placed& placed);

} // namespace ivrant::render
