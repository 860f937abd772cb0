// SPDX-License-Identifier: GPL-3.0-or-later
// What does the list of steps look like as CSV (RFC 4180)?
#pragma once

#include <string>

#include "core/files/sheet_steps.h"

namespace ivrant::files {

/// Columns step, title, times, count, shape, colour, notes: a row for each kind of part of a step, one alone for steps
/// that add none; title, times and notes in the first row of each.
[[nodiscard]] std::string makeStepsCsv(const std::vector<SheetStep>& steps);

} // namespace ivrant::files
