// SPDX-License-Identifier: GPL-3.0-or-later
// How many moves until a finger or a plug gets to a place: folding, turning over, taking modules off?
//
// A finger is a ball that touches that side somewhere and comes straight, from up to 45° off its normal; a plug comes
// along the normal of its middle.
// Moves are counted least over all poses, directions and sets of modules. World frame, mm.
#pragma once

#include "core/study/modules.h"

namespace ivrant::study {

/// `found` with its modules known.
[[nodiscard]] ReachWay calcReach(const Facts& facts, const ModuleFacts& found, int index);

} // namespace ivrant::study
