// SPDX-License-Identifier: GPL-3.0-or-later
// Weight that goes round with a turntable of a gear board.
#include <cmath>
#include <gtest/gtest.h>

#include "core/base/at.h"
#include "core/files/project_file.h"
#include "core/model/board_turns.h"
#include "core/model/mass.h"
#include "tests/support/boards.h"
#include "tests/support/repo.h"
#include "tests/support/reports.h"

using namespace ivrant;
using geometry::Vec3;
using test::findVerdict;
using test::must;
using test::reportOf;

namespace {

/// A turntable on the first board that carries a second one with a motor; both in a section of one plate.
struct Slewing : test::BoardFigure {
    model::BoardId lower = board, upper;
    model::GearId table;
    model::FunctionId slew;
    Slewing() {
        const model::NewPart plate{must(parts::makeShape("plate 12x12")), 0, {{-44'000, -44'000, 0}, 0}, 1};
        project = must(model::addParts(project, project.sections[0]->id, {&plate, 1}));
        give(lower, {});
        const auto centre = shaft(0, 0, 4, 1);
        table = gear(centre, model::GearKind::Turntable, 56, 2);
        addBoard(project.sections[0]->id, {{8'000, 0, 32'000}, 0});
        upper = board;
        project = must(model::carryBoard(project, upper, table));
        const auto out = shaft(3, 1, 3, 1);
        motor(out);
        model::DriveFunction turning;
        turning.name = "Slew";
        turning.gear = table;
        turning.travel = 90;
        board = lower;
        function(turning);
        slew = project.boards[0]->functions[0].id;
    }
    void give(const model::BoardId& id, const model::Place& place) {
        model::Board head = *at(project.boards, project.findBoard(id));
        head.section = project.sections[0]->id;
        head.place = place;
        project = must(model::changeBoardHead(project, head));
    }
    [[nodiscard]] model::Placed placed() const { return {&project, {geometry::Frame::Identity()}, {}}; }
};

} // namespace

TEST(BoardTurns, WhatATurntableCarriesGoesRoundItsShaft) {
    const Slewing f;
    auto placed = f.placed();
    EXPECT_TRUE(model::carriesBoards(f.project, f.table));
    EXPECT_FALSE(model::carriesBoards(f.project, {}));
    EXPECT_FALSE(model::carriesBoards(f.project, {"none"}));
    const auto before = model::calcBoardFrames(placed);
    placed.boardTurns = model::calcBoardTurns(placed, f.table, 90);
    const auto after = model::calcBoardFrames(placed);
    EXPECT_TRUE(after[0].isApprox(before[0], 1e-12));
    // By hand: a quarter turn to the left about z takes (x, y) to (−y, x).
    const Vec3 origin = before[1].translation();
    EXPECT_TRUE(after[1].translation().isApprox(Vec3(-origin.y(), origin.x(), origin.z()), 1e-9));
    EXPECT_TRUE(after[1].linear().col(0).isApprox(Vec3(0, 1, 0), 1e-9));
    // The second way: the same model built with its upper board turned weighs at the same place.
    auto turned = f.project;
    model::Board head = *turned.boards[1];
    head.place = model::makePlace(after[1]);
    turned = must(model::changeBoardHead(turned, head));
    const model::Placed built{&turned, {geometry::Frame::Identity()}, {}};
    EXPECT_TRUE(model::calcMass(placed).centre.isApprox(model::calcMass(built).centre, 1e-9));
    EXPECT_FALSE(model::calcMass(placed).centre.isApprox(model::calcMass(f.placed()).centre, 1e-3));
}

