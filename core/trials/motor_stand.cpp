// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/trials/motor_stand.h"

#include <algorithm>

namespace ivrant::trials {

model::MotorRun SimulatedMotorStand::run(double torqueNmm) {
    const auto currentAt = [&](double torque) {
        return m_truth.noLoadA + (m_truth.stallA - m_truth.noLoadA) * torque / m_truth.stallNmm;
    };
    const auto speedAt = [&](double torque) {
        const double voltage = m_truth.openV - m_truth.innerOhm * currentAt(torque);
        return m_truth.noLoadRpm * (voltage / m_truth.ratedV - torque / m_truth.stallNmm);
    };
    double carried = torqueNmm;
    const bool stalls = speedAt(torqueNmm) < 0;
    if (stalls) { // it stands still: the battery pushes as far as it can
        const double atRest = speedAt(0);
        carried = torqueNmm * atRest / (atRest - speedAt(torqueNmm));
    }
    const auto read = [&](double value) { return std::max(0.0, value * (1 + m_noise(m_random))); };
    model::MotorRun run;
    run.torqueNmm = torqueNmm;
    run.rpm = stalls ? 0 : read(std::max(0.0, speedAt(carried)));
    run.currentA = read(currentAt(carried));
    run.voltageV = (m_truth.openV - m_truth.innerOhm * currentAt(carried)) *
                   (1 + m_noise(m_random) / 20); // a voltmeter is the steadiest of the three
    return run;
}

} // namespace ivrant::trials
