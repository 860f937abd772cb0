// Which colours are there? An own palette with everyday names, from data/palette.json.
#pragma once

#include <array>
#include <cstdint>
#include <span>
#include <string>
#include <string_view>

namespace ivrant::parts {

struct Colour {
    std::string name;
    std::array<std::uint8_t, 3> rgb;
};

[[nodiscard]] std::span<const Colour> getPalette();
/// Index into getPalette(), or −1.
[[nodiscard]] int findColour(std::string_view name);

} // namespace ivrant::parts
