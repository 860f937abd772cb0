// SPDX-License-Identifier: GPL-3.0-or-later
// Boards of older files keep shafts, wheels and motors as a list of their own: what parts are they?
//
// Shafts become axles, wheels and motors the parts that they were counted as, where they were drawn, in the board's
// section; a board that lives alone begins one, what stands on a turntable goes into the section of its upper half.
// Ids stay, so functions, selectors, chains and strings mean the same things. What only a board could say (bearings
// without holes, shafts held by nothing, planets without a carrier) is told.
#pragma once

#include <string>
#include <vector>

#include "core/base/result.h"
#include "core/model/project.h"

namespace ivrant::drive {

struct Converted {
    model::Project project;
    int parts = 0;                  ///< put in
    std::vector<std::string> notes; ///< what was said and is not built, and what no part exists for
};

/// Of all boards; once done it does nothing more. Error "convert.none": no board has things of its own. O(things).
[[nodiscard]] base::Result<Converted> convertBoards(const model::Project& project);

} // namespace ivrant::drive
