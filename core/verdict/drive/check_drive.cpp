// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/verdict/drive/drive_verdicts.h"

#include <algorithm>
#include <cmath>
#include <map>
#include <set>

#include "core/base/at.h"
#include "core/base/units.h"
#include "core/bonds/board_overlaps.h"
#include "core/drive/strand_turn.h"
#include "core/drive/travel_finder.h"
#include "core/model/board_parts.h"
#include "core/parts/family.h"
#include "core/study/motor_seat.h"
#include "core/study/pose_meshes.h"
#include "core/study/shaft_slip.h"

namespace ivrant::verdict {
namespace {

using base::formatNumber;
using drive::FunctionState;

constexpr double kMostOverhangMm = 16; ///< starting value: further out a shaft bends and wheels skip
constexpr double kDownwards = 0.5;     ///< cosine: steeper than this a shaft falls by itself
constexpr double kMostSlackMm = 8;     ///< starting value: one link

class DriveCheck : DriveVerdicts {
    using Vec = geometry::Vec3;

public:
    DriveCheck(const study::Facts& facts, VerdictList& list) : DriveVerdicts(facts, list) {}

    void run() {
        for (const auto& fault : m_net.faults) addFault(fault);
        addMeshes();
        for (const auto& mesh : study::findPoseMeshes(m_facts)) addPoseMesh(mesh);
        for (const auto& clash : m_net.clashes) addClash(clash);
        for (const auto& overlap : bonds::calcBoardOverlaps(m_facts.present.placed, m_facts.bonds)) addOverlap(overlap);
        for (std::size_t s = 0; s < m_net.supports.size(); ++s) addSupport(s);
        addSlips();
        addMotors();
        for (const auto& off : m_net.offAxis) addOffAxis(off);
        addWires();
        for (std::size_t b = 0; b < m_facts.project->boards.size(); ++b)
            for (const model::Strand& strand : boardOf(static_cast<int>(b)).strands)
                addStrand(boardOf(static_cast<int>(b)), strand);
        addLoops();
        addMissing();
        for (const std::string& note : m_net.notes) add("not-counted", std::to_string(m_notes++), State::Thin, note);
    }

private:
    void addFault(const drive::MeshFault& fault) {
        const auto &a = gear(fault.gearA), &b = gear(fault.gearB);
        static const std::map<drive::Fit, const char*> kHow{{drive::Fit::Binds, " bind"},
                                                            {drive::Fit::Skips, " skip under load"},
                                                            {drive::Fit::Aside, " miss each other"}};
        const bool binds = fault.fit == drive::Fit::Binds, aside = fault.fit == drive::Fit::Aside;
        Verdict& v = add("mesh", a.id + "/" + b.id, State::Fail,
                         std::to_string(a.teeth) + " and " + std::to_string(b.teeth) + kHow.at(fault.fit));
        locate(v, a.id);
        locate(v, b.id);
        v.place.things = {a.id, b.id};
        v.value = fault.errorMm;
        v.limit = binds ? drive::kTightestMm : drive::kWidestMm;
        v.unit = "mm";
        if (aside) {
            v.limit = 0;
            v.detail = nameOf(a) + " and " + nameOf(b) + ": " + formatNumber(fault.errorMm, 2) +
                       (std::abs(a.axis.dot(b.axis)) > 0.9
                            ? " mm more of their faces have to meet, at least half of the narrower one"
                            : " mm is what their axes miss each other by");
            return;
        }
        v.detail = nameOf(a) + " and " + nameOf(b) + ": " + formatNumber(std::abs(fault.errorMm), 2) +
                   (binds ? " mm too close" : " mm too far apart");
    }
    /// What teeth do in other poses than the present values.
    void addPoseMesh(const study::PoseMesh& mesh) {
        using How = study::PoseMesh::How;
        std::string where;
        for (const std::string& pose : mesh.poses) where += (where.empty() ? "" : ", ") + pose;
        static const std::map<How, std::pair<State, const char*>> kWords{
            {How::Binds, {State::Fail, "bind in other poses"}},
            {How::Skips, {State::Fail, "skip in other poses"}},
            {How::Aside, {State::Fail, "miss each other in other poses"}},
            {How::Parts, {State::Thin, "part in other poses"}},
            {How::Meets, {State::Thin, "mesh in other poses only"}},
            {How::Clash, {State::Fail, "run into each other in other poses"}}};
        const auto& [state, words] = kWords.at(mesh.how);
        const auto name = [&](const std::string& id) {
            if (const int ring = m_net.findRing(id); ring >= 0) return nameOf(gear(ring));
            const int rotor = m_net.findRotor(id);
            return rotor < 0 ? id : ivrant::at(m_net.rotors, rotor).name;
        };
        Verdict& v = add("mesh-pose", mesh.idA + "/" + mesh.idB + "/" + std::to_string(static_cast<int>(mesh.how)),
                         state, name(mesh.idA) + " and " + name(mesh.idB) + " " + words);
        locate(v, mesh.idA);
        locate(v, mesh.idB);
        v.place.things = {mesh.idA, mesh.idB};
        v.value = mesh.errorMm;
        v.unit = "mm";
        v.detail =
            "in " + where +
            (mesh.how == How::Parts || mesh.how == How::Meets ? ""
                                                              : ": " + formatNumber(std::abs(mesh.errorMm), 2) + " mm" +
                                                                    (mesh.how == How::Binds   ? " too close"
                                                                     : mesh.how == How::Skips ? " too far apart"
                                                                     : mesh.how == How::Clash ? " deep"
                                                                                              : " off"));
    }
    /// One good verdict for all that mesh.
    void addMeshes() {
        double worst = 0;
        int count = 0;
        for (std::size_t r = 0; r < m_net.relations.size(); ++r) {
            const auto& relation = m_net.relations[r];
            const bool mesh = relation.kind == drive::RelationKind::Mesh ||
                              relation.kind == drive::RelationKind::Worm ||
                              relation.kind == drive::RelationKind::RackMesh;
            if (!mesh || relation.fit != drive::Fit::Meshes) continue;
            ++count;
            if (std::abs(relation.errorMm) > std::abs(worst)) worst = relation.errorMm;
        }
        if (count == 0) return;
        Verdict& v =
            add("meshes", "all", State::Good,
                count == 1 ? "One pair meshes as it should" : std::to_string(count) + " pairs mesh as they should");
        v.value = worst;
        v.unit = "mm";
        v.detail =
            worst == 0 ? "all exactly at their distance" : "the furthest off by " + formatNumber(worst, 2) + " mm";
    }
    void addClash(const drive::Clash& clash) {
        Verdict& v = add("drive-clash", clash.idA + "/" + clash.idB, State::Fail,
                         clash.depthMm > 0 ? "Something is in the way on the board" : "A coupling bends too far");
        v.place.things = {clash.idA, clash.idB};
        locate(v, clash.idA);
        locate(v, clash.idB);
        v.value = clash.depthMm;
        v.limit = geometry::kContactToleranceMm;
        v.unit = "mm";
        v.detail = clash.text + (clash.depthMm > 0 ? ", " + formatNumber(clash.depthMm, 2) + " mm deep" : "");
    }
    void addOverlap(const bonds::BoardOverlap& overlap) {
        const model::Part* brick = overlap.spot.section < 0 ? nullptr : &model::getPart(*m_facts.project, overlap.spot);
        const std::string other = brick ? brick->id.text : overlap.other;
        const model::Board& board = boardOf(overlap.board);
        Verdict& v = add("board-brick", overlap.id + "/" + other, State::Fail,
                         (brick ? "A brick is in the way of " : "A motor has no room on ") + board.name);
        v.place.board = board.id;
        v.place.things = {overlap.id};
        if (brick)
            v.place.parts = {brick->id};
        else
            v.place.things.push_back(other);
        v.value = overlap.depthMm;
        v.limit = geometry::kContactToleranceMm;
        v.unit = "mm";
        v.detail = overlap.shape + " (" + overlap.id + ") and " +
                   (brick ? parts::getListName(*brick->shape) + " (" + other + ")" : other) + ", " +
                   formatNumber(overlap.depthMm, 2) + " mm deep";
    }

