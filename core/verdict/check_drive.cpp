#include "core/verdict/check_drive.h"

#include <algorithm>
#include <cmath>
#include <map>
#include <set>

#include "core/base/units.h"
#include "core/bonds/board_overlaps.h"
#include "core/drive/strand_turn.h"
#include "core/drive/travel_finder.h"
#include "core/model/board_parts.h"
#include "core/parts/family.h"

namespace ivrant::verdict {
namespace {

using base::formatNumber;
using drive::FunctionState;
using drive::PositionState;

constexpr double kMostOverhangMm = 16; ///< starting value: further out a shaft bends and wheels skip
constexpr double kMostSlackMm = 8;     ///< starting value: one link

class DriveCollector {
public:
    DriveCollector(const Report& report, std::vector<Verdict>& verdicts) : m_report(report), m_drive(*report.drive), m_net(m_drive.net), m_verdicts(verdicts) {}

    void run() {
        for (const auto& fault : m_net.faults) addFault(fault);
        addMeshes();
        for (const auto& clash : m_net.clashes) addClash(clash);
        for (const auto& overlap : bonds::calcBoardOverlaps(m_report.present.placed, m_report.bonds)) addOverlap(overlap);
        for (std::size_t s = 0; s < m_net.supports.size(); ++s) addSupport(s);
        for (const auto& off : m_net.offAxis) addOffAxis(off);
        addWires();
        for (std::size_t b = 0; b < m_report.project->boards.size(); ++b)
            for (const model::Strand& strand : boardOf(static_cast<int>(b)).strands) addStrand(boardOf(static_cast<int>(b)), strand);
        addLoops();
        addLocks();
        addFights();
        for (std::size_t f = 0; f < m_drive.positions.front().functions.size(); ++f) addFunction(f);
        addTogether();
        addMissing();
        for (const std::string& note : m_net.notes) add("not-counted", std::to_string(m_notes++), State::Thin, note);
    }

private:
    Verdict& add(const std::string& check, const std::string& idRest, State state, const std::string& text) {
        Verdict v;
        v.check = check;
        v.id = check + "/" + idRest;
        v.station = Station::Drive;
        v.state = state;
        v.text = text;
        m_verdicts.push_back(std::move(v));
        return m_verdicts.back();
    }
    [[nodiscard]] const model::Board& boardOf(int board) const { return *m_report.project->boards[static_cast<std::size_t>(board)]; }
    [[nodiscard]] const drive::NetGear& gear(int index) const { return m_net.gears[static_cast<std::size_t>(index)]; }
    [[nodiscard]] std::string nameOf(const drive::NetGear& g) const {
        const int shaft = g.gear->kind == model::GearKind::Rack ? -1 : m_net.findThing(g.gear->shaft.text);
        return drive::describeGear(*g.gear, shaft < 0 ? nullptr : &m_net.things[static_cast<std::size_t>(shaft)]);
    }
    void compare(Verdict& v, double value, double limit, const std::string& unit, double margin, Basis basis) const {
        v.value = value;
        v.limit = limit;
        v.unit = unit;
        v.margin = margin;
        v.state = getStateOfMargin(margin);
        v.basis = basis;
    }

