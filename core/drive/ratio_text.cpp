// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/drive/ratio_text.h"

#include <cmath>
#include <sstream>

#include "core/base/units.h"

namespace ivrant::drive {

using base::Error;

base::Result<double> parseRatio(const std::string& text) {
    const auto colon = text.find(':');
    auto out = base::parseNumber(text.substr(0, colon));
    if (!out || colon == std::string::npos) return out;
    auto in = base::parseNumber(text.substr(colon + 1));
    if (!in) return in;
    if (*in == 0) return Error{"ratio.wish", "turns for no turns of the input are no ratio", text};
    return *out / *in;
}

base::Status parseStock(const std::string& text, RatioWish& wish) {
    std::string spaced = text;
    for (char& c : spaced)
        if (c == ',') c = ' ';
    std::istringstream entries(spaced);
    bool any = false;
    const auto isCount = [](const base::Result<double>& number, double most) {
        return number && *number >= 0 && *number <= most && *number == std::floor(*number);
    };
    for (std::string entry; entries >> entry; any = true) {
        if (!any) wish.worms = 0;
        const auto colon = entry.find(':');
        const std::string wheel = entry.substr(0, colon);
        const auto count =
            colon == std::string::npos ? base::Result<double>(1.0) : base::parseNumber(entry.substr(colon + 1));
        const auto teeth = wheel == "worm" ? base::Result<double>(1.0) : base::parseNumber(wheel);
        if (!isCount(count, 10'000) || !isCount(teeth, 1000))
            return Error{"ratio.wish", "'" + entry + "' is no wheel with a count, such as 8:4 or worm:1", text};
        if (wheel == "worm")
            wish.worms = static_cast<int>(*count);
        else
            wish.stock.emplace_back(static_cast<int>(*teeth), static_cast<int>(*count));
    }
    return {};
}

} // namespace ivrant::drive
