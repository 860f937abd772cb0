// SPDX-License-Identifier: GPL-3.0-or-later
// Which bricks fill the cells of a grid, layer by layer, so that they hold each other?
//
// Greedy: in every layer first where pieces that nothing joins yet meet, then from alternating corners, the brick that
// covers most free cells and most seams of the layer below and joins most pieces. What then hangs on nothing becomes
// part of a longer brick beside it where one fits; else it is left out and told. In a grid of plates bricks fill what
// is three plates high, plates the rest. Where cells have colours a brick covers one colour, or cells of any.
#pragma once

#include "core/model/edits.h"
#include "core/stand/cell_grid.h"

namespace ivrant::stand {

struct LaidBrick {
    int x = 0, y = 0, z = 0;   ///< its cell with the least x and y; z in plates from the ground
    int across = 1, along = 1; ///< cells in x and in y
    int plates = 3;            ///< height: 3 a brick, 1 a plate
    int colour = -1;           ///< palette index; −1: any
    int slope = 0; ///< 0: a brick or plate; 1 to 4: a slope two cells deep, its low side towards −y, +x, +y, −x
};

struct Layers {
    std::vector<LaidBrick> bricks; ///< as they are laid, from below
    std::size_t openSeams = 0;     ///< between neighbours in one layer that no brick above or below bridges
    std::size_t hanging = 0; ///< bricks that nothing joins to the ground, not even as part of a longer one: left out
    std::vector<LaidBrick> dropped; ///< those
    std::size_t rescued = 0;        ///< cells that a longer brick holds now
};

/// `slopes`: where the top steps in, slopes take the edge and the cells behind it. `keepHanging`: what joins nothing on
/// the ground stays too. `sizes`: of bricks {A, B} with A ≤ B, such as {2, 4}; 1 x 1 is always used where nothing else
/// fits. Error "layers.sizes" for sizes no brick has.
base::Result<Layers> layBricks(const CellGrid& grid, const std::vector<std::array<int, 2>>& sizes,
                               base::Progress* progress = nullptr, bool keepHanging = false, bool slopes = false);
/// Usual bricks: 2x8, 2x6, 2x4, 2x3, 2x2, 1x8, 1x6, 1x4, 1x3, 1x2, 1x1.
[[nodiscard]] const std::vector<std::array<int, 2>>& getUsualSizes();

/// "brick 2x4".
[[nodiscard]] std::string nameOf(const LaidBrick& brick);
/// A project with one section; every layer is a step. Colour: index into the palette, of what may have any.
base::Result<model::Project> makeStatue(const std::string& name, const Layers& layers, int colour);

} // namespace ivrant::stand
