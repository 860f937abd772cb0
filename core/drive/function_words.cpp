// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/drive/function_words.h"

#include <algorithm>
#include <array>

#include "core/base/units.h"

namespace ivrant::drive {
namespace {

using base::Error;

constexpr std::array kUnits{"g", "N", "N·mm", "Nmm", "mm", "deg", "degrees", "°", "s", "N/mm"};

base::Result<double> readNumber(const std::vector<std::string>& words, std::size_t& at, const std::string& after) {
    if (at >= words.size()) return Error{"function.word", "a number is expected after '" + after + "'", ""};
    auto number = base::parseNumber(words[at]);
    if (!number) return number.error();
    ++at;
    if (at < words.size() && std::find(kUnits.begin(), kUnits.end(), words[at]) != kUnits.end()) ++at;
    return number;
}

base::Result<bool> readLoad(const std::vector<std::string>& words, std::size_t& at, model::DriveFunction& into) {
    const std::string kind = at < words.size() ? words[at] : "";
    const auto load = model::findLoadKind(kind);
    if (!load)
        return Error{"function.word",
                     "there is no load '" + kind + "': none, friction, lift, arm, joint, slope or band", ""};
    ++at;
    into.load = *load;
    if (*load == model::LoadKind::None || *load == model::LoadKind::Joint) return true;
    const auto amount = readNumber(words, at, "load " + kind);
    if (!amount) return amount.error();
    into.amount = *amount;
    return true;
}

} // namespace

base::Result<bool> readFunctionWord(const std::vector<std::string>& words, std::size_t& at,
                                    model::DriveFunction& into) {
    if (at >= words.size()) return false;
    const std::string& word = words[at];
    if (word == "hold" || word == "together") {
        (word == "hold" ? into.mustHold : into.withOthers) = true;
        ++at;
        return true;
    }
    if (word == "load") {
        ++at;
        return readLoad(words, at, into);
    }
    static const std::array kNumbers{"radius", "rate", "from", "travel", "within", "rpm"};
    if (std::find(kNumbers.begin(), kNumbers.end(), word) == kNumbers.end()) return false;
    ++at;
    const auto value = readNumber(words, at, word);
    if (!value) return value.error();
    if (word == "radius") into.radiusMm = *value;
    if (word == "rate") into.ratePerMm = *value;
    if (word == "from") into.fromDeg = *value;
    if (word == "travel") into.travel = *value;
    if (word == "within") into.withinS = *value;
    if (word == "rpm") into.wantedRpm = *value;
    return true;
}

} // namespace ivrant::drive
