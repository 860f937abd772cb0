// Which parts are never seen from outside in any pose, so that they may have any colour?
//
// A part is hidden in a pose when no air that can be reached from outside touches it (core/stand/part_depth.h): what lies behind gaps smaller than a half
// pitch counts as hidden.
#pragma once

#include "core/verdict/check.h"

namespace ivrant::verdict {

struct Hidden {
    std::vector<model::PartSpot> parts; ///< in order
    double massG = 0;
    std::vector<model::PartSpot> showing; ///< seen through gaps only, in a colour that none of the parts around has: the core's colour shows
};

/// Over all poses of a report. Errors of stand::calcPartDepths. O(poses × cells of the model).
base::Result<Hidden> calcHidden(const Report& report, base::Progress* progress = nullptr);

} // namespace ivrant::verdict
