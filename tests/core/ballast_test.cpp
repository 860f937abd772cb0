// The least weight that keeps a model from tipping, exact; and weight that goes round with a turntable of a gear board.
#include <cmath>
#include <gtest/gtest.h>
#include <random>

#include "core/files/project_file.h"
#include "core/model/board_turns.h"
#include "core/pose/stance.h"
#include "core/stand/ballast.h"
#include "core/stand/counterweight.h"
#include "core/verdict/check.h"
#include "core/verdict/support_check.h"
#include "tests/support/boards.h"
#include "tests/support/repo.h"
#include "tests/support/reports.h"
#include "tests/support/stacks.h"

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
        model::Board head = *project.boards[static_cast<std::size_t>(project.findBoard(id))];
        head.section = project.sections[0]->id;
        head.place = place;
        project = must(model::changeBoardHead(project, head));
    }
    [[nodiscard]] model::Placed placed() const { return {&project, {geometry::Pose::Identity()}, {}}; }
};

} // namespace

TEST(Ballast, LeastWeightIsWhereTryingGramByGramFindsIt) {
    std::mt19937 random(3);
    std::uniform_int_distribution<int> cell(0, 5), wish(1, 15);
    int found = 0;
    for (int trial = 0; trial < 40; ++trial) {
        test::Stack f;
        f.put(0, "plate 4x4 at 0 0 0");
        int z = 1;
        for (int k = 0; k < 4; ++k, z += 3)
            f.put(0, "brick 2x2 at " + std::to_string(cell(random)) + " " + std::to_string(cell(random)) + " " + std::to_string(z));
        const auto placed = f.placed();
        const std::array standings{stand::Standing{placed, *stand::calcTipping(placed, pose::listCorners(placed))}};
        const Vec3 at(4.0 * cell(random), 4.0 * cell(random), 3);
        const double asked = wish(random);
        const auto range = stand::calcWeights(standings, std::array{at}, asked);
        std::optional<double> first;
        for (double gram = 0; gram < 400 && !first; gram += 0.25)
            if (stand::calcTippingWith(standings[0].tipping, gram, at).angleDeg >= asked) first = gram;
        if (!range || range->low > 399) {
            EXPECT_FALSE(first && range) << trial;
            continue;
        }
        ASSERT_TRUE(first) << trial;
        EXPECT_NEAR(range->low, *first, 0.26) << trial;
        ++found;
        if (std::isfinite(range->high)) {
            EXPECT_GE(stand::calcTippingWith(standings[0].tipping, range->high - 0.01, at).angleDeg, asked - 1e-6);
            EXPECT_LT(stand::calcTippingWith(standings[0].tipping, range->high + 0.01, at).angleDeg, asked + 1e-6);
        }
    }
    EXPECT_GT(found, 5);
}

TEST(Ballast, OnALineOrWithTooLittleThereIsNone) {
    test::Stack f;
    f.put(0, "plate 4x4 at 0 0 0");
    f.put(0, "plate 2x8 at 3 0 1");
    const auto placed = f.placed();
    stand::Standing standing{placed, *stand::calcTipping(placed, pose::listCorners(placed))};
    EXPECT_FALSE(stand::calcBallast({}, 0, 8, 1000));
    EXPECT_FALSE(stand::calcBallast(std::array{standing}, 0, 89, 1000)) << "no weight does that";
    standing.tipping.support.resize(2);
    EXPECT_FALSE(stand::calcBallast(std::array{standing}, 0, 8, 1000));
}

