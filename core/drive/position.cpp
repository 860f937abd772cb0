// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/drive/position.h"

#include <algorithm>
#include <cmath>

#include "core/base/at.h"
#include "core/base/units.h"

namespace ivrant::drive {
namespace {

constexpr std::size_t kMostProofs = 20; ///< of locked things looked at for the smallest set

class PositionSolver {
public:
    explicit PositionSolver(const PositionInputs& in)
        : m_project(in.project), m_net(in.net), m_motion(in.motion), m_motors(in.motors), m_drivers(in.drivers),
          m_inputs(in.inputs) {}

    PositionState run() {
        PositionState state;
        state.freedom = m_motion.freedom();
        findLock(state);
        findStuck(state);
        for (std::size_t b = 0; b < m_project.boards.size(); ++b)
            for (const model::DriveFunction& function : m_project.boards[b]->functions)
                state.functions.push_back(makeFunction(function, static_cast<int>(b)));
        findHolds(state);
        for (FunctionState& function : state.functions)
            if (!function.motors.empty() && !function.loose) calcWork(function, state.functions);
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

    /// Power goes from motors along relations, into a thread that holds from its own side only. A wheel that would have
    /// to turn such a thread stands, and the motors behind it.
    void findStuck(PositionState& state) {
        std::vector<int> motors;
        for (const MotorState& motor : m_motors) motors.push_back(motor.rotor);
        const std::vector<char> reached = spread(motors);
        for (std::size_t r = 0; r < m_net.relations.size(); ++r) {
            const auto thread = findThread(static_cast<int>(r));
            if (!thread || ivrant::at(reached, *thread)) continue;
            bool any = false;
            for (std::size_t m = 0; m < m_motors.size(); ++m)
                if (sgn(m_motion.ratio(*thread, m_motors[m].rotor)) != 0) {
                    any = true;
                    if (!isStuck(static_cast<int>(m))) m_stuck.push_back(static_cast<int>(m));
                }
            if (!any) continue;
            state.stuck.push_back("a motor would have to turn " + ivrant::at(m_net.rotors, *thread).name +
                                  " from behind, and its thread holds (" + m_net.relations[r].text + ")");
            state.stuckIds.insert(state.stuckIds.end(), m_net.relations[r].ids.begin(), m_net.relations[r].ids.end());
        }
    }
    /// Rotors that can be moved from these, by rotor; a thread is entered from its own side only.
    [[nodiscard]] std::vector<char> spread(const std::vector<int>& from) const {
        std::vector<char> reached(m_net.rotors.size(), 0);
        std::vector<int> open;
        const auto reach = [&](int rotor) {
            if (ivrant::at(reached, rotor)) return;
            ivrant::at(reached, rotor) = 1;
            open.push_back(rotor);
        };
        std::vector<std::vector<int>> of(m_net.rotors.size());
        for (std::size_t r = 0; r < m_net.relations.size(); ++r)
            for (const Term& term : m_net.train.relations[r].terms) {
                ivrant::at(of, term.thing).push_back(static_cast<int>(r));
                if (term.carrier >= 0) ivrant::at(of, term.carrier).push_back(static_cast<int>(r));
            }
        for (const int rotor : from) reach(rotor);
        while (!open.empty()) {
            const int rotor = open.back();
            open.pop_back();
            for (const int r : ivrant::at(of, rotor)) {
                const auto& terms = ivrant::at(m_net.train.relations, r).terms;
                if (const auto thread = findThread(r); thread && *thread != rotor) continue;
                for (const Term& term : terms) {
                    reach(term.thing);
                    if (term.carrier >= 0) reach(term.carrier);
                }
            }
        }
        return reached;
    }
    [[nodiscard]] bool isStuck(int motor) const {
        return std::find(m_stuck.begin(), m_stuck.end(), motor) != m_stuck.end();
    }
    /// Rotor of the worm or screw of a relation that cannot be driven from behind.
    [[nodiscard]] std::optional<int> findThread(int relation) const {
        const Efficiency& efficiency = ivrant::at(m_net.efficiency, relation);
        if (efficiency.forward > 0 && efficiency.backward > 0) return std::nullopt;
        return ivrant::at(m_net.train.relations, relation).terms[efficiency.backward <= 0 ? 0 : 1].thing;
    }

    /// Without power it stays where it is when moving it would turn a thread from behind. What carries it stays by
    /// friction of its own, if it has any.
    void findHolds(PositionState& state) {
        for (FunctionState& function : state.functions) {
            Train still = m_net.train;
            const std::vector<char> reached = spread({function.rotor});
            for (std::size_t r = 0; r < m_net.relations.size(); ++r)
                if (const auto thread = findThread(static_cast<int>(r)); thread && !ivrant::at(reached, *thread))
                    still.relations.push_back(makeHeld(*thread));
            for (const FunctionState& other : state.functions)
                if (other.function->load == model::LoadKind::Friction && carries(other.rotor, function.rotor))
                    still.relations.push_back(makeHeld(other.rotor));
            function.holds = solveTrain(still, {function.rotor}).isLocked(function.rotor);
        }
    }
    [[nodiscard]] bool carries(int carrier, int rotor) const {
        for (int on = ivrant::at(m_net.rotors, rotor).carrier; on >= 0; on = ivrant::at(m_net.rotors, on).carrier)
            if (on == carrier) return true;
        return false;
    }

    FunctionState makeFunction(const model::DriveFunction& function, int board) {
        FunctionState state;
        state.function = &function;
        state.board = board;
        state.rotor = m_net.findRotor(function.moved());
        const Rotor& moved = ivrant::at(m_net.rotors, state.rotor);
        state.joint = moved.board < 0 ? base::JointId{moved.joint} : function.joint;
        state.straight = moved.isStraight();
        state.mmPerUnit = moved.mmPerUnit();
        state.locked = m_motion.isLocked(state.rotor);
        state.hardest = calcHardest(loadedOf(state));
        for (std::size_t m = 0; m < m_motors.size(); ++m)
            if (isStuck(static_cast<int>(m)))
                state.stuck |= sgn(m_motion.ratio(state.rotor, m_motors[m].rotor)) != 0;
            else if (const Rational ratio = m_motion.ratio(state.rotor, m_motors[m].rotor); sgn(ratio) != 0)
                (turnsCarrierOf(state.rotor, m_motors[m].rotor) ? state.creep : state.motors)
                    .push_back({static_cast<int>(m), ratio, {}, false});
        for (const auto& entry : ivrant::at(m_motion.motions, state.rotor))
            state.loose |= entry.first != state.rotor &&
                           std::find(m_drivers.begin(), m_drivers.end(), entry.first) == m_drivers.end();
        const double play = calcPlayRad(m_net.train, m_motion, state.rotor, m_net.slack);
        state.playDeg = state.straight ? play * state.mmPerUnit / (2 * base::kPi) : base::radToDeg(play);
        return state;
    }

    /// With its joint's load known; what moves along a line carries weights and slopes themselves, without a lever.
    [[nodiscard]] model::DriveFunction loadedOf(const FunctionState& state) const {
        const auto arm = m_inputs.armLoads.find(state.function->id);
        const auto loaded = resolveLoad(*state.function, arm == m_inputs.armLoads.end() ? nullptr : &arm->second);
        return state.straight ? makeStraight(loaded) : loaded;
    }

    [[nodiscard]] bool turnsCarrierOf(int rotor, int motor) const {
        for (int at = ivrant::at(m_net.rotors, rotor).carrier; at >= 0; at = ivrant::at(m_net.rotors, at).carrier)
            if (sgn(m_motion.ratio(at, motor)) != 0) return true;
        return false;
    }

    /// Torque on a rack or rod as an ordinary thing: one unit of its speed stands for u mm, so F newton do as much as
    /// F·u/2π N·mm.
    [[nodiscard]] static double toThing(const FunctionState& state, double nmm) {
        return state.straight ? nmm * state.mmPerUnit / (2 * base::kPi) : nmm;
    }

    /// Torque from outside on every rotor that the function's motors move beside it, at its hardest the way it goes
    /// then.
    [[nodiscard]] std::map<int, double> listOthers(const FunctionState& state,
                                                   const std::vector<FunctionState>& all) const {
        std::map<int, double> loads;
        for (const FunctionState& other : all) {
            if (&other == &state || other.loose) continue;
            const int way = wayWith(other, state);
            if (way == 0) continue;
            const bool friction = other.function->load == model::LoadKind::Friction;
            const double need =
                way == senseOf(other) || friction ? other.hardest.nmm : std::max(0.0, -other.hardest.least);
            loads[other.rotor] -= way * toThing(other, need);
        }
        return loads;
    }
    [[nodiscard]] static int senseOf(const FunctionState& state) { return state.function->travel < 0 ? -1 : 1; }
    /// Which way another function goes while this one goes along its travel: ±1; 0: its motors do not move it.
    [[nodiscard]] static int wayWith(const FunctionState& other, const FunctionState& state) {
        for (const MotorShare& share : state.motors)
            for (const MotorShare& theirs : other.motors)
                if (theirs.motor == share.motor) return senseOf(state) * sgn(share.ratio) * sgn(theirs.ratio);
        return 0;
    }

    /// The train under `nmm` against the function's motion, beside what else its motors move, which turn the way of the
    /// travel.
    [[nodiscard]] base::Result<LoadResult> load(const FunctionState& state, double nmm, double motorRpm,
                                                std::map<int, double> others) const {
        LoadRequest request;
        request.efficiency = m_net.efficiency;
        for (const MotorShare& share : state.motors)
            request.speedsRpm[ivrant::at(m_motors, share.motor).rotor] = motorRpm * senseOf(state) * sgn(share.ratio);
        request.loadsNmm = std::move(others);
        request.loadsNmm[state.rotor] -= senseOf(state) * toThing(state, nmm);
        return calcLoad(m_net.train, m_motion, request);
    }

    /// Torque at each motor of a function as a function of the load on it: straight between what was worked out.
    class Pull {
    public:
        void add(double nmm, double atMotor) { m_points.emplace_back(nmm, atMotor); }
        void sort() { std::sort(m_points.begin(), m_points.end()); }
        [[nodiscard]] double at(double nmm) const {
            std::size_t i = 1;
            while (i + 1 < m_points.size() && nmm > m_points[i].first) ++i;
            const auto [x0, y0] = m_points[i - 1];
            const auto [x1, y1] = m_points[i];
            return x1 > x0 ? y0 + (y1 - y0) * (nmm - x0) / (x1 - x0) : y1;
        }

    private:
        std::vector<std::pair<double, double>> m_points;
    };
    /// Nothing when the train does not say.
    [[nodiscard]] std::optional<std::vector<Pull>> findPulls(const FunctionState& state,
                                                             const std::map<int, double>& others) const {
        std::vector<Pull> pulls(state.motors.size());
        const double size = std::max({state.hardest.nmm, std::abs(state.hardest.least), 1.0});
        for (const double nmm : {-size, 0.0, size}) {
            const auto result = load(state, nmm, 1, others);
            if (!result) return std::nullopt;
            for (std::size_t i = 0; i < pulls.size(); ++i) {
                const MotorShare& share = state.motors[i];
                const int turn = senseOf(state) * sgn(share.ratio);
                pulls[i].add(nmm, result->driveNmm.at(ivrant::at(m_motors, share.motor).rotor) * turn);
            }
        }
        for (Pull& pull : pulls) pull.sort();
        return pulls;
    }

    void calcWork(FunctionState& state, const std::vector<FunctionState>& all) {
        const auto others = listOthers(state, all);
        state.together = !others.empty();
        const auto pulls = findPulls(state, others);
        if (!pulls) return;
        // Motors that work together share the battery: each finds it lower by the current of the others.
        const auto batteryOf = [&](std::size_t own, double nmm) {
            Battery battery = m_inputs.battery;
            for (std::size_t i = 0; i < pulls->size(); ++i)
                if (const auto& line = ivrant::at(m_motors, state.motors[i].motor).line; i != own && line)
                    battery.voltage -= battery.innerOhm * calcCurrentA(*line, (*pulls)[i].at(nmm));
            battery.voltage = std::max(battery.voltage, 1e-3);
            return battery;
        };
        // Lowering costs too where a thread rubs more than the weight pushes.
        const auto mostAt = [&](const Pull& pull) {
            return pull.at(state.hardest.least) > pull.at(state.hardest.nmm) ? state.hardest.least : state.hardest.nmm;
        };
        bool allKnown = true;
        for (std::size_t i = 0; i < state.motors.size(); ++i) {
            MotorShare& share = state.motors[i];
            const MotorState& motor = ivrant::at(m_motors, share.motor);
            share.known = motor.line != nullptr;
            allKnown &= share.known;
            if (!share.known) continue;
            const double nmm = mostAt((*pulls)[i]);
            share.point = calcWorkingPoint(*motor.line, batteryOf(i, nmm), [&](double) { return (*pulls)[i].at(nmm); });
            if (share.point.torqueNmm > 1e-9 && (!state.margin || share.point.margin < *state.margin))
                state.margin = share.point.margin;
        }
        if (!allKnown) return;
        const auto speedAt = [&](double nmm) {
            double sum = 0;
            for (std::size_t i = 0; i < pulls->size(); ++i) {
                const MotorState& motor = ivrant::at(m_motors, state.motors[i].motor);
                const double torque = (*pulls)[i].at(nmm);
                sum += std::max(0.0, calcSpeedRpm(*motor.line, batteryOf(i, nmm), torque)) *
                       std::abs(state.motors[i].ratio.get_d());
            }
            return state.straight ? sum / 60 * state.mmPerUnit : sum; // mm/s or rpm
        };
        const double most = mostAt(pulls->front());
        state.speed = speedAt(most);
        state.travelS = calcTravelS(loadedOf(state), [&](double nmm) {
            return state.straight ? speedAt(nmm) : speedAt(nmm) * 6;
        }); // 1 rpm = 6°/s
        findStrains(state, most, others);
    }
    void findStrains(FunctionState& state, double nmm, const std::map<int, double>& others) {
        if ((nmm == 0 && others.empty()) || !(state.speed > 0)) return;
        const double rpm = state.motors.front().known ? state.motors.front().point.rpm : 1;
        const auto result = load(state, nmm, rpm, others);
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
    std::vector<int> m_stuck; ///< motors that would have to turn a thread from behind
};

} // namespace

PositionState solvePosition(const PositionInputs& inputs) { return PositionSolver(inputs).run(); }

} // namespace ivrant::drive
