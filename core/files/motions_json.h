// SPDX-License-Identifier: GPL-3.0-or-later
// Motions as they stand in a project file; the format is in docs/file-format.md.
#pragma once

#include <string>
#include <vector>

#include "core/files/json_reader.h"
#include "core/model/motion.h"

namespace ivrant::files {

/// From "motions" of a project or variant; throws ReadFailure.
[[nodiscard]] std::vector<model::Motion> readMotions(const Node& root);
/// The list with a comma before it; empty without any.
[[nodiscard]] std::string motionsText(const std::vector<model::Motion>& motions);

} // namespace ivrant::files