    void addFault(const drive::MeshFault& fault) {
        const auto &a = gear(fault.gearA), &b = gear(fault.gearB);
        const bool binds = fault.fit == drive::Fit::Binds;
        Verdict& v = add("mesh", a.gear->id.text + "/" + b.gear->id.text, State::Fail,
                         std::to_string(a.gear->teeth) + " and " + std::to_string(b.gear->teeth) + (binds ? " bind" : " skip under load"));
        v.place.board = boardOf(a.board).id;
        v.place.things = {a.gear->id.text, b.gear->id.text};
        v.value = fault.errorMm;
        v.limit = binds ? drive::kTightestMm : drive::kWidestMm;
        v.unit = "mm";
        v.detail = nameOf(a) + " and " + nameOf(b) + ": " + formatNumber(std::abs(fault.errorMm), 2) + (binds ? " mm too close" : " mm too far apart");
    }
    /// One good verdict for all that mesh.
    void addMeshes() {
        double worst = 0;
        int count = 0;
        for (std::size_t r = 0; r < m_net.relations.size(); ++r) {
            const auto& relation = m_net.relations[r];
            const bool mesh =
                relation.kind == drive::RelationKind::Mesh || relation.kind == drive::RelationKind::Worm || relation.kind == drive::RelationKind::RackMesh;
            if (!mesh || drive::judgeFit(relation.errorMm) != drive::Fit::Meshes) continue;
            ++count;
            if (std::abs(relation.errorMm) > std::abs(worst)) worst = relation.errorMm;
        }
        if (count == 0) return;
        Verdict& v = add("meshes", "all", State::Good, count == 1 ? "One pair meshes as it should" : std::to_string(count) + " pairs mesh as they should");
        v.value = worst;
        v.unit = "mm";
        v.detail = worst == 0 ? "all exactly at their distance" : "the furthest off by " + formatNumber(worst, 2) + " mm";
    }
    void addClash(const drive::Clash& clash) {
        Verdict& v = add("drive-clash", clash.idA + "/" + clash.idB, State::Fail,
                         clash.depthMm > 0 ? "Something is in the way on the board" : "A coupling bends too far");
        v.place.things = {clash.idA, clash.idB};
        v.place.board = findBoardOf(clash.idA);
        v.value = clash.depthMm;
        v.limit = geometry::kContactToleranceMm;
        v.unit = "mm";
        v.detail = clash.text + (clash.depthMm > 0 ? ", " + formatNumber(clash.depthMm, 2) + " mm deep" : "");
    }
    void addOverlap(const bonds::BoardOverlap& overlap) {
        const model::Part* brick = overlap.spot.section < 0 ? nullptr : &model::getPart(*m_report.project, overlap.spot);
        const std::string other = brick ? brick->id.text : overlap.other;
        const model::Board& board = boardOf(overlap.board);
        Verdict& v = add("board-brick", overlap.id + "/" + other, State::Fail, (brick ? "A brick is in the way of " : "A motor has no room on ") + board.name);
        v.place.board = board.id;
        v.place.things = {overlap.id};
        if (brick)
            v.place.parts = {brick->id};
        else
            v.place.things.push_back(other);
        v.value = overlap.depthMm;
        v.limit = geometry::kContactToleranceMm;
        v.unit = "mm";
        v.detail = overlap.shape + " (" + overlap.id + ") and " + (brick ? parts::getListName(*brick->shape) + " (" + other + ")" : other) + ", " +
                   formatNumber(overlap.depthMm, 2) + " mm deep";
    }
    [[nodiscard]] std::optional<model::BoardId> findBoardOf(const std::string& id) const {
        const int thing = m_net.findThing(id);
        if (thing < 0) return std::nullopt;
        return boardOf(m_net.things[static_cast<std::size_t>(thing)].board).id;
    }

    void addSupport(std::size_t s) {
        const auto& support = m_net.supports[s];
        const auto& thing = m_net.things[s]; // shafts come first
        const auto at = [&](Verdict& v) {
            v.place.board = boardOf(thing.board).id;
            v.place.things = {support.shaft};
        };
        if (support.shortMm > 0) {
            Verdict& v = add("shaft-short", support.shaft, State::Fail, thing.name + " is too short");
            at(v);
            v.value = support.shortMm;
            v.unit = "mm";
            v.detail = "a wheel stands " + formatNumber(support.shortMm, 1) + " mm over its end";
        }
        if (support.holesMm.size() < 2) {
            Verdict& v = add("shaft-carried", support.shaft, State::Fail,
                             thing.name + (support.holesMm.empty() ? " is carried by nothing" : " is carried by one hole only"));
            at(v);
            v.value = static_cast<double>(support.holesMm.size());
            v.limit = 2;
            v.unit = "holes";
            v.detail = "a shaft runs true in two holes: add walls to the board, or bearings to the shaft";
        } else if (support.overhangMm > kMostOverhangMm) {
            Verdict& v = add("shaft-overhang", support.shaft, State::Thin, "A wheel stands far out on " + thing.name);
            at(v);
            v.value = support.overhangMm;
            v.limit = kMostOverhangMm;
            v.unit = "mm";
            v.basis = Basis::Starting;
            v.detail = formatNumber(support.overhangMm, 1) + " mm beyond its last hole, more than " + formatNumber(kMostOverhangMm, 0) + " (starting value)";
        }
    }

