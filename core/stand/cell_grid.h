// SPDX-License-Identifier: GPL-3.0-or-later
// Which cells of a grid of bricks does a closed mesh fill?
//
// Cells are 8 x 8 mm and one brick, 9.6 mm, high; for a finer surface one plate, 3.2 mm. A cell is filled when the mesh
// winds round its middle: meshes that cross themselves or each other are taken as their union. Source: winding number
// along a ray, signed crossings (O'Rourke, Computational Geometry in C, 7.4). mm.
#pragma once

#include <cstdint>

#include "core/base/progress.h"
#include "core/base/units.h"
#include "core/geometry/pieces.h"

namespace ivrant::stand {

inline constexpr int kMostCells = 4'000'000;
inline constexpr int kPlatesInBrick = 3;

struct CellGrid {
    int nx = 0, ny = 0, nz = 0;
    std::vector<std::uint8_t> filled;      ///< x fastest, then y, then z
    std::vector<std::int16_t> colour = {}; ///< palette index of each cell, −1: any; empty: any everywhere
    double cellMm = base::kBrickMm;        ///< height of a cell: a brick or a plate

    [[nodiscard]] bool isFilled(int x, int y, int z) const {
        return x >= 0 && y >= 0 && z >= 0 && x < nx && y < ny && z < nz && filled[index(x, y, z)] != 0;
    }
    [[nodiscard]] std::size_t index(int x, int y, int z) const {
        return static_cast<std::size_t>((static_cast<std::int64_t>(z) * ny + y) * nx + x);
    }
    /// Of the vertical through a cell, x fastest.
    [[nodiscard]] std::size_t column(int x, int y) const {
        return static_cast<std::size_t>(y) * static_cast<std::size_t>(nx) + static_cast<std::size_t>(x);
    }
    [[nodiscard]] std::size_t count() const;
};

/// The body scaled so that it is `heightMm` high, its underside on the lowest layer. Errors: "grid.size" (nothing left,
/// or more than kMostCells), "stopped". O(triangles × columns under each + cells).
base::Result<CellGrid> makeCellGrid(const geometry::MeshBody& body, double heightMm,
                                    const base::Progress* progress = nullptr, double cellMm = base::kBrickMm);
/// Cells of a brick's height that are filled from top to bottom in a grid of plates; of a grid of bricks itself.
[[nodiscard]] CellGrid makeWholeBricks(const CellGrid& grid);

/// By cell: steps through side, top and bottom to the nearest cell outside; 0: empty, 1: at the surface. O(cells).
[[nodiscard]] std::vector<int> calcDepths(const CellGrid& grid);

/// Takes away filled cells (of plates: whole bricks) deeper than `shell` cells of a brick (≥ 1). What stays is a shell
/// that many thick.
[[nodiscard]] CellGrid makeHollow(const CellGrid& grid, int shell);

} // namespace ivrant::stand
