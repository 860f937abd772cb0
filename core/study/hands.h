// SPDX-License-Identifier: GPL-3.0-or-later
// Which parts must be held from below while they are pressed on?
//
// A part is pressed with kPressN against its way out, in the middle of its new bonds, onto what is there before its
// step. What lies within kReach bonds of it is looked at as a body of its own: what stands on the table in that
// direction is held by it, and the rim of what is looked at by the rest of the model. When no forces within the limits
// of the bonds balance the press, the part would push its carriers off: a finger goes under them. Source:
// docs/derivations/assembly.md.
#pragma once

#include "core/study/assembly.h"

namespace ivrant::study {

inline constexpr double kPressN = 10; ///< a thumb on a few studs; a starting value
inline constexpr int kReach = 4;      ///< bonds; farther away nothing changed in any case that was looked at

struct HoldHint {
    int part = 0;           ///< index in the section
    std::vector<int> under; ///< what is to be held, the parts it is pressed on
};

/// Of one section, as its steps stand, by step and part; `facts` with kAssembly known, or the order is looked at here.
/// About 1 ms a part. Stopped: what is known by then.
[[nodiscard]] std::vector<HoldHint> calcHolds(const Facts& facts, int section, base::Progress* progress = nullptr,
                                              int reach = kReach);

} // namespace ivrant::study
