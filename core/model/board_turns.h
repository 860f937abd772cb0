// SPDX-License-Identifier: GPL-3.0-or-later
// Where do gear boards go when the turntable or wheel that carries them turns?
//
// Boards on it, and boards on wheels that it carries or on turntables of those, go round its shaft's line as one rigid
// whole. Shafts that a wheel of the same board carries (planets) stay where they are built: a few grams. Source:
// rotation about a line.
#pragma once

#include "core/model/placed.h"

namespace ivrant::model {

/// Does it carry a board, at any remove?
[[nodiscard]] bool carriesBoards(const Project& project, const base::GearId& gear);

/// For Placed::boardTurns: all boards, those that `gear` carries turned by `angleDeg` about its shaft (right-handed),
/// the others not at all. O(boards²).
[[nodiscard]] std::vector<geometry::Frame> calcBoardTurns(const Placed& placed, const base::GearId& gear,
                                                          double angleDeg);

} // namespace ivrant::model
