// SPDX-License-Identifier: GPL-3.0-or-later
// How hard is each function in one setting of the selectors, with all that acts at the same time? Part of position.h;
// for use inside core/drive.
//
// A function is looked at where its load is hardest; what its motors move beside it is loaded too. Motors of one train
// turn together and share by their lines: the speed at which all that they give is all that is asked. Every other motor
// runs as well and draws on the same battery. rpm, N·mm, W.
#pragma once

#include "core/drive/drive_report.h"
#include "core/drive/settle.h"

namespace ivrant::drive {

struct WorkInputs {
    const DriveNet& net;
    const Settled& settled;
    const std::vector<MotorState>& motors;
    const DriveInputs& inputs;
};

/// Fills in the motors' points, speed, margin, time, strains and power of all functions that motors move. Functions ×
/// (3 + motors that help × some 10) small systems, a few rounds of the battery.
void calcWork(const WorkInputs& inputs, std::vector<FunctionState>& functions);

/// With its joint's load known; what moves along a line carries weights and slopes themselves, without a lever.
[[nodiscard]] LoadedFunction makeLoaded(const FunctionState& state, const DriveInputs& inputs);
/// Torque on a rack or rod as on an ordinary thing: one unit of its speed stands for u mm, so F newton do as much as
/// F·u/2π N·mm.
[[nodiscard]] double toThing(const FunctionState& state, double nmm);

} // namespace ivrant::drive
