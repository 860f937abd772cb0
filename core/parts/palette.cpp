// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/parts/palette.h"

#include <nlohmann/json.hpp>
#include <vector>

#include "core/parts/data_files.h"

namespace ivrant::parts {

std::span<const Colour> getPalette() {
    static const std::vector<Colour> palette = [] {
        std::vector<Colour> colours;
        const auto json = nlohmann::json::parse(kPaletteJson);
        for (const auto& entry : json.at("colours"))
            colours.push_back(
                {entry.at("name").get<std::string>(), entry.at("rgb").get<std::array<std::uint8_t, 3>>()});
        return colours;
    }();
    return palette;
}

int findColour(std::string_view name) {
    const auto palette = getPalette();
    for (std::size_t i = 0; i < palette.size(); ++i)
        if (palette[i].name == name) return static_cast<int>(i);
    return -1;
}

} // namespace ivrant::parts
