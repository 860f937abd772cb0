// SPDX-License-Identifier: GPL-3.0-or-later
// How is walking told: the same on the command line, in the window and in verdicts?
#pragma once

#include "core/study/walk.h"

namespace ivrant::study {

/// "straight on", "in a circle of 300 mm".
[[nodiscard]] std::string describeCourse(const WalkStudy& walk);
/// "straight on; rises and falls by 3 mm, …; asks at most 20 N·mm at 45°", or the problem.
[[nodiscard]] std::string describeWalk(const WalkStudy& walk);

} // namespace ivrant::study
