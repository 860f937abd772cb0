// SPDX-License-Identifier: GPL-3.0-or-later
// Does what a motor sits on hold it against its own torque?
//
// The torque on its shaft acts back on its body. Limit analysis (core/stand/equilibrium.h) of the body alone, with its
// weight, between its own bonds, its shaft not counted, as if what they are in stood fast: how strong the seat is
// beyond them is the business of the whole model. N·mm, world frame.
#pragma once

#include <optional>

#include "core/drive/drive_report.h"
#include "core/study/facts.h"

namespace ivrant::study {

struct SeatTorque {
    double stallNmm = 0; ///< of the motor on its battery
    double lambda = 0;   ///< share of its bonds' strength that stalling asks, the worse way round
};

/// None when the motor hangs, drives nothing, has no known line or is turned by hand. Cost: its own bonds.
[[nodiscard]] std::optional<SeatTorque> calcSeatTorque(const Facts& facts, const drive::PartMotor& motor);

} // namespace ivrant::study
