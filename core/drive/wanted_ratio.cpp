// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/drive/wanted_ratio.h"

#include <cmath>

#include "core/base/units.h"
#include "core/drive/drive_net.h"

namespace ivrant::drive {
namespace {

using base::Error;

/// ω = quickest − fall·τ on this battery.
struct Line {
    double quickest, fall;
};
Line lineOf(const LoadedMotor& loaded) {
    const double quickest = calcSpeedRpm(loaded.motor, loaded.battery, 0);
    return {quickest, quickest - calcSpeedRpm(loaded.motor, loaded.battery, 1)};
}

} // namespace

base::Result<double> calcRatioForSpeed(const LoadedMotor& loaded, double rpm) {
    if (!(rpm > 0) || !std::isfinite(rpm)) return Error{"ratio.wish", "the wanted speed must be above 0 rpm", ""};
    const Line line = lineOf(loaded);
    const double bend = line.fall * loaded.loadNmm / loaded.efficiency;
    if (!(bend > 1e-12)) return rpm / line.quickest;
    const double inside = line.quickest * line.quickest - 4 * bend * rpm;
    if (inside < 0)
        return Error{"ratio.slow",
                     "no ratio turns that load so fast with this motor: " +
                         base::formatNumber(line.quickest * line.quickest / (4 * bend), 1) + " rpm is the most",
                     ""};
    return 2 * rpm / (line.quickest + std::sqrt(inside)); // the smaller root, without cancelling
}

base::Result<double> calcRatioForTorque(const LoadedMotor& loaded, double nmm, double margin) {
    if (!(nmm > 0) || !(margin > 0)) return Error{"ratio.wish", "the wanted torque and margin must be above 0", ""};
    return loaded.efficiency * calcStallNmm(loaded.motor, loaded.battery) / (margin * nmm);
}

double calcTrainEfficiency(const FoundTrain& train) {
    double efficiency = 1;
    for (const Stage& stage : train.stages)
        efficiency *= (stage.worm ? kWormEfficiency : kSpurEfficiency) * kBearingEfficiency;
    return efficiency;
}

TrainOutput calcTrainOutput(const LoadedMotor& loaded, double ratio) {
    const double asked = loaded.loadNmm * ratio / loaded.efficiency;
    TrainOutput output;
    output.rpm = std::max(0.0, calcSpeedRpm(loaded.motor, loaded.battery, asked)) * ratio;
    if (asked > 0) output.margin = calcStallNmm(loaded.motor, loaded.battery) / asked;
    return output;
}

} // namespace ivrant::drive
