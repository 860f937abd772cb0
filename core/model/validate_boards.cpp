// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/model/validate_boards.h"

#include <algorithm>
#include <cmath>
#include <unordered_map>

#include "core/parts/palette.h"

namespace ivrant::model {
namespace {

using base::Error;
using base::Status;

class BoardCheck {
public:
    explicit BoardCheck(const Project& project) : m_project(project) {
        for (const BoardPtr& board : project.boards) {
            for (const Shaft& shaft : board->shafts) m_shafts.emplace(shaft.id, &shaft);
            for (const Gear& gear : board->gears) {
                m_gears.emplace(gear.id, &gear);
                m_boardOf.emplace(gear.id, board.get());
            }
        }
    }

    Status run() {
        for (std::size_t b = 0; b < m_project.boards.size(); ++b) {
            m_at = "/boards/" + std::to_string(b);
            if (auto st = checkBoard(*m_project.boards[b]); !st) return st;
        }
        return {};
    }

private:
    Error bad(const std::string& code, const std::string& message, const std::string& rest) const {
        return {code, message, m_at + rest};
    }
    static std::string place(const char* list, std::size_t i, const char* key) {
        return std::string("/") + list + "/" + std::to_string(i) + "/" + key;
    }
    static bool isNear(std::int64_t um) { return um >= -kMostBoardUm && um <= kMostBoardUm; }
    static bool isNear(const std::array<std::int64_t, 3>& at) {
        return isNear(at[0]) && isNear(at[1]) && isNear(at[2]);
    }
    [[nodiscard]] bool hasShaft(const ShaftId& id) const { return m_shafts.count(id) > 0; }
    /// Functions, selectors, loops and strands may name parts of sections as well. Null: there is no such part.
    [[nodiscard]] const parts::Shape* findShape(const std::string& id) const {
        if (id.empty()) return nullptr;
        for (const SectionPtr& section : m_project.sections)
            for (const Part& part : section->parts)
                if (part.id.text == id) return part.shape.get();
        return nullptr;
    }
    [[nodiscard]] bool isAxle(const ShaftId& id) const {
        const parts::Shape* shape = findShape(id.text);
        return shape && std::any_of(shape->ports.begin(), shape->ports.end(),
                                    [](const parts::Port& port) { return port.kind == parts::PortKind::Axle; });
    }
    /// What kind of teeth a wheel has, of a board or a part.
    [[nodiscard]] std::optional<GearKind> findKind(const GearId& id) const {
        if (const Gear* gear = findGear(id)) return gear->kind;
        const parts::Shape* shape = findShape(id.text);
        if (!shape || shape->rings.empty()) return std::nullopt;
        return shape->rings.front().kind;
    }
    [[nodiscard]] bool isLoose(const GearId& id) const {
        if (const Gear* gear = findGear(id)) return gear->loose;
        const parts::Shape* shape = findShape(id.text);
        return shape && !shape->rings.empty() && shape->findPort("hole+") >= 0;
    }
    [[nodiscard]] const Gear* findGear(const GearId& id) const {
        const auto found = m_gears.find(id);
        return found == m_gears.end() ? nullptr : found->second;
    }

    Status checkBoard(const Board& board) {
        std::size_t items = board.wallsUm.size();
        forEachItem(board, [&](const char*, std::size_t, const std::string&) { ++items; });
        if (items > kMostItems)
            return bad("board.size", "a board holds at most " + std::to_string(kMostItems) + " things", "");
        if (!board.section.empty() && m_project.findSection(board.section) < 0)
            return bad("board.section", "there is no section '" + board.section.text + "'", "/section");
        if (board.step < 0 || board.step > 1'000'000)
            return bad("board.step", "a step from 1 on, or 0 for after all of them, is expected", "/step");
        if (board.colour < 0 || board.colour >= static_cast<int>(parts::getPalette().size()))
            return bad("board.colour", "there is no such colour", "/colour");
        if (auto st = checkCarrier(board.carrier, "/carrier"); !st) return st;
        for (std::size_t i = 0; i < board.wallsUm.size(); ++i)
            if (!isNear(board.wallsUm[i]))
                return bad("board.place", "a wall lies within 10 m of the board's plane",
                           "/walls/" + std::to_string(i));
        for (std::size_t i = 0; i < board.shafts.size(); ++i)
            if (auto st = checkShaft(board.shafts[i], i); !st) return st;
        for (std::size_t i = 0; i < board.gears.size(); ++i)
            if (auto st = checkGear(board.gears[i], i); !st) return st;
        for (std::size_t i = 0; i < board.loops.size(); ++i)
            if (auto st = checkLoop(board.loops[i], i); !st) return st;
        for (std::size_t i = 0; i < board.couplings.size(); ++i)
            if (const Coupling& c = board.couplings[i]; !hasShaft(c.a) || !hasShaft(c.b) || c.a == c.b)
                return bad("coupling.shafts", "a coupling joins two different shafts", place("couplings", i, "a"));
        for (std::size_t i = 0; i < board.strands.size(); ++i)
            if (auto st = checkStrand(board.strands[i], i); !st) return st;
        for (std::size_t i = 0; i < board.motors.size(); ++i)
            if (!hasShaft(board.motors[i].shaft) && !isAxle(board.motors[i].shaft))
                return bad("motor.shaft", "there is no shaft '" + board.motors[i].shaft.text + "'",
                           place("motors", i, "shaft"));
        for (std::size_t i = 0; i < board.selectors.size(); ++i)
            if (auto st = checkSelector(board.selectors[i], i); !st) return st;
        for (std::size_t i = 0; i < board.functions.size(); ++i)
            if (auto st = checkFunction(board.functions[i], i); !st) return st;
        return {};
    }

