// SPDX-License-Identifier: GPL-3.0-or-later
// Which ratio turns a load as fast, or as strongly, as wanted, and what does a found train do under the load?
//
// The motor's line on its battery is straight: ω = a − b·τ (rpm, N·mm at the motor). A train of ratio r (turns out for
// turns in) and efficiency e asks τ = T·r/e for a torque T at its output. Speed: n = r·(a − b·T·r/e), a parabola in r
// with its top at r = a·e/(2·b·T); the smaller root is the ratio that asks less of the motor. Torque with margin m: r =
// e·stall/(m·T). Source: as motor.h and train_load.h; docs/derivations/drive.md.
#pragma once

#include "core/base/result.h"
#include "core/drive/motor.h"
#include "core/drive/ratio_search.h"

namespace ivrant::drive {

inline constexpr double kWantedMargin = 1.5; ///< stall over asked torque

struct LoadedMotor {
    MotorLine motor;
    Battery battery;
    double loadNmm = 0;    ///< at the output, ≥ 0
    double efficiency = 1; ///< of the train, (0, 1]
};

/// Ratio for `rpm` at the output. Errors "ratio.wish" (speed not above 0), "ratio.slow" (no ratio is that quick under
/// this load: the quickest is told).
base::Result<double> calcRatioForSpeed(const LoadedMotor& loaded, double rpm);
/// Ratio at which the motor pulls `nmm` with `margin` to stall. Error "ratio.wish": torque or margin not above 0.
base::Result<double> calcRatioForTorque(const LoadedMotor& loaded, double nmm, double margin = kWantedMargin);

/// Product of its meshes, each with a bearing, as a board counts them (starting values of drive_net.h).
[[nodiscard]] double calcTrainEfficiency(const FoundTrain& train);

struct TrainOutput {
    double rpm = 0;    ///< under the load; 0: stalls
    double margin = 0; ///< stall over asked torque; 0: nothing is asked
};
[[nodiscard]] TrainOutput calcTrainOutput(const LoadedMotor& loaded, double ratio);

} // namespace ivrant::drive
