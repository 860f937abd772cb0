// SPDX-License-Identifier: GPL-3.0-or-later
// Which offsets on the grid let two wheels mesh, how far off is a given one, and which wheels fit a given offset?
//
// Parallel shafts mesh at half the sum of the tooth counts in mm (module 1, gears of our parts); wheels inside a ring
// at half the difference. A little too near is pressed together, a little too far leaves play. Offsets in µm on the
// board, distances in mm. Limits: domain of the product (starting values −0.10 and +0.25 mm); teeth let go altogether
// where their tips pass each other.
#pragma once

#include <cstdint>
#include <optional>
#include <vector>

namespace ivrant::drive {

inline constexpr double kTightestMm = -0.10;
inline constexpr double kWidestMm = 0.25;
inline constexpr double kLettingGoMm = 2.0; ///< two addenda of module 1

enum class Fit {
    Binds, ///< nearer than −0.10 mm
    Meshes,
    Skips, ///< further than +0.25 mm: teeth jump under load
    Aside, ///< at the right distance, but their faces share less than half, or their axes miss each other
    Apart  ///< no tooth touches
};
[[nodiscard]] const char* getFitName(Fit fit); ///< "binds", "meshes", "skips", "misses", "apart"
/// `errorMm`: distance less the right one.
[[nodiscard]] Fit judgeFit(double errorMm);

/// How an offset can be built, plainest first.
enum class GridStep {
    Holes,  ///< both ways in whole pitches
    Halves, ///< in half pitches
    Plates  ///< one way in half pitches, the other in plates
};
[[nodiscard]] const char* getGridStepName(GridStep step); ///< "holes", "half pitches", "plates"

/// The plainest step that makes this offset; none: only freely placed.
[[nodiscard]] std::optional<GridStep> findGridStep(std::int64_t dxUm, std::int64_t dyUm);

struct FitOffset {
    std::int64_t dxUm = 0; ///< ≥ 0; mirrored ones fit as well
    std::int64_t dyUm = 0; ///< ≥ 0; the way in which plates count
    double errorMm = 0;    ///< distance less the right one
    GridStep step = GridStep::Holes;
};

/// Every offset at which two wheels whose right distance is `distanceMm` (0 to 500) mesh; plainest step first, then the
/// smallest error.
[[nodiscard]] std::vector<FitOffset> listFits(double distanceMm);

/// The offsets that mesh nearest to where a wheel is now, seen from its fellow; at most `most`, nearest first, any
/// sign.
[[nodiscard]] std::vector<FitOffset> listNearestFits(double distanceMm, std::int64_t dxUm, std::int64_t dyUm,
                                                     std::size_t most);

struct ToothPair {
    int a = 0, b = 0; ///< a ≤ b
    double errorMm = 0;
};
/// Pairs out of `teeth` that mesh at this offset; smallest error first.
[[nodiscard]] std::vector<ToothPair> listPairs(std::int64_t dxUm, std::int64_t dyUm, const std::vector<int>& teeth);

/// Spur wheels of our parts.
[[nodiscard]] const std::vector<int>& getSpurTeeth();

[[nodiscard]] constexpr double calcOutsideMm(int zA, int zB) { return (zA + zB) / 2.0; }
[[nodiscard]] constexpr double calcInsideMm(int zRing, int zWheel) { return (zRing - zWheel) / 2.0; }

} // namespace ivrant::drive
