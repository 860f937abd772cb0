// SPDX-License-Identifier: GPL-3.0-or-later
// Which points of a solid can touch a plane?
//
// Corners of boxes, prisms and hulls; round solids by points of their rims (48) or surface (92), with the lowest one
// exactly.
#pragma once

#include <vector>

#include "core/geometry/solid.h"

namespace ivrant::geometry {

/// Appends them in the frame in which `X_FP` gives the place of the part. mm.
void appendCorners(std::vector<Vec3>& out, const Solid& solid, const Frame& X_FP);

} // namespace ivrant::geometry
