// SPDX-License-Identifier: GPL-3.0-or-later
// How is a shape of the builder's own written in a project file? docs/file-format.md, own_shapes.
#pragma once

#include "core/files/json_reader.h"
#include "core/parts/own_shape.h"

namespace ivrant::files {

/// Throws ReadFailure.
[[nodiscard]] parts::ShapePtr readOwnShape(const Node& node);
/// A JSON list of ports as a project file has them. Errors as a project file gives them.
[[nodiscard]] base::Result<std::vector<parts::OwnPort>> parseOwnPorts(std::string_view text);
/// Corners in µm, whole. The shape must have a source.
[[nodiscard]] std::string ownShapeText(const parts::Shape& shape);

} // namespace ivrant::files
