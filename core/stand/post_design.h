// SPDX-License-Identifier: GPL-3.0-or-later
// Where must a support on the base touch a figure that cannot stand by itself, and what does it carry?
//
// A post stands upright on the base and touches an underside from below; it presses, and pulls nothing. Its foot widens
// the support polygon. Force at a tilt of the base: moments about the edge of the figure's own support that it would
// turn over. mm, N, degrees. Source: statics; docs/derivations/tipping.md.
#pragma once

#include "core/stand/bond_net.h"
#include "core/stand/posts.h"
#include "core/stand/tipping.h"

namespace ivrant::stand {

struct PostSpot {
    model::PartSpot part;
    Vec3 at = Vec3::Zero(); ///< where its top touches, in the world
    double tipDeg = 0;      ///< of the figure with it
    double restN = 0;       ///< that it carries standing level
    double tiltN = 0;       ///< the most that it carries with the base tilted by the wish
};

/// Tipping with one more post on the ground.
[[nodiscard]] Tipping calcTippingOn(Tipping tipping, const Eigen::Vector2d& foot);
/// What a support at `foot` carries with the base tilted by `tiltDeg`, the way that asks most of it; 0 when the
/// figure's own feet do.
[[nodiscard]] double calcPostN(const Tipping& tipping, const Eigen::Vector2d& foot, double tiltDeg);

/// Undersides that a post reaches from the ground without meeting another part and with which the figure does not tip
/// before `wishDeg` and which carry something then; the shortest first, at most `most`, a pitch or more apart.
/// O(parts²) of boxes.
[[nodiscard]] std::vector<PostSpot> listPosts(const model::Placed& placed, const Tipping& tipping, double wishDeg,
                                              std::size_t most = 12);

} // namespace ivrant::stand
