// How deep inside the model does every part lie: how many parts are between it and the air around?
//
// The solids are entered in a grid of half pitches and plates; air is what can be reached from outside through it. A part with a cell beside air has
// depth 1, one that touches only such parts 2, and so on. A cell counts as filled by the part whose solid holds its middle, so gaps smaller than
// a half pitch are closed: what lies behind them counts as hidden from sight, as it is behind a wall of bricks.
#pragma once

#include "core/base/progress.h"
#include "core/base/result.h"
#include "core/model/placed.h"

namespace ivrant::stand {

/// A part that is seen through gaps only: from the air beside it at most one of the six ways along the axes leads straight out.
struct Peek {
    model::PartSpot part;
    std::vector<model::PartSpot> around; ///< parts that touch it
};

struct PartDepths {
    std::vector<std::vector<int>> depth; ///< by section and part; 0: fills no cell (thinner than a plate)
    int deepest = 0;
    std::vector<Peek> peeks;
};

inline constexpr std::size_t kMostDepthCells = 60'000'000;

/// Errors "depth.size" (too large for the grid), "stopped". O(cells).
base::Result<PartDepths> calcPartDepths(const model::Placed& placed, base::Progress* progress = nullptr);

} // namespace ivrant::stand
