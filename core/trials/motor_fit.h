// SPDX-License-Identifier: GPL-3.0-or-later
// Which straight line does a motor follow, told by runs under load?
//
// Least squares without a constant: rpm = k·V − a·τ, so that runs at any voltage count together; current I = I0 + b·τ;
// battery V = V0 − R·I. No-load speed at the rated voltage = k·Vr, stall torque = k·Vr / a. Source: the d.c. motor's
// characteristic (Fitzgerald, Electric Machinery, ch. 7), linear least squares (Draper and Smith, Applied Regression
// Analysis, ch. 1). rpm, N·mm, A, V, Ω.
#pragma once

#include <optional>

#include "core/base/result.h"
#include "core/model/notes.h"

namespace ivrant::trials {

inline constexpr std::size_t kFewestRuns = 3; ///< two would fit any line

struct MotorFit {
    double ratedV = 0;
    double noLoadRpm = 0, stallNmm = 0, noLoadA = 0, stallA = 0;
    double spreadRpm = 0; ///< standard deviation of the runs about the line
    double spreadA = 0;
    std::size_t runs = 0;
    /// Of the battery the runs were made on; none when the current hardly changed or the voltage did not fall with it.
    std::optional<double> openV, innerOhm;
};

/// Torque of a weight on a drum (N·mm): m·g·d/2, d the drum's diameter with the string's thickness. Error "motor.drum":
/// no diameter or a weight below 0.
base::Result<double> calcDrumTorque(double weightG, double drumMm);

/// Errors: "motor.runs" (fewer than kFewestRuns), "motor.spread" (all at nearly the same torque: no line can be told),
/// "motor.line" (speed does not fall or current does not rise with torque, or no voltage). O(runs).
base::Result<MotorFit> fitMotor(const std::vector<model::MotorRun>& runs, double ratedV);

/// One reading of a motor in a line of text, in any order: "40 g 312 rpm 0.21 A 8.74 V"; torque may be told as N·mm
/// ("0.6 Nmm"), current as mA. What is not told is 0. Error "instrument.text" with the word that is not understood.
base::Result<model::MotorRun> parseMotorLine(const std::string& line, double drumMm);

} // namespace ivrant::trials
