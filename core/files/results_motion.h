// SPDX-License-Identifier: GPL-3.0-or-later
// Driven motions as JSON and CSV (docs/command-line.md).
#pragma once

#include "core/study/motion.h"

namespace ivrant::files {

/// Of each study; `places`: every place too. `project` and `tree` those that were studied.
[[nodiscard]] model::Json makeMotionsJson(const model::Project& project, const model::SectionTree& tree,
                                          const std::vector<std::shared_ptr<const study::MotionStudy>>& studies,
                                          bool places);
/// One line a place: driver, torque, transmission, tip angle, each moved joint, each traced point.
[[nodiscard]] std::string makeMotionCsv(const model::Project& project, const study::MotionStudy& study);

} // namespace ivrant::files
