// SPDX-License-Identifier: GPL-3.0-or-later
// One motor for each function, or fewer motors and a selector: how do the two compare?
//
// Counted from the report of one way of building; the other side is counted out of it, not laid out: every function
// that is driven gets a motor of the kind that drives it now, clutch wheels become fixed ones, selectors and driving
// rings go. Masses of parts as computed from their shapes. Grams.
#pragma once

#include "core/drive/drive_report.h"

namespace ivrant::drive {

struct DriveCount {
    int motors = 0;
    int parts = 0;        ///< of all boards
    double massG = 0;     ///< of those parts
    int functions = 0;    ///< that a motor drives in some position
    int together = 0;     ///< that can move at the same time, each by a motor of its own
    int positions = 0;    ///< of the selectors; 1: there is nothing to change over
    bool counted = false; ///< estimated, not laid out
};

struct SelectorComparison {
    DriveCount asBuilt, oneEach;
};

/// None when no motor drives anything, or when every function has its motor already.
[[nodiscard]] std::optional<SelectorComparison> compareSelector(const model::Project& project,
                                                                const DriveReport& report);

} // namespace ivrant::drive
