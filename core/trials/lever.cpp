// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/trials/lever.h"

#include <algorithm>
#include <cmath>

#include "core/base/units.h"

namespace ivrant::trials {
namespace {
constexpr double kMostMm = 2000, kMostG = 50'000;
}

base::Result<double> calcLeverTorqueFromForce(const Lever& lever, double forceN) {
    if (!(lever.distanceMm > 0 && lever.distanceMm <= kMostMm))
        return base::Error{"lever.distance", "the distance must be above 0 and at most 2000 mm", "distance"};
    if (!(lever.armG >= 0 && lever.armG <= kMostG && std::abs(lever.armCentreMm) <= kMostMm))
        return base::Error{"lever.arm", "the arm's own mass must be 0 g or more and its centre within 2000 mm", "arm"};
    if (!(forceN >= 0 && forceN <= base::weightN(kMostG)))
        return base::Error{"lever.weight", "the load must be 0 or more, at most 50 kg", "weight"};
    const double torque = forceN * lever.distanceMm + base::weightN(lever.armG) * lever.armCentreMm;
    if (torque <= 0)
        return base::Error{"lever.lost", "no torque is left: the arm's own weight outweighs the load", "weight"};
    return torque;
}

base::Result<double> calcLeverTorque(const Lever& lever, double weightG) {
    if (!std::isfinite(weightG) || weightG < 0)
        return base::Error{"lever.weight", "the load must be 0 or more, at most 50 kg", "weight"};
    return calcLeverTorqueFromForce(lever, base::weightN(weightG));
}

double calcFirstWeightG(const Lever& lever, double expectedNmm) {
    if (lever.distanceMm <= 0) return 0;
    const double rest = expectedNmm / 3 - base::weightN(lever.armG) * lever.armCentreMm;
    return std::max(0.0, rest / lever.distanceMm / base::weightN(1));
}

} // namespace ivrant::trials
