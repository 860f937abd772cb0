// SPDX-License-Identifier: GPL-3.0-or-later
// A shape's solid where its part stands. Units mm.
#pragma once

#include "core/geometry/gap.h"
#include "core/parts/shape.h"

namespace ivrant::parts {

/// For gaps and overlaps; points into `solid`. `X_WP`: frame of the part.
[[nodiscard]] inline geometry::PlacedSolid placeSolid(const ShapeSolid& solid, const geometry::Frame& X_WP) {
    const geometry::Frame x = X_WP * solid.solid.X_PS;
    return {&solid.solid, &solid.eroded, x.linear(), x.translation()};
}

} // namespace ivrant::parts
