// SPDX-License-Identifier: GPL-3.0-or-later
// How does a model walk while one of its joints is turned all round?
//
// At every degree of the turn the model settles on the feet that are lowest (walk_ground.h); between two of them it
// moves as the standing feet let it: of all ways the one with the least friction power Σ Nᵢ·|vᵢ + V + ω × rᵢ|, found by
// reweighting. (Least squares would be 2 to 8 % off in the way and a quarter in the slip.) Where it falls from one set
// of feet to another the turn is divided finer. Ground level and rough: feet that nothing forces to slip stand. mm,
// degrees, N·mm at the driver; plane axes follow the body as it tilts. docs/derivations/walking.md.
#pragma once

#include "core/study/motion.h"
#include "core/study/walk_ground.h"

namespace ivrant::study {

// Usual values and starting values of ours.
inline constexpr double kFootFriction = 0.5; ///< on a table cloth or wood; starting value
inline constexpr double kRockDeg = 2;        ///< it may tilt by so much at once without being told
inline constexpr double kGoodLiftMm = 3;     ///< a foot clears a cloth's folds and cables

struct WalkPlace {
    double at = 0; ///< driver, degrees from the beginning of the turn
    Support support;
    model::Placed placed; ///< as it stands on the ground then, having walked so far; empty where it falls
    Eigen::Vector2d way = Eigen::Vector2d::Zero(); ///< of the centre of mass over the ground
    double headingDeg = 0;
    double heightMm = 0;      ///< of the centre of mass
    double tiltDeg = 0;       ///< against the mean of the turn
    std::vector<char> stands; ///< by foot
    double weightNmm = 0;     ///< raises the weight, at the driver
    double slipNmm = 0;       ///< drags feet over the ground
    double frictionNmm = 0;   ///< in the joints
};
struct WalkFoot {
    int section = 0;
    double share = 0;  ///< of the turn on the ground
    double liftMm = 0; ///< how far it comes off at most
};

struct WalkStudy {
    std::string problem, code; ///< "walk.feet", "walk.motion", "walk.falls", "walk.drags"; else empty
    double problemAt = 0;
    std::vector<WalkPlace> places; ///< every 5°, the last one a whole turn on
    std::vector<WalkFoot> feet;
    double strideMm = 0;            ///< way of a turn
    double turnDeg = 0;             ///< of its heading, a turn
    std::optional<double> radiusMm; ///< of the circle that it walks; none: straight on
    double riseMm = 0;              ///< of the centre of mass
    double mostTiltDeg = 0;
    double slipMm = 0; ///< a turn, weighed by load
    double leastTipDeg = 0, leastTipAt = 0;
    double rockDeg = 0, rockAt = 0;  ///< largest tilt at once
    int fewPoints = 0;               ///< places of `places` with fewer than three points under it
    double clearMm = 0, clearAt = 0; ///< least height of what is no foot
    int clearSection = -1;
    double mostTorqueNmm = 0, mostTorqueAt = 0;
    double jointWorkNmm = 0, slipWorkNmm = 0; ///< of one turn
    bool frictionMeasured = false;
};

/// `feet`: sections. A turn costs some 30 ms for a walker of 40 sections. Stopped: what was found so far.
[[nodiscard]] WalkStudy calcWalk(const MotionInputs& inputs, const model::Motion& motion, const std::vector<int>& feet,
                                 const base::Progress* progress = nullptr);

} // namespace ivrant::study