TEST(Ballast, GoesIntoTheTailOfTheSpanOfTheDemo) {
    const auto bare = must(files::loadProject(test::repo("/data/demo/bridge-span.ivrant")));
    const auto report = reportOf(bare);
    const auto move = std::find_if(report.moves.begin(), report.moves.end(), [](const auto& m) { return m.name == "Slew"; });
    ASSERT_NE(move, report.moves.end()) << "a function of its gear board turns it";
    ASSERT_TRUE(move->joint);
    const auto* told = findVerdict(report, "tip-move/" + move->key);
    ASSERT_NE(told, nullptr);
    EXPECT_EQ(told->state, verdict::State::Fail);
    const auto mends = verdict::listMends(report, *told);
    const auto inSpan = std::find_if(mends.begin(), mends.end(), [](const auto& mend) { return mend.text.find(" g in Span, at ") != std::string::npos; });
    ASSERT_NE(inSpan, mends.end());
    const auto changed = must(inSpan->apply(bare));
    ASSERT_EQ(changed.sections[1]->ballast.size(), 1U);
    const auto& ballast = changed.sections[1]->ballast[0];
    EXPECT_LT(ballast.atUm[1], 0) << "behind the turntable, away from the long arm";
    const auto after = reportOf(changed);
    for (const auto& m : after.moves) EXPECT_GE(m.leastDeg, verdict::kUsualTipDeg - 1e-9) << m.name;
    const auto inPier = std::find_if(mends.begin(), mends.end(), [](const auto& mend) { return mend.text.find(" g in Pier, at ") != std::string::npos; });
    ASSERT_NE(inPier, mends.end()) << "a heavy pier does as well";
    EXPECT_LT(std::stod(inPier->text.substr(4)), ballast.massG) << "it lies lower: the least comes first";
    EXPECT_LT(inPier, inSpan);
    // A gram less is not enough anywhere in the span.
    const auto standings = verdict::listStandings(report, *move);
    EXPECT_EQ(standings.size(), static_cast<std::size_t>(verdict::kMoveSteps) + 1);
    for (const auto& part : bare.sections[1]->parts) {
        std::vector<Vec3> at;
        for (const auto& standing : standings) at.push_back(standing.placed.X_WS[1] * (part.place.pose() * part.shape->centre));
        if (const auto range = stand::calcWeights(standings, at, verdict::kUsualTipDeg)) {
            EXPECT_GT(range->low, ballast.massG - 1);
        }
    }
}

TEST(BoardTurns, WhatATurntableCarriesGoesRoundItsShaft) {
    const Slewing f;
    auto placed = f.placed();
    EXPECT_TRUE(model::carriesBoards(f.project, f.table));
    EXPECT_FALSE(model::carriesBoards(f.project, {}));
    EXPECT_FALSE(model::carriesBoards(f.project, {"none"}));
    const auto before = model::calcBoardPoses(placed);
    placed.boardTurns = model::calcBoardTurns(placed, f.table, 90);
    const auto after = model::calcBoardPoses(placed);
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
    const model::Placed built{&turned, {geometry::Pose::Identity()}, {}};
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
    const auto poses = model::calcBoardPoses(placed);
    EXPECT_TRUE(poses[2].translation().isApprox(Vec3(10, -20, 64), 1e-9));
    placed.boardTurns = model::calcBoardTurns(placed, second, 180); // about (−16, 16), where the upper board's shaft stands
    EXPECT_TRUE(model::calcBoardPoses(placed)[1].isApprox(model::calcBoardPoses(f.placed())[1], 1e-12));
    EXPECT_TRUE(model::calcBoardPoses(placed)[2].translation().isApprox(Vec3(-32 + 10, 32 - 20, 64), 1e-9));
}

TEST(BoardTurns, TheBalanceFollowsTheFunction) {
    const Slewing f;
    const auto report = reportOf(f.project);
    ASSERT_EQ(report.moves.size(), 1U);
    const auto& move = report.moves[0];
    EXPECT_EQ(move.key, f.slew.text);
    EXPECT_FALSE(move.joint);
    EXPECT_NE(findVerdict(report, "tip-move/" + move.key), nullptr) << "a turntable's way has a verdict even where its ends are its extremes";
    const auto end = verdict::calcPlaceOnWay(report, move, 1), start = verdict::calcPlaceOnWay(report, move, 0);
    ASSERT_TRUE(end && start);
    // What goes round keeps its distance from the axis; the rest stays: the centre of all moves by the share of that mass.
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
    const auto report = reportOf(must(files::loadProject(test::repo("/data/demo/bridge.ivrant"))));
    ASSERT_EQ(report.moves.size(), 1U);
    EXPECT_EQ(report.moves[0].name, "Slew");
    EXPECT_GT(report.moves[0].anglesDeg.front() - report.moves[0].anglesDeg.back(), 0.1);
}

