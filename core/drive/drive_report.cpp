// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/drive/drive_report.h"

#include <algorithm>
#include <cmath>

#include "core/base/at.h"
#include "core/base/units.h"
#include "core/drive/board_reader.h"

namespace ivrant::drive {
namespace {

constexpr std::size_t kMostProofs = 20; ///< of locked things looked at for the smallest set

/// One setting of the selectors.
class PositionSolver {
public:
    PositionSolver(const model::Project& project, const DriveNet& net, const TrainMotion& motion,
                   const std::vector<MotorState>& motors, const std::vector<int>& drivers, const DriveInputs& inputs)
        : m_project(project), m_net(net), m_motion(motion), m_motors(motors), m_drivers(drivers), m_inputs(inputs) {}

    PositionState run() {
        PositionState state;
        state.freedom = m_motion.freedom();
        findLock(state);
        for (std::size_t b = 0; b < m_project.boards.size(); ++b)
            for (const model::DriveFunction& function : m_project.boards[b]->functions)
                state.functions.push_back(calcFunction(function, static_cast<int>(b)));
        return state;
    }

private:
    /// Motors that cannot turn first, then anything else; what merely hangs on something that is held is no lock.
    void findLock(PositionState& state) {
        for (std::size_t m = 0; m < m_motors.size(); ++m) {
            const int thing = m_motors[m].rotor;
            if (!m_motion.isLocked(thing) &&
                std::find(m_motion.opposed.begin(), m_motion.opposed.end(), thing) != m_motion.opposed.end())
                state.fighting.push_back(static_cast<int>(m));
        }
        std::vector<int> locked;
        for (const MotorState& motor : m_motors)
            if (m_motion.isLocked(motor.rotor)) locked.push_back(motor.rotor);
        for (std::size_t t = 0; t < m_net.rotors.size(); ++t)
            if (m_motion.isLocked(static_cast<int>(t))) locked.push_back(static_cast<int>(t));
        if (locked.size() > kMostProofs) locked.resize(kMostProofs);
        std::vector<Share> shortest;
        for (const int thing : locked) {
            auto proof = proveZero(m_net.train, {{thing, 1}});
            const bool held = std::any_of(proof.begin(), proof.end(), [&](const Share& share) {
                return ivrant::at(m_net.relations, share.relation).kind == RelationKind::Held;
            });
            const bool motor =
                std::any_of(m_motors.begin(), m_motors.end(), [&](const MotorState& m) { return m.rotor == thing; });
            if (held && !motor) continue;
            if (shortest.empty() || proof.size() < shortest.size()) shortest = std::move(proof);
            if (motor) break;
        }
        for (const Share& share : shortest) {
            const NetRelation& relation = ivrant::at(m_net.relations, share.relation);
            state.lock.push_back(relation.text);
            state.lockIds.insert(state.lockIds.end(), relation.ids.begin(), relation.ids.end());
        }
    }

    FunctionState calcFunction(const model::DriveFunction& function, int board) {
        FunctionState state;
        state.function = &function;
        state.board = board;
        state.rotor = m_net.findRotor(function.shaft.empty() ? function.gear.text : function.shaft.text);
        const Rotor& moved = ivrant::at(m_net.rotors, state.rotor);
        state.straight = moved.isStraight();
        state.mmPerUnit = moved.mmPerUnit();
        state.locked = m_motion.isLocked(state.rotor);
        const auto arm = m_inputs.armLoads.find(function.id);
        const model::DriveFunction loaded =
            resolveLoad(function, arm == m_inputs.armLoads.end() ? nullptr : &arm->second);
        state.hardest = calcHardest(loaded);
        for (std::size_t m = 0; m < m_motors.size(); ++m)
            if (const Rational ratio = m_motion.ratio(state.rotor, m_motors[m].rotor); sgn(ratio) != 0)
                (turnsCarrierOf(state.rotor, m_motors[m].rotor) ? state.creep : state.motors)
                    .push_back({static_cast<int>(m), ratio, {}, false});
        for (const auto& entry : ivrant::at(m_motion.motions, state.rotor))
            state.loose |= entry.first != state.rotor &&
                           std::find(m_drivers.begin(), m_drivers.end(), entry.first) == m_drivers.end();
        const double play = calcPlayRad(m_net.train, m_motion, state.rotor, m_net.slack);
        state.playDeg = state.straight ? play * state.mmPerUnit / (2 * base::kPi) : base::radToDeg(play);
        if (!state.motors.empty() && !state.loose) calcWork(state, loaded);
        return state;
    }

