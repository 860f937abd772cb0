// SPDX-License-Identifier: GPL-3.0-or-later
// What can be left out of the core of a model without its bonds or its balance passing their limits?
//
// Parts deeper than a shell of n parts are left out for n = 1, 2, …; what then falls gets its neighbours back, until
// what is left stands with a margin in its bonds and does not tip earlier than asked. Nothing with a joint, ballast's
// or a gear board's section is touched. Source: docs/derivations/bond-equilibrium.md.
#pragma once

#include <set>

#include "core/stand/cases.h"
#include "core/stand/part_depth.h"

namespace ivrant::stand {

struct CoreWish {
    double mostLambda = 0.67; ///< of what is left: margin 1.5
    double leastTipDeg = kUsualSlopeDeg;
};
struct CoreProposal {
    std::vector<model::PartSpot> leaveOut; ///< empty: nothing can go
    int shell = 0;                         ///< parts left of the walls' thickness
    double massG = 0;                      ///< saved
    int triedShells = 0;
    std::string why; ///< when nothing can go
};

/// `tip`: tip angle (deg) of the placed model without the parts that are left out. Errors of calcPartDepths and
/// calcEquilibrium.
base::Result<CoreProposal> proposeCore(const model::Placed& placed, const std::vector<bonds::SectionBondsPtr>& bonds,
                                       const BondLimits& limits, const CoreWish& wish,
                                       const std::function<double(const std::set<model::PartSpot>&)>& tip,
                                       base::Progress* progress = nullptr);

} // namespace ivrant::stand
