// SPDX-License-Identifier: GPL-3.0-or-later
// What does the parts list look like as CSV (RFC 4180)?
#pragma once

#include <string>

#include "core/model/project.h"

namespace ivrant::files {

/// Columns shape, colour, count, each_g, basis; ballast as lines of shape "ballast". Ends with a newline.
[[nodiscard]] std::string makePartsCsv(const model::Project& project);

/// One field, quoted where RFC 4180 wants it.
[[nodiscard]] std::string csvField(const std::string& text);
/// A row of such fields with its end.
[[nodiscard]] std::string csvRow(const std::vector<std::string>& cells);

} // namespace ivrant::files
