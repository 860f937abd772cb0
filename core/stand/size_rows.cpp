// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/stand/size_rows.h"

#include <deque>
#include <map>

#include "core/base/units.h"
#include "core/parts/family.h"

namespace ivrant::stand {

double calcOverhangMm(const CellGrid& grid) {
    int most = 0;
    for (int z = 1; z < grid.nz; ++z) {
        std::vector<int> steps(static_cast<std::size_t>(grid.nx) * static_cast<std::size_t>(grid.ny), -1);
        std::deque<std::pair<int, int>> open;
        for (int y = 0; y < grid.ny; ++y)
            for (int x = 0; x < grid.nx; ++x)
                if (grid.isFilled(x, y, z) && grid.isFilled(x, y, z - 1)) {
                    steps[grid.column(x, y)] = 0;
                    open.emplace_back(x, y);
                }
        while (!open.empty()) {
            const auto [x, y] = open.front();
            open.pop_front();
            const int now = steps[grid.column(x, y)];
            most = std::max(most, now);
            for (const auto& [dx, dy] : {std::pair(1, 0), std::pair(-1, 0), std::pair(0, 1), std::pair(0, -1)}) {
                const int u = x + dx, v = y + dy;
                if (!grid.isFilled(u, v, z) || steps[grid.column(u, v)] >= 0) continue;
                steps[grid.column(u, v)] = now + 1;
                open.emplace_back(u, v);
            }
        }
    }
    return most * base::kPitchMm;
}

base::Result<SizeRow> calcSize(const geometry::MeshBody& body, const LayerWish& wish, base::Progress* progress) {
    auto grid = makeCellGrid(body, wish.heightMm, progress, wish.plates ? base::kPlateMm : base::kBrickMm);
    if (!grid) return grid.error();
    if (wish.colours) grid = paintCells(*grid, *wish.colours);
    auto of = calcSize(*grid, wish, progress);
    if (!of) return of;
    SizeRow row = std::move(of).value();
    row.heightMm = wish.heightMm;
    row.smallestShare = base::kPitchMm / wish.heightMm;
    return row;
}

base::Result<SizeRow> calcSize(const CellGrid& grid, const LayerWish& wish, base::Progress* progress) {
    SizeRow row;
    row.heightMm = grid.nz * grid.cellMm;
    row.smallestShare = base::kPitchMm / row.heightMm;
    row.overhangMm = calcOverhangMm(grid);
    auto layers =
        layBricks(wish.shell > 0 ? makeHollow(grid, wish.shell) : grid, wish.sizes, progress, false, wish.slopes);
    if (!layers) return layers.error();
    row.parts = layers->bricks.size();
    row.openSeams = layers->openSeams;
    row.hanging = layers->hanging;
    std::map<std::string, double> mass;
    for (const LaidBrick& brick : layers->bricks) {
        const auto [it, fresh] = mass.try_emplace(nameOf(brick), 0.0);
        if (fresh) it->second = parts::makeShape(it->first).value()->massG;
        row.massG += it->second;
    }
    row.layers = std::move(layers).value();
    return row;
}

} // namespace ivrant::stand
