// SPDX-License-Identifier: GPL-3.0-or-later
// Verdicts on what gear boards do: locks, motors against each other, functions with their loads, times and strains.
// Part of check_drive.h.
#include <algorithm>
#include <cmath>
#include <map>
#include <set>

#include "core/base/at.h"
#include "core/base/units.h"
#include "core/drive/travel_finder.h"
#include "core/verdict/drive/drive_verdicts.h"

namespace ivrant::verdict {
namespace {

using base::formatAngle;
using base::formatNumber;
using drive::FunctionState;
using drive::PositionState;

constexpr double kAngleSlackDeg = 0.05;

class FunctionCheck : DriveVerdicts {
public:
    FunctionCheck(const study::Facts& facts, VerdictList& list)
        : DriveVerdicts(facts, list), m_states(m_drive.listStates()) {}

    void run() {
        addLocks();
        addStuck();
        addFights();
        addShares();
        for (std::size_t f = 0; f < m_drive.positions.front().functions.size(); ++f) addFunction(f);
        addTogether();
    }

private:
    [[nodiscard]] static std::string positionName(const PositionState& position) {
        std::string text;
        for (const auto& [selector, name] : position.setting)
            text += (text.empty() ? " with " : " and ") + selector + " at " + name;
        return text;
    }
    [[nodiscard]] std::string motorName(int motor) const { return ivrant::at(m_drive.motors, motor).motor.name; }

    void addLocks() {
        std::set<std::vector<std::string>> told;
        for (const PositionState* state : m_states) {
            const PositionState& position = *state;
            if (position.lock.empty() || !told.insert(position.lock).second) continue;
            Verdict& v =
                add("locked", std::to_string(told.size()), State::Fail, "Nothing can turn" + positionName(position));
            v.place.things = position.lockIds;
            for (const std::string& id : position.lockIds) locate(v, id);
            v.value = static_cast<double>(position.lock.size());
            v.unit = "contradicting";
            for (const std::string& sentence : position.lock) v.detail += (v.detail.empty() ? "" : "; ") + sentence;
            v.detail +=
                position.lock.size() == 1 ? "" : ": these contradict each other, without any one of them it would turn";
        }
    }
    void addFights() {
        std::set<int> told;
        for (const PositionState* state : m_states) {
            const auto tell = [&](int m, const std::string& why) {
                if (!told.insert(m).second) return;
                const auto& motor = ivrant::at(m_drive.motors, m);
                Verdict& v = add("fight", motor.motor.id.text, State::Fail, "Two motors fight" + positionName(*state));
                v.place.things = {motor.motor.id.text, motor.motor.shaft.text};
                locate(v, motor.motor.shaft.text);
                v.detail = motor.motor.name + why;
            };
            for (int m : state->fighting)
                tell(m, " turns a shaft whose speed other motors already give; a differential between them adds their "
                        "speeds");
            for (int m : state->dragged)
                tell(m, " is dragged along by another motor, which turns it faster than it runs by itself: other "
                        "wheels between them, or motors alike");
        }
    }
    /// Motors that work together, told once for each pair.
    void addShares() {
        std::set<std::pair<int, int>> told;
        for (const PositionState* state : m_states)
            for (const FunctionState& f : state->functions)
                for (const auto& share : f.motors) {
                    if (!share.helps || !share.known || share.point.torqueNmm <= 0) continue;
                    if (!told.emplace(share.leader, share.motor).second) continue;
                    const auto& leader = *std::find_if(f.motors.begin(), f.motors.end(),
                                                       [&](const auto& s) { return s.motor == share.leader; });
                    Verdict& v = add("motor-share", ivrant::at(m_drive.motors, share.motor).motor.id.text, State::Good,
                                     "Motors share " + f.function->name);
                    v.place.things = {ivrant::at(m_drive.motors, share.leader).motor.id.text,
                                      ivrant::at(m_drive.motors, share.motor).motor.id.text};
                    locate(v, ivrant::at(m_drive.motors, share.motor).motor.shaft.text);
                    v.basis = Basis::Starting;
                    v.value = share.point.torqueNmm;
                    v.unit = "N·mm";
                    v.detail = motorName(share.leader) + " gives " + formatNumber(leader.point.torqueNmm, 1) +
                               " N·mm and " + motorName(share.motor) + " " + formatNumber(share.point.torqueNmm, 1) +
                               " where it is hardest" + positionName(*state) + ", each on its own line";
                }
    }