    void addSupport(std::size_t s) {
        const auto& support = m_net.supports[s];
        const auto& thing = ivrant::at(m_net.rotors, m_net.findRotor(support.shaft));
        const auto at = [&](Verdict& v) {
            locate(v, support.shaft);
            v.place.things = {support.shaft};
        };
        if (support.shortMm > 0) {
            Verdict& v = add("shaft-short", support.shaft, State::Fail, thing.name + " is too short");
            at(v);
            v.value = support.shortMm;
            v.unit = "mm";
            v.detail = "a wheel stands " + formatNumber(support.shortMm, 1) + " mm over its end";
        }
        if (support.holesMm.size() + (thing.board < 0 ? support.universals : 0U) < 2) {
            Verdict& v =
                add("shaft-carried", support.shaft, State::Fail,
                    thing.name + (support.holesMm.empty() ? " is carried by nothing" : " is carried by one hole only"));
            at(v);
            v.value = static_cast<double>(support.holesMm.size());
            v.limit = 2;
            v.unit = "holes";
            v.detail = thing.board < 0 ? "a shaft runs true in two round holes on its line, or in one and a coupling"
                                       : "a shaft runs true in two holes: add walls to the board, or bearings to the "
                                         "shaft";
        } else if (support.overhangMm > kMostOverhangMm) {
            Verdict& v = add("shaft-overhang", support.shaft, State::Thin, "A wheel stands far out on " + thing.name);
            at(v);
            v.value = support.overhangMm;
            v.limit = kMostOverhangMm;
            v.unit = "mm";
            v.basis = Basis::Starting;
            v.detail = formatNumber(support.overhangMm, 1) + " mm beyond its last hole, more than " +
                       formatNumber(kMostOverhangMm, 0) + " (starting value)";
        }
    }

