// SPDX-License-Identifier: GPL-3.0-or-later
// How would a model be built by a text of commands?
#pragma once

#include <string>

#include "core/model/project.h"

namespace ivrant::script {

/// A script that runScript turns into the same sections, parts, steps, joints, poses and drive records, with ids of its
/// own. What no command says (asks, the diary, measured values, other variants, shapes of the builder's own, things
/// that only gear boards have) is told in comments. O(parts).
[[nodiscard]] std::string writeScript(const model::Project& project);

} // namespace ivrant::script
