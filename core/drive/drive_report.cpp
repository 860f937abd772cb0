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

constexpr std::size_t kMostCountedOut = 100000; ///< combinations beyond the most that are looked at

std::shared_ptr<const MotorLine> findLine(const DriveInputs& inputs, const std::string& name) {
    for (const MotorLine& line : inputs.measured)
        if (line.name == name) return std::make_shared<const MotorLine>(line);
    const MotorLine* line = findStartingMotor(name);
    return line ? std::make_shared<const MotorLine>(*line) : nullptr;
}

std::vector<MotorState> listMotors(const model::Project& project, const DriveNet& net, const DriveInputs& inputs) {
    std::vector<MotorState> motors;
    for (const auto& board : project.boards)
        for (const model::DriveMotor& motor : board->motors) {
            const int rotor = net.findRotor(motor.shaft.text);
            motors.push_back(
                {motor, rotor, findLine(inputs, motor.line), motor.atEnd ? at(net.rotors, rotor).lengthMm : 0});
        }
    for (const PartMotor& part : net.motors) {
        if (part.rotor < 0 || part.seat == PartMotor::Seat::OnOwn) continue; // told as what is wrong with it
        model::DriveMotor motor;
        motor.id.text = part.id;
        motor.name = part.name;
        motor.line = part.line;
        motor.shaft.text = at(net.rotors, part.rotor).id;
        motors.push_back({std::move(motor), part.rotor, findLine(inputs, part.line), part.alongMm});
    }
    return motors;
}

/// Every setting of several selectors that is no position of one of them, in the order of counting.
std::vector<Setting> listCombinations(const Setting& now, std::size_t& leftOut) {
    std::vector<Setting> list;
    leftOut = 0;
    if (now.selectors.size() < 2) return list;
    Setting one = now;
    std::fill(one.at.begin(), one.at.end(), 0);
    for (;;) {
        std::size_t moved = 0;
        for (std::size_t s = 0; s < one.at.size(); ++s) moved += one.at[s] != now.at[s] ? 1 : 0;
        if (moved > 1) {
            if (list.size() < kMostCombinations)
                list.push_back(one);
            else
                ++leftOut;
            if (leftOut >= kMostCountedOut) return list;
        }
        std::size_t s = one.at.size();
        while (s > 0 && ++one.at[s - 1] >= static_cast<int>(one.selectors[s - 1]->positions.size())) one.at[--s] = 0;
        if (s == 0) return list;
    }
}

class Reporter {
public:
    Reporter(const model::Project& project, const DriveModel& machine, const DriveInputs& inputs)
        : m_project(project), m_machine(machine), m_inputs(inputs) {}

    DriveReport run() {
        const Setting now = makePresentSetting(m_project);
        m_report.battery = m_inputs.battery;
        m_report.net = makeDriveNet(m_machine, listEngaged(now));
        m_report.motors = listMotors(m_project, m_report.net, m_inputs);
        SolvedPosition present = solve(m_report.net);
        for (std::size_t s = 0; s < now.selectors.size(); ++s)
            for (std::size_t p = 0; p < now.selectors[s]->positions.size(); ++p) {
                Setting other = now;
                other.at[s] = static_cast<int>(p);
                PositionState state = other.at == now.at ? present.state : solve(other);
                state.selector = now.selectors[s]->name;
                state.name = now.selectors[s]->positions[p].name;
                state.setting = {{state.selector, state.name}};
                state.index = static_cast<int>(p);
                state.present = other.at == now.at;
                m_report.positions.push_back(std::move(state));
            }
        for (const Setting& setting : listCombinations(now, m_report.leftOut)) {
            PositionState state = solve(setting);
            for (std::size_t s = 0; s < setting.selectors.size(); ++s) {
                state.setting.emplace_back(setting.selectors[s]->name,
                                           at(setting.selectors[s]->positions, setting.at[s]).name);
                state.selector += (s > 0 ? ", " : "") + setting.selectors[s]->name;
                state.name += (s > 0 ? ", " : "") + at(setting.selectors[s]->positions, setting.at[s]).name;
            }
            state.index = static_cast<int>(m_report.combinations.size());
            m_report.combinations.push_back(std::move(state));
        }
        if (m_report.positions.empty()) {
            m_report.positions.push_back(std::move(present.state));
            m_report.positions.front().present = true;
        }
        m_report.motion = std::move(present.motion);
        m_report.drivers = std::move(present.drivers);
        const auto found = std::find_if(m_report.positions.begin(), m_report.positions.end(),
                                        [](const PositionState& p) { return p.present; });
        m_report.present = static_cast<int>(found - m_report.positions.begin());
        return std::move(m_report);
    }

private:
    [[nodiscard]] SolvedPosition solve(const DriveNet& net) const {
        return solvePosition({m_project, net, m_report.motors, m_inputs});
    }
    [[nodiscard]] PositionState solve(const Setting& setting) const {
        return solve(makeDriveNet(m_machine, listEngaged(setting))).state;
    }

    const model::Project& m_project;
    const DriveModel& m_machine;
    const DriveInputs& m_inputs;
    DriveReport m_report;
};

} // namespace

const char* getRestName(const FunctionState& state) {
    using model::LoadKind;
    if (state.holds || state.locked) return "holds";
    const LoadKind load = state.function->load;
    const bool pulls = load != LoadKind::None && load != LoadKind::Friction;
    return pulls && (state.hardest.nmm > 0 || state.hardest.least < 0) ? "runs back" : "rests";
}

std::vector<const PositionState*> DriveReport::listStates() const {
    std::vector<const PositionState*> all;
    for (const PositionState& state : positions) all.push_back(&state);
    for (const PositionState& state : combinations) all.push_back(&state);
    return all;
}

DriveReport calcDriveReport(const model::Project& project, const DriveModel& machine, const DriveInputs& inputs) {
    return Reporter(project, machine, inputs).run();
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
