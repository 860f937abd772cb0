// SPDX-License-Identifier: GPL-3.0-or-later
// What is printed on strings, bands and springs: what to cut, in which order it is threaded, how it is tried?
#pragma once

#include <string>
#include <vector>

#include "core/verdict/report.h"

namespace ivrant::files {

struct SheetLine {
    int study = 0;                   ///< index into the report's lines
    std::string name;                ///< "Beak string: cut 330 mm"
    std::vector<std::string> guides; ///< in order, numbered from 1 as in the picture
    std::vector<std::string> lines;  ///< one sentence each
};

/// Those that have a way, in the project's order: they are put on last.
[[nodiscard]] std::vector<SheetLine> listSheetLines(const verdict::Report& report);

} // namespace ivrant::files