    /// A carrier must not be carried by itself, over however many steps.
    Status checkCarrier(const GearId& id, const std::string& rest) const {
        GearId at = id;
        for (std::size_t steps = 0; !at.empty(); ++steps) {
            const Gear* gear = findGear(at);
            if (!gear) return bad("board.carrier", "there is no wheel '" + at.text + "' to stand on", rest);
            if (gear->isStraight()) return bad("board.carrier", "what moves along a line carries no shafts", rest);
            if (steps > 8) return bad("board.carrier", "it would be carried by itself", rest);
            at = carrierOf(*gear);
        }
        return {};
    }
    [[nodiscard]] GearId carrierOf(const Gear& gear) const {
        const auto shaft = m_shafts.find(gear.shaft);
        if (shaft != m_shafts.end() && !shaft->second->carrier.empty()) return shaft->second->carrier;
        return m_boardOf.at(gear.id)->carrier;
    }

    Status checkShaft(const Shaft& shaft, std::size_t i) const {
        if (!isNear(shaft.atUm))
            return bad("board.place", "a shaft starts within 10 m of the board's origin", place("shafts", i, "at"));
        if (shaft.lengthUm <= 0 || !isNear(shaft.lengthUm))
            return bad("shaft.length", "a shaft is longer than nothing and at most 10 m", place("shafts", i, "length"));
        for (const std::int64_t along : shaft.bearingsUm)
            if (along < 0 || along > shaft.lengthUm)
                return bad("shaft.length", "a bearing lies between the ends of its shaft",
                           place("shafts", i, "bearings"));
        return checkCarrier(shaft.carrier, place("shafts", i, "carrier"));
    }

    Status checkGear(const Gear& gear, std::size_t i) const {
        const bool worm = gear.kind == GearKind::Worm;
        const int least = worm ? 1 : 4, most = worm ? 6 : kMostTeeth;
        if (gear.teeth < least || gear.teeth > most)
            return bad("gear.teeth",
                       std::string(getGearKindName(gear.kind)) + ": " +
                           (worm                              ? "starts"
                            : gear.kind == GearKind::Pulley   ? "a diameter in mm"
                            : gear.kind == GearKind::Actuator ? "pitches of its case"
                                                              : "teeth") +
                           " from " + std::to_string(least) + " to " + std::to_string(most) + " are expected, found " +
                           std::to_string(gear.teeth),
                       place("gears", i, "teeth"));
        if (!isNear(gear.atUm) || !isNear(gear.alongUm))
            return bad("board.place", "a wheel lies within 10 m of the board's origin", place("gears", i, "along"));
        if (gear.kind == GearKind::Rack) return {};
        if (!hasShaft(gear.shaft))
            return bad("gear.shaft", "there is no shaft '" + gear.shaft.text + "': a wheel sits on one",
                       place("gears", i, "shaft"));
        if (gear.kind == GearKind::Differential && (!hasShaft(gear.other) || gear.other == gear.shaft))
            return bad("gear.shaft", "a differential needs a second shaft on its other side",
                       place("gears", i, "other"));
        return {};
    }

