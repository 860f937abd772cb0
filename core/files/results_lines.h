// SPDX-License-Identifier: GPL-3.0-or-later
// What is known of strings, bands and springs, as JSON; docs/command-line.md tells its keys.
#pragma once

#include <nlohmann/json_fwd.hpp>

#include "core/study/strands.h"

namespace ivrant::files {

/// All lines of a snapshot. `places`: every place of the joints that they work, too.
[[nodiscard]] model::Json makeLinesJson(const study::Facts& facts, bool places);
/// Places of one line: pose, value of its joint, what is needed, what it does.
[[nodiscard]] std::string makeLineCsv(const study::Facts& facts, const study::StrandStudy& study);

} // namespace ivrant::files
