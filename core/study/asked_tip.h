// SPDX-License-Identifier: GPL-3.0-or-later
// How far must a model be tilted before it may tip?
#pragma once

#include <string>

#include "core/model/project.h"

namespace ivrant::study {

/// Tip angle asked of every standing pose when the project does not say (a starting value).
inline constexpr double kUsualTipDeg = 8.0;
inline constexpr double kMostTiltDeg = 45; ///< a file that asks for more is told so, and looked at up to here
/// Degrees: the tilt that is asked of its base, at least the usual angle.
[[nodiscard]] double getAskedTipDeg(const model::Project& project);
/// "a usual value", "the tilt asked of the base".
[[nodiscard]] std::string describeAskedTip(const model::Project& project);

} // namespace ivrant::study
