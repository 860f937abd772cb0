// SPDX-License-Identifier: GPL-3.0-or-later
// How is a gear board written in a project file? docs/file-format.md, boards.
#pragma once

#include "core/files/json_reader.h"

namespace ivrant::files {

/// Throws ReadFailure. References are checked by model::validate.
[[nodiscard]] model::BoardPtr readBoard(const Node& node);
/// One thing a line.
[[nodiscard]] std::string boardText(const model::Board& board);

} // namespace ivrant::files
