// What is printed on carrying and transport: weight, where to lift and where not, weak points, the case that it fits in?
#pragma once

#include <string>
#include <utility>
#include <vector>

#include "core/verdict/check.h"

namespace ivrant::files {

/// Rows of what and how. Sections are tried one by one up to verdict::kMostPartsLive parts; larger models by their middle alone. Empty when nothing
/// has weight. O(sections × one case).
[[nodiscard]] std::vector<std::pair<std::string, std::string>> listCarrying(const verdict::Report& report);

} // namespace ivrant::files
