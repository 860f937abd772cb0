// SPDX-License-Identifier: GPL-3.0-or-later
// How heavy is a placed figure and where is its centre of gravity?
#pragma once

#include "core/model/placed.h"

namespace ivrant::model {

struct MassPoint {
    double massG = 0;
    geometry::Vec3 centre = geometry::Vec3::Zero(); ///< mm; zero when massless
};

/// Parts, ballast and gear boards of the listed sections (all when empty), in the world. O(parts).
[[nodiscard]] MassPoint calcMass(const Placed& placed, const std::vector<int>& sections = {});

} // namespace ivrant::model