    [[nodiscard]] bool turnsCarrierOf(int thing, int motor) const {
        for (int at = ivrant::at(m_net.rotors, thing).carrier; at >= 0; at = ivrant::at(m_net.rotors, at).carrier)
            if (sgn(m_motion.ratio(at, motor)) != 0) return true;
        return false;
    }

    /// Torque on a rack or rod as an ordinary thing: one unit of its speed stands for u mm, so F newton do as much as
    /// F·u/2π N·mm.
    [[nodiscard]] static double toThing(const FunctionState& state, double nmm) {
        return state.straight ? nmm * state.mmPerUnit / (2 * base::kPi) : nmm;
    }

    /// The train under 1 N·mm against the function's motion (`sign` 1) or with it (−1), its motors turning the way of
    /// the travel.
    [[nodiscard]] base::Result<LoadResult> load(const FunctionState& state, double nmm, double motorRpm) const {
        LoadRequest request;
        request.efficiency = m_net.efficiency;
        const double sense = state.function->travel < 0 ? -1 : 1;
        for (const MotorShare& share : state.motors)
            request.speedsRpm[ivrant::at(m_motors, share.motor).rotor] = motorRpm * sense * sgn(share.ratio);
        request.loadsNmm[state.rotor] = -sense * toThing(state, nmm);
        return calcLoad(m_net.train, m_motion, request);
    }

    void calcWork(FunctionState& state, const model::DriveFunction& loaded) {
        const auto against = load(state, 1, 1), with = load(state, -1, 1);
        if (!against || !with) return;
        const double sense = state.function->travel < 0 ? -1 : 1;
        // Motors that work together share the battery: each finds it lower by the current of the others.
        struct Pull {
            double up, down; ///< at the motor for 1 N·mm against the function's motion, and with it
        };
        std::vector<Pull> pulls;
        for (const MotorShare& share : state.motors) {
            const MotorState& motor = ivrant::at(m_motors, share.motor);
            const double turn = sense * sgn(share.ratio);
            pulls.push_back({against->driveNmm.at(motor.rotor) * turn, with->driveNmm.at(motor.rotor) * turn});
        }
        const auto batteryOf = [&](std::size_t own, double nmm) {
            Battery battery = m_inputs.battery;
            for (std::size_t i = 0; i < pulls.size(); ++i)
                if (const auto& line = ivrant::at(m_motors, state.motors[i].motor).line; i != own && line)
                    battery.voltage -= battery.innerOhm * calcCurrentA(*line, atMotor(nmm, pulls[i].up, pulls[i].down));
            battery.voltage = std::max(battery.voltage, 1e-3);
            return battery;
        };
        bool all = true;
        for (std::size_t i = 0; i < state.motors.size(); ++i) {
            MotorShare& share = state.motors[i];
            const MotorState& motor = ivrant::at(m_motors, share.motor);
            const auto [up, down] = pulls[i];
            state.holds |= down > 0; // pushed along, it still wants to be driven
            share.known = motor.line != nullptr;
            all &= share.known;
            if (!share.known) continue;
            share.point =
                calcWorkingPoint(*motor.line, batteryOf(i, state.hardest.nmm),
                                 [&, up = up, down = down](double) { return atMotor(state.hardest.nmm, up, down); });
            if (share.point.torqueNmm > 1e-9 && (!state.margin || share.point.margin < *state.margin))
                state.margin = share.point.margin;
        }
        if (!all) return;
        const auto speedAt = [&](double nmm) {
            double sum = 0;
            for (std::size_t i = 0; i < pulls.size(); ++i) {
                const MotorState& motor = ivrant::at(m_motors, state.motors[i].motor);
                const double torque = atMotor(nmm, pulls[i].up, pulls[i].down);
                sum += std::max(0.0, calcSpeedRpm(*motor.line, batteryOf(i, nmm), torque)) *
                       std::abs(state.motors[i].ratio.get_d());
            }
            return state.straight ? sum / 60 * state.mmPerUnit : sum; // mm/s or rpm
        };
        state.speed = speedAt(state.hardest.nmm);
        state.travelS = calcTravelS(
            loaded, [&](double nmm) { return state.straight ? speedAt(nmm) : speedAt(nmm) * 6; }); // 1 rpm = 6°/s
        findStrains(state);
    }
    static double atMotor(double nmm, double up, double down) { return nmm >= 0 ? nmm * up : -nmm * down; }

