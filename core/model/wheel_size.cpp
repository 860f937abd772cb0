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
    case GearKind::Differential: return {pitch, pitch + 1, 12, 0};
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

base::Result<ChainFit> calcChain(int teethA, int teethB, double distanceMm, int links) {
    const double a = calcWheelSize(GearKind::Sprocket, teethA).pitchRadiusMm,
                 b = calcWheelSize(GearKind::Sprocket, teethB).pitchRadiusMm;
    const auto length = calcLoopLength(a, b, distanceMm);
    if (!length) return length.error();
    const int count = links > 0 ? links : static_cast<int>(std::ceil(*length / kChainPitchMm - 1e-9));
    return ChainFit{count, count * kChainPitchMm - *length};
}

} // namespace ivrant::model
