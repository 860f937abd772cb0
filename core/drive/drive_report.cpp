// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/drive/drive_report.h"

#include <algorithm>
#include <cmath>

#include "core/base/at.h"
#include "core/base/units.h"
#include "core/drive/board_reader.h"
#include "core/drive/position.h"

namespace ivrant::drive {
namespace {

std::shared_ptr<const MotorLine> findLine(const DriveInputs& inputs, const std::string& name) {
    for (const MotorLine& line : inputs.measured)
        if (line.name == name) return std::make_shared<const MotorLine>(line);
    const MotorLine* line = findStartingMotor(name);
    return line ? std::make_shared<const MotorLine>(*line) : nullptr;
}

std::vector<MotorState> listMotors(const model::Project& project, const DriveNet& net, const DriveInputs& inputs) {
    std::vector<MotorState> motors;
    for (const auto& board : project.boards)
        for (const model::DriveMotor& motor : board->motors)
            motors.push_back({motor, net.findRotor(motor.shaft.text), findLine(inputs, motor.line)});
    for (const PartMotor& part : net.motors) {
        if (part.rotor < 0 || part.seat == PartMotor::Seat::OnOwn) continue; // told as what is wrong with it
        model::DriveMotor motor;
        motor.id.text = part.id;
        motor.name = part.name;
        motor.line = part.line;
        motor.shaft.text = at(net.rotors, part.rotor).id;
        motors.push_back({std::move(motor), part.rotor, findLine(inputs, part.line)});
    }
    return motors;
}

std::vector<int> listDrivers(const model::Project& project, const std::vector<MotorState>& motors,
                             const DriveNet& net) {
    std::vector<int> drivers;
    drivers.reserve(motors.size());
    for (const MotorState& motor : motors) drivers.push_back(motor.rotor);
    // What has friction of its own and no motor at the moment stays where it is: it settles others, after all motors.
    for (const auto& board : project.boards)
        for (const model::DriveFunction& function : board->functions)
            if (!motors.empty() && function.load == model::LoadKind::Friction)
                drivers.push_back(net.findRotor(function.moved()));
    if (drivers.empty() && !net.rotors.empty()) drivers.push_back(0);
    return drivers;
}

} // namespace

DriveReport calcDriveReport(const model::Project& project, const DriveModel& machine, const DriveInputs& inputs) {
    DriveReport report;
    report.battery = inputs.battery;
    report.net = makeDriveNet(machine, listEngaged(project));
    report.motors = listMotors(project, report.net, inputs);
    report.drivers = listDrivers(project, report.motors, report.net);
    report.motion = solveTrain(report.net.train, report.drivers);
    const PositionState now =
        solvePosition({project, report.net, report.motion, report.motors, report.drivers, inputs});
    for (const auto& board : project.boards)
        for (const model::Selector& selector : board->selectors)
            for (std::size_t p = 0; p < selector.positions.size(); ++p) {
                PositionState state = now;
                if (static_cast<int>(p) != selector.at) {
                    const DriveNet net = makeDriveNet(machine, listEngaged(project, &selector, static_cast<int>(p)));
                    const TrainMotion motion = solveTrain(net.train, report.drivers);
                    state = solvePosition({project, net, motion, report.motors, report.drivers, inputs});
                }
                state.selector = selector.name;
                state.name = selector.positions[p].name;
                state.index = static_cast<int>(p);
                state.present = static_cast<int>(p) == selector.at;
                report.positions.push_back(std::move(state));
            }
    if (report.positions.empty()) {
        report.positions.push_back(now);
        report.positions.front().present = true;
    }
    const auto present = std::find_if(report.positions.begin(), report.positions.end(),
                                      [](const PositionState& p) { return p.present; });
    report.present = static_cast<int>(present - report.positions.begin());
    return report;
}

std::vector<double> calcShownSpeeds(const DriveReport& report) {
    std::map<int, double> given;
    for (const auto& motor : report.motors)
        given[motor.rotor] = motor.line ? calcSpeedRpm(*motor.line, report.battery, 0) : kByHandRpm;
    for (const auto& function : ivrant::at(report.positions, report.present).functions)
        for (const auto& share : function.motors)
            if (share.known) given[ivrant::at(report.motors, share.motor).rotor] = share.point.rpm;
    if (report.motors.empty())
        for (const int driver : report.drivers) given[driver] = kByHandRpm;
    return report.motion.speeds(given);
}

} // namespace ivrant::drive
