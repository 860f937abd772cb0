// SPDX-License-Identifier: GPL-3.0-or-later
// Does a placed model stand by the strength of its bonds, how much of it is used, and what falls when it does not?
//
// Limit analysis: forces within the limits of all contacts that balance the load on every part. Three questions of one
// matrix A (six rows a part):
//   falls   each part carries a share v ∈ [0, 1] of its load; the sum of load carried is the largest possible. It
//   stands when all shares are 1. λ       one share for all, as large as possible; λ = 1/share: with limits λ times as
//   strong it just stands. Below 1 it stands. use     the forces with the least sum of squared uses at full load, none
//   beyond 1.1 λ: how much of each bond is asked.
// Never a wrong "stands": what is returned balances within kBalanceN and lies within the limits. N, mm, N·mm.
// Source: docs/derivations/bond-equilibrium.md.
#pragma once

#include "core/base/progress.h"
#include "core/base/result.h"
#include "core/stand/bond_net.h"

namespace ivrant::stand {

inline constexpr double kBalanceN = 1e-5;    ///< largest force left over on a part
inline constexpr double kWholeShare = 0.999; ///< from this share on a part counts as carried
inline constexpr double kEnoughShare = 20;   ///< λ is not sought below 1/20
struct BodyLoad {
    Vec3 force = Vec3::Zero();  ///< N
    Vec3 moment = Vec3::Zero(); ///< N·mm about the body's centre
};
/// Weight of every body and of what it carries under an acceleration in g: (0, 0, −1) at rest, (0.5, 0, −1.5) bumped
/// sideways.
[[nodiscard]] std::vector<BodyLoad> calcLoads(const BondNet& net, const Vec3& accelerationG);
/// A push at a point of a body, added to its load.
void addPush(std::vector<BodyLoad>& loads, const BondNet& net, int body, const Vec3& at, const Vec3& forceN);

struct ContactForce {
    double pressN = 0, pullN = 0; ///< along the normal, pulls and presses added up apart
    double shearN = 0;            ///< largest on a stud, or at the port
    double momentNmm = 0;         ///< largest twist or bending at a port
    double use = 0;               ///< largest share of a limit; 0 for ground and hand
    const char* mode = "";        ///< what asks most: "pull", "shear", "twist", "bend"
};

/// How it gives way when no strength of its bonds would help.
enum class GivesWay {
    InParts, ///< bonds yield, or something floats; the rest stands
    Slides,  ///< as a whole, over the ground: with more friction it would stay
    Tips     ///< as a whole
};

struct Equilibrium {
    bool stands = false; ///< every part is carried, and λ, where it was asked for, is no more than 1
    GivesWay givesWay = GivesWay::InParts;
    bool certain = true;          ///< the solver came to its end
    std::vector<double> share;    ///< by body, of its load that is carried
    std::vector<int> falling;     ///< bodies that lack more than is left unsure, floating ones among them
    std::vector<int> undecided;   ///< when it does not stand: light bodies beside heavy ones, of which it is not known
    std::optional<double> lambda; ///< none: not asked for; infinite: no strength helps (it tips, or something floats)
    bool lambdaAtMost = false;    ///< λ is that or less
    std::vector<ContactForce> forces; ///< by contact; at full load when it stands, else what carries the most
    std::optional<int>
        firstToGo; ///< none when all slides or tips; contact between what falls and what does not that is used most
    double residualN = 0;
    int iterations = 0;
};

struct EquilibriumRequest {
    bool lambda = true;
    bool patient = false; ///< of large models too λ is found to its gap, however long that takes
    bool use = true;      ///< else the forces are any that balance
    double enoughShare = kEnoughShare;
    double gap = 2e-5; ///< of λ, relative
    const base::Progress* progress = nullptr;
};

/// Errors: "stand.empty" without parts or without weight, "stand.solver", "stand.limits" when a limit is not above 0,
/// "stopped".
base::Result<Equilibrium> calcEquilibrium(const BondNet& net, const std::vector<BodyLoad>& loads,
                                          const EquilibriumRequest& request = {});

/// From a body down to the ground or hand: the contacts that take most of its weight, one after the other. Empty when
/// it floats.
[[nodiscard]] std::vector<int> findLoadPath(const BondNet& net, const Equilibrium& equilibrium, int body);

} // namespace ivrant::stand
