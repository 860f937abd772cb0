// SPDX-License-Identifier: GPL-3.0-or-later
// Where do parts inside a hollow model help its bonds most?
//
// The closed hollow of a section is filled with bricks in thought (brick_layers.h), which may go in wherever they hold
// on to what is there. Those nearest to the bonds that are asked most are put in first, some at a time, until the bonds
// hold as wished, or nothing gets better. mm, N; λ as in equilibrium.h. Source: docs/derivations/bond-equilibrium.md.
#pragma once

#include "core/model/edits.h"
#include "core/stand/brick_layers.h"
#include "core/stand/cases.h"

namespace ivrant::stand {

struct FirmWish {
    double mostLambda = 0.67; ///< margin 1.5
    std::size_t batch = 12;   ///< parts put in before the bonds are looked at again
    int mostRounds = 16;
};
struct FirmProposal {
    int section = 0;
    std::vector<model::NewPart> parts; ///< empty: nothing helps, or nothing is needed
    double massG = 0;
    std::optional<double> before, after; ///< λ
    bool holds = false;                  ///< as wished, with them in
    std::size_t room = 0;                ///< bricks that would have found room
    int rounds = 0;
    std::string why;
};

/// Cells (8 x 8 x 9.6 mm; in height in step with most of its bricks, whatever plates lie under them) that are empty and
/// that no way leads into from outside. Error "grid.size".
base::Result<CellGrid> listHollow(const model::Section& section, Vec3* origin);

/// For the section with most parts. Errors of calcEquilibrium, listHollow and layBricks; "stopped".
base::Result<FirmProposal> proposeFirm(const model::Placed& placed, const BondLimits& limits, const FirmWish& wish,
                                       base::Progress* progress = nullptr);

} // namespace ivrant::stand