    void addOffAxis(const drive::OffAxis& off) {
        Verdict& v = add("crossing", off.idA + "/" + off.idB, State::Fail, "A wheel off the axis limits the turn");
        v.place.things = {off.idA, off.idB};
        v.place.board = findBoardOf(off.idA);
        v.value = off.offMm;
        v.limit = drive::kWidestMm;
        v.unit = "mm";
        v.detail = nameOf(gear(m_net.findGear(off.idA))) + " stands still " + formatNumber(off.offMm, 1) + " mm off the axis, " +
                   nameOf(gear(m_net.findGear(off.idB))) + " goes round: they part as soon as it turns";
    }

    /// A motor that goes round with a turntable has its wire twisted by every turn of it.
    void addWires() {
        for (const auto& motor : m_drive.motors) {
            const int carrier = m_net.things[static_cast<std::size_t>(motor.thing)].carrier;
            if (carrier < 0 || (motor.line && motor.line->byHand)) continue;
            const auto& present = m_drive.positions[static_cast<std::size_t>(m_drive.present)];
            for (const FunctionState& turning : present.functions) {
                if (turning.thing != carrier) continue;
                const double travel = std::abs(turning.function->travel);
                Verdict& v = add("wire", motor.motor->id.text + "/" + turning.function->id.text, State::Fail, "");
                v.place.board = findBoardOf(motor.motor->shaft.text);
                v.place.things = {motor.motor->id.text, turning.function->id.text};
                v.basis = Basis::Starting;
                if (travel > 0)
                    compare(v, travel, drive::kMostTwistDeg, "deg", drive::kMostTwistDeg / travel, Basis::Starting);
                else
                    v.limit = drive::kMostTwistDeg;
                v.text = "The wire of " + motor.motor->name + (v.state == State::Fail ? " limits " : " follows ") + turning.function->name;
                v.detail = (travel > 0 ? "it turns " + formatNumber(travel, 0) + "°" : std::string("it has no end of its travel")) +
                           "; a wire led through the middle stands " + formatNumber(drive::kMostTwistDeg, 0) + "° of twist (starting value)";
            }
        }
    }

    /// A string or wire over a part that a function turns, or that nothing turns yet.
    void addStrand(const model::Board& board, const model::Strand& strand) {
        const double most = drive::calcStrandTurnDeg(strand);
        const int over = m_net.findThing(strand.over.text);
        const std::string name = strand.name.empty() ? (strand.wire ? "The wire" : "The string") : strand.name;
        const std::string reach = "tight at " + formatNumber(most, 0) + "° either way, " + formatNumber(base::umToMm(strand.offUm), 1) +
                                  " mm off the axis with " + formatNumber(base::umToMm(strand.slackUm), 1) + " mm of slack";
        bool turned = false;
        for (const FunctionState& turning : m_drive.positions.front().functions) {
            if (turning.thing != over) continue;
            turned = true;
            Verdict& v = add("strand", strand.id.text + "/" + turning.function->id.text, State::Fail, "");
            v.place.board = board.id;
            v.place.things = {strand.id.text, turning.function->id.text};
            const Basis basis = strand.offUm > 0 ? Basis::Geometry : Basis::Starting;
            if (const double travel = std::abs(turning.function->travel); travel > 0)
                compare(v, travel, most, "deg", most / travel, basis);
            else
                v.limit = most;
            v.text = name + (v.state == State::Fail ? " limits " : " follows ") + turning.function->name;
            v.detail = strand.offUm > 0 ? reach : "through the middle: " + formatNumber(most, 0) + "° of twist (starting value)";
        }
        if (turned) return;
        Verdict& v = add("strand", strand.id.text, State::Good, name + " may turn");
        v.place.board = board.id;
        v.place.things = {strand.id.text, strand.over.text};
        v.value = most;
        v.unit = "deg";
        v.detail = reach + "; no function turns it yet";
    }

