// SPDX-License-Identifier: GPL-3.0-or-later
// Which model does a text of commands build?
//
// One command a line, words apart by spaces, "words with spaces" in quotes, # for the rest of a line that is not read.
// What can be typed in the window can be said here; lengths and parts are written as there. The language is that of
// docs/script.md.
#pragma once

#include <string_view>

#include "core/base/result.h"
#include "core/model/project.h"

namespace ivrant::script {

inline constexpr std::size_t kMostBytes = 16'000'000;

/// The model that the text builds. Errors: "script.word" (an unknown command or word), "script.label" (a name that
/// stands for nothing, or for two things), those of the edits; their place is "line N". O(lines · parts) for lines that
/// put parts on ports, else O(parts) for each run of part lines.
[[nodiscard]] base::Result<model::Project> runScript(std::string_view text);

} // namespace ivrant::script
