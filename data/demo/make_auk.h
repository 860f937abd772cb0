// SPDX-License-Identifier: GPL-3.0-or-later
// The great auk of the demo: a closed mesh of our own making.
#pragma once

#include "core/geometry/pieces.h"

namespace ivrant::demo {

/// About 1 unit a mm, 700 mm tall, standing, looking along −y: body, head, beak, wings, tail and feet, closed surfaces
/// that cross each other.
[[nodiscard]] geometry::TriangleMesh makeAukMesh();
/// As an OBJ file.
[[nodiscard]] std::string formatObj(const geometry::TriangleMesh& mesh);

} // namespace ivrant::demo
