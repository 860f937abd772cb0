// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/drive/function_load.h"

#include <algorithm>
#include <cmath>

#include "core/base/units.h"

namespace ivrant::drive {

namespace {

double readCurve(const LoadCurve& curve, double value, double sense) {
    if (curve.round) {
        const double whole = curve.at.back() - curve.at.front();
        value = curve.at.front() + std::fmod(std::fmod(value - curve.at.front(), whole) + whole, whole);
    }
    value = std::clamp(value, curve.at.front(), curve.at.back());
    const auto next = std::upper_bound(curve.at.begin() + 1, curve.at.end() - 1, value);
    const auto k = static_cast<std::size_t>(next - curve.at.begin());
    const double t = (value - curve.at[k - 1]) / (curve.at[k] - curve.at[k - 1]);
    const auto between = [&](const std::vector<double>& list) { return list[k - 1] + t * (list[k] - list[k - 1]); };
    return sense * between(curve.nmm) + between(curve.rubbing);
}

} // namespace

LoadedFunction resolveLoad(model::DriveFunction function, const JointArm* arm, std::shared_ptr<const LoadCurve> curve) {
    if (function.load != model::LoadKind::Joint) return function;
    if (curve) {
        function.load = model::LoadKind::None;
        LoadedFunction loaded(std::move(function));
        loaded.curve = std::move(curve);
        return loaded;
    }
    function.load = arm ? model::LoadKind::Arm : model::LoadKind::None;
    if (!arm) return function;
    function.amount = arm->nmm / base::weightN(1); // at a lever of 1 mm
    function.radiusMm = 1;
    function.fromDeg += arm->offsetDeg;
    return function;
}

LoadedFunction makeStraight(LoadedFunction function) {
    if (function.load == model::LoadKind::Arm) function.load = model::LoadKind::Lift;
    if (function.load == model::LoadKind::Lift || function.load == model::LoadKind::Slope)
        function.radiusMm = 1; // so that its N·mm for each mm are its newtons
    if (function.load == model::LoadKind::Band) function.radiusMm = 0;
    return function;
}

double calcLoadNmm(const LoadedFunction& function, double done) {
    using model::LoadKind;
    const double sense = function.travel < 0 ? -1 : 1;
    if (function.curve) return readCurve(*function.curve, function.fromDeg + done, sense);
    switch (function.load) {
    case LoadKind::None:
    case LoadKind::Joint: return 0; // unresolved
    case LoadKind::Friction: return function.amount;
    case LoadKind::Lift: return sense * base::weightN(function.amount) * function.radiusMm;
    case LoadKind::Arm:
        return sense * base::weightN(function.amount) * function.radiusMm *
               std::cos(base::degToRad(function.fromDeg + done));
    case LoadKind::Slope: {
        const double slope = base::degToRad(function.fromDeg);
        return base::weightN(function.amount) * function.radiusMm *
               (std::sin(slope) + model::kRolling * std::cos(slope));
    }
    case LoadKind::Band: {
        if (function.radiusMm == 0) return function.amount + function.ratePerMm * std::abs(done);
        return function.radiusMm *
               (function.amount + function.ratePerMm * function.radiusMm * base::degToRad(std::abs(done)));
    }
    }
    return 0;
}

Hardest calcHardest(const LoadedFunction& function) {
    const double travel = function.travel != 0 ? function.travel : 360;
    std::vector<double> places{0, travel};
    if (function.load == model::LoadKind::Arm) { // level, upright and hanging within the travel
        const double low = std::min(0.0, travel) + function.fromDeg, high = std::max(0.0, travel) + function.fromDeg;
        for (double angle = std::ceil(low / 90) * 90; angle <= high; angle += 90)
            places.push_back(angle - function.fromDeg);
    }
    if (function.curve) { // its own places within the travel, and the ends
        const double low = function.fromDeg + std::min(0.0, travel), high = function.fromDeg + std::max(0.0, travel);
        const double whole = function.curve->at.back() - function.curve->at.front();
        for (const double at : function.curve->at) {
            double place = at;
            if (function.curve->round) place += std::ceil((low - at) / whole) * whole;
            for (; place <= high; place += whole) {
                if (place >= low) places.push_back(place - function.fromDeg);
                if (!function.curve->round) break;
            }
        }
    }
    Hardest hardest{-1e300, 0, 1e300};
    for (const double place : places) {
        const double torque = calcLoadNmm(function, place);
        if (torque > hardest.nmm + 1e-12) {
            hardest.nmm = torque;
            hardest.at = place;
        }
        hardest.least = std::min(hardest.least, torque);
    }
    hardest.nmm = std::max(0.0, hardest.nmm);
    return hardest;
}

std::optional<double> calcTravelS(const LoadedFunction& function, const std::function<double(double nmm)>& speed) {
    constexpr int kPieces = 200;
    if (function.travel == 0) return std::nullopt;
    double sum = 0;
    for (int i = 0; i <= kPieces; ++i) {
        const double now = speed(calcLoadNmm(function, function.travel * i / kPieces));
        if (!(now > 1e-9)) return std::nullopt;
        sum += (i == 0 || i == kPieces ? 1 : i % 2 == 1 ? 4 : 2) / now;
    }
    return std::abs(function.travel) / kPieces / 3 * sum;
}

} // namespace ivrant::drive