    /// Shafts that nothing keeps in their holes; one that falls out fails, one that may work its way out is thin.
    void addSlips() {
        std::map<int, std::vector<Vec>> ways;
        for (const auto& slip : study::findShaftSlips(m_facts)) ways[slip.rotor].push_back(slip.way);
        for (const auto& [index, free] : ways) {
            const drive::Rotor& rotor = ivrant::at(m_net.rotors, index);
            const bool falls =
                std::any_of(free.begin(), free.end(), [](const Vec& way) { return way.z() < -kDownwards; });
            Verdict& v = add("shaft-slides", rotor.id, falls ? State::Fail : State::Thin,
                             rotor.name + (falls ? " falls out of its holes" : " can slide out of its holes"));
            locatePart(v, rotor.id);
            v.place.things = {rotor.id};
            for (const Vec& way : free) v.detail += (v.detail.empty() ? "" : " and ") + wayName(way);
            v.detail += ": nothing stops it within " + formatNumber(study::kMostSlipMm, 0) +
                        " mm; a bush or a wheel against a wall does, or a part before its end";
        }
    }
    static std::string wayName(const Vec& way) {
        static const char* const kNames[3][2] = {
            {"to the left", "to the right"}, {"to the front", "to the back"}, {"downwards", "upwards"}};
        int most = 0;
        for (int k = 1; k < 3; ++k)
            if (std::abs(way[k]) > std::abs(way[most])) most = k;
        return kNames[most][way[most] > 0 ? 1 : 0];
    }

    /// Motors that are parts: one good verdict for all that sit firmly.
    void addMotors() {
        using Seat = drive::PartMotor::Seat;
        int seated = 0;
        for (const drive::PartMotor& motor : m_net.motors) {
            if (motor.seat != Seat::Firm) {
                const bool own = motor.seat == Seat::OnOwn;
                Verdict& v = add("motor-seat", motor.id, State::Fail,
                                 motor.name + (own               ? " is fixed to what it turns"
                                               : motor.rotor < 0 ? " is held by nothing"
                                                                 : " hangs on its shaft"));
                locatePart(v, motor.id);
                v.place.things = {motor.id};
                v.detail = own ? "its shaft and its body are held to each other: it turns nothing"
                               : "no stud, pin or beam holds its body to the frame: it would turn itself instead of "
                                 "the shaft";
                continue;
            }
            ++seated;
            addSeatTorque(motor);
            if (motor.rotor >= 0) continue;
            Verdict& v = add("motor-idle", motor.id, State::Thin, motor.name + " turns nothing");
            locatePart(v, motor.id);
            v.place.things = {motor.id};
            v.detail = "no axle is in its output";
        }
        if (seated == 0) return;
        Verdict& v = add("motor-seat", "all", State::Good,
                         seated == 1 ? "The motor sits firmly" : std::to_string(seated) + " motors sit firmly");
        v.value = seated;
        v.unit = seated == 1 ? "motor" : "motors";
        v.detail = "by studs or pins to the frame";
    }

