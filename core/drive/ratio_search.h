// SPDX-License-Identifier: GPL-3.0-or-later
// Which trains of the wheels at hand come nearest to a wanted ratio, and how do they sit on the grid?
//
// Every stage is a pair of spur wheels that some grid offset lets mesh, or a worm on a wheel (at most two). Trains of
// the same ratio are told together; within a group the one with the fewest stages, then the smallest on the table comes
// first. Ratio: turns of the output for turns of the input, exact. Method: products of the distinct pair ratios, two
// halves meeting.
#pragma once

#include "core/base/result.h"
#include "core/drive/mesh_fit.h"
#include "core/drive/rational.h"

namespace ivrant::drive {

inline constexpr double kWormDiameterMm = 8; ///< pitch diameter of the worm of our parts

struct Stage {
    int driver = 0; ///< teeth; a worm: its starts
    int driven = 0;
    bool worm = false;
    FitOffset offset; ///< of the driven shaft from the driving one; the plainest that meshes; a worm's: across its axis
};

struct FoundTrain {
    std::vector<Stage> stages;
    double lengthMm = 0; ///< sum of the shaft distances
};

struct RatioGroup {
    Rational ratio;                 ///< positive
    double error = 0;               ///< (ratio − wanted)/wanted
    std::vector<FoundTrain> trains; ///< at most kMostTrains, best first
    std::size_t count = 0;          ///< how many pair combinations there are
};

struct RatioWish {
    double ratio = 1;        ///< > 0: turns out for turns in
    double tolerance = 0.02; ///< of the ratio, 0 to 1
    int mostStages = 4;      ///< 1 to 4
    std::optional<bool>
        reversed;              ///< wanted sense, from the count of spur stages; none: either. A worm turns either way
    std::optional<bool> holds; ///< true: must have a worm; false: must not
    GridStep coarsest = GridStep::Plates; ///< how far from plain holes the offsets may go
    std::vector<std::pair<int, int>>
        stock;             ///< teeth and how many there are; empty: any number of each spur wheel and worms
    int worms = 1;         ///< how many there are, when `stock` is given
    std::size_t most = 12; ///< groups
};

struct RatioResult {
    std::vector<RatioGroup> groups; ///< within the tolerance, smallest error first
    RatioGroup
        nearest; ///< the best there is when no group is within the tolerance; no trains when nothing can be built
};

inline constexpr std::size_t kMostTrains = 6;

/// Error "ratio.wish": a ratio, tolerance, count of stages or tooth count out of range. Some ms.
[[nodiscard]] base::Result<RatioResult> searchRatios(const RatioWish& wish);

} // namespace ivrant::drive
