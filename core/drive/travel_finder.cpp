// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/drive/travel_finder.h"

#include <cmath>

#include "core/base/units.h"
#include "core/drive/drive_net.h"

namespace ivrant::drive {
namespace {

constexpr int kLargestPinion = 40, kLongestRack = 13, kShortestRack = 4;
constexpr double kEngagedMm = 2 * base::kPi; ///< two teeth stay in mesh at either end together

std::string rackName(double lengthMm) {
    const int pitches = std::max(kShortestRack, static_cast<int>(std::ceil(lengthMm / base::kPitchMm - 1e-9)));
    if (pitches <= kLongestRack) return "rack " + std::to_string(pitches);
    const int whole = pitches / kLongestRack, rest = pitches % kLongestRack;
    std::string text = std::to_string(whole) + " x rack " + std::to_string(kLongestRack);
    return rest == 0 ? text : text + " and rack " + std::to_string(std::max(kShortestRack, rest));
}

} // namespace

double getActuatorStrokeMm(int pitches) {
    return pitches == 9 ? 3 * base::kPitchMm : pitches == 13 ? 5 * base::kPitchMm : 0;
}

base::Result<std::vector<TravelOption>> listTravels(const TravelWish& wish) {
    const auto isGood = [](double value, double least) {
        return std::isfinite(value) && value >= least && value <= 1e5;
    };
    if (!isGood(wish.travelMm, 0.1)) return base::Error{"travel.wish", "a travel of 0.1 to 100000 mm is expected", ""};
    if (!isGood(wish.forceN, 0)) return base::Error{"travel.wish", "a force of 0 to 100000 N is expected", ""};
    if (wish.seconds && !isGood(*wish.seconds, 0.01))
        return base::Error{"travel.wish", "a time of 0.01 to 100000 s is expected", ""};
    std::vector<TravelOption> options;
    const auto add = [&](TravelOption option, double mmPerTurn, double efficiency) {
        option.turns = wish.travelMm / mmPerTurn;
        option.torqueNmm = wish.forceN * mmPerTurn / (2 * base::kPi) / efficiency;
        if (wish.seconds) option.rpm = option.turns / *wish.seconds * 60;
        options.push_back(std::move(option));
    };
    for (const int pitches : {9, 13})
        if (getActuatorStrokeMm(pitches) >= wish.travelMm)
            add({"linear actuator " + std::to_string(pitches),
                 true,
                 0,
                 0,
                 pitches * base::kPitchMm + wish.travelMm,
                 {}},
                kActuatorLeadMm, kActuatorEfficiency);
    for (const int teeth : getSpurTeeth()) {
        if (teeth > kLargestPinion) break;
        const double length = wish.travelMm + kEngagedMm;
        add({"pinion " + std::to_string(teeth) + " on " + rackName(length), false, 0, 0, length, {}}, base::kPi * teeth,
            kSpurEfficiency);
    }
    return options;
}

} // namespace ivrant::drive
