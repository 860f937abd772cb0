// SPDX-License-Identifier: GPL-3.0-or-later
// How is a table of values that somebody else wrote read row by row (RFC 4180, and what table programs make of it)?
//
// Fields are divided by comma, semicolon or tab, whichever the heading has most of outside quotes. A byte order mark
// goes; text that is not UTF-8 is taken as Latin-1, as old table programs write it.
#pragma once

#include <functional>
#include <string>
#include <string_view>
#include <vector>

#include "core/base/result.h"

namespace ivrant::files {

inline constexpr std::size_t kMostTableRows = 2'000'000;

/// Cells without the blanks around them; `row` from 1, as a table program counts lines. False ends the reading.
using OnRow = std::function<bool(const std::vector<std::string>& cells, int row)>;
/// Rows without any text are left out. Error "csv.size" beyond kMostTableRows, "csv.quote" for a quote that never ends
/// (with its line). O(text).
[[nodiscard]] base::Status forEachRow(std::string_view text, const OnRow& onRow);

/// Which column is meant by which heading: the first of `names` that a heading equals, letters' case, underscores and
/// blanks at the ends aside; −1: none.
[[nodiscard]] int findColumn(const std::vector<std::string>& heads, const std::vector<std::string>& names);

} // namespace ivrant::files
