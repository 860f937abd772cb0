// SPDX-License-Identifier: GPL-3.0-or-later
// What does a machine do in one setting of its selectors: what is locked, what moves what, how hard is it? Part of
// drive_report.h; for use inside core/drive.
//
// All functions that a motor moves act on it at the same time, each where it is hardest and the way the motor then
// turns it: one that lifts while another is lowered asks nothing of the other's weight, and gets no help of it either.
// A thread whose lead angle is below its friction angle is turned from its own side only.
#pragma once

#include "core/drive/drive_report.h"

namespace ivrant::drive {

struct PositionInputs {
    const model::Project& project;
    const DriveNet& net;
    const std::vector<MotorState>& motors;
    const DriveInputs& inputs;
};
struct SolvedPosition {
    PositionState state;      ///< the selector's name and place are left to the caller
    TrainMotion motion;       ///< what turns how, shares of a differential settled
    std::vector<int> drivers; ///< DriveReport::drivers
};
/// O(functions²) small systems.
[[nodiscard]] SolvedPosition solvePosition(const PositionInputs& inputs);

} // namespace ivrant::drive
