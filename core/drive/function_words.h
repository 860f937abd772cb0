// SPDX-License-Identifier: GPL-3.0-or-later
// What is asked of a function, in words: "load arm 40 g radius 80 mm travel 90 hold". The typed line and scripts share
// them.
#pragma once

#include <string>
#include <vector>

#include "core/base/result.h"
#include "core/model/board.h"

namespace ivrant::drive {

/// Reads the word at `at` with what belongs to it, into the function; `at` is then behind it. False: it is none of
/// load, radius, rate, from, travel, within, rpm, hold, together. A unit may follow a number where it stands for the
/// one that the function is kept in (g, N·mm, mm, deg, s). Error "function.word".
[[nodiscard]] base::Result<bool> readFunctionWord(const std::vector<std::string>& words, std::size_t& at,
                                                  model::DriveFunction& into);

} // namespace ivrant::drive
