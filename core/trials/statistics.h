// SPDX-License-Identifier: GPL-3.0-or-later
// What do repeated readings say: mean, spread, what can be counted on, which reading is odd?
//
// The lower bound is mean − k·s with k the one-sided normal tolerance factor: at least 90 % of all joints are above it
// with 95 % confidence. k = t'(n − 1, z(0.90)·√n; 0.95) / √n with t' the noncentral t distribution (Natrella,
// Experimental Statistics, NBS Handbook 91, 1963, ch. 2-4; Hahn and Meeker, Statistical Intervals, 1991, sec. 4.6). Any
// unit.
#pragma once

#include <optional>
#include <vector>

#include "core/base/result.h"

namespace ivrant::trials {

inline constexpr double kCoverage = 0.90, kConfidence = 0.95;
inline constexpr int kFewestForBound = 3; ///< below, kFewFactor × mean stands in, with a note
inline constexpr double kFewFactor = 0.6;

/// One-sided tolerance factor k for n readings. Throws std::invalid_argument for n < 2 or shares outside (0, 1).
[[nodiscard]] double calcToleranceFactor(int n, double coverage = kCoverage, double confidence = kConfidence);

struct Statistics {
    int count = 0;
    double mean = 0;
    double spread = 0;            ///< sample standard deviation; 0 for one reading
    std::optional<double> factor; ///< k; none below kFewestForBound readings
    double lowerBound = 0;        ///< what may be counted on, never below 0
    std::vector<int> outliers;    ///< indices of readings that Grubbs' test calls odd at 5 %; they are still counted
};

/// Errors "series.empty" (no readings), "series.reading" (not finite, or not above 0; place: its index).
base::Result<Statistics> calcStatistics(const std::vector<double>& readings);

/// Share lost in 100 moves: least squares of ln(holding) over moves (exponential loss), 1 − exp(100·slope), at least 0.
/// None with fewer than 3 readings or all at the same number of moves.
[[nodiscard]] std::optional<double> calcLossPer100(const std::vector<double>& moves,
                                                   const std::vector<double>& readings);

/// Critical value of Grubbs' two-sided test at level 5 % for n ≥ 3 readings (Grubbs 1969, Technometrics 11).
[[nodiscard]] double calcGrubbsLimit(int n);

} // namespace ivrant::trials