    void findStrains(FunctionState& state) {
        if (!(state.hardest.nmm > 0) || !(state.speed > 0)) return;
        const double rpm = state.motors.front().known ? state.motors.front().point.rpm : 1;
        const auto result = load(state, state.hardest.nmm, rpm);
        if (!result) return;
        state.outW = result->outW;
        for (double loss : result->lossW) state.lostW += loss;
        for (std::size_t t = 0; t < m_net.rotors.size(); ++t)
            if (!m_net.rotors[t].isStraight() && result->carriedNmm[t] > state.mostTwistNmm) {
                state.mostTwistNmm = result->carriedNmm[t];
                state.mostTwistAt = m_net.rotors[t].name;
            }
        for (std::size_t r = 0; r < m_net.relations.size(); ++r) {
            const auto& terms = m_net.train.relations[r].terms;
            const RelationKind kind = m_net.relations[r].kind;
            if (kind != RelationKind::Mesh && kind != RelationKind::Worm && kind != RelationKind::RackMesh) continue;
            for (std::size_t k = 0; k < terms.size(); ++k) {
                // Force along the pitch line = torque over half the teeth; a rack's and a worm's own follow from their
                // fellow.
                const double teeth = std::abs(terms[k].factor.get_d());
                if ((kind == RelationKind::RackMesh || kind == RelationKind::Worm) && teeth < 7) continue;
                const double force = std::abs(result->onTerms[r][k]) / (teeth / 2);
                if (force <= state.mostToothN) continue;
                state.mostToothN = force;
                state.mostToothAt = m_net.relations[r].text;
            }
        }
    }

    const model::Project& m_project;
    const DriveNet& m_net;
    const TrainMotion& m_motion;
    const std::vector<MotorState>& m_motors;
    const std::vector<int>& m_drivers;
    const DriveInputs& m_inputs;
};

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
            motors.push_back({&motor, net.findRotor(motor.shaft.text), findLine(inputs, motor.line)});
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
                drivers.push_back(net.findRotor(function.shaft.empty() ? function.gear.text : function.shaft.text));
    if (drivers.empty() && !net.rotors.empty()) drivers.push_back(0);
    return drivers;
}

} // namespace

DriveReport calcDriveReport(const model::Project& project, const std::vector<geometry::Frame>& X_CB,
                            const DriveInputs& inputs) {
    DriveReport report;
    report.battery = inputs.battery;
    const DriveModel machine = readBoards(project, X_CB);
    report.net = makeDriveNet(machine, listEngaged(project));
    report.motors = listMotors(project, report.net, inputs);
    report.drivers = listDrivers(project, report.motors, report.net);
    report.motion = solveTrain(report.net.train, report.drivers);
    const PositionState now =
        PositionSolver(project, report.net, report.motion, report.motors, report.drivers, inputs).run();
    for (const auto& board : project.boards)
        for (const model::Selector& selector : board->selectors)
            for (std::size_t p = 0; p < selector.positions.size(); ++p) {
                PositionState state = now;
                if (static_cast<int>(p) != selector.at) {
                    const DriveNet net = makeDriveNet(machine, listEngaged(project, &selector, static_cast<int>(p)));
                    const TrainMotion motion = solveTrain(net.train, report.drivers);
                    state = PositionSolver(project, net, motion, report.motors, report.drivers, inputs).run();
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
