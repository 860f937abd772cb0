#include "core/stand/size_rows.h"

#include <deque>

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
    auto grid = makeCellGrid(body, wish.heightMm, progress);
    if (!grid) return grid.error();
    SizeRow row;
    row.heightMm = wish.heightMm;
    row.smallestShare = base::kPitchMm / wish.heightMm;
    row.overhangMm = calcOverhangMm(*grid);
    const CellGrid filled = wish.shell > 0 ? makeHollow(*grid, wish.shell) : std::move(grid).value();
    auto layers = layBricks(filled, wish.sizes, progress);
    if (!layers) return layers.error();
    row.parts = layers->bricks.size();
    row.openSeams = layers->openSeams;
    row.hanging = layers->hanging;
    for (const LaidBrick& brick : layers->bricks) {
        const auto size = std::minmax(brick.across, brick.along);
        row.massG += parts::makeShape("brick " + std::to_string(size.first) + "x" + std::to_string(size.second)).value()->massG;
    }
    row.layers = std::move(layers).value();
    return row;
}

} // namespace ivrant::stand