    void addLoops() {
        for (const auto& board : m_report.project->boards)
            for (const model::Loop& loop : board->loops) {
                if (loop.gears.size() != 2) continue;
                const auto &a = gear(m_net.findGear(loop.gears[0].text)), &b = gear(m_net.findGear(loop.gears[1].text));
                const Vec offset = b.centre - a.centre;
                const double distance = (offset - offset.dot(a.axis) * a.axis).norm();
                const std::string name = loop.belt ? "belt" : "chain";
                Verdict& v = add("loop", loop.id.text, State::Good, "The " + name + " closes");
                v.place.board = board->id;
                v.place.things = {loop.id.text, loop.gears[0].text, loop.gears[1].text};
                v.unit = "mm";
                const auto length = model::calcLoopLength(a.pitchRadiusMm, b.pitchRadiusMm, distance, loop.crossed);
                if (!length) {
                    v.state = State::Fail;
                    v.text = "The " + name + " does not go round its wheels";
                    v.detail = length.error().message;
                } else if (loop.belt) {
                    addBeltFit(v, *length, model::calcBelt(*length, loop.links));
                } else {
                    addChainFit(v, loop, *model::calcChain(a.gear->teeth, b.gear->teeth, distance, loop.links));
                }
            }
    }
    static void addBeltFit(Verdict& v, double length, const model::BeltFit& fit) {
        v.value = fit.stretch;
        v.unit = "times";
        v.basis = Basis::Starting;
        v.detail = "belt " + std::to_string(fit.lengthMm) + " on " + formatNumber(length, 1) + " mm along the pulleys: stretched " +
                   formatNumber(fit.stretch, 2) + " times, " + formatNumber(model::kLeastStretch, 2) + " to " + formatNumber(model::kMostStretch, 1) +
                   " runs (starting values)";
        if (fit.stretch > model::kMostStretch) {
            v.state = State::Fail;
            v.limit = model::kMostStretch;
            v.text = "The belt is too short";
        } else if (fit.stretch < model::kLeastStretch) {
            v.state = fit.stretch < 1 ? State::Fail : State::Thin;
            v.limit = model::kLeastStretch;
            v.text = fit.stretch < 1 ? "The belt hangs loose" : "The belt slips";
        }
    }
    static void addChainFit(Verdict& v, const model::Loop& loop, const model::ChainFit& fit) {
        v.value = fit.slackMm;
        v.limit = kMostSlackMm;
        v.detail = std::to_string(fit.links) + " links, " + formatNumber(std::abs(fit.slackMm), 1) + (fit.slackMm < 0 ? " mm too short" : " mm of slack");
        if (fit.slackMm < 0) {
            v.state = State::Fail;
            v.text = "The chain is too short";
        } else if (fit.slackMm > kMostSlackMm) {
            v.state = loop.links > 0 ? State::Thin : State::Good;
            v.text = "The chain hangs loose";
        }
    }

    [[nodiscard]] static std::string positionName(const PositionState& position) {
        return position.selector.empty() ? "" : " with " + position.selector + " at " + position.name;
    }

    void addLocks() {
        std::set<std::vector<std::string>> told;
        for (const PositionState& position : m_drive.positions) {
            if (position.lock.empty() || !told.insert(position.lock).second) continue;
            Verdict& v = add("locked", std::to_string(told.size()), State::Fail, "Nothing can turn" + positionName(position));
            v.place.things = position.lockIds;
            if (!position.lockIds.empty()) v.place.board = findBoardOf(position.lockIds.front());
            v.value = static_cast<double>(position.lock.size());
            v.unit = "contradicting";
            for (const std::string& sentence : position.lock) v.detail += (v.detail.empty() ? "" : "; ") + sentence;
            v.detail += position.lock.size() == 1 ? "" : ": these contradict each other, without any one of them it would turn";
        }
    }
    void addFights() {
        for (const PositionState& position : m_drive.positions) {
            for (int m : position.fighting) {
                const auto& motor = m_drive.motors[static_cast<std::size_t>(m)];
                Verdict& v =
                    add("fight", motor.motor->id.text + "/" + std::to_string(position.index), State::Fail, "Two motors fight" + positionName(position));
                v.place.things = {motor.motor->id.text, motor.motor->shaft.text};
                v.place.board = findBoardOf(motor.motor->shaft.text);
                v.detail = motor.motor->name + " turns a shaft whose speed another motor already gives; a differential between them adds their speeds";
            }
        }
    }

