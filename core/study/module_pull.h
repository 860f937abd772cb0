// SPDX-License-Identifier: GPL-3.0-or-later
// With which force do a module's bonds hold it, and what tears off on either side while they let go?
//
// Limit analysis of the rest (of the module) held by one part: its weight and, at each bond that parts, that bond's
// limit along the way (against it). Source: statics; docs/derivations/modules.md.
#pragma once

#include "core/study/modules.h"

namespace ivrant::study {

inline constexpr double kPullGap = 0.02; ///< of λ, relative: near enough for what rests on starting values

/// A bond of the module at the moment it lets go.
struct Parting {
    model::PartSpot own, other;
    geometry::Vec3 at = geometry::Vec3::Zero();
    double pullN = 0;
};
/// Bonds between the module and the rest, in order; fills in what holds it. World, in that pose.
[[nodiscard]] std::vector<Parting> findPartings(const stand::BondNet& net, const std::vector<bool>& inModule,
                                                std::vector<LiftBond>& bonds);
/// One side: `built` tells its parts. `sign` 1: the rest, pulled along `way`; −1: the module, pulled back.
[[nodiscard]] Pulled calcPulled(const Facts& facts, const PoseFacts& pose, const stand::BondLimits& limits,
                                const std::function<bool(model::PartSpot)>& built, const std::vector<Parting>& partings,
                                const geometry::Vec3& way, double sign);

} // namespace ivrant::study
