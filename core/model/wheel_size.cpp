// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/model/wheel_size.h"

#include <algorithm>
#include <cmath>

#include "core/base/units.h"

namespace ivrant::model {

WheelSize calcWheelSize(GearKind kind, int teeth) {
    const double pitch = teeth / 2.0;
    switch (kind) {
    case GearKind::Spur:
    case GearKind::Bevel:
    case GearKind::Crown: return {pitch, pitch + 1, 3.9, 0};
    case GearKind::Worm: return {4, 5, 8, 0};
    case GearKind::Ring: return {pitch, pitch + 4, 3.9, pitch - 1};
    case GearKind::Rack: return {0, 1, teeth * base::kPi / 2, 0};
    case GearKind::Sprocket: {
        const double radius = kChainPitchMm / 2 / std::sin(base::kPi / std::max(teeth, 3));
        return {radius, radius + 2, 3.9, 0};
    }
    case GearKind::Pulley: return {pitch, pitch + 1, 3.9, 0};
    case GearKind::Differential: return {pitch, pitch + 1, 4, 0};
    case GearKind::Actuator: return {0, base::kPitchMm, teeth * base::kPitchMm / 2, 0};
    case GearKind::Turntable: return {pitch, pitch + 1, 7.9, std::max(0.0, pitch - 16)};
    }
    return {};
}

base::Result<double> calcLoopLength(double radiusA, double radiusB, double distanceMm, bool crossed) {
    const double across = crossed ? radiusA + radiusB : std::abs(radiusA - radiusB);
    if (!(distanceMm > across) || (!crossed && distanceMm <= std::max(radiusA, radiusB)))
        return base::Error{"loop.length", "the wheels are too near each other for a loop round both", ""};
    const double lean = std::asin(across / distanceMm),
                 straight = 2 * std::sqrt(distanceMm * distanceMm - across * across);
    return straight + base::kPi * (radiusA + radiusB) + 2 * across * lean;
}

BeltFit calcBelt(double loopMm, int lengthMm) {
    if (lengthMm <= 0) {
        lengthMm = kBeltLengthsMm[0];
        for (const int length : kBeltLengthsMm)
            if (loopMm >= kLeastStretch * length) lengthMm = length;
    }
    return {lengthMm, loopMm / lengthMm};
}

base::Result<RoundLoop> calcRoundLoop(std::vector<LoopWheel> wheels) {
    const std::size_t n = wheels.size();
    if (n < 2) return base::Error{"loop.length", "a loop needs two wheels or more", ""};
    double area = 0;
    for (std::size_t i = 0; i < n; ++i) {
        const auto &p = wheels[i].centre, &q = wheels[(i + 1) % n].centre;
        area += p.x() * q.y() - p.y() * q.x();
    }
    const bool turned = area < 0; // always to the left
    if (turned) std::reverse(wheels.begin(), wheels.end());
    RoundLoop loop;
    std::vector<double> normals; // of the straight run after each wheel, as an angle
    for (std::size_t i = 0; i < n; ++i) {
        const LoopWheel &a = wheels[i], &b = wheels[(i + 1) % n];
        const Eigen::Vector2d to = b.centre - a.centre;
        const double distance = to.norm(), less = a.radiusMm - b.radiusMm;
        if (distance <= std::abs(less)) return base::Error{"loop.length", "one wheel lies in the other", ""};
        loop.straightMm += std::sqrt(distance * distance - less * less);
        normals.push_back(std::atan2(to.y(), to.x()) - std::acos(less / distance));
    }
    double sum = 0;
    for (std::size_t i = 0; i < n; ++i) {
        double wrap = std::remainder(normals[i] - normals[(i + n - 1) % n], 2 * base::kPi);
        if (wrap < -1e-12) wrap += 2 * base::kPi;
        loop.wrapsRad.push_back(std::max(0.0, wrap));
        sum += loop.wrapsRad.back();
    }
    // Round once: a wheel that the straight run passes would ask for a turn more.
    if (sum > 3 * base::kPi) return base::Error{"loop.length", "it does not touch all its wheels", ""};
    if (turned) std::reverse(loop.wrapsRad.begin(), loop.wrapsRad.end());
    return loop;
}

base::Result<ChainFit> calcChainRound(const std::vector<LoopWheel>& wheels, int links) {
    const auto loop = calcRoundLoop(wheels);
    if (!loop) return loop.error();
    double needed = loop->straightMm / kChainPitchMm;
    for (std::size_t i = 0; i < wheels.size(); ++i) needed += wheels[i].teeth * loop->wrapsRad[i] / (2 * base::kPi);
    const int count = links > 0 ? links : static_cast<int>(std::ceil(needed - 1e-9));
    return ChainFit{count, (count - needed) * kChainPitchMm};
}

base::Result<ChainFit> calcChain(int teethA, int teethB, double distanceMm, int links) {
    const auto wheel = [](int teeth, double x) {
        return LoopWheel{{x, 0}, calcWheelSize(GearKind::Sprocket, teeth).pitchRadiusMm, teeth};
    };
    return calcChainRound({wheel(teethA, 0), wheel(teethB, distanceMm)}, links);
}

} // namespace ivrant::model
