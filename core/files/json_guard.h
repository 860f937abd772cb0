// SPDX-License-Identifier: GPL-3.0-or-later
// Is a text fit to be parsed as JSON within bounded memory?
#pragma once

#include <string_view>

#include "core/base/result.h"

namespace ivrant::files {

inline constexpr int kMaxDepth = 64;
inline constexpr std::size_t kMaxObjects = 1'000'000;
inline constexpr std::size_t kMaxValues = 20'000'000;

/// Counts nesting, objects and values without building anything. Errors "file.depth", "file.size". O(text).
[[nodiscard]] base::Status guardJson(std::string_view text);

} // namespace ivrant::files
