// SPDX-License-Identifier: GPL-3.0-or-later
// Which forces does the ground put on the sections of a standing figure?
//
// Flat and held: the named section takes everything (a bird standing flat on its left foot stands on that foot alone:
// the other may be lifted). Settled: all that touches the ground shares the weight by a pressure that is linear over
// the contact points and never pulls (the least sum of squares that balances weight and centre of gravity; Beer and
// Johnston, Vector Mechanics: Statics, ch. 4, statically indeterminate supports). Sections that are joined to nothing
// on the ground rest on their own root. World frame, N, N·mm about the world origin; docs/derivations/holding.md.
#pragma once

#include <vector>

#include "core/model/placed.h"
#include "core/model/validate.h"

namespace ivrant::pose {

struct Wrench {
    geometry::Vec3 force = geometry::Vec3::Zero();
    geometry::Vec3 moment = geometry::Vec3::Zero();
};

struct GroundForces {
    std::vector<Wrench> onSection; ///< per section; empty: nothing is known, roots are held
    std::vector<int> grounded;     ///< sections that take a force, ascending
    std::vector<Wrench> pulled;    ///< per section, by bands and springs (core/pose/lines.h); empty: there are none
};

/// `placed` as it stands (after applyStance). Every joined group of sections is in equilibrium with its weight.
/// O(parts).
/// What bands and springs put on them is found too: they pull one section against another, never the ground.
[[nodiscard]] GroundForces calcGroundForces(const model::Placed& placed, const model::SectionTree& tree,
                                            const model::Stance& stance);

} // namespace ivrant::pose
