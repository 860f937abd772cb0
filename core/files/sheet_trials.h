// SPDX-License-Identifier: GPL-3.0-or-later
// After which step is a function of the drive complete, and what is tried then?
#pragma once

#include "core/files/sheet_steps.h"

namespace ivrant::files {

/// Adds to the step with which the last wheel, shaft or joint between a motor and what it moves is there: turn the one
/// by hand, see the other turn so far. One note for a function, in the first position of its selector that moves it.
void addTrials(const verdict::Report& report, std::vector<SheetStep>& steps);

} // namespace ivrant::files
