// SPDX-License-Identifier: GPL-3.0-or-later
// What stands in the way of what in a machine, and what carries each shaft? Part of drive_net.h; for use inside
// core/drive.
#pragma once

#include "core/drive/drive_net.h"

namespace ivrant::drive {

/// Fills DriveNet::clashes and supports. Bodies: wheels as discs out to their tips, shafts as rods of 4.8 mm.
/// O(rotors · rings).
void findBodies(DriveNet& net);

} // namespace ivrant::drive
