// SPDX-License-Identifier: GPL-3.0-or-later
// Which situations is a model tried in, besides standing still: a slope, a bump, a knock, being carried, half-built?
//
// A case is an acceleration, what holds the model, a push, and what is built. World frame; g, N, mm, degrees. Sizes of
// pushes and bumps are starting values. Source: statics; docs/derivations/bond-equilibrium.md.
#pragma once

#include "core/stand/equilibrium.h"
#include "core/stand/tipping.h"

namespace ivrant::stand {

// Starting values, not measured.
inline constexpr double kBumpDownG = 1.5, kBumpAsideG = 0.5; ///< in transport, strapped at its feet
inline constexpr double kKnockN = 1;                         ///< a nudge at the top
inline constexpr double kUsualSlopeDeg = 8;

/// A force on a part from what is no part: a line that is tied to it, or runs round it.
struct PartPull {
    model::PartSpot part;
    Vec3 at = Vec3::Zero(); ///< world
    Vec3 forceN = Vec3::Zero();
};

enum class CaseKind { Standing, Slope, Bumped, Knocked, Carried, HalfBuilt, Own };

struct StandCase {
    CaseKind kind = CaseKind::Standing;
    std::string key;  ///< stable: "standing", "slope", "bump", "knock", "carry"
    std::string name; ///< for the person: "on a slope of 8° towards 270°"
    Vec3 accelerationG{0, 0, -1};
    bool ground = true;
    bool strapped = false;   ///< what touches the ground is held fast
    std::vector<Vec3> hands; ///< where it is taken hold of
    std::vector<Prop> props; ///< posts under it besides those of the project
    std::optional<int> held; ///< a section that is held fast, all of it
    Vec3 pushN = Vec3::Zero();
    Vec3 pushAt = Vec3::Zero();
    std::vector<PartPull> pulls;                ///< on parts that are built
    std::function<bool(model::PartSpot)> built; ///< null: everything
    std::vector<double>
        ways; ///< further directions in which slope, bump and knock are tried, degrees from +x; the worst counts
    std::optional<double> towardDeg; ///< the direction that the case has now
};

/// The same case towards another direction; its own when it has none.
[[nodiscard]] StandCase turnCase(StandCase standCase, double towardDeg);

/// Standing, a slope, a bump and a knock towards where it tips first, to be tried square to every edge of its support
/// and the `across` ways (degrees) too, carried at the part nearest its centre of gravity. `slopeDeg` 0 to 45.
[[nodiscard]] std::vector<StandCase> listUsualCases(const model::Placed& placed, const Tipping& tipping,
                                                    double slopeDeg = kUsualSlopeDeg,
                                                    const std::vector<double>& across = {});
/// Centre of mass of the part that lies highest; the origin without parts.
[[nodiscard]] Vec3 findHighest(const model::Placed& placed);
/// Taken with a hand at each place.
[[nodiscard]] StandCase makeCarried(std::vector<Vec3> hands);

struct CaseResult {
    BondNet net;
    Equilibrium equilibrium;
    std::string name;                ///< of the case, with the direction it was found worst in
    std::optional<double> towardDeg; ///< that direction
    int tried = 1;                   ///< directions
};
/// Errors as calcEquilibrium.
base::Result<CaseResult> calcCase(const model::Placed& placed, const std::vector<bonds::SectionBondsPtr>& bonds,
                                  const BondLimits& limits, const StandCase& standCase,
                                  const EquilibriumRequest& request = {});
/// The same in the direction of `ways` that asks most of the bonds. Up to kMostBodiesTriedAll bodies every one is
/// solved; of larger models the one of which quick proof asks most (certificate.h). Errors as calcEquilibrium.
base::Result<CaseResult> calcWorstCase(const model::Placed& placed, const std::vector<bonds::SectionBondsPtr>& bonds,
                                       const BondLimits& limits, const StandCase& standCase,
                                       const EquilibriumRequest& request = {});
inline constexpr std::size_t kMostBodiesTriedAll = 600;

} // namespace ivrant::stand
