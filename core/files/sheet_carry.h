// SPDX-License-Identifier: GPL-3.0-or-later
// What is printed on carrying and transport: weight, where to lift and where not, weak points, the case that it fits
// in?
#pragma once

#include <string>
#include <utility>
#include <vector>

#include "core/verdict/report.h"

namespace ivrant::files {

struct CarryPlan {
    std::vector<std::pair<std::string, std::string>> rows; ///< what and how
    std::vector<int> lift,
        leave; ///< sections to take hold of, and those that come off; both empty for models looked at as a whole
    std::string legend;                ///< of the picture
    std::vector<model::PartSpot> weak; ///< of the bonds that are asked most
};

/// Rows of what and how. Sections are tried one by one up to study::kMostPartsLive parts; larger models by their middle
/// alone. Empty when nothing has weight. O(sections × one case).
[[nodiscard]] CarryPlan planCarrying(const verdict::Report& report);

} // namespace ivrant::files