    void addStuck() {
        std::set<std::vector<std::string>> told;
        for (const PositionState* state : m_states) {
            const PositionState& position = *state;
            if (position.stuck.empty() || !told.insert(position.stuck).second) continue;
            Verdict& v = add("worm-behind", std::to_string(told.size()), State::Fail,
                             "A motor is held by a worm" + positionName(position));
            v.place.things = position.stuckIds;
            for (const std::string& id : position.stuckIds) locate(v, id);
            for (const std::string& sentence : position.stuck) v.detail += (v.detail.empty() ? "" : "; ") + sentence;
            v.detail += ". Put the motor on the worm's own shaft";
        }
    }

    /// One motor on two functions at once: meant or not, worth knowing. Once for each motor and functions.
    void addTogether() {
        std::set<std::pair<int, std::string>> told;
        for (const PositionState* state : m_states) {
            std::map<int, std::vector<const FunctionState*>> functions;
            for (const FunctionState& f : state->functions)
                for (const auto& share : f.motors)
                    if (!share.helps) functions[share.motor].push_back(&f);
            for (const auto& [motor, moved] : functions) {
                if (moved.size() < 2) continue;
                std::string list;
                for (const FunctionState* f : moved) list += (list.empty() ? "" : ", ") + f->function->name;
                if (!told.emplace(motor, list).second) continue;
                const bool meant = std::all_of(moved.begin(), moved.end(),
                                               [](const FunctionState* f) { return f->function->withOthers; });
                Verdict& v =
                    add("together",
                        ivrant::at(m_drive.motors, motor).motor.id.text + "/" + state->selector +
                            std::to_string(state->index),
                        meant ? State::Good : State::Thin, "One motor moves several functions" + positionName(*state));
                v.detail = motorName(motor) + " drives " + list + " at the same time: what they ask is added up" +
                           (meant ? "" : "; say so in the functions if that is meant");
            }
        }
    }

    void addFunction(std::size_t f) {
        const PositionState* worst = nullptr;
        bool reached = false, stuck = false;
        const auto asked = [](const FunctionState& s) { return s.margin.value_or(1e9); };
        for (const PositionState* position : m_states) {
            const FunctionState& state = position->functions[f];
            stuck |= state.stuck;
            if (state.motors.empty() || state.loose) continue;
            reached = true;
            if (!worst || asked(state) < asked(worst->functions[f])) worst = position;
        }
        const model::DriveFunction& function = *m_drive.positions.front().functions[f].function;
        const auto at = [&](Verdict& v) {
            v.place.board = boardOf(m_drive.positions.front().functions[f].board).id;
            v.place.things = {function.id.text, function.moved()};
        };
        if (!m_drive.motors.empty() || !m_net.motors.empty()) {
            Verdict& v = add("reached", function.id.text, reached ? State::Good : State::Fail,
                             function.name + (reached ? " is driven" : " is never driven"));
            at(v);
            v.detail = stuck ? "its motor would have to turn a worm from behind"
                             : "no motor turns it in any position of the selectors";
            if (reached)
                v.detail = "by " + ivrant::at(m_drive.motors, worst->functions[f].motors.front().motor).motor.name +
                           ", " + drive::formatRatio(worst->functions[f].motors.front().ratio) + positionName(*worst);
        }
        if (const FunctionState& state = m_drive.positions.front().functions[f];
            !function.joint.empty() && state.joint != function.joint) {
            const int j = m_facts.project->findJoint(function.joint);
            Verdict& v = add("joint-apart", function.id.text, State::Fail,
                             function.name + " does not turn " + ivrant::at(m_facts.project->joints, j).name);
            at(v);
            v.place.joint = function.joint;
            v.detail = "no axle or teeth of " + ivrant::at(m_net.rotors, state.rotor).name +
                       " turn what that joint carries: put its axle in a cross hole there";
        }
        if (function.mustHold) addHold(f, at);
        if (!worst) return;
        addEnds(function, worst->functions[f], at);
        addWork(function, f, *worst, at);
    }

    /// In every position: a clutch that lets go may leave it to itself.
    template <class At> void addHold(std::size_t f, At at) {
        const model::DriveFunction& function = *m_drive.positions.front().functions[f].function;
        const auto lets = std::find_if(m_states.begin(), m_states.end(),
                                       [&](const PositionState* p) { return !p->functions[f].holds; });
        const bool holds = lets == m_states.end();
        Verdict& v = add("self-hold", function.id.text, holds ? State::Good : State::Fail,
                         function.name + (holds ? " holds without power" : " runs back without power"));
        at(v);
        v.basis = Basis::Starting;
        v.detail = holds ? "its worm or screw cannot be driven from behind (starting value of its friction)"
                         : "nothing holds it" + positionName(**lets) + ": put a worm on the way to it" +
                               ((*lets)->selector.empty() ? "" : ", behind the clutch");
    }

