// SPDX-License-Identifier: GPL-3.0-or-later
// What are the units, and how are numbers with units read from and written as text?
//
// Stored: lengths as integer micrometres. Computed: mm, N, N·mm, g, radians. At the edges (files, screens): degrees.
// Source of the grid sizes: the stud system itself (pitch 8.0 mm, plate 3.2 mm, brick 9.6 mm).
#pragma once

#include <cstdint>
#include <numbers>
#include <string>
#include <string_view>

#include "core/base/result.h"

namespace ivrant::base {

inline constexpr double kPitchMm = 8.0;
inline constexpr double kPlateMm = 3.2;
inline constexpr double kBrickMm = 9.6;
inline constexpr std::int64_t kPitchUm = 8000;
inline constexpr std::int64_t kPlateUm = 3200;
inline constexpr double kPi = std::numbers::pi;
inline constexpr double kGravityMPerS2 = 9.80665; ///< standard gravity (CGPM 1901), m/s²

[[nodiscard]] constexpr double degToRad(double degrees) { return degrees * kPi / 180.0; }
[[nodiscard]] constexpr double radToDeg(double radians) { return radians * 180.0 / kPi; }
/// The same direction from 0 up to below 360.
[[nodiscard]] double wrapDeg(double degrees);
[[nodiscard]] constexpr double umToMm(std::int64_t um) { return static_cast<double>(um) / 1000.0; }
/// Nearest micrometre. |mm| must be below 1e12.
[[nodiscard]] std::int64_t mmToUm(double mm);
/// Weight in newton of a mass in gram.
[[nodiscard]] constexpr double weightN(double gram) { return gram * 1e-3 * kGravityMPerS2; }

/// Which unit leads where lengths are shown.
enum class LengthUnit { Studs, Millimetres };

/// Reads a length with unit: "3p" plates, "2.5s" studs (pitches), "14mm", "14 mm". A bare number is in `bare` mm each.
/// Error "number.syntax" when it is no number, "number.range" beyond ±10 m.
Result<double> parseLengthMm(std::string_view text, double bareUnitMm);

/// Reads a finite decimal number that fills the whole text (spaces around it are allowed), the same in every locale. A
/// decimal comma is understood ("1,5" is 1.5) unless it may as well divide thousands ("1,500"). Error "number.syntax".
Result<double> parseNumber(std::string_view text);

/// The text with control characters replaced by '?', so that a terminal or a log shows it and does nothing else.
[[nodiscard]] std::string printable(std::string_view text);

/// "12.5 mm" or "1.5625 studs", rounded to 0.01; trailing zeros dropped.
[[nodiscard]] std::string formatLength(double mm, LengthUnit unit);
/// Fixed decimals with trailing zeros dropped, never "-0".
[[nodiscard]] std::string formatNumber(double value, int decimals);
/// A margin with two significant digits: "0.71", "1.2", "6.0", "12"; over 99 is ">99".
[[nodiscard]] std::string formatMargin(double margin);
/// 0.1° rounding with the degree sign: "-12.4°".
[[nodiscard]] std::string formatAngle(double degrees);

} // namespace ivrant::base