namespace {

/// A tower of bricks on a narrow plate; asks are put to it.
model::Project makeTower() {
    test::Stack f;
    f.put(0, "plate 2x8 at 0 0 0");
    for (int k = 0; k < 4; ++k) f.put(0, "brick 2x2 at 0 3 " + std::to_string(1 + 3 * k));
    f.put(0, "plate 2x6 at 0 3 13");
    return f.project;
}
verdict::Report askOf(const model::Project& project, const std::string& measure, model::Comparison comparison, double value) {
    model::Ask ask;
    ask.measure = measure;
    ask.comparison = comparison;
    ask.value = value;
    return reportOf(must(model::putAsk(project, ask)));
}
const verdict::Verdict& failingAsk(const verdict::Report& report) {
    for (const auto& v : report.verdicts)
        if (v.check == "ask" && v.state == verdict::State::Fail) return v;
    throw std::runtime_error("no ask fails");
}

} // namespace

TEST(AskMends, WhatIsAskedOfTheBalanceIsReached) {
    const auto tower = makeTower();
    const auto plain = reportOf(tower);
    const double now = plain.present.tipping->angleDeg;
    const double push = stand::calcTipPushN(*plain.present.tipping, plain.present.tipping->towardDeg, stand::calcTopMm(plain.present.placed));
    for (const auto& [measure, value] : {std::pair<std::string, double>{"tip-angle", now + 4}, {"tip-push", 1.3 * push}}) {
        const auto report = askOf(tower, measure, model::Comparison::AtLeast, value);
        const auto mends = verdict::listMends(report, failingAsk(report));
        ASSERT_FALSE(mends.empty()) << measure;
        int reached = 0;
        for (const auto& mend : mends) {
            const auto after = reportOf(must(mend.apply(*report.project)));
            const auto told = std::find_if(after.verdicts.begin(), after.verdicts.end(), [](const auto& v) { return v.check == "ask"; });
            reached += told->state == verdict::State::Good ? 1 : 0;
        }
        EXPECT_EQ(reached, static_cast<int>(mends.size())) << measure;
    }
    // What is asked as a limit from above has none of these mends.
    const auto other = askOf(tower, "tip-angle", model::Comparison::AtMost, now - 1);
    EXPECT_TRUE(verdict::listMends(other, failingAsk(other)).empty());
}

TEST(AskMends, WhatIsAskedOfTheBondsLowersLambda) {
    test::Overhang f;
    f.project = must(model::addBallast(f.project, f.project.sections[0]->id, {20, {0, 20'000, 17'600}})); // on the arm: below 1/20 λ is not sought
    const auto report = askOf(f.project, "bond-margin", model::Comparison::AtLeast, 1000);
    const double before = *report.poses.front().standing->equilibrium.lambda;
    const auto mends = verdict::listMends(report, failingAsk(report));
    ASSERT_FALSE(mends.empty());
    for (const auto& mend : mends)
        EXPECT_LT(reportOf(must(mend.apply(*report.project))).poses.front().standing->equilibrium.lambda.value_or(0), before) << mend.text;
}

TEST(AskMends, APostThatCarriesTooMuchIsPutElsewhere) {
    test::Stack f;
    f.put(0, "brick 2x2 at 0 0 0");
    f.put(0, "plate 2x8 at 0 0 3");
    f.put(0, "brick 2x2 at 0 6 4");
    const auto near = must(model::putSupport(f.project, {{}, {4000, 28'000, 9600}, nullptr}));
    const double carries = verdict::checkSupports(reportOf(near)).front().tiltN;
    const auto report = askOf(near, "support-force", model::Comparison::AtMost, 0.7 * carries);
    const auto mends = verdict::listMends(report, failingAsk(report));
    const auto moved = std::find_if(mends.begin(), mends.end(), [](const auto& mend) { return mend.text.starts_with("put it under"); });
    ASSERT_NE(moved, mends.end());
    const auto after = reportOf(must(moved->apply(*report.project)));
    ASSERT_EQ(after.project->supports.size(), 1U);
    EXPECT_LE(verdict::checkSupports(after).front().tiltN, 0.7 * carries);
}