    /// How far it may go: to the end of its rack, and as far as its joint is free.
    template <class At> void addEnds(const model::DriveFunction& function, const FunctionState& state, At at) {
        if (function.travel == 0) return;
        const auto& rotor = ivrant::at(m_drive.net.rotors, state.rotor);
        if (rotor.kind == drive::Rotor::Kind::Rack) addRackEnd(function, rotor, at);
        const int j = state.joint.empty() ? -1 : m_facts.project->findJoint(state.joint);
        if (j < 0) return;
        for (const auto& range : m_facts.present.ranges) {
            if (range.joint != j || range.freedom != 0 || range.endless) continue;
            const double from = std::min(function.fromDeg, function.fromDeg + function.travel),
                         to = std::max(function.fromDeg, function.fromDeg + function.travel);
            const bool within = from >= range.free.low - kAngleSlackDeg && to <= range.free.high + kAngleSlackDeg;
            Verdict& v =
                add("drive-range", function.id.text, within ? State::Good : State::Fail,
                    function.name + (within ? " stays within its joint's range" : " drives its joint into a stop"));
            at(v);
            v.place.joint = state.joint;
            v.detail = "goes from " + formatAngle(from) + " to " + formatAngle(to) + ", free from " +
                       formatAngle(range.free.low) + " to " + formatAngle(range.free.high);
        }
    }
    template <class At> void addRackEnd(const model::DriveFunction& function, const drive::Rotor& rotor, At at) {
        const int own = m_net.findRing(rotor.id);
        const auto& rack = gear(own);
        std::optional<double> room; // mm that way before the last tooth has passed the first wheel that lets go
        for (const auto& relation : m_net.relations) {
            if (relation.kind != drive::RelationKind::RackMesh) continue;
            const bool first = relation.ids[0] == rotor.id;
            if (!first && relation.ids[1] != rotor.id) continue;
            const auto& wheel = gear(m_net.findRing(relation.ids[first ? 1 : 0]));
            const double along = (wheel.centre - rack.centre).dot(rack.axis);
            const double left = function.travel > 0 ? along + rack.halfWidthMm : rack.halfWidthMm - along;
            room = std::min(room.value_or(left), left);
        }
        if (!room) return;
        const double travel = std::abs(function.travel);
        Verdict& v = add("rack-end", function.id.text, travel <= *room + 1e-9 ? State::Good : State::Fail,
                         function.name + (travel <= *room + 1e-9 ? " stays on its rack" : " runs off its rack"));
        at(v);
        v.value = travel;
        v.limit = *room;
        v.unit = "mm";
        v.detail = formatNumber(travel, 1) + " mm of travel, " + formatNumber(*room, 1) + " mm of rack that way";
    }