    /// One motor on two functions at once: meant or not, worth knowing.
    void addTogether() {
        for (const PositionState& position : m_drive.positions) {
            std::map<int, std::vector<std::string>> functions;
            for (const FunctionState& f : position.functions)
                for (const auto& share : f.motors) functions[share.motor].push_back(f.function->name);
            for (const auto& [motor, names] : functions) {
                if (names.size() < 2) continue;
                std::string list;
                for (const auto& name : names) list += (list.empty() ? "" : ", ") + name;
                Verdict& v =
                    add("together", m_drive.motors[static_cast<std::size_t>(motor)].motor->id.text + "/" + position.selector + std::to_string(position.index),
                        State::Thin, "One motor moves several functions" + positionName(position));
                v.detail = m_drive.motors[static_cast<std::size_t>(motor)].motor->name + " drives " + list + " at the same time";
            }
        }
    }

    /// What no family of parts makes cannot be bought or listed.
    void addMissing() {
        for (const auto& board : m_report.project->boards)
            for (const std::string& id : model::listBoardParts(*board).missing) {
                const int g = m_net.findGear(id), thing = m_net.findThing(id);
                Verdict& v = add("no-part", id, State::Thin, "There is no such part on " + board->name);
                v.place.board = board->id;
                v.place.things = {id};
                v.detail = g >= 0       ? nameOf(gear(g)) + ": no wheel of ours is like that"
                           : thing >= 0 ? m_net.things[static_cast<std::size_t>(thing)].name + ": the longest axle is 16 pitches"
                                        : id + ": no motor of ours is called that";
                v.detail += "; it is missing in the parts list and the weight";
            }
    }

    void addFunction(std::size_t f) {
        const PositionState* worst = nullptr;
        bool reached = false;
        const auto asked = [](const FunctionState& s) { return s.margin.value_or(1e9); };
        for (const PositionState& position : m_drive.positions) {
            const FunctionState& state = position.functions[f];
            if (state.motors.empty() || state.loose) continue;
            reached = true;
            if (!worst || asked(state) < asked(worst->functions[f])) worst = &position;
        }
        const model::DriveFunction& function = *m_drive.positions.front().functions[f].function;
        const auto at = [&](Verdict& v) {
            v.place.board = boardOf(m_drive.positions.front().functions[f].board).id;
            v.place.things = {function.id.text, function.shaft.text + function.gear.text};
        };
        if (!m_drive.motors.empty()) {
            Verdict& v = add("reached", function.id.text, reached ? State::Good : State::Fail, function.name + (reached ? " is driven" : " is never driven"));
            at(v);
            v.detail = reached ? "by " + m_drive.motors[static_cast<std::size_t>(worst->functions[f].motors.front().motor)].motor->name + ", " +
                                     drive::formatRatio(worst->functions[f].motors.front().ratio) + positionName(*worst)
                               : "no motor turns it in any position of the selectors";
        }
        if (!worst) return;
        addWork(function, worst->functions[f], *worst, at);
    }

