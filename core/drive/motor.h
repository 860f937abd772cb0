// SPDX-License-Identifier: GPL-3.0-or-later
// Where do motor, battery and load meet: how fast, with what current, how far from stalling, and for how long?
//
// A motor is a straight line from its no-load speed to its stall torque at rated voltage; less voltage moves the line
// down in parallel. Current grows with torque in a straight line. The battery's voltage falls with current through its
// inner resistance. Units: rpm, N·mm, A, V, Ω, mAh, minutes. Torque is that on the motor's own shaft, positive against
// its motion. Source: the d.c. motor's characteristic (Fitzgerald, Electric Machinery, ch. 7);
// docs/derivations/drive.md.
#pragma once

#include <functional>
#include <string>
#include <vector>

#include "core/base/result.h"

namespace ivrant::drive {

struct MotorLine {
    std::string name; ///< "motor medium"
    double ratedV = 9;
    double noLoadRpm = 0;
    double stallNmm = 0;
    double noLoadA = 0;
    double stallA = 0;
    bool byHand = false;   ///< a crank: no battery, no current; its line is what fingers do
    bool measured = false; ///< else a starting value
    bool operator==(const MotorLine&) const = default;
};

struct Battery {
    std::string name;
    double voltage = 9;
    double innerOhm = 0;
    double capacityMah = 0;
    bool measured = false;
    bool operator==(const Battery&) const = default;
};

/// Starting values: round numbers that nobody measured.
[[nodiscard]] const std::vector<MotorLine>& getStartingMotors();
[[nodiscard]] const Battery& getStartingBattery();
/// By name, or null.
[[nodiscard]] const MotorLine* findStartingMotor(const std::string& name);

/// Error "motor.value": a voltage, speed, torque or current that is not above zero, a stall current not above the idle
/// one, a resistance below zero.
[[nodiscard]] base::Status checkMotor(const MotorLine& motor, const Battery& battery);

struct WorkingPoint {
    bool stalls = false; ///< the load asks more than the motor has at rest; speed 0, torque and current those of stall
    double rpm = 0;
    double torqueNmm = 0;
    double currentA = 0;
    double voltageV = 0;   ///< at the motor
    double stallNmm = 0;   ///< on this battery
    double noLoadRpm = 0;  ///< on this battery
    double margin = 0;     ///< stall torque over torque; 0 torque: 0, nothing is asked
    double runMinutes = 0; ///< capacity over current; 0 when the battery has no known capacity
    bool hot = false;      ///< more than half of the stall torque: not for long
};

/// Speed at a torque on this battery; below zero past stall.
[[nodiscard]] double calcSpeedRpm(const MotorLine& motor, const Battery& battery, double torqueNmm);
/// Torque it gives at a speed with `volts` at its terminals; below zero where it is dragged along.
[[nodiscard]] double calcTorqueNmm(const MotorLine& motor, double volts, double rpm);
/// Torque at which it stops on this battery.
[[nodiscard]] double calcStallNmm(const MotorLine& motor, const Battery& battery);
[[nodiscard]] double calcCurrentA(const MotorLine& motor, double torqueNmm);

/// `load`: torque asked at a speed (rpm ≥ 0), not falling steeper than the motor's line. By bisection to 1e-9 of the
/// no-load speed; a load that pushes the motor along runs it above its no-load speed. The motor must pass checkMotor,
/// else std::invalid_argument.
[[nodiscard]] WorkingPoint calcWorkingPoint(const MotorLine& motor, const Battery& battery,
                                            const std::function<double(double rpm)>& load);

} // namespace ivrant::drive
