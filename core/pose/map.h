// SPDX-License-Identifier: GPL-3.0-or-later
// Which combinations of two freedoms are free, and which are blocked by what?
//
// A grid over both freedoms. For each value of the first, the second is marched over the whole row by the sweep's safe
// steps (core/pose/sweep.h), so that every cell is exact at its own values. Degrees, or mm for slides.
#pragma once

#include <cstdint>

#include "core/pose/range.h"

namespace ivrant::pose {

enum class Cell : std::uint8_t {
    Free,
    Blocked, ///< parts are in each other
    Beyond   ///< beyond a joint's own limit
};

struct MapRequest {
    FreedomRef first, second; ///< two different freedoms
    model::Range firstRange{-180, 180}, secondRange{-180, 180};
    int steps = 72; ///< cells along each side, 2 to 1000; cell i stands for its middle
};

struct TwoJointMap {
    MapRequest request;
    std::vector<Cell> cells; ///< [i · steps + k]: i of the first, k of the second
    double freeShare = 0;    ///< of all cells
    [[nodiscard]] Cell at(int i, int k) const {
        return cells[static_cast<std::size_t>(i) * static_cast<std::size_t>(request.steps) +
                     static_cast<std::size_t>(k)];
    }
    [[nodiscard]] double firstValue(int i) const { return middle(request.firstRange, i); }
    [[nodiscard]] double secondValue(int k) const { return middle(request.secondRange, k); }
    /// Cells that can be reached from the cell of (first, second) by passing only free neighbours; empty when that cell
    /// is not free. O(cells).
    [[nodiscard]] std::vector<bool> findReachable(double first, double second) const;

private:
    [[nodiscard]] double middle(const model::Range& r, int i) const {
        return r.low + (r.high - r.low) * (i + 0.5) / request.steps;
    }
};

/// The usual ranges of a map: own limits, ±180 where there are none.
[[nodiscard]] model::Range getMapRange(const model::Project& project, FreedomRef freedom);

/// Errors "map.same" (twice one freedom), "map.range" (inside out, or steps out of range). 200 parts a side, 72 × 72:
/// some ten ms. Stopped: cells not looked at are Blocked.
base::Result<TwoJointMap> calcMap(const RangeContext& context, const JointValues& values, const MapRequest& request,
                                  const base::Progress* progress = nullptr);

} // namespace ivrant::pose
