// SPDX-License-Identifier: GPL-3.0-or-later
// How are runs of a motor taken when there is no motor bench? From a stand-in with a motor, a battery and noise of its
// own.
#pragma once

#include <random>

#include "core/model/notes.h"

namespace ivrant::trials {

/// What the stand-in's motor and battery truly are; hidden from the person.
struct StandTruth {
    double ratedV = 9, noLoadRpm = 0, stallNmm = 0, noLoadA = 0, stallA = 0;
    double openV = 9, innerOhm = 1;
    double spread = 0.02; ///< of each reading, as a share
};

/// What it says is marked as simulated wherever it shows. The same seed gives the same runs.
class SimulatedMotorStand {
public:
    SimulatedMotorStand(const StandTruth& truth, unsigned seed)
        : m_truth(truth), m_random(seed), m_noise(0, truth.spread) {}
    /// The motor under a torque (N·mm, ≥ 0) on its shaft; past stall it stands still with its stall current.
    [[nodiscard]] model::MotorRun run(double torqueNmm);

private:
    StandTruth m_truth;
    std::mt19937 m_random;
    std::normal_distribution<double> m_noise;
};

} // namespace ivrant::trials
