// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/drive/position.h"

#include <algorithm>
#include <cmath>

#include "core/base/at.h"
#include "core/base/units.h"
#include "core/drive/position_work.h"

namespace ivrant::drive {
namespace {

constexpr std::size_t kMostProofs = 20; ///< of locked things looked at for the smallest set
constexpr double kDraggedNmm = 1e-6;

class PositionSolver {
public:
    explicit PositionSolver(const PositionInputs& in)
        : m_project(in.project), m_net(in.net), m_motors(in.motors), m_inputs(in.inputs) {}

    SolvedPosition run() {
        PositionState state;
        for (std::size_t b = 0; b < m_project.boards.size(); ++b)
            for (const model::DriveFunction& function : m_project.boards[b]->functions)
                state.functions.push_back(makeFunction(function, static_cast<int>(b)));
        settle(state.functions);
        // What shares evenly is free in the train itself.
        state.freedom = m_settled.motion.freedom() + static_cast<int>(m_settled.alike.size());
        state.alike = m_settled.alike;
        findTeams();
        findLock(state);
        findStuck(state);
        for (FunctionState& function : state.functions) findMotion(function);
        findHolds(state);
        calcWork({m_net, m_settled, m_motors, m_inputs}, state.functions);
        for (const FunctionState& function : state.functions)
            for (const MotorShare& share : function.motors)
                if (share.helps && share.known && share.point.torqueNmm < -kDraggedNmm &&
                    std::find(state.dragged.begin(), state.dragged.end(), share.motor) == state.dragged.end())
                    state.dragged.push_back(share.motor);
        return {std::move(state), std::move(m_settled.motion), std::move(m_settled.drivers)};
    }

private:
    void settle(const std::vector<FunctionState>& functions) {
        std::vector<int> motors;
        for (const MotorState& motor : m_motors) motors.push_back(motor.rotor);
        std::vector<Resistance> all;
        for (const FunctionState& function : functions) {
            const bool rests = !motors.empty() && function.function->load == model::LoadKind::Friction;
            all.push_back({function.rotor, std::max(0.0, toThing(function, function.hardest.nmm)), rests});
        }
        if (motors.empty()) {
            all.clear();
            if (!m_net.rotors.empty()) motors.push_back(0);
        }
        m_settled = settleTrain(m_net.train, motors, all, m_net.efficiency);
    }

    /// Motors of one train turn together: the first leads, the others help. −1: it does not turn, or several others
    /// give its speed.
    void findTeams() {
        m_leader.assign(m_motors.size(), -1);
        const auto first = [&](int rotor) {
            for (std::size_t m = 0; m < m_motors.size(); ++m)
                if (m_motors[m].rotor == rotor) return static_cast<int>(m);
            return -1;
        };
        for (std::size_t m = 0; m < m_motors.size(); ++m) {
            const Motion& motion = ivrant::at(m_settled.motion.motions, m_motors[m].rotor);
            if (motion.size() == 1) m_leader[m] = first(motion.begin()->first);
        }
    }

