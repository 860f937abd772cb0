// SPDX-License-Identifier: GPL-3.0-or-later
// What is the least weight, and where, that keeps a model from tipping wherever it has to stand?
//
// A weight m at a place is enough in a support polygon when for each of its edges (M·d + m·dₘ) ≥ tan(wish)·(M·h +
// m·hₘ): d the distance of the plumb line inside the edge, h the height, of the model (M) and of the weight. That is
// linear in m, so each edge of each place leaves an interval, and the least m of all of them together is exact. Source:
// statics; docs/derivations/tipping.md. g, mm, degrees.
#pragma once

#include <optional>
#include <span>
#include <vector>

#include "core/stand/tipping.h"

namespace ivrant::stand {

/// How the same model stands somewhere: in a pose, or at a place of a move.
struct Standing {
    model::Placed placed;
    Tipping tipping;
};

/// Weights for which the model, with one at `at` (world, one for each standing), does not tip before `wishDeg` in any;
/// none when there is no such weight. `wishDeg` 0 to below 90. `high` may be infinite.
struct WeightRange {
    double low = 0, high = 0;
};
[[nodiscard]] std::optional<WeightRange> calcWeights(std::span<const Standing> standings,
                                                     std::span<const geometry::Vec3> at, double wishDeg);

struct BallastProposal {
    int section = 0;
    geometry::Vec3 at = geometry::Vec3::Zero(); ///< in the section's frame
    double massG = 0;                           ///< whole grams
    int part = -1;                              ///< that it is in
};

/// The least weight, at most `mostG`, in the middle or the outermost pitches of a part of `section` that is enough in
/// all standings (all of one project); the lowest such place in the first of them when several ask alike. None when
/// there is none. O(parts × standings × edges).
[[nodiscard]] std::optional<BallastProposal> calcBallast(std::span<const Standing> standings, int section,
                                                         double wishDeg, double mostG);

} // namespace ivrant::stand
