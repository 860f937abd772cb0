// SPDX-License-Identifier: GPL-3.0-or-later
// Which colours are there? An own palette with everyday names, from data/palette.json.
#pragma once

#include <array>
#include <cstdint>
#include <span>
#include <string>
#include <string_view>

#include "core/base/at.h"

namespace ivrant::parts {

struct Colour {
    std::string name;
    std::array<std::uint8_t, 3> rgb;
};

[[nodiscard]] std::span<const Colour> getPalette();
/// Of a part's colour, an index into getPalette().
[[nodiscard]] inline const std::string& getColourName(int colour) { return at(getPalette(), colour).name; }
/// Index into getPalette(), or −1.
[[nodiscard]] int findColour(std::string_view name);

} // namespace ivrant::parts
