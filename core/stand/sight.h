// SPDX-License-Identifier: GPL-3.0-or-later
// Which parts of a placed model does somebody see who looks from outside, all around and from below as well?
//
// By rays, at the parts as they are drawn, edge to edge and without studs: a part is seen where a line leads out from
// it past everything. From each face of its box a line goes straight out at every 2 mm by 2 mm (slits and shafts of
// bricks run that way); from those places that nothing covers, about kFreeRays more go out aslant. A line is a bundle
// kBundleMm wide, so that a hair's breadth is no window. What shows through a window that none of these lines goes
// through is missed. World frame, mm.
#pragma once

#include <cstdint>
#include <vector>

#include "core/base/progress.h"
#include "core/base/result.h"
#include "core/model/placed.h"

namespace ivrant::stand {

inline constexpr std::size_t kFreeRays = 4096; ///< of one part, while it is not seen
inline constexpr double kBundleMm = 0.6;
/// A part is seen openly when from the best place found at least this share of the half sphere above is free.
inline constexpr double kOpenShare = 0.25;

enum class Look : std::uint8_t { Never, Glimpse, Openly }; ///< Glimpse: through a gap or slit only

/// A part that is seen through gaps only.
struct Peek {
    model::PartSpot part;
    std::vector<model::PartSpot> around; ///< what stands about the gap, in order
};

struct Sight {
    std::vector<std::vector<Look>> look; ///< by section and part; parts without a body count as seen openly
    std::vector<Peek> peeks;             ///< of this pose, in order of the parts
    std::size_t rays = 0;                ///< cast
};

/// `before`: what was seen in other poses; parts seen openly there are not looked at again, the others keep the better
/// look. Empty: nothing. Error "stopped". The same model gives the same answer whatever the number of threads. O(parts
/// × rays).
base::Result<Sight> calcSight(const model::Placed& placed, const std::vector<std::vector<Look>>& before = {},
                              base::Progress* progress = nullptr);

} // namespace ivrant::stand
