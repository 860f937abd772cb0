// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/drive/motor.h"

#include <algorithm>
#include <cmath>
#include <stdexcept>

namespace ivrant::drive {
namespace {

double slopeAPerNmm(const MotorLine& motor) { return (motor.stallA - motor.noLoadA) / motor.stallNmm; }

} // namespace

const std::vector<MotorLine>& getStartingMotors() {
    static const std::vector<MotorLine> kMotors{
        {"motor small", 9, 300, 20, 0.05, 0.4},  {"motor medium", 9, 400, 60, 0.06, 0.9},
        {"motor large", 9, 200, 200, 0.08, 1.4}, {"motor steering", 9, 100, 100, 0.06, 0.8},
        {"hand crank", 9, 90, 400, 0, 0, true},
    };
    return kMotors;
}

const Battery& getStartingBattery() {
    static const Battery kBattery{"battery box", 9, 1.0, 1000};
    return kBattery;
}

const MotorLine* findStartingMotor(const std::string& name) {
    const auto& all = getStartingMotors();
    const auto found = std::find_if(all.begin(), all.end(), [&](const MotorLine& motor) { return motor.name == name; });
    return found == all.end() ? nullptr : &*found;
}

base::Status checkMotor(const MotorLine& motor, const Battery& battery) {
    const auto bad = [](const std::string& what) { return base::Error{"motor.value", what, ""}; };
    if (!(motor.ratedV > 0) || !std::isfinite(motor.ratedV)) return bad("the motor's rated voltage must be above 0 V");
    if (!(motor.noLoadRpm > 0) || !std::isfinite(motor.noLoadRpm))
        return bad("the motor's no-load speed must be above 0 rpm");
    if (!(motor.stallNmm > 0) || !std::isfinite(motor.stallNmm))
        return bad("the motor's stall torque must be above 0 N·mm");
    if (motor.byHand) return {};
    if (!(motor.noLoadA >= 0) || !(motor.stallA > motor.noLoadA) || !std::isfinite(motor.stallA))
        return bad("the motor's stall current must be above its no-load current");
    if (!(battery.voltage > 0) || !std::isfinite(battery.voltage))
        return bad("the battery's voltage must be above 0 V");
    if (!(battery.innerOhm >= 0) || !std::isfinite(battery.innerOhm))
        return bad("the battery's inner resistance must not be below 0 ohm");
    if (!(battery.capacityMah >= 0) || !std::isfinite(battery.capacityMah))
        return bad("the battery's capacity must not be below 0 mAh");
    return {};
}

double calcCurrentA(const MotorLine& motor, double torqueNmm) {
    if (motor.byHand) return 0;
    return motor.noLoadA + slopeAPerNmm(motor) * std::max(0.0, torqueNmm);
}

double calcSpeedRpm(const MotorLine& motor, const Battery& battery, double torqueNmm) {
    if (motor.byHand) return motor.noLoadRpm * (1 - torqueNmm / motor.stallNmm);
    const double voltage = battery.voltage - battery.innerOhm * calcCurrentA(motor, torqueNmm);
    return motor.noLoadRpm * (voltage / motor.ratedV - torqueNmm / motor.stallNmm);
}

double calcTorqueNmm(const MotorLine& motor, double volts, double rpm) {
    return motor.stallNmm * ((motor.byHand ? 1 : volts / motor.ratedV) - rpm / motor.noLoadRpm);
}

double calcStallNmm(const MotorLine& motor, const Battery& battery) {
    if (motor.byHand) return motor.stallNmm;
    const double atRest = (battery.voltage - battery.innerOhm * motor.noLoadA) / motor.ratedV;
    return std::max(0.0, atRest / (1 / motor.stallNmm + battery.innerOhm * slopeAPerNmm(motor) / motor.ratedV));
}

WorkingPoint calcWorkingPoint(const MotorLine& motor, const Battery& battery,
                              const std::function<double(double rpm)>& load) {
    if (const auto status = checkMotor(motor, battery); !status) throw std::invalid_argument(status.error().message);
    WorkingPoint point;
    point.stallNmm = calcStallNmm(motor, battery);
    point.noLoadRpm = std::max(0.0, calcSpeedRpm(motor, battery, 0));
    point.stalls = load(0) >= point.stallNmm;
    if (point.stalls) {
        point.torqueNmm = point.stallNmm;
        const double asked = load(0);
        point.margin = asked > 0 ? point.stallNmm / asked : 0;
    } else {
        // The motor is faster than the load lets it be below the crossing, slower above.
        const auto spare = [&](double rpm) { return calcSpeedRpm(motor, battery, load(rpm)) - rpm; };
        double low = 0, high = std::max(point.noLoadRpm, 1e-9);
        for (int i = 0; i < 60 && spare(high) > 0; ++i) high *= 2;
        while (high - low > 1e-10 * high) {
            const double middle = (low + high) / 2;
            if (middle <= low || middle >= high) break;
            (spare(middle) > 0 ? low : high) = middle;
        }
        point.rpm = (low + high) / 2;
        point.torqueNmm = load(point.rpm);
        point.margin = point.torqueNmm > 0 ? point.stallNmm / point.torqueNmm : 0;
    }
    point.currentA = calcCurrentA(motor, point.torqueNmm);
    point.voltageV = motor.byHand ? 0 : battery.voltage - battery.innerOhm * point.currentA;
    point.runMinutes = point.currentA > 0 ? battery.capacityMah / 1000 / point.currentA * 60 : 0;
    point.hot = point.torqueNmm > point.stallNmm / 2;
    return point;
}

} // namespace ivrant::drive