    Status checkLoop(const Loop& loop, std::size_t i) const {
        if (loop.gears.size() < 2)
            return bad("loop.gears", "a loop goes round at least two wheels", place("loops", i, "gears"));
        for (const GearId& id : loop.gears) {
            if (findKind(id) != (loop.belt ? GearKind::Pulley : GearKind::Sprocket))
                return bad("loop.gears",
                           std::string(loop.belt ? "a belt goes round pulleys" : "a chain goes round sprockets") +
                               "; '" + id.text + "' is none",
                           place("loops", i, "gears"));
        }
        if (loop.links < 0 || loop.links > 100'000)
            return bad("loop.gears", "0 to 100000 links, or mm of belt, are expected", place("loops", i, "links"));
        if (loop.crossed && (!loop.belt || loop.gears.size() != 2))
            return bad("loop.gears", "only a belt round two pulleys can be crossed", place("loops", i, "crossed"));
        return {};
    }

    Status checkStrand(const Strand& strand, std::size_t i) const {
        const auto over = findKind(strand.over);
        if (!over || over == GearKind::Rack || over == GearKind::Actuator)
            return bad("strand.value", "a string or wire crosses a wheel or turntable that turns",
                       place("strands", i, "over"));
        for (const auto& [key, um] : {std::pair{"off", strand.offUm}, {"gap", strand.gapUm}, {"slack", strand.slackUm}})
            if (um < 0 || !isNear(um)) return bad("strand.value", "0 to 10 m is expected", place("strands", i, key));
        return {};
    }

    Status checkSelector(const Selector& selector, std::size_t i) const {
        if (selector.positions.empty())
            return bad("selector.position", "a selector needs a position", place("selectors", i, "positions"));
        if (selector.at < 0 || selector.at >= static_cast<int>(selector.positions.size()))
            return bad("selector.position", "the selector stands at none of its positions",
                       place("selectors", i, "now"));
        for (const SelectorPosition& position : selector.positions)
            for (const GearId& id : position.engaged) {
                if (!isLoose(id))
                    return bad("selector.position",
                               "'" + id.text + "' is no loose wheel: only those can be fixed to their shafts",
                               place("selectors", i, "positions"));
            }
        return {};
    }

    Status checkFunction(const DriveFunction& function, std::size_t i) const {
        const bool onShaft = hasShaft(function.shaft) || isAxle(function.shaft),
                   onGear = findKind(function.gear).has_value();
        if (onShaft == onGear)
            return bad("function.target", "a function moves one shaft or one wheel that is there",
                       place("functions", i, "shaft"));
        const auto isGood = [](double value, double most) { return std::isfinite(value) && std::abs(value) <= most; };
        if (!isGood(function.amount, 1e6) || function.amount < 0)
            return bad("function.value", "the load is 0 to 1000000", place("functions", i, "amount"));
        if (!isGood(function.radiusMm, 1e4) || function.radiusMm < 0)
            return bad("function.value", "the radius is 0 to 10 m", place("functions", i, "radius_mm"));
        if (!isGood(function.ratePerMm, 1e4) || function.ratePerMm < 0)
            return bad("function.value", "a band gets harder by 0 to 10000 N for each mm",
                       place("functions", i, "rate_n_mm"));
        if (!function.joint.empty() && m_project.findJoint(function.joint) < 0)
            return bad("function.joint", "there is no joint '" + function.joint.text + "'",
                       place("functions", i, "joint"));
        if (function.load == LoadKind::Joint && function.joint.empty())
            return bad("function.joint", "which joint of the model loads the function?",
                       place("functions", i, "joint"));
        if (!isGood(function.fromDeg, 3600))
            return bad("function.value", "the starting angle lies within ±3600°", place("functions", i, "from_deg"));
        if (!isGood(function.travel, 1e6))
            return bad("function.value", "the travel lies within ±1000000", place("functions", i, "travel"));
        if (function.withinS && !(isGood(*function.withinS, 1e6) && *function.withinS > 0))
            return bad("function.value", "the wanted time is above 0 s", place("functions", i, "within_s"));
        if (function.wantedRpm && !(isGood(*function.wantedRpm, 1e5) && *function.wantedRpm > 0))
            return bad("function.value", "the wanted speed is above 0 rpm", place("functions", i, "wanted_rpm"));
        return {};
    }

    const Project& m_project;
    std::unordered_map<ShaftId, const Shaft*> m_shafts;
    std::unordered_map<GearId, const Gear*> m_gears;
    std::unordered_map<GearId, const Board*> m_boardOf;
    std::string m_at;
};

} // namespace

base::Status checkBoards(const Project& project) {
    if (project.boards.empty()) return {};
    return BoardCheck(project).run();
}

} // namespace ivrant::model
