// Which supports make a figure stand, by its balance and by its bonds?
#pragma once

#include "core/stand/support_design.h"
#include "core/verdict/check.h"

namespace ivrant::verdict {

struct CheckedSupport {
    stand::SupportSpot spot;
    bool holds = false;           ///< the bonds, standing on its feet and the support, on the worst tilt asked
    std::optional<double> lambda; ///< there
};
struct SupportDesign {
    bool needed = false; ///< it tips before the wish, or its bonds fail at rest
    double wishDeg = 0;
    std::vector<CheckedSupport> spots; ///< those that hold first, then by λ
    std::string why;                   ///< when there are none
};

/// `wishDeg`: tip angle asked with the support; the larger of the usual one and the project's tilt when 0. Errors of calcCase.
base::Result<SupportDesign> calcSupports(const Report& report, const PoseReport& pose, double wishDeg = 0, base::Progress* progress = nullptr);

} // namespace ivrant::verdict
