// SPDX-License-Identifier: GPL-3.0-or-later
// How large is a part without its studs, which go into what lies on them?
#pragma once

#include "core/parts/shape.h"

namespace ivrant::parts {

/// Box of the solids that are no studs, placed by X. Empty for a shape of studs alone. O(solids).
[[nodiscard]] inline geometry::Bounds calcBodyBox(const Shape& shape, const geometry::Frame& X) {
    geometry::Bounds box;
    for (const ShapeSolid& solid : shape.solids)
        if (solid.studPort < 0) box.include(geometry::calcBounds(solid.solid, X));
    return box;
}

} // namespace ivrant::parts
