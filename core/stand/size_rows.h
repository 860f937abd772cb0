// SPDX-License-Identifier: GPL-3.0-or-later
// What does the same shape come to at several sizes: parts, mass, what small things survive, how far it overhangs?
#pragma once

#include <memory>

#include "core/stand/brick_layers.h"
#include "core/stand/colour_map.h"

namespace ivrant::stand {

struct LayerWish {
    double heightMm = 0;
    int shell = 0; ///< cells left of the walls; 0: solid
    std::vector<std::array<int, 2>> sizes = getUsualSizes();
    bool slopes = false;                           ///< on the steps of the top side
    bool plates = false;                           ///< finer surface: plates where a whole brick does not fit
    std::shared_ptr<const ColourMap> colours = {}; ///< of a mesh; null: one colour
};
struct SizeRow {
    double heightMm = 0;
    std::size_t parts = 0, openSeams = 0, hanging = 0;
    double massG = 0;
    double smallestShare = 0; ///< of the height: a cell's width; what is thinner is lost
    double overhangMm = 0;    ///< farthest that a layer reaches beyond what carries it
    Layers layers;
};

/// Mesh → cells → bricks. Errors of makeCellGrid and layBricks.
base::Result<SizeRow> calcSize(const geometry::MeshBody& body, const LayerWish& wish,
                               base::Progress* progress = nullptr);
/// Of cells that are there already; the height is theirs.
base::Result<SizeRow> calcSize(const CellGrid& grid, const LayerWish& wish, base::Progress* progress = nullptr);
/// Farthest cell (mm) of any layer from the nearest one with a filled cell below it, along sides. O(cells).
[[nodiscard]] double calcOverhangMm(const CellGrid& grid);

} // namespace ivrant::stand