    template <class At> void addWork(const model::DriveFunction& function, const FunctionState& state, const PositionState& position, At at) {
        const std::string id = function.id.text, speedUnit = state.straight ? "mm/s" : "rpm";
        const auto& share = state.motors.front();
        if (!share.known) {
            Verdict& v = add("motor-unknown", id, State::Thin, "Nothing is known about the motor of " + function.name);
            at(v);
            v.detail = "'" + m_drive.motors[static_cast<std::size_t>(share.motor)].motor->line + "' has no line";
            return;
        }
        if (state.margin) {
            Verdict& v = add("motor-pull", id, State::Good, "");
            at(v);
            compare(v, share.point.torqueNmm, share.point.stallNmm, "N·mm", *state.margin, Basis::Starting);
            v.text = share.point.stalls ? "The motor stalls on " + function.name : "The motor pulls " + function.name;
            v.detail = (share.point.stalls ? "asks " + formatNumber(share.point.stallNmm / std::max(*state.margin, 1e-9), 1)
                                           : "asks " + formatNumber(share.point.torqueNmm, 1)) +
                       " of " + formatNumber(share.point.stallNmm, 1) + " N·mm at stall (" + motorBasis(share) + "), hardest at " +
                       formatNumber(state.hardest.at, 0) + (state.straight ? " mm" : "°") + positionName(position);
        }
        if (state.straight && m_drive.net.things[static_cast<std::size_t>(state.thing)].kind == drive::NetThing::Kind::Screw && function.travel != 0) {
            const double stroke = drive::getActuatorStrokeMm(gear(m_net.findGear(function.gear.text)).gear->teeth), travel = std::abs(function.travel);
            Verdict& v = add("stroke", id, State::Good, "");
            at(v);
            compare(v, travel, stroke, "mm", stroke / travel, Basis::Starting);
            if (stroke >= travel) v.state = State::Good; // it ends where it ends
            v.text = function.name + (stroke < travel ? " goes further than its screw" : " stays within its screw");
            v.detail = formatNumber(travel, 1) + " mm of " + formatNumber(stroke, 0) + " mm of stroke (starting value)";
        }
        if (function.withinS) {
            Verdict& v = add("travel-time", id, State::Fail, function.name + " does not finish its travel");
            at(v);
            if (state.travelS) {
                compare(v, *state.travelS, *function.withinS, "s", *function.withinS / *state.travelS, Basis::Starting);
                v.text = function.name + (v.state == State::Fail ? " takes too long" : " is in time");
                v.detail = "takes " + formatNumber(*state.travelS, 1) + " s, asked " + formatNumber(*function.withinS, 1) + " s";
            } else {
                v.detail = function.travel == 0 ? "it has no travel: say how far it goes" : "the motor stalls on the way";
            }
        }
        if (function.wantedRpm) {
            Verdict& v = add("speed", id, State::Good, "");
            at(v);
            compare(v, state.speed, *function.wantedRpm, speedUnit, state.speed / *function.wantedRpm, Basis::Starting);
            v.text = function.name + (v.state == State::Fail ? " turns too slowly" : " is fast enough");
            v.detail = formatNumber(state.speed, 1) + " " + speedUnit + " where it is hardest, asked " + formatNumber(*function.wantedRpm, 1);
        }
        if (function.mustHold) {
            Verdict& v = add("self-hold", id, state.holds ? State::Good : State::Fail,
                             function.name + (state.holds ? " holds without power" : " runs back without power"));
            at(v);
            v.basis = Basis::Starting;
            v.detail = state.holds ? "its worm or screw cannot be driven from behind (starting value of its friction)" : "put a worm on the way to it";
        }
        addStrain(function, state, at);
    }
    [[nodiscard]] std::string motorBasis(const drive::MotorShare& share) const {
        const auto& line = *m_drive.motors[static_cast<std::size_t>(share.motor)].line;
        return line.measured ? "motor measured, losses starting values" : "starting values";
    }
    template <class At> void addStrain(const model::DriveFunction& function, const FunctionState& state, At at) {
        if (state.mostTwistNmm > 0) {
            Verdict& v = add("axle-twist", function.id.text, State::Good, "");
            at(v);
            compare(v, state.mostTwistNmm, drive::kAxleTwistNmm, "N·mm", drive::kAxleTwistNmm / state.mostTwistNmm, Basis::Starting);
            v.text = v.state == State::Fail ? "An axle twists in " + function.name : "Axles hold in " + function.name;
            v.detail = state.mostTwistAt + " carries " + formatNumber(state.mostTwistNmm, 1) + " of " + formatNumber(drive::kAxleTwistNmm, 0) +
                       " N·mm (starting value)";
        }
        if (state.mostToothN > 0) {
            Verdict& v = add("tooth-force", function.id.text, State::Good, "");
            at(v);
            compare(v, state.mostToothN, drive::kToothForceN, "N", drive::kToothForceN / state.mostToothN, Basis::Starting);
            v.text = v.state == State::Fail ? "Teeth jump in " + function.name : "Teeth hold in " + function.name;
            v.detail = state.mostToothAt + ": " + formatNumber(state.mostToothN, 1) + " of " + formatNumber(drive::kToothForceN, 0) + " N (starting value)";
        }
    }

    using Vec = geometry::Vec3;
    const Report& m_report;
    const drive::DriveReport& m_drive;
    const drive::BoardNet& m_net;
    std::vector<Verdict>& m_verdicts;
    int m_notes = 0;
};

} // namespace

void addDriveVerdicts(const Report& report, std::vector<Verdict>& verdicts) {
    if (report.drive) DriveCollector(report, verdicts).run();
}

} // namespace ivrant::verdict
