// SPDX-License-Identifier: GPL-3.0-or-later
// How are readings read from a table of text?
#pragma once

#include <string_view>
#include <vector>

#include "core/base/result.h"

namespace ivrant::trials {

struct Readings {
    std::vector<double> values, moves; ///< moves: empty when there is no such column
};

/// One reading a line, comma, semicolon or tab between columns. With a head line the column "reading" (and "moves")
/// counts, else the first column (and the second as moves when there is one). Blank lines and lines that begin with #
/// are passed over. Errors "csv.empty", "csv.number" (place: "line 3"), "csv.size" (more than 100,000 lines).
base::Result<Readings> parseReadings(std::string_view text);

} // namespace ivrant::trials