    template <class At>
    void addWork(const model::DriveFunction& function, std::size_t f, const PositionState& position, At at) {
        const FunctionState& state = position.functions[f];
        const std::string id = function.id.text;
        const auto& share = state.motors.front();
        if (!share.known) {
            Verdict& v = add("motor-unknown", id, State::Thin, "Nothing is known about the motor of " + function.name);
            at(v);
            v.detail = "'" + ivrant::at(m_drive.motors, share.motor).motor.line + "' has no line";
            return;
        }
        if (state.margin) {
            Verdict& v = add("motor-pull", id, State::Good, "");
            at(v);
            compare(v, share.point.torqueNmm, share.point.stallNmm, "N·mm", *state.margin, Basis::Starting);
            v.text = share.point.stalls ? "The motor stalls on " + function.name : "The motor pulls " + function.name;
            v.detail =
                (share.point.stalls ? "asks " + formatNumber(share.point.stallNmm / std::max(*state.margin, 1e-9), 1)
                                    : "asks " + formatNumber(share.point.torqueNmm, 1)) +
                " of " + formatNumber(share.point.stallNmm, 1) + " N·mm at stall (" + motorBasis(share) +
                "), hardest at " + formatNumber(state.hardest.at, 0) + (state.straight ? " mm" : "°") +
                positionName(position);
        }
        if (state.straight && ivrant::at(m_drive.net.rotors, state.rotor).kind == drive::Rotor::Kind::Screw &&
            function.travel != 0) {
            const double stroke = drive::getActuatorStrokeMm(gear(m_net.findRing(function.gear.text)).teeth),
                         travel = std::abs(function.travel);
            Verdict& v = add("stroke", id, State::Good, "");
            at(v);
            compare(v, travel, stroke, "mm", stroke / travel, Basis::Starting);
            if (stroke >= travel) v.state = State::Good; // it ends where it ends
            v.text = function.name + (stroke < travel ? " goes further than its screw" : " stays within its screw");
            v.detail = formatNumber(travel, 1) + " mm of " + formatNumber(stroke, 0) + " mm of stroke (starting value)";
        }
        addTimes(function, f, at);
        addStrain(function, state, at);
    }
    /// What is asked of its time and speed counts in every position in which a motor moves it.
    template <class At> void addTimes(const model::DriveFunction& function, std::size_t f, At at) {
        const PositionState *slowest = nullptr, *weakest = nullptr;
        const auto time = [&](const PositionState& p) { return p.functions[f].travelS.value_or(1e300); };
        for (const PositionState* p : m_states) {
            const FunctionState& state = p->functions[f];
            if (state.motors.empty() || state.loose) continue;
            if (!slowest || time(*p) > time(*slowest)) slowest = p;
            if (!weakest || state.speed < weakest->functions[f].speed) weakest = p;
        }
        if (function.withinS && slowest) {
            const auto& travelS = slowest->functions[f].travelS;
            Verdict& v =
                add("travel-time", function.id.text, State::Fail, function.name + " does not finish its travel");
            at(v);
            if (travelS) {
                compare(v, *travelS, *function.withinS, "s", *function.withinS / *travelS, Basis::Starting);
                v.text = function.name + (v.state == State::Fail ? " takes too long" : " is in time");
                v.detail = "takes " + formatNumber(*travelS, 1) + " s" + positionName(*slowest) + ", asked " +
                           formatNumber(*function.withinS, 1) + " s";
            } else {
                v.detail = function.travel == 0 ? "it has no travel: say how far it goes"
                                                : "the motor stalls on the way" + positionName(*slowest);
            }
        }
        if (function.wantedRpm && weakest) {
            const FunctionState& state = weakest->functions[f];
            const std::string unit = state.straight ? "mm/s" : "rpm";
            Verdict& v = add("speed", function.id.text, State::Good, "");
            at(v);
            compare(v, state.speed, *function.wantedRpm, unit, state.speed / *function.wantedRpm, Basis::Starting);
            v.text = function.name + (v.state == State::Fail ? " turns too slowly" : " is fast enough");
            v.detail = formatNumber(state.speed, 1) + " " + unit + " where it is hardest" + positionName(*weakest) +
                       ", asked " + formatNumber(*function.wantedRpm, 1);
        }
    }
    [[nodiscard]] std::string motorBasis(const drive::MotorShare& share) const {
        const auto& line = *ivrant::at(m_drive.motors, share.motor).line;
        return line.measured ? "motor measured, losses starting values" : "starting values";
    }
    template <class At> void addStrain(const model::DriveFunction& function, const FunctionState& state, At at) {
        if (state.mostTwistNmm > 0) {
            Verdict& v = add("axle-twist", function.id.text, State::Good, "");
            at(v);
            compare(v, state.mostTwistNmm, drive::kAxleTwistNmm, "N·mm", drive::kAxleTwistNmm / state.mostTwistNmm,
                    Basis::Starting);
            v.text = v.state == State::Fail ? "An axle twists in " + function.name : "Axles hold in " + function.name;
            v.detail = state.mostTwistAt + " carries " + formatNumber(state.mostTwistNmm, 1) + " of " +
                       formatNumber(drive::kAxleTwistNmm, 0) + " N·mm (starting value)";
        }
        if (state.mostToothN > 0) {
            Verdict& v = add("tooth-force", function.id.text, State::Good, "");
            at(v);
            compare(v, state.mostToothN, drive::kToothForceN, "N", drive::kToothForceN / state.mostToothN,
                    Basis::Starting);
            v.text = v.state == State::Fail ? "Teeth jump in " + function.name : "Teeth hold in " + function.name;
            v.detail = state.mostToothAt + ": " + formatNumber(state.mostToothN, 1) + " of " +
                       formatNumber(drive::kToothForceN, 0) + " N (starting value)";
        }
    }

    std::vector<const PositionState*> m_states; ///< positions of selectors and combinations
};

} // namespace

void judgeFunctions(const study::Facts& facts, VerdictList& list) { FunctionCheck(facts, list).run(); }

} // namespace ivrant::verdict
