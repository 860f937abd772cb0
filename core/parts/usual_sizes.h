// SPDX-License-Identifier: GPL-3.0-or-later
// Which sizes of a family are commonly found, and how is another size made of those?
//
// The list is a data file (data/usual_sizes.json) that nobody has counted: a starting list, the person's to edit. A
// family that it does not name has no unusual sizes. Sizes are told without regard to which of the two comes first.
#pragma once

#include "core/base/result.h"
#include "core/parts/shape.h"

namespace ivrant::parts {

[[nodiscard]] bool isUsualSize(const Shape& shape);

struct UsualPiece {
    ShapePtr shape;
    geometry::Vec3 at; ///< of its frame in the frame of the whole, mm
};
/// The fewest usual pieces side by side that cover the same cells, cut straight through each time; empty when the shape
/// is usual, is not of cells in rows (brick, plate, tile) or cannot be made.
[[nodiscard]] std::vector<UsualPiece> splitToUsual(const Shape& shape);

/// Takes the list in this text instead from now on, before anything is asked. Error "usual.syntax" with what is wrong;
/// the list stays as it was.
base::Status setUsualSizes(std::string_view json);

} // namespace ivrant::parts
