// SPDX-License-Identifier: GPL-3.0-or-later
// Exact fractions, as ratios of a train are told: "1:105", "-3:5", "0.0095".
//
// GMP's mpq_class, always in lowest terms. Comparisons and arithmetic are exact; text is for the person.
#pragma once

#include <gmpxx.h>
#include <string>

namespace ivrant::drive {

using Rational = mpq_class;

/// `over` ≠ 0, else std::invalid_argument. Lowest terms.
[[nodiscard]] Rational makeRational(long value, long over = 1);

/// Turns of the output for turns of the input, the smaller side first to 1 where it is whole: 1/105 is "1:105", 105 is
/// "105:1", 3/5 is "3:5", −1/3 is "-1:3", 0 is "0".
[[nodiscard]] std::string formatRatio(const Rational& outPerIn);

/// Four significant digits: "0.009524", "105", "-0.3333".
[[nodiscard]] std::string formatDecimal(const Rational& value);

} // namespace ivrant::drive