    /// What its bonds have to hold when it stalls.
    void addSeatTorque(const drive::PartMotor& motor) {
        const auto seat = study::calcSeatTorque(m_facts, motor);
        if (!seat) return;
        Verdict& v = add("motor-torque", motor.id, State::Fail, "");
        locatePart(v, motor.id);
        v.place.things = {motor.id};
        const double margin = seat->lambda > 0 ? 1 / seat->lambda : 1e3;
        compare(v, seat->stallNmm, seat->stallNmm * margin, "N·mm", margin, Basis::Starting);
        v.text = motor.name + (v.state == State::Fail ? " twists off its seat" : " is held against its own torque");
        v.detail = "stalling it turns its body with " + formatNumber(seat->stallNmm, 0) + " N·mm; its bonds use " +
                   formatNumber(seat->lambda * 100, 0) + " % of their strength (starting values)";
    }

    void addOffAxis(const drive::OffAxis& off) {
        Verdict& v = add("crossing", off.idA + "/" + off.idB, State::Fail, "A wheel off the axis limits the turn");
        v.place.things = {off.idA, off.idB};
        locate(v, off.idA);
        locate(v, off.idB);
        v.value = off.offMm;
        v.limit = drive::kWidestMm;
        v.unit = "mm";
        v.detail = nameOf(gear(m_net.findRing(off.idA))) + " stands still " + formatNumber(off.offMm, 1) +
                   " mm off the axis, " + nameOf(gear(m_net.findRing(off.idB))) +
                   " goes round: they part as soon as it turns";
    }

    /// A motor that goes round with a turntable has its wire twisted by every turn of it.
    void addWires() {
        for (const auto& motor : m_drive.motors) {
            const int carrier = ivrant::at(m_net.rotors, motor.rotor).carrier;
            if (carrier < 0 || (motor.line && motor.line->byHand)) continue;
            const auto& present = ivrant::at(m_drive.positions, m_drive.present);
            for (const FunctionState& turning : present.functions) {
                if (turning.rotor != carrier) continue;
                const double travel = std::abs(turning.function->travel);
                Verdict& v = add("wire", motor.motor.id.text + "/" + turning.function->id.text, State::Fail, "");
                locate(v, motor.motor.shaft.text);
                v.place.things = {motor.motor.id.text, turning.function->id.text};
                v.basis = Basis::Starting;
                if (travel > 0)
                    compare(v, travel, drive::kMostTwistDeg, "deg", drive::kMostTwistDeg / travel, Basis::Starting);
                else
                    v.limit = drive::kMostTwistDeg;
                v.text = "The wire of " + motor.motor.name + (v.state == State::Fail ? " limits " : " follows ") +
                         turning.function->name;
                v.detail = (travel > 0 ? "it turns " + formatNumber(travel, 0) + "°"
                                       : std::string("it has no end of its travel")) +
                           "; a wire led through the middle stands " + formatNumber(drive::kMostTwistDeg, 0) +
                           "° of twist (starting value)";
            }
        }
    }

    /// A string or wire over a part that a function turns, or that nothing turns yet.
    void addStrand(const model::Board& board, const model::Strand& strand) {
        const double most = drive::calcStrandTurnDeg(strand);
        const int over = m_net.findRotor(strand.over.text);
        const std::string name = strand.name.empty() ? (strand.wire ? "The wire" : "The string") : strand.name;
        const std::string reach = "tight at " + formatNumber(most, 0) + "° either way, " +
                                  formatNumber(base::umToMm(strand.offUm), 1) + " mm off the axis with " +
                                  formatNumber(base::umToMm(strand.slackUm), 1) + " mm of slack";
        bool turned = false;
        for (const FunctionState& turning : m_drive.positions.front().functions) {
            if (turning.rotor != over) continue;
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
            v.detail = strand.offUm > 0
                           ? reach
                           : "through the middle: " + formatNumber(most, 0) + "° of twist (starting value)";
        }
        if (turned) return;
        Verdict& v = add("strand", strand.id.text, State::Good, name + " may turn");
        v.place.board = board.id;
        v.place.things = {strand.id.text, strand.over.text};
        v.value = most;
        v.unit = "deg";
        v.detail = reach + "; no function turns it yet";
    }

