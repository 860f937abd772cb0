// SPDX-License-Identifier: GPL-3.0-or-later
// What does a typed line like "2x4 plate kelp at 2 0 3 turn 1" ask for?
#pragma once

#include <array>
#include <cstdint>
#include <optional>
#include <string>
#include <string_view>

#include "core/base/result.h"

namespace ivrant::parts {

struct PartLine {
    std::string shape; ///< canonical name
    std::optional<std::string> colour;
    std::optional<std::array<std::int64_t, 3>> atUm; ///< µm in the section
    std::optional<int> turn;                         ///< 0..23
};

/// Reads shape, then colour, "at x y z" and "turn n" in any order. Bare numbers after "at" are pitches for x and y and
/// plates for z; units as in base/units.h. Errors: "shape.unknown", "shape.size", "line.at", "line.turn".
base::Result<PartLine> parsePartLine(std::string_view text);

} // namespace ivrant::parts
