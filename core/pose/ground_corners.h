// SPDX-License-Identifier: GPL-3.0-or-later
// Which corners of all but one section may touch the ground? For those who place a figure again and again while one
// section stands still.
#pragma once

#include "core/pose/stance.h"

namespace ivrant::pose {

/// As listGroundCorners, without the parts of a section; what is on its gear boards is there.
[[nodiscard]] std::vector<geometry::Vec3> listGroundCornersBut(const model::Placed& placed, double height, int section);
/// Of the parts of that section alone.
[[nodiscard]] std::vector<geometry::Vec3> listGroundCornersOf(const model::Placed& placed, double height, int section);

} // namespace ivrant::pose
