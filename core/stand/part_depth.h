// SPDX-License-Identifier: GPL-3.0-or-later
// How deep inside the model does every part lie: how many parts are between it and the air around?
//
// The solids are entered in a grid of half pitches and plates; air is what can be reached from outside through it. A
// part with a cell beside air has depth 1, one that touches only such parts 2, and so on. A cell counts as filled by
// the part whose solid holds its middle, so gaps smaller than a half pitch are closed. What is seen is another
// question: sight.h.
#pragma once

#include "core/base/progress.h"
#include "core/base/result.h"
#include "core/model/placed.h"

namespace ivrant::stand {

struct PartDepths {
    std::vector<std::vector<int>> depth; ///< by section and part; 0: fills no cell (thinner than a plate)
    int deepest = 0;
};

inline constexpr std::size_t kMostDepthCells = 60'000'000;

/// Errors "depth.size" (too large for the grid), "stopped". O(cells).
base::Result<PartDepths> calcPartDepths(const model::Placed& placed, base::Progress* progress = nullptr);

} // namespace ivrant::stand
