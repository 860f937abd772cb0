// SPDX-License-Identifier: GPL-3.0-or-later
// Which parts are never seen from outside in any pose, so that they may have any colour, and whose colour shows through
// gaps?
//
// Seen is what a ray from outside meets first (core/stand/sight.h).
#pragma once

#include <vector>

#include "core/base/progress.h"
#include "core/base/result.h"
#include "core/model/placed.h"

namespace ivrant::study {

struct Facts;

/// Seen through gaps only, in a colour that none of the parts around has: the core's colour shows. Parts that a joint
/// holds on to lie in gaps by nature and are not told.
struct Showing {
    model::PartSpot part;
    int colour = 0; ///< that most of those around have: with it nobody would notice
};

struct Hidden {
    std::vector<model::PartSpot> parts; ///< in order
    double massG = 0;
    std::vector<Showing> showing; ///< in order
    std::size_t rays = 0;         ///< cast
};

/// Over all poses. Error "stopped". O(poses × parts × rays) of what is not seen openly before.
base::Result<Hidden> calcHidden(const Facts& facts, base::Progress* progress = nullptr);
/// What the facts has of it, else worked out.
base::Result<Hidden> getHidden(const Facts& facts);

} // namespace ivrant::study
