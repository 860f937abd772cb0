// SPDX-License-Identifier: GPL-3.0-or-later
// Which groups of bodies come out only together?
//
// By each axis: the strong components of "is in the way of" from which nothing leads to another body. Source: Wilson,
// Latombe (1994), blocking graphs.
#pragma once

#include "core/make/scene.h"

namespace ivrant::make {

struct LeavingGroup {
    std::vector<int> bodies; ///< one alone as well
    Way way;
    std::vector<int> blocked, blockers; ///< which of them are blocked by others that are there, and by which
};
/// Of these the smallest groups that are in each other's way along an axis. Those without blockers can leave. O(of ×
/// what is in the way).
[[nodiscard]] std::vector<LeavingGroup> listLeavingGroups(const Scene& scene, const std::vector<int>& of);

} // namespace ivrant::make