    [[nodiscard]] bool isRefused(const model::Loop& loop) const {
        return std::any_of(m_net.clashes.begin(), m_net.clashes.end(), [&](const drive::Clash& clash) {
            for (std::size_t i = 0; clash.depthMm == 0 && i + 1 < loop.gears.size(); ++i)
                if (clash.idA == loop.gears[i].text && clash.idB == loop.gears[i + 1].text) return true;
            return false;
        });
    }
    void addLoops() {
        for (const auto& board : m_facts.project->boards)
            for (const model::Loop& loop : board->loops) {
                if (isRefused(loop)) continue; // that is told
                const std::string name = loop.belt ? "belt" : "chain";
                Verdict& v = add("loop", loop.id.text, State::Good, "The " + name + " closes");
                v.place.board = board->id;
                v.place.things = {loop.id.text};
                v.unit = "mm";
                // Seen along the first wheel's axis.
                const auto& first = gear(m_net.findRing(loop.gears[0].text));
                const Vec u = first.axis.unitOrthogonal(), w = first.axis.cross(u);
                std::vector<model::LoopWheel> wheels;
                for (const model::GearId& id : loop.gears) {
                    const auto& wheel = gear(m_net.findRing(id.text));
                    wheels.push_back({{wheel.centre.dot(u), wheel.centre.dot(w)}, wheel.pitchRadiusMm, wheel.teeth});
                    v.place.things.push_back(id.text);
                }
                const auto fail = [&](const std::string& why) {
                    v.state = State::Fail;
                    v.text = "The " + name + " does not go round its wheels";
                    v.detail = why;
                };
                if (loop.belt) {
                    const auto length = calcBeltLength(wheels, loop.crossed);
                    length ? addBeltFit(v, *length, model::calcBelt(*length, loop.links))
                           : fail(length.error().message);
                } else {
                    const auto fit = model::calcChainRound(wheels, loop.links);
                    fit ? addChainFit(v, loop, *fit) : fail(fit.error().message);
                }
            }
    }
    static base::Result<double> calcBeltLength(const std::vector<model::LoopWheel>& wheels, bool crossed) {
        if (crossed)
            return model::calcLoopLength(wheels[0].radiusMm, wheels[1].radiusMm,
                                         (wheels[1].centre - wheels[0].centre).norm(), true);
        const auto loop = model::calcRoundLoop(wheels);
        if (!loop) return loop.error();
        double length = loop->straightMm;
        for (std::size_t i = 0; i < wheels.size(); ++i) length += wheels[i].radiusMm * loop->wrapsRad[i];
        return length;
    }
    static void addBeltFit(Verdict& v, double length, const model::BeltFit& fit) {
        v.value = fit.stretch;
        v.unit = "times";
        v.basis = Basis::Starting;
        v.detail = "belt " + std::to_string(fit.lengthMm) + " on " + formatNumber(length, 1) +
                   " mm along the pulleys: stretched " + formatNumber(fit.stretch, 2) + " times, " +
                   formatNumber(model::kLeastStretch, 2) + " to " + formatNumber(model::kMostStretch, 1) +
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
        v.detail = std::to_string(fit.links) + " links, " + formatNumber(std::abs(fit.slackMm), 1) +
                   (fit.slackMm < 0 ? " mm too short" : " mm of slack");
        if (fit.slackMm < 0) {
            v.state = State::Fail;
            v.text = "The chain is too short";
        } else if (fit.slackMm > kMostSlackMm) {
            v.state = loop.links > 0 ? State::Thin : State::Good;
            v.text = "The chain hangs loose";
        }
    }

    /// What no family of parts makes cannot be bought or listed.
    void addMissing() {
        for (const auto& board : m_facts.project->boards)
            for (const std::string& id : model::listBoardParts(*board).missing) {
                const int g = m_net.findRing(id), thing = m_net.findRotor(id);
                Verdict& v = add("no-part", id, State::Thin, "There is no such part on " + board->name);
                v.place.board = board->id;
                v.place.things = {id};
                v.detail = g >= 0       ? nameOf(gear(g)) + ": no wheel of ours is like that"
                           : thing >= 0 ? ivrant::at(m_net.rotors, thing).name + ": the longest axle is 16 pitches"
                                        : id + ": no motor of ours is called that";
                v.detail += "; it is missing in the parts list and the weight";
            }
    }

    int m_notes = 0;
};

} // namespace

void judgeDrive(const study::Facts& facts, VerdictList& list) {
    if (!facts.drive) return;
    DriveCheck(facts, list).run();
    judgeFunctions(facts, list);
}

} // namespace ivrant::verdict
