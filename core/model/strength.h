// SPDX-License-Identifier: GPL-3.0-or-later
// What can a joint be counted on to hold, and where does that number come from?
#pragma once

#include <optional>
#include <string>
#include <vector>

namespace ivrant::model {

/// A capacity with its basis. N·mm for holding, N for pulling.
struct Capacity {
    double value = 0;
    bool measured = false; ///< false: rests on a starting value that nobody has measured
    std::string basis;     ///< "starting value × 0.6", "lower bound of 8 tests, this joint"
};

struct JointStrength {
    Capacity holding;                 ///< N·mm
    std::optional<Capacity> pull;     ///< N; none: this kind does not come out along its axis by pulling
    std::optional<double> lossPer100; ///< share of the holding lost in 100 moves, from a wear test; none: not measured
};

/// One per joint of the project, by index.
using JointStrengths = std::vector<JointStrength>;

} // namespace ivrant::model