TEST(BoardTurns, BoardsOnTurntablesOfCarriedBoardsGoWithThem) {
    Slewing f;
    f.board = f.upper;
    const auto second = f.gear(f.shaft(-3, 2, 4, 1), model::GearKind::Turntable, 56, 2);
    f.addBoard(f.project.sections[0]->id, {{-10'000, 20'000, 64'000}, 0});
    f.project = must(model::carryBoard(f.project, f.board, second));
    auto placed = f.placed();
    placed.boardTurns = model::calcBoardTurns(placed, f.table, 180);
    const auto poses = model::calcBoardFrames(placed);
    EXPECT_TRUE(poses[2].translation().isApprox(Vec3(10, -20, 64), 1e-9));
    placed.boardTurns =
        model::calcBoardTurns(placed, second, 180); // about (−16, 16), where the upper board's shaft stands
    EXPECT_TRUE(model::calcBoardFrames(placed)[1].isApprox(model::calcBoardFrames(f.placed())[1], 1e-12));
    EXPECT_TRUE(model::calcBoardFrames(placed)[2].translation().isApprox(Vec3(-32 + 10, 32 - 20, 64), 1e-9));
}

TEST(BoardTurns, AWheelThatTheTurntableCarriesTakesItsBoardsAlong) {
    Slewing f;
    f.board = f.lower;
    model::Shaft planet; // on the turntable, not on the board
    planet.atUm = {f.um(3), 0, f.um(4)};
    planet.lengthUm = f.um(3);
    planet.carrier = f.table;
    model::ShaftId id;
    f.project = must(model::putShaft(f.project, f.lower, planet, &id));
    const auto wheel = f.spur(id, 16);
    f.addBoard(f.project.sections[0]->id, {{30'000, 0, 60'000}, 0});
    f.project = must(model::carryBoard(f.project, f.board, wheel));
    auto placed = f.placed();
    placed.boardTurns = model::calcBoardTurns(placed, f.table, 90);
    EXPECT_TRUE(model::calcBoardFrames(placed)[2].translation().isApprox(Vec3(0, 30, 60), 1e-9));
}

TEST(BoardTurns, TheBalanceFollowsTheFunction) {
    const Slewing f;
    const auto report = reportOf(f.project);
    ASSERT_EQ(report.moves.size(), 1U);
    const auto& move = report.moves[0];
    EXPECT_EQ(move.key, f.slew.text);
    EXPECT_FALSE(move.joint);
    EXPECT_NE(findVerdict(report, "tip-move/" + move.key), nullptr)
        << "a turntable's way has a verdict even where its ends are its extremes";
    const auto end = study::calcPlaceOnWay(report, move, 1), start = study::calcPlaceOnWay(report, move, 0);
    ASSERT_TRUE(end && start);
    // What goes round keeps its distance from the axis; the rest stays: the centre of all moves by the share of that
    // mass.
    const auto whole = start->tipping.centre, gone = end->tipping.centre;
    EXPECT_NEAR(whole.z(), gone.z(), 1e-9);
    EXPECT_GT((whole - gone).norm(), 0.1);
    EXPECT_NEAR(start->tipping.angleDeg, report.present.tipping->angleDeg, 1e-9);
    EXPECT_NEAR(move.anglesDeg.front(), start->tipping.angleDeg, 1e-9);
    EXPECT_NEAR(move.anglesDeg.back(), end->tipping.angleDeg, 1e-9);
    // A turntable without an end goes round once: it comes back to where it began.
    auto endless = f.project;
    model::DriveFunction turning = endless.boards[0]->functions[0];
    turning.travel = 0;
    endless = must(model::putFunction(endless, f.lower, turning));
    const auto round = reportOf(endless);
    ASSERT_EQ(round.moves.size(), 1U);
    EXPECT_NEAR(round.moves[0].anglesDeg.front(), round.moves[0].anglesDeg.back(), 1e-9);
}

TEST(BoardTurns, TheSwingBridgeOfTheDemoSlewsInTheBalance) {
    const auto report = reportOf(must(files::loadProject(test::repo("/tests/fixtures/boards/bridge.ivrant"))));
    ASSERT_EQ(report.moves.size(), 1U);
    EXPECT_EQ(report.moves[0].name, "Slew");
    EXPECT_GT(report.moves[0].anglesDeg.front() - report.moves[0].anglesDeg.back(), 0.1);
}
