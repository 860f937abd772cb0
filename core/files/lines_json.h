// SPDX-License-Identifier: GPL-3.0-or-later
// Strings, bands and springs as they stand in a project file; the format is in docs/file-format.md.
#pragma once

#include <string>
#include <vector>

#include "core/files/json_reader.h"
#include "core/model/line.h"

namespace ivrant::files {

/// From "lines" of a project or variant; throws ReadFailure.
[[nodiscard]] std::vector<model::Line> readLines(const Node& root);
/// The list with a comma before it; empty without any.
[[nodiscard]] std::string linesText(const std::vector<model::Line>& lines);

} // namespace ivrant::files
