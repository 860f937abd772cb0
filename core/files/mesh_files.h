// SPDX-License-Identifier: GPL-3.0-or-later
// How does a placed figure leave as a mesh: STL and OBJ?
#pragma once

#include <string>

#include "core/model/placed.h"

namespace ivrant::files {

/// Binary STL, mm, z up.
[[nodiscard]] std::string makeStl(const model::Placed& placed);
/// Wavefront OBJ, mm, z up, one object per part; colours as vertex colours.
[[nodiscard]] std::string makeObj(const model::Placed& placed);

} // namespace ivrant::files
