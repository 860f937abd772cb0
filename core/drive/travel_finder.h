// SPDX-License-Identifier: GPL-3.0-or-later
// Which rack and pinion, or which screw, moves something so far, and what does its shaft have to do for it?
//
// Rack: π·z mm for each turn of a pinion of z teeth, torque = force·z/2 over the efficiency of the mesh. Linear
// actuator: lead mm for each turn, torque = force·lead/(2π·η). mm, N, N·mm, s, rpm. Source: work of the force = work of
// the torque over a turn; docs/derivations/drive.md.
#pragma once

#include <optional>
#include <string>
#include <vector>

#include "core/base/result.h"

namespace ivrant::drive {

/// Stroke (mm) of the actuator whose case is so many pitches long; 0: there is none.
[[nodiscard]] double getActuatorStrokeMm(int pitches);

struct TravelWish {
    double travelMm = 0;           ///< > 0
    std::optional<double> seconds; ///< wanted time for it
    double forceN = 0;             ///< against it, ≥ 0
};

struct TravelOption {
    std::string name;          ///< "pinion 12 on rack 9"
    bool holds = false;        ///< stays without power: screws do
    double turns = 0;          ///< of its shaft for the travel
    double torqueNmm = 0;      ///< at its shaft
    double lengthMm = 0;       ///< of the rack, or of the actuator drawn out
    std::optional<double> rpm; ///< of its shaft for the wanted time
};

/// Actuators whose stroke is long enough, shortest first, then racks with each spur pinion up to 40 teeth, smallest
/// first; racks longer than 13 pitches are put together of several. Error "travel.wish".
base::Result<std::vector<TravelOption>> listTravels(const TravelWish& wish);

} // namespace ivrant::drive
