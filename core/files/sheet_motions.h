// SPDX-License-Identifier: GPL-3.0-or-later
// What is printed on driven motions: how they are tried by hand, and what is to be minded?
#pragma once

#include <string>
#include <vector>

#include "core/verdict/report.h"

namespace ivrant::files {

struct SheetMotion {
    int study = 0; ///< index into the report's motions
    std::string name;
    std::vector<std::string> lines; ///< one sentence each
};

/// Those that can be followed. Joints that turn all round with the driver are not told.
[[nodiscard]] std::vector<SheetMotion> listSheetMotions(const verdict::Report& report);

} // namespace ivrant::files
