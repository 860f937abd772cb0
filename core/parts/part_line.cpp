// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/parts/part_line.h"

#include <vector>

#include "core/base/units.h"
#include "core/parts/family.h"
#include "core/parts/own_shape.h"
#include "core/parts/palette.h"

namespace ivrant::parts {
namespace {

using base::Error;

std::vector<std::string> splitWords(std::string_view text) {
    std::vector<std::string> words(1);
    for (char c : text) {
        if (c != ' ' && c != '\t' && c != ',')
            words.back() += c;
        else if (!words.back().empty())
            words.emplace_back();
    }
    if (words.back().empty()) words.pop_back();
    return words;
}

/// Takes a colour name of one or two words out of `words`.
std::optional<std::string> takeColour(std::vector<std::string>& words) {
    for (std::size_t length : {std::size_t{2}, std::size_t{1}})
        for (std::size_t i = 0; i + length <= words.size(); ++i) {
            const std::string name = length == 2 ? words[i] + " " + words[i + 1] : words[i];
            if (findColour(name) < 0) continue;
            words.erase(words.begin() + static_cast<long>(i), words.begin() + static_cast<long>(i + length));
            return name;
        }
    return std::nullopt;
}

} // namespace

base::Result<PartLine> parsePartLine(std::string_view text) {
    auto words = splitWords(text);
    PartLine line;
    for (std::size_t i = 0; i < words.size();) {
        if (words[i] == "at") {
            if (i + 3 >= words.size())
                return Error{"line.at", "'at' needs three numbers: at x y z (studs, studs, plates)", ""};
            std::array<std::int64_t, 3> at{};
            for (std::size_t k = 0; k < 3; ++k) {
                const auto mm = base::parseLengthMm(words[i + 1 + k], k < 2 ? base::kPitchMm : base::kPlateMm);
                if (!mm) return Error{"line.at", "at: " + mm.error().message, ""};
                at[k] = base::mmToUm(*mm);
            }
            line.atUm = at;
            words.erase(words.begin() + static_cast<long>(i), words.begin() + static_cast<long>(i + 4));
        } else if (words[i] == "turn") {
            const auto number = i + 1 < words.size() ? base::parseNumber(words[i + 1]) : base::parseNumber("");
            if (!number || *number < 0 || *number > 23 || *number != static_cast<int>(*number))
                return Error{"line.turn", "'turn' needs a whole number from 0 to 23", ""};
            line.turn = static_cast<int>(*number);
            words.erase(words.begin() + static_cast<long>(i), words.begin() + static_cast<long>(i + 2));
        } else {
            ++i;
        }
    }
    line.colour = takeColour(words);
    std::string shape;
    for (const auto& word : words) shape += (shape.empty() ? "" : " ") + word;
    auto name =
        isOwnName(shape) ? base::Result<std::string>(shape) : parseShapeName(shape); // own shapes are the project's
    if (!name) return name.error();
    line.shape = *name;
    return line;
}

} // namespace ivrant::parts
