// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/study/asked_tip.h"

#include <algorithm>

namespace ivrant::study {

double getAskedTipDeg(const model::Project& project) { return std::clamp(project.tiltDeg, kUsualTipDeg, kMostTiltDeg); }
std::string describeAskedTip(const model::Project& project) {
    return project.tiltDeg >= kUsualTipDeg ? "the tilt asked of the base" : "a usual value";
}

} // namespace ivrant::study
