// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/stand/colour_map.h"

#include <algorithm>
#include <cmath>

namespace ivrant::stand {

CellGrid paintCells(const CellGrid& grid, const ColourMap& map) {
    CellGrid painted = grid;
    if (painted.colour.empty()) painted.colour.assign(painted.filled.size(), -1);
    const auto depth = calcDepths(grid);
    const int deepest = kPaintedCells * std::max(1, static_cast<int>(std::lround(base::kBrickMm / grid.cellMm)));
    const auto pixel = [](int cell, int cells, int pixels) {
        return std::clamp(static_cast<int>((cell + 0.5) / cells * pixels), 0, pixels - 1);
    };
    for (int z = 0; z < grid.nz; ++z)
        for (int y = 0; y < grid.ny; ++y)
            for (int x = 0; x < grid.nx; ++x) {
                const std::size_t at = grid.index(x, y, z);
                if (!grid.filled[at] || depth[at] > deepest) continue;
                const int u = pixel(x, grid.nx, map.width), v = pixel(grid.nz - 1 - z, grid.nz, map.height);
                const std::int16_t colour =
                    map.colour[static_cast<std::size_t>(v) * static_cast<std::size_t>(map.width) +
                               static_cast<std::size_t>(u)];
                if (colour >= 0) painted.colour[at] = colour;
            }
    return painted;
}

} // namespace ivrant::stand
