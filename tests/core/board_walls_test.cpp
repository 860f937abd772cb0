// SPDX-License-Identifier: GPL-3.0-or-later
// A machine typed from nothing: its lines put parts, walls carry its shafts, seats hold its motors, a lid closes it;
// and what bricks cannot carry is told.
#include <gtest/gtest.h>

#include <map>
#include <random>
#include <set>

#include "core/base/at.h"
#include "core/drive/board_line.h"
#include "core/drive/board_walls.h"
#include "core/drive/plane_parts.h"
#include "core/script/script.h"
#include "core/verdict/groups.h"
#include "core/verdict/mends.h"
#include "tests/support/figures.h"
#include "tests/support/reports.h"

namespace ivrant {
namespace {

using test::must;

/// A board begun by typing; what a line adds is chosen for the next one, as in the window.
struct Typing {
    model::Project project = model::makeEmptyProject("Typed");
    drive::BoardHand hand;
    std::vector<std::string> notes;

    Typing() { project = must(drive::beginBoard(project, hand.board)); }
    base::Result<drive::BoardLineResult> tryLine(const std::string& text) {
        auto line = drive::parseBoardLine(text);
        if (!line) return line.error();
        return drive::applyBoardLine(project, hand, *line);
    }
    std::string put(const std::string& text) {
        auto result = must(tryLine(text));
        project = result.project;
        notes = result.notes;
        hand.chosen.clear();
        if (!result.added.empty()) hand.chosen = {result.added};
        return result.added;
    }
    [[nodiscard]] const model::Board& board() const { return *project.boards.front(); }
    [[nodiscard]] const model::Section& section() const { return *project.sections.front(); }
    [[nodiscard]] drive::PlaneParts seen() const { return drive::listPlaneParts(project, board()); }
    [[nodiscard]] int count(const std::string& family) const {
        int found = 0;
        for (const model::Part& part : section().parts) found += part.shape->family == family ? 1 : 0;
        return found;
    }
    [[nodiscard]] std::string codeOf(const std::string& text) {
        const auto result = tryLine(text);
        return result ? "none" : result.error().code;
    }
};

void expectSound(const verdict::Report& report, const std::string& what) {
    for (const auto& support : report.drive->net.supports)
        EXPECT_GE(support.holesMm.size() + support.universals, 2u) << what << ": " << support.shaft;
    for (const auto& motor : report.drive->net.motors)
        EXPECT_EQ(motor.seat, drive::PartMotor::Seat::Firm) << what << ": " << motor.name;
    for (const auto& v : report.verdicts)
        EXPECT_NE(v.state, verdict::State::Fail) << what << ": " << v.text << ": " << v.detail;
}

TEST(TypedMachine, FromNothingToSomethingThatStandsOnTheTable) {
    Typing t;
    t.put("8 at 0 0");
    t.put("motor medium");
    t.put("24 at 2 0");
    t.put("function Turn load friction 20 travel 90");
    EXPECT_EQ(t.board().shafts.size() + t.board().gears.size() + t.board().motors.size(), 0u)
        << "nothing lies on the board itself";
    EXPECT_EQ(t.count("axle"), 2);
    EXPECT_EQ(t.count("spur gear"), 2);
    EXPECT_EQ(t.count("motor medium"), 1);
    const auto bare = test::reportOf(t.project);
    ASSERT_EQ(bare.drive->positions.size(), 1u);
    const auto& turn = bare.drive->positions.front().functions.front();
    ASSERT_EQ(turn.motors.size(), 1u);
    EXPECT_EQ(drive::formatRatio(turn.motors.front().ratio), "-1:3"); // 8 on 24
    bool told = false;
    for (const auto& group : verdict::groupVerdicts(bare.verdicts, t.project))
        told |= group.text == "2 shafts are not carried by two holes";
    EXPECT_TRUE(told) << "in the air it is no machine, and that is one finding";

    t.put("walls");
    EXPECT_TRUE(t.notes.empty()) << t.notes.front();
    EXPECT_GE(t.count("pin hole brick"), 2);
    const auto report = test::reportOf(t.project);
    expectSound(report, "with walls");
    EXPECT_EQ(drive::formatRatio(report.drive->positions.front().functions.front().motors.front().ratio), "-1:3");
    EXPECT_EQ(t.codeOf("walls"), "walls.there") << "nothing is put in twice";

    t.put("lid");
    expectSound(test::reportOf(t.project), "with a lid");
    // The walls' steps come before the shafts' ones, the lid's after all of them.
    std::map<std::string, std::pair<int, int>> steps; // of a family: first, last
    for (const model::Part& part : t.section().parts) {
        auto& [first, last] = steps.try_emplace(part.shape->family, part.step, part.step).first->second;
        first = std::min(first, part.step);
        last = std::max(last, part.step);
    }
    EXPECT_LT(steps["pin hole brick"].second, steps["axle"].first);
    EXPECT_GT(steps["plate"].second, steps["spur gear"].second);
}

TEST(TypedMachine, AMotorMakesRoomForTheWallBesideIt) {
    Typing t;
    t.put("shaft 2 at 0 0");
    const std::int64_t before = t.seen().shafts.front().lengthUm;
    t.put("24");
    t.put("motor small");
    // A wheel of one pitch, a wall of one pitch, one pitch in the motor: 8 mm each from the wheel's face.
    const auto seen = t.seen();
    ASSERT_EQ(seen.shafts.size(), 1u);
    EXPECT_GT(seen.shafts.front().lengthUm, before);
    EXPECT_GE(seen.gears.front().alongUm - 4000, 16000);
}

TEST(TypedMachine, WheelsGoWhereTheirShaftIsFree) {
    Typing t;
    const std::string shaft = t.put("shaft 4 at 0 0");
    for (int k = 0; k < 4; ++k) t.put("8");
    const auto seen = t.seen();
    ASSERT_EQ(seen.gears.size(), 4u);
    for (std::size_t a = 0; a < 4; ++a)
        for (std::size_t b = 0; b < a; ++b)
            EXPECT_GE(std::abs(seen.gears[a].alongUm - seen.gears[b].alongUm), 8000) << "wheels are a pitch wide";
    t.hand.chosen = {shaft};
    EXPECT_EQ(t.codeOf("8"), "line.room");
    EXPECT_EQ(t.codeOf("22 at 9 9"), "gear.teeth") << "there is no such part";
    EXPECT_EQ(t.codeOf("shaft 30 at 5 5"), "line.axle");
}

TEST(TypedMachine, EveryKindOfWheelIsPutAndRead) {
    for (const char* line : {"8", "24", "bevel 12", "bevel 20", "clutch 24", "crown 24", "worm", "sprocket 10",
                             "pulley 24", "rack 10", "differential", "turntable 56", "actuator 9"}) {
        Typing t;
        const auto result = t.tryLine(std::string(line) + " at 1 2");
        ASSERT_TRUE(result.ok()) << line << ": " << result.error().message;
        t.project = result->project;
        std::size_t rings = 0;
        for (const auto& section : t.project.sections)
            for (const model::Part& part : section->parts) rings += part.shape->rings.empty() ? 0 : 1;
        EXPECT_GE(rings, 1u) << line;
        EXPECT_TRUE(t.board().gears.empty()) << line;
        const auto seen = t.seen();
        for (const model::Gear& gear : seen.gears)
            if (const auto* shaft = seen.findShaft(gear.shaft.text)) {
                EXPECT_EQ(shaft->atUm[0] / 1000, shaft->axis == model::BoardAxis::Right ? shaft->atUm[0] / 1000 : 8)
                    << line;
            }
    }
}

TEST(TypedMachine, ConnectorsRingsAndSelectors) {
    Typing t;
    const std::string a = t.put("shaft 4 right at 0 0"), b = t.put("shaft 4 right at 4 0");
    t.hand.chosen = {a, b};
    t.put("couple");
    EXPECT_EQ(t.count("straight connector"), 1);
    const auto both = test::reportOf(t.project).drive->net.findRotor(a);
    EXPECT_EQ(both, test::reportOf(t.project).drive->net.findRotor(b)) << "they turn as one";
    const std::string far = t.put("shaft 4 right at 20 0");
    t.hand.chosen = {a, far};
    EXPECT_EQ(t.codeOf("couple"), "line.couple");

    t.hand.chosen.clear();
    const std::string shaft = t.put("shaft 8 at 0 9");
    t.put("clutch 24");
    t.hand.chosen = {shaft};
    t.put("selector Gear");
    EXPECT_EQ(t.count("driving ring"), 1);
    ASSERT_EQ(t.board().selectors.size(), 1u);
    EXPECT_EQ(t.board().selectors.front().positions.size(), 2u); // engaged, and off
}

TEST(TypedMachine, AsksAreTypedOnTheirOwn) {
    Typing t;
    t.put("24 at 0 0");
    t.put("function Lift the lamp");
    t.put("load arm 40 g radius 80 mm");
    t.put("travel 90 deg within 3 s hold");
    const auto& function = t.board().functions.front();
    EXPECT_EQ(function.name, "Lift the lamp");
    EXPECT_EQ(function.load, model::LoadKind::Arm);
    EXPECT_DOUBLE_EQ(function.amount, 40);
    EXPECT_DOUBLE_EQ(function.radiusMm, 80);
    EXPECT_DOUBLE_EQ(function.travel, 90);
    EXPECT_DOUBLE_EQ(function.withinS.value(), 3);
    EXPECT_TRUE(function.mustHold);
    EXPECT_EQ(t.codeOf("load wind 3"), "function.word");
    EXPECT_EQ(t.codeOf("travel far"), "number.syntax");
}

TEST(TypedMachine, FoundTrainsArePlacedAsParts) {
    for (const double wanted : {1.0 / 3, 1.0 / 9, 1.0 / 15, 3.0 / 5, 1.0 / 27, 2.0 / 9, 1.0 / 24, 1.0 / 40}) {
        drive::RatioWish wish;
        wish.ratio = wanted;
        const auto found = must(drive::searchRatios(wish));
        const auto& group = found.groups.front();
        for (std::size_t k = 0; k < group.trains.size() && k < 2; ++k) {
            const auto& train = group.trains[k];
            Typing t;
            const auto placed = must(drive::placeTrain(t.project, t.hand, train));
            t.project = placed.project;
            EXPECT_TRUE(t.board().shafts.empty());
            const auto report = test::reportOf(t.project);
            const auto& net = report.drive->net;
            const auto seen = t.seen();
            ASSERT_FALSE(seen.gears.empty());
            // The first wheel that was put drives the last shaft.
            const int first = net.findRotor(seen.gears.front().id.text), last = net.findRotor(placed.added);
            ASSERT_GE(first, 0);
            ASSERT_GE(last, 0);
            const auto motion = drive::solveTrain(net.train, {first});
            EXPECT_EQ(abs(motion.ratio(last, first)), group.ratio) << wanted << " " << k;
            EXPECT_TRUE(net.faults.empty()) << wanted << " " << k;
            EXPECT_TRUE(net.clashes.empty()) << wanted << " " << k << ": " << train.stages.size() << " stages";
        }
    }
}

TEST(BoardWalls, OneWallIsForTheShaftsThatGoThroughIt) {
    Typing t;
    t.put("shaft 6 at 0 0"); // from a pitch and a half below layer 0 upwards
    t.put("24");
    t.put("24 at 5 0");
    const auto before = t.seen();
    t.put("wall 3");
    const auto after = t.seen();
    for (const model::Shaft& shaft : before.shafts)
        EXPECT_EQ(after.findShaft(shaft.id.text)->lengthUm, shaft.lengthUm) << "no axle is exchanged";
    int holes = 0;
    for (const model::Shaft& shaft : after.shafts)
        for (std::size_t p = 0; p < t.section().parts.size(); ++p)
            if (t.section().parts[p].id.text == shaft.id.text)
                for (const auto& taken : drive::listTaken(t.section(), static_cast<int>(p)))
                    holes += taken.wall ? 1 : 0;
    EXPECT_EQ(holes, 1) << "only the long one reaches it";
    EXPECT_EQ(t.board().wallsUm, (std::vector<std::int64_t>{24'000}));
}

TEST(BoardWalls, WhatIsBuiltAlreadyKeepsItsSteps) {
    Typing t;
    t.put("24 at 0 0");
    t.put("24 at 3 0");
    t.put("walls");
    std::map<std::string, int> before;
    for (const model::Part& part : t.section().parts) before[part.id.text] = part.step;
    // Another shaft beside them: only it comes after its wall.
    t.hand.chosen.clear();
    t.put("24 at 12 0");
    t.put("walls");
    for (const model::Part& part : t.section().parts)
        if (const auto old = before.find(part.id.text); old != before.end()) {
            EXPECT_EQ(part.step, old->second) << part.shape->name;
        }
    t.put("wall -1");
    EXPECT_EQ(t.board().wallsUm.size(), 1u);
    t.put("wall -1");
    EXPECT_EQ(t.board().wallsUm.size(), 1u) << "a wall is noted once";
}

TEST(BoardWalls, AMotorIsNoWall) {
    Typing t;
    const std::string shaft = t.put("24 at 0 0");
    t.put("motor small");
    std::size_t looked = 0;
    for (std::size_t p = 0; p < t.section().parts.size(); ++p) {
        if (t.section().parts[p].id.text != shaft) continue;
        for (const auto& taken : drive::listTaken(t.section(), static_cast<int>(p))) {
            EXPECT_FALSE(taken.wall) << ivrant::at(t.section().parts, taken.part).shape->name;
            ++looked;
        }
    }
    EXPECT_EQ(looked, 2u); // the wheel and the motor
}

TEST(BoardWalls, WhatBricksCannotCarryIsTold) {
    Typing t;
    t.put("24 at 0 0");
    t.put("24 at 3 1");
    t.put("walls");
    ASSERT_FALSE(t.notes.empty());
    // 8 mm up are two plates and a half: 1.6 mm beside the next hole there can be.
    EXPECT_NE(t.notes.front().find("1.6 mm beside"), std::string::npos) << t.notes.front();
    Typing close;
    close.put("24 at 0 0");
    close.put("24 at 5 6.4mm"); // two plates: within the same brick
    close.put("walls");
    ASSERT_FALSE(close.notes.empty());
    EXPECT_NE(close.notes.front().find("9.6, 12.8, 16"), std::string::npos) << close.notes.front();
    Typing flat;
    flat.project = must(model::addBoard(model::makeEmptyProject("Flat"), "Flat", {}, {}, &flat.hand.board));
    flat.put("24 at 0 0");
    EXPECT_EQ(flat.codeOf("lid"), "walls.flat");
    flat.put("walls");
    flat.put("40 at 2 2"); // its walls would be too far apart for one plate with holes
    Typing wide;
    wide.project = must(model::addBoard(model::makeEmptyProject("Wide"), "Wide", {}, {}, &wide.hand.board));
    wide.put("40 at 0 0");
    wide.put("40 at 5 5");
    EXPECT_EQ(wide.codeOf("walls"), "walls.span");
    Typing none;
    EXPECT_EQ(none.codeOf("walls"), "walls.section");
    none.put("shaft 4 right at 0 0");
    EXPECT_EQ(none.codeOf("walls"), "walls.shafts");
}

TEST(BoardWalls, AFlatBoardGetsFeetAndHeads) {
    // Rows along x and along y, in one layer and two, the shafts' own ends wherever they were typed.
    for (const auto& lines : std::vector<std::vector<std::string>>{{"24 at 0 0", "24 at 3 0"},
                                                                   {"8 at 0 0", "24 at 0 2"},
                                                                   {"24 at 0 0", "24 at 3 0", "8"},
                                                                   {"40 at 0 0", "8 at 3 0", "24 at 5 0"},
                                                                   {"shaft 5 at 2 2 2", "24"},
                                                                   {"12 at 1 0", "20 at 3 0 0", "12 at 5 0"}}) {
        Typing t;
        t.project = must(model::addBoard(model::makeEmptyProject("Flat"), "Flat", {}, {}, &t.hand.board));
        for (const std::string& line : lines) t.put(line);
        t.put("function Turn");
        t.put("walls");
        const std::string what = lines.front() + " …";
        for (const std::string& note : t.notes) ADD_FAILURE() << what << ": " << note;
        const auto report = test::reportOf(t.project);
        for (const auto& support : report.drive->net.supports)
            EXPECT_EQ(support.holesMm.size(), 2u) << what << ": " << support.shaft;
        const auto bonds = bonds::calcSectionBonds(t.section(), {});
        EXPECT_TRUE(bonds.overlaps.empty()) << what << (bonds.overlaps.empty() ? std::string() : [&] {
            const auto& o = bonds.overlaps.front();
            return ": " + ivrant::at(t.section().parts, o.partA).shape->name + " and " +
                   ivrant::at(t.section().parts, o.partB).shape->name;
        }());
        std::set<int> groups;
        for (std::size_t p = 0; p < t.section().parts.size(); ++p)
            if (const auto& family = t.section().parts[p].shape->family;
                family == "brick" || family == "plate" || family == "pin hole plate")
                groups.insert(bonds.group[p]);
        EXPECT_EQ(groups.size(), 1u) << what;
        EXPECT_EQ(t.codeOf("walls"), "walls.there") << what;
    }
}

/// Pairs of spur wheels in a row, in random layers: whatever is typed, walls carry it when every shaft lies on a hole.
TEST(BoardWalls, RandomRowsOfWheelsAreCarried) {
    std::mt19937 random(20261130);
    const std::pair<int, int> kPairs[] = {{8, 24}, {8, 40}, {24, 24}, {40, 8}, {24, 40}, {16, 16}, {24, 8}};
    for (int round = 0; round < 12; ++round) {
        Typing t;
        const int pairs = 1 + round % 3;
        double x = 0;
        std::string first, last;
        // Every pair on its own two shafts and layer: a row of separate trains in one box.
        for (int p = 0; p < pairs; ++p) {
            const auto [a, b] = kPairs[std::uniform_int_distribution<std::size_t>(0, std::size(kPairs) - 1)(random)];
            const auto at = [&](double where) { return " at " + std::to_string(where) + " 0"; };
            first = t.put(std::to_string(a) + at(x));
            last = t.put(std::to_string(b) + at(x + (a + b) / 16.0));
            x += (a + b) / 16.0 + 6;
        }
        t.put("function Turn load friction 5");
        t.hand.chosen = {first};
        if (round % 2 == 0) t.put("motor small");
        t.put("walls");
        const std::string what = "round " + std::to_string(round);
        for (const std::string& note : t.notes) ADD_FAILURE() << what << ": " << note;
        const auto report = test::reportOf(t.project);
        for (const auto& support : report.drive->net.supports)
            EXPECT_GE(support.holesMm.size(), 2u) << what << ": " << support.shaft;
        for (const auto& motor : report.drive->net.motors) EXPECT_EQ(motor.seat, drive::PartMotor::Seat::Firm) << what;
        const auto bonds = bonds::calcSectionBonds(t.section(), {});
        EXPECT_TRUE(bonds.overlaps.empty()) << what;
        // All bricks are one body.
        std::map<int, int> groups;
        for (std::size_t p = 0; p < t.section().parts.size(); ++p)
            if (const auto& family = t.section().parts[p].shape->family;
                family == "brick" || family == "plate" || family == "pin hole brick" || family == "jumper")
                ++groups[bonds.group[p]];
        EXPECT_EQ(groups.size(), 1u) << what;
    }
}

/// The mend of a check whose text begins so, done.
model::Project mend(const model::Project& project, const std::string& check, const std::string& text) {
    const auto report = test::reportOf(project);
    for (const auto& v : report.verdicts) {
        if (v.check != check || v.state == verdict::State::Good) continue;
        for (const auto& offered : verdict::listMends(report, v))
            if (offered.text.starts_with(text)) return must(offered.apply(project));
    }
    throw std::runtime_error("no mend " + text);
}

TEST(DrivePartMends, ACouplingThatIsGoneIsPutBack) {
    Typing t;
    const std::string a = t.put("shaft 4 right at 0 0"), b = t.put("shaft 4 right at 4 0");
    t.hand.chosen = {a};
    t.put("motor small");
    t.hand.chosen = {b};
    t.put("function Turn load friction 2");
    const auto stateOf = [](const model::Project& project) {
        return test::reportOf(project).drive->positions.front().functions.front();
    };
    EXPECT_TRUE(stateOf(t.project).motors.empty()) << "the shafts only end at each other";
    const auto mended = mend(t.project, "reached", "join ");
    const auto state = stateOf(mended);
    ASSERT_EQ(state.motors.size(), 1u);
    EXPECT_EQ(drive::formatRatio(state.motors.front().ratio), "1:1");
}

TEST(DrivePartMends, AShaftThatSlidesGetsItsBushes) {
    Typing t;
    t.put("wall -1");
    t.put("wall 5");
    t.put("24 at 0 0"); // its motor holds the shaft
    t.put("motor small");
    t.put("24 at 3 0");
    t.put("walls");
    const auto isSliding = [](const model::Project& project) {
        for (const auto& v : test::reportOf(project).verdicts)
            if (v.check == "shaft-slides") return true;
        return false;
    };
    ASSERT_TRUE(isSliding(t.project)) << "four pitches to the far wall";
    EXPECT_FALSE(isSliding(mend(t.project, "shaft-slides", "put ")));
}

TEST(DrivePartMends, WallsAreOfferedForWhatNothingCarries) {
    Typing t;
    t.put("8 at 0 0");
    t.put("motor medium");
    t.put("24 at 2 0");
    t.put("function Turn load friction 20 travel 90");
    expectSound(test::reportOf(mend(t.project, "shaft-carried", "build walls")), "mended");
    expectSound(test::reportOf(mend(t.project, "motor-seat", "build walls")), "mended by its seat");
}

TEST(Script, LinesOfABoardBuildAMachine) {
    const auto project = must(script::runScript("model \"Typed\"\n"
                                                "line in = 8 at 0 0\n"
                                                "line motor medium on in\n"
                                                "line out = 24 at 2 0\n"
                                                "line function Turn load friction 20 travel 90 on out\n"
                                                "line walls\n"
                                                "line lid\n"));
    expectSound(test::reportOf(project), "from a script");
    EXPECT_EQ(project.boards.front()->functions.front().name, "Turn");
}

} // namespace
} // namespace ivrant
