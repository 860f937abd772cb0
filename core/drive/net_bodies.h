// SPDX-License-Identifier: GPL-3.0-or-later
// What stands in the way of what on the boards, and what carries each shaft? Part of board_net.h; for use inside
// core/drive.
#pragma once

#include "core/drive/board_net.h"

namespace ivrant::drive {

/// Fills BoardNet::clashes and supports. Bodies: wheels as discs out to their tips, shafts as rods of 4.8 mm.
/// O(things²).
void findBodies(const model::Project& project, BoardNet& net);

} // namespace ivrant::drive
