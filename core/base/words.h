// SPDX-License-Identifier: GPL-3.0-or-later
// How is a number of things told?
#pragma once

#include <string>

namespace ivrant::base {

/// "1 part", "3 parts", "no parts".
[[nodiscard]] inline std::string countText(std::size_t count, const std::string& one, const std::string& many) {
    return (count == 0 ? std::string("no") : std::to_string(count)) + " " + (count == 1 ? one : many);
}

} // namespace ivrant::base
