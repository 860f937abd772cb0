// SPDX-License-Identifier: GPL-3.0-or-later
// How big are the wheels of our parts, and how long is a chain or belt round them?
//
// Module 1: pitch diameter in mm = teeth; tips stand one module further out. Lengths mm. Sizes are those of the parts
// (core/parts).
#pragma once

#include <Eigen/Core>
#include <vector>

#include "core/base/result.h"
#include "core/model/board.h"

namespace ivrant::model {

inline constexpr double kBevelFaceMm = 2; ///< from a double bevel's middle plane to where it meets one across
inline constexpr double kCrownFaceMm = 4;
inline constexpr double kAxleMm = 4.8;
inline constexpr double kCaseHalfMm = 12, kCaseRadiusMm = 8; ///< of a differential, beside its teeth
inline constexpr double kChainPitchMm = 8;
/// The least and most that a belt may be stretched, and the belts there are (mm round, lying slack). Starting values.
inline constexpr double kLeastStretch = 1.05, kMostStretch = 1.6;
inline constexpr int kBeltLengthsMm[] = {48, 72, 96, 128, 160, 208, 256, 320, 400, 512};

struct WheelSize {
    double pitchRadiusMm = 0; ///< a worm's: that of its thread
    double tipRadiusMm = 0;   ///< a ring's: its outside
    double halfWidthMm = 0;   ///< along the axis; a rack's or actuator's: half its length
    double holeRadiusMm = 0;  ///< free inside, for other shafts: rings, turntables
};
[[nodiscard]] WheelSize calcWheelSize(GearKind kind, int teeth);

struct ChainFit {
    int links = 0;      ///< whole links
    double slackMm = 0; ///< of chain; negative: stretched
};

/// Length round two circles: 2·√(d² − (R − r)²) + π(R + r) + 2(R − r)·asin((R − r)/d), crossed with R + r in the place
/// of R − r. Error "loop.length" when one circle lies in the other (crossed: when they overlap).
[[nodiscard]] base::Result<double> calcLoopLength(double radiusA, double radiusB, double distanceMm,
                                                  bool crossed = false);

struct BeltFit {
    int lengthMm = 0;   ///< round the belt when it lies slack
    double stretch = 1; ///< length on the pulleys over that; below 1 it hangs loose
};
/// Which belt goes round a loop of `loopMm` (> 0). `lengthMm` 0: the longest one that is stretched enough; when all are
/// too long the shortest.
[[nodiscard]] BeltFit calcBelt(double loopMm, int lengthMm = 0);

/// A wheel that a chain or belt goes round on its outside, seen along the axes.
struct LoopWheel {
    Eigen::Vector2d centre = Eigen::Vector2d::Zero();
    double radiusMm = 0;
    int teeth = 0; ///< chains
};
struct RoundLoop {
    double straightMm = 0;        ///< between the wheels
    std::vector<double> wrapsRad; ///< on each of them
};
/// Round two wheels or more, in order. Tangents on the outside: n·(c₂ − c₁) = r₁ − r₂ for their normal n. Error
/// "loop.length" when one wheel lies in its neighbour, or one is not touched.
[[nodiscard]] base::Result<RoundLoop> calcRoundLoop(std::vector<LoopWheel> wheels);
/// A chain's links are chords: a wrap of θ takes z·θ/2π of them. `links` 0: the fewest that are not stretched.
[[nodiscard]] base::Result<ChainFit> calcChainRound(const std::vector<LoopWheel>& wheels, int links = 0);

/// The same round two sprockets (pitch circles 8/(2·sin(π/z)) mm).
[[nodiscard]] base::Result<ChainFit> calcChain(int teethA, int teethB, double distanceMm, int links = 0);

} // namespace ivrant::model
