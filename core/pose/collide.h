// SPDX-License-Identifier: GPL-3.0-or-later
// Which parts of different sections are in each other in a pose?
#pragma once

#include "core/pose/bodies.h"

namespace ivrant::pose {

struct Collision {
    model::PartSpot a, b; ///< a in the section that comes first
    double depthMm = 0;
};

/// Pairs of parts of different sections that overlap deeper than geometry::kContactToleranceMm, each pair once, ordered
/// by spot; at most `most`.
[[nodiscard]] std::vector<Collision> calcCollisions(const model::Placed& placed, const Bodies& bodies,
                                                    std::size_t most = 1000);

} // namespace ivrant::pose
