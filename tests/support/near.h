// SPDX-License-Identifier: GPL-3.0-or-later
// Comparing numbers with a reason for the tolerance.
#pragma once

#include <gtest/gtest.h>

namespace ivrant::test {

/// Ranges are searched to 0.05°: what the design promises.
inline constexpr double kRangeDeg = 0.05;
/// Pure arithmetic on doubles of size about 1e3.
inline constexpr double kRounding = 1e-9;
/// Values that went through the file's whole micrometres.
inline constexpr double kMicrometre = 1e-3;

} // namespace ivrant::test
