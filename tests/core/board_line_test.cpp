// SPDX-License-Identifier: GPL-3.0-or-later
// What typed lines put on a board, and that every train found for a ratio can be placed as a layout that fits.
#include <cmath>
#include <gtest/gtest.h>

#include "core/drive/board_line.h"
#include "tests/support/boards.h"

using namespace ivrant;
using drive::BoardLine;
using model::GearKind;
using test::BoardFigure;
using test::must;

namespace {

BoardLine parse(const std::string& text) { return must(drive::parseBoardLine(text)); }

TEST(BoardLine, Wheels) {
    const auto spur = parse("24");
    EXPECT_EQ(spur.kind, GearKind::Spur);
    EXPECT_EQ(spur.teeth, 24);
    EXPECT_FALSE(spur.atUm);
    const auto clutch = parse("clutch 24 at 3 -2.5 1");
    EXPECT_TRUE(clutch.loose);
    EXPECT_EQ(*clutch.atUm, (std::array<std::int64_t, 2>{24000, -20000}));
    EXPECT_EQ(*clutch.heightUm, 8000);
    const auto bevel = parse("bevel 12 right at 4mm 2p");
    EXPECT_EQ(bevel.kind, GearKind::Bevel);
    EXPECT_EQ(*bevel.axis, model::BoardAxis::Right);
    EXPECT_EQ(*bevel.atUm, (std::array<std::int64_t, 2>{4000, 6400}));
    EXPECT_EQ(parse("worm").teeth, 1);
    EXPECT_TRUE(parse("worm left").leftHand);
    EXPECT_EQ(parse("rack 10").kind, GearKind::Rack);
}

TEST(BoardLine, OtherThings) {
    EXPECT_EQ(parse("motor large").name, "motor large");
    EXPECT_EQ(parse("motor").name, "motor medium");
    EXPECT_EQ(parse("function span lift").name, "span lift");
    EXPECT_EQ(*parse("shaft 6 up").lengthUm, 48000);
    EXPECT_TRUE(parse("crossed belt").crossed);
    EXPECT_EQ(*parse("wall -1.5").heightUm, -12000);
    EXPECT_EQ(parse("couple").what, BoardLine::What::Couple);
}

TEST(BoardLine, NonsenseIsNamed) {
    for (const char* text :
         {"", "banana", "bevel", "24 24", "24 at 3", "24 at x y", "wall", "shaft long", "2.5", "crown"})
        EXPECT_EQ(drive::parseBoardLine(text).ok(), false) << text;
    EXPECT_EQ(drive::parseBoardLine("0").error().code, "gear.teeth");
    EXPECT_EQ(drive::parseBoardLine("24 24").error().code, "line.syntax");
}

drive::BoardHand handOn(const BoardFigure& f, std::vector<std::string> chosen = {}) {
    drive::BoardHand hand;
    hand.board = f.board;
    hand.ownThings = true;
    hand.chosen = std::move(chosen);
    return hand;
}

TEST(BoardLine, AWheelMakesItsShaftThroughTheWalls) {
    BoardFigure f;
    f.project = must(model::setWalls(f.project, f.board, {-8000, 16000}));
    auto result = must(drive::applyBoardLine(f.project, handOn(f), parse("24 at 2 1")));
    const auto& shaft = result.project.boards[0]->shafts.at(0);
    EXPECT_EQ(result.added, shaft.id.text);
    EXPECT_EQ(shaft.atUm, (std::array<std::int64_t, 3>{16000, 8000, -12000}));
    EXPECT_EQ(shaft.lengthUm, 32000);
    f.project = result.project;
    EXPECT_EQ(f.net().supports[0].holesMm.size(), 2U);
    // A second wheel on the chosen shaft, a motor and a function there.
    f.project = must(drive::applyBoardLine(f.project, handOn(f, {shaft.id.text}), parse("8"))).project;
    for (const char* text : {"motor small", "function turn"})
        f.project = must(drive::applyBoardLine(f.project, handOn(f, {shaft.id.text}), parse(text))).project;
    EXPECT_EQ(f.project.boards[0]->shafts.size(), 1U);
    EXPECT_EQ(f.project.boards[0]->gears.size(), 2U);
    EXPECT_EQ(f.project.boards[0]->motors.size(), 1U);
    EXPECT_EQ(f.project.boards[0]->functions.size(), 1U);
}

TEST(BoardLine, ChoosingIsAskedFor) {
    BoardFigure f;
    for (const char* text : {"function lift", "selector", "chain", "belt", "couple"})
        EXPECT_EQ(drive::applyBoardLine(f.project, handOn(f), parse(text)).error().code, "line.choose") << text;
    drive::BoardHand nowhere;
    EXPECT_EQ(drive::applyBoardLine(f.project, nowhere, parse("24")).error().code, "edit.missing");
    EXPECT_EQ(drive::applyBoardLine(f.project, handOn(f), parse("3")).error().code, "gear.teeth");
}

TEST(BoardLine, ChainSelectorAndCoupling) {
    BoardFigure f;
    const auto a = f.shaft(0, 0), b = f.shaft(6, 0), c = f.shaft(6, 0, 4, 6);
    f.gear(a, GearKind::Sprocket, 10, 1);
    f.gear(b, GearKind::Sprocket, 20, 1);
    f.gear(a, GearKind::Spur, 24, 3, true);
    f.project = must(drive::applyBoardLine(f.project, handOn(f, {a.text, b.text}), parse("chain"))).project;
    EXPECT_EQ(f.ratio(a, b), "1:2");
    f.project = must(drive::applyBoardLine(f.project, handOn(f, {b.text, c.text}), parse("couple"))).project;
    EXPECT_EQ(f.ratio(a, c), "1:2");
    f.project = must(drive::applyBoardLine(f.project, handOn(f), parse("selector gears"))).project;
    ASSERT_EQ(f.project.boards[0]->selectors.at(0).positions.size(), 2U);
    EXPECT_EQ(f.project.boards[0]->selectors[0].positions[1].name, "Off");
}

/// The first and last shaft of what was placed have the ratio of the group, nothing binds, skips or is in the way.
void expectFits(const drive::RatioGroup& group, const drive::FoundTrain& train) {
    BoardFigure f;
    const auto placed = must(drive::placeTrain(f.project, handOn(f), train));
    f.project = placed.project;
    const auto net = f.net();
    EXPECT_TRUE(net.faults.empty());
    EXPECT_TRUE(net.clashes.empty()) << drive::formatRatio(group.ratio) << ": "
                                     << (net.clashes.empty() ? "" : net.clashes[0].text);
    const auto motion = drive::solveTrain(net.train, {0});
    EXPECT_EQ(motion.freedom(), 1);
    EXPECT_EQ(abs(motion.ratio(net.findRotor(placed.added), 0)), group.ratio);
}

TEST(PlaceTrain, EveryFoundTrainFits) {
    int count = 0;
    for (const double ratio : {1.0 / 3, 1.0 / 15, 1.0 / 105, 2.5, 1.0 / 40, 1.0 / 900}) {
        drive::RatioWish wish;
        wish.ratio = ratio;
        for (const auto& group : must(drive::searchRatios(wish)).groups)
            for (const auto& train : group.trains) {
                expectFits(group, train);
                ++count;
            }
    }
    EXPECT_GT(count, 60);
}

TEST(PlaceTrain, GoesOnFromTheChosenShaft) {
    BoardFigure f;
    const auto motor = f.shaft(0, 0, 6, -1);
    drive::RatioWish wish;
    wish.ratio = 1.0 / 9;
    wish.tolerance = 0;
    wish.holds = false;
    const auto found = must(drive::searchRatios(wish));
    const auto placed = must(drive::placeTrain(f.project, handOn(f, {motor.text}), found.groups.at(0).trains.at(0)));
    f.project = placed.project;
    EXPECT_EQ(f.ratio(motor, model::ShaftId{placed.added}), "1:9");
    EXPECT_FALSE(drive::placeTrain(f.project, handOn(f), {}).ok());
}

} // namespace
