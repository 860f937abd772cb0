// SPDX-License-Identifier: GPL-3.0-or-later
// What is known of walking, as JSON and CSV; docs/command-line.md tells the keys.
#pragma once

#include <nlohmann/json_fwd.hpp>

#include "core/study/walk.h"

namespace ivrant::files {

/// Of all motions that have feet.
[[nodiscard]] model::Json makeWalksJson(const study::Facts& facts, bool places);
/// Places of one walk: driver, way, heading, height, tilt, tip, torque, which feet stand.
[[nodiscard]] std::string makeWalkCsv(const model::Project& project, const study::WalkStudy& walk);

} // namespace ivrant::files
