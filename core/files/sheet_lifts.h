// SPDX-License-Identifier: GPL-3.0-or-later
// What is printed on modules that lift off, what is within reach, boxes and putting up?
#pragma once

#include <string>
#include <utility>
#include <vector>

#include "core/verdict/report.h"

namespace ivrant::files {

struct SheetLift {
    std::string name, way, force, first, mind;
};
struct SheetPacking {
    std::string about;                                      ///< "One box, folded to Standing"
    std::vector<std::pair<std::string, std::string>> boxes; ///< which, and what is in it
    std::vector<std::pair<std::string, std::string>> putUp; ///< what, and its minutes
    std::vector<std::pair<std::string, std::string>> bring; ///< how many of what, and why
};

/// Modules that lift; then places within reach, with the moves that lead there.
[[nodiscard]] std::vector<SheetLift> listSheetLifts(const verdict::Report& report);
/// Empty lists for a model without parts.
[[nodiscard]] SheetPacking makeSheetPacking(const verdict::Report& report);

} // namespace ivrant::files