    /// The contradiction itself, not the way to it from a motor: of all that stands for the same reason as a motor
    /// does, the thing that the fewest relations hold. Without a locked motor, of all that is locked; what merely hangs
    /// on something that is held is no lock.
    void findLock(PositionState& state) {
        for (std::size_t m = 0; m < m_motors.size(); ++m)
            if (!m_settled.motion.isLocked(m_motors[m].rotor) && m_leader[m] < 0)
                state.fighting.push_back(static_cast<int>(m));
        const auto isHeld = [&](const std::vector<Share>& proof) {
            return std::any_of(proof.begin(), proof.end(), [&](const Share& share) {
                return ivrant::at(m_net.relations, share.relation).kind == RelationKind::Held;
            });
        };
        std::vector<Share> shortest;
        for (const MotorState& motor : m_motors)
            if (m_settled.motion.isLocked(motor.rotor)) {
                shortest = proveZero(m_net.train, {{motor.rotor, 1}});
                break;
            }
        std::vector<int> locked;
        if (shortest.empty()) {
            for (std::size_t t = 0; t < m_net.rotors.size(); ++t)
                if (m_settled.motion.isLocked(static_cast<int>(t))) locked.push_back(static_cast<int>(t));
        } else {
            for (const Share& share : shortest)
                for (const Term& term : ivrant::at(m_net.train.relations, share.relation).terms)
                    if (m_settled.motion.isLocked(term.thing)) locked.push_back(term.thing);
        }
        std::sort(locked.begin(), locked.end());
        locked.erase(std::unique(locked.begin(), locked.end()), locked.end());
        if (locked.size() > kMostProofs) locked.resize(kMostProofs);
        const bool motor = !shortest.empty();
        for (const int thing : locked) {
            auto proof = proveZero(m_net.train, {{thing, 1}});
            if (!motor && isHeld(proof)) continue;
            if (motor && proof.size() == 1 && shortest.size() > 1) continue; // "it is held" alone says nothing
            if (shortest.empty() || proof.size() < shortest.size()) shortest = std::move(proof);
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
                if (sgn(m_settled.motion.ratio(*thread, m_motors[m].rotor)) != 0) {
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
        state.hardest = calcHardest(makeLoaded(state, m_inputs));
        return state;
    }

    /// What moves it, and how exactly it follows.
    void findMotion(FunctionState& state) {
        const TrainMotion& motion = m_settled.motion;
        state.locked = motion.isLocked(state.rotor);
        for (std::size_t m = 0; m < m_motors.size(); ++m) {
            const int leader = m_leader[m];
            const bool leads = leader == static_cast<int>(m);
            if (leader < 0) continue;
            const int leading = ivrant::at(m_motors, leader).rotor;
            const Rational ratio = motion.ratio(state.rotor, leading);
            if (sgn(ratio) == 0) continue;
            if (isStuck(static_cast<int>(m)))
                state.stuck = true;
            else if (leads)
                (turnsCarrierOf(state.rotor, leading) ? state.creep : state.motors)
                    .push_back({static_cast<int>(m), ratio, {}, false, false, -1});
            else if (!turnsCarrierOf(state.rotor, leading) && !isStuck(leader))
                state.motors.push_back(
                    {static_cast<int>(m), ratio / motion.ratio(m_motors[m].rotor, leading), {}, false, true, leader});
        }
        // The first one leads.
        std::stable_sort(state.motors.begin(), state.motors.end(),
                         [](const MotorShare& a, const MotorShare& b) { return !a.helps && b.helps; });
        for (const auto& entry : ivrant::at(motion.motions, state.rotor))
            state.loose |= entry.first != state.rotor && std::find(m_settled.drivers.begin(), m_settled.drivers.end(),
                                                                   entry.first) == m_settled.drivers.end();
        const double play = calcPlayRad(m_settled.train, motion, state.rotor, m_net.slack);
        state.playDeg = state.straight ? play * state.mmPerUnit / (2 * base::kPi) : base::radToDeg(play);
    }

    [[nodiscard]] bool turnsCarrierOf(int rotor, int motor) const {
        for (int at = ivrant::at(m_net.rotors, rotor).carrier; at >= 0; at = ivrant::at(m_net.rotors, at).carrier)
            if (sgn(m_settled.motion.ratio(at, motor)) != 0) return true;
        return false;
    }

    const model::Project& m_project;
    const DriveNet& m_net;
    const std::vector<MotorState>& m_motors;
    const DriveInputs& m_inputs;
    Settled m_settled;
    std::vector<int> m_leader; ///< by motor: itself, or that whose train it helps; −1: none
    std::vector<int> m_stuck;  ///< motors that would have to turn a thread from behind
};

} // namespace

SolvedPosition solvePosition(const PositionInputs& inputs) { return PositionSolver(inputs).run(); }

} // namespace ivrant::drive
