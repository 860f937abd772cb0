// How do the numbers of a report become verdicts? Part of check.h; for use inside core/verdict.
#pragma once

#include "core/verdict/check.h"

namespace ivrant::verdict {

inline constexpr double kGroundMm = 1; ///< solids that come this low are looked at for touching the ground

/// All verdicts on a report that has its numbers, worst first. O(parts + joints × poses); asks may take longer.
void collectVerdicts(Report& report);

/// "brick 2x4 of Tail".
[[nodiscard]] std::string describePart(const model::Project& project, model::PartSpot spot);

} // namespace ivrant::verdict
