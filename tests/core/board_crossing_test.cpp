// SPDX-License-Identifier: GPL-3.0-or-later
// Screws, belts, coupled shafts, bricks that carry shafts, strings over a turning part, boards' parts against other
// sections.
#include <cmath>
#include <gtest/gtest.h>

#include "core/base/at.h"
#include "core/base/units.h"
#include "core/drive/board_line.h"
#include "core/drive/strand_turn.h"
#include "core/drive/travel_finder.h"
#include "core/files/project_file.h"
#include "core/files/results_drive.h"
#include "core/pose/collide.h"
#include "core/verdict/asks/asks.h"
#include "core/verdict/mends.h"
#include "tests/support/boards.h"
#include "tests/support/near.h"

using namespace ivrant;
using model::GearKind;
using test::BoardFigure;
using test::must;
using verdict::State;

namespace {

verdict::Report report(const model::Project& project) {
    return verdict::calcReport(std::make_shared<const model::Project>(project));
}

const verdict::Verdict* find(const verdict::Report& r, const std::string& check) {
    for (const auto& v : r.verdicts)
        if (v.check == check) return &v;
    return nullptr;
}

model::Strand strand(double off, double gap, double slack) {
    model::Strand s;
    s.offUm = std::llround(off * 1000);
    s.gapUm = std::llround(gap * 1000);
    s.slackUm = std::llround(slack * 1000);
    return s;
}

/// A motor on a shaft with a screw of 9 pitches, which a function moves.
struct ScrewFigure : BoardFigure {
    model::ShaftId input;
    model::GearId screw;
    ScrewFigure(double newton, double travel) {
        input = shaft(0, 0, 3);
        screw = gear(input, GearKind::Actuator, 9, 2);
        motor(input);
        model::DriveFunction push;
        push.name = "Push";
        push.gear = screw;
        push.load = model::LoadKind::Friction;
        push.amount = newton;
        push.travel = travel;
        push.mustHold = true;
        function(push);
    }
};

/// A turntable on a held post, turned by a function; a strand crosses it.
struct TableFigure : BoardFigure {
    model::GearId table;
    explicit TableFigure(double travel, model::Strand over = strand(24, 16, 10)) {
        const auto post = shaft(0, 0, 4);
        table = gear(post, GearKind::Turntable, 56, 2);
        const auto drive = shaft(4, 0, 4);
        spur(drive, 8, 2);
        motor(drive);
        model::DriveFunction slew;
        slew.name = "Slew";
        slew.gear = table;
        slew.travel = travel;
        function(slew);
        over.over = table;
        over.name = "Gate string";
        project = must(model::putStrand(project, board, over));
    }
};

} // namespace

TEST(Screw, MovesItsLeadForATurn) {
    const ScrewFigure f(0, 20);
    EXPECT_EQ(f.ratio(f.input, f.screw), "4:1");
    const auto net = f.net();
    const auto& rod = at(net.rotors, net.findRotor(f.screw.text));
    EXPECT_TRUE(rod.isStraight());
    EXPECT_NEAR(rod.mmPerUnit(), 1, 0);
}

TEST(Screw, AsksOfTheMotorWhatTheTravelFinderSays) {
    // 20 N at 4 mm a turn and an efficiency of 0.25: 20·4/2π/0.25 = 50.9 N·mm
    const ScrewFigure f(20, 20);
    const auto made = f.report();
    const auto& state = made.positions.front().functions.front();
    ASSERT_EQ(state.motors.size(), 1u);
    EXPECT_NEAR(state.motors.front().point.torqueNmm, 20 * 4 / (2 * base::kPi) / 0.25, 1e-6);
    drive::TravelWish wish;
    wish.travelMm = 20;
    wish.forceN = 20;
    EXPECT_NEAR(state.motors.front().point.torqueNmm, must(drive::listTravels(wish)).front().torqueNmm, 1e-6);
    // As fast as the motor turns: rpm/60 · 4 mm.
    EXPECT_NEAR(state.speed, state.motors.front().point.rpm / 60 * 4, 1e-9);
    ASSERT_TRUE(state.travelS);
    EXPECT_NEAR(*state.travelS, 20 / state.speed, 1e-6); // friction is even over the travel
    // Work in against work out over the efficiency: ω·τ·η = F·v.
    const double in = state.motors.front().point.torqueNmm * state.motors.front().point.rpm * 2 * base::kPi / 60;
    EXPECT_NEAR(in * 0.25, 20 * state.speed, 1e-6);
}

TEST(Screw, HoldsAndHasAStroke) {
    const auto near = report(ScrewFigure(5, 20).project), far = report(ScrewFigure(5, 30).project);
    EXPECT_EQ(find(near, "self-hold")->state, State::Good);
    EXPECT_EQ(find(near, "stroke")->state, State::Good);
    EXPECT_EQ(find(far, "stroke")->state, State::Fail); // 24 mm of stroke
    EXPECT_NEAR(find(far, "stroke")->limit, drive::getActuatorStrokeMm(9), 0);
}

TEST(Screw, IsAPartOfTheModel) {
    const ScrewFigure f(5, 20);
    const auto counts = model::countShapes(model::listBoardParts(*f.project.boards[0]));
    EXPECT_EQ(counts.at("linear actuator 9"), 1);
}

TEST(Belt, TheLongestThatIsStretchedEnough) {
    // Two pulleys of 24 at 48 mm: 2·48 + π·24 = 171.4 mm. 160 · 1.05 = 168 fits, 208 hangs loose.
    EXPECT_EQ(model::calcBelt(171.4).lengthMm, 160);
    EXPECT_NEAR(model::calcBelt(171.4).stretch, 171.4 / 160, 1e-12);
    EXPECT_EQ(model::calcBelt(40).lengthMm, model::kBeltLengthsMm[0]); // shorter than all there are: loose
    EXPECT_LT(model::calcBelt(40).stretch, 1);
    EXPECT_NEAR(model::calcBelt(171.4, 96).stretch, 171.4 / 96, 1e-12);
    for (double loop = 60; loop < 800; loop += 7)
        EXPECT_GE(model::calcBelt(loop).stretch, model::kLeastStretch) << loop;
}

TEST(Belt, IsListedAndJudged) {
    BoardFigure f;
    const auto a = f.shaft(0, 0), b = f.shaft(6, 0);
    const auto pa = f.gear(a, GearKind::Pulley, 24, 1), pb = f.gear(b, GearKind::Pulley, 24, 1);
    model::Loop loop;
    loop.belt = true;
    loop.gears = {pa, pb};
    f.project = must(model::putLoop(f.project, f.board, loop));
    EXPECT_EQ(model::countShapes(model::listBoardParts(*f.project.boards[0])).at("belt 160"), 1);
    EXPECT_EQ(find(report(f.project), "loop")->state, State::Good);
    loop.id = f.project.boards[0]->loops[0].id;
    for (const auto& [length, state] :
         {std::pair{96, State::Fail}, {165, State::Thin}, {208, State::Fail}, {160, State::Good}}) {
        loop.links = length;
        f.project = must(model::putLoop(f.project, f.board, loop));
        const auto made = report(f.project);
        const auto* v = find(made, "loop");
        EXPECT_EQ(v->state, state) << length << ' ' << v->detail;
        if (length != 96) continue;
        const auto mends = verdict::listMends(made, *v);
        ASSERT_EQ(mends.size(), 1u);
        EXPECT_EQ(find(report(must(mends.front().apply(f.project))), "loop")->state, State::Good);
    }
    // What no family makes is said.
    loop.links = 165;
    f.project = must(model::putLoop(f.project, f.board, loop));
    EXPECT_EQ(model::listBoardParts(*f.project.boards[0]).missing, std::vector<std::string>{loop.id.text});
}

TEST(Coupling, ItsPiecesAreCounted) {
    BoardFigure f;
    const auto a = f.shaft(0, 0, 4, 0, model::BoardAxis::Right), b = f.shaft(5, 0, 4, 0, model::BoardAxis::Right),
               c = f.shaft(10, 0, 4, 0, model::BoardAxis::Right);
    f.project = must(model::putCoupling(f.project, f.board, {{}, a, b, true, {}}));
    f.project = must(model::putCoupling(f.project, f.board, {{}, b, c, false, {}}));
    const auto counts = model::countShapes(model::listBoardParts(*f.project.boards[0]));
    EXPECT_EQ(counts.at("universal joint fork"), 2);
    EXPECT_EQ(counts.at("universal joint cross"), 1);
    EXPECT_EQ(counts.at("straight connector"), 1);
}

TEST(Bricks, CarryTheShaftsThatPassThroughTheirHoles) {
    test::Figure f;
    // A beam's holes are along y, the first at its origin: a board that stands in the plane of x and z has its shafts
    // along y.
    f.put(0, "beam 5 at 0 0 0");
    f.put(0, "beam 5 at 0 4 0");
    model::Place place;
    place.attitude = 20; // board z = section y: Rx(−90°)·… maps z to +y
    model::BoardId board;
    f.project = must(model::addBoard(f.project, "Side", f.project.sections[0]->id, place, &board));
    const geometry::Vec3 out = place.frame().linear().col(2);
    ASSERT_NEAR(std::abs(out.y()), 1, 1e-12);
    const geometry::Vec3 hole = place.frame().inverse() * geometry::Vec3(16, 0, 0);
    model::Shaft shaft;
    const double way = out.y();
    shaft.atUm = {base::mmToUm(hole.x()), base::mmToUm(hole.y()), base::mmToUm(way > 0 ? -8 : -40)};
    shaft.lengthUm = 48'000;
    model::ShaftId id;
    f.project = must(model::putShaft(f.project, board, shaft, &id));
    const auto X = model::calcBoardFrames({&f.project, {geometry::Frame::Identity()}, {}});
    const auto net = drive::makeDriveNet(drive::readBoards(f.project, X), drive::listEngaged(f.project));
    ASSERT_EQ(net.supports.size(), 1u);
    EXPECT_EQ(net.supports[0].bricks, 2);
    // 8 mm from the shaft's start lies the first beam, 32 mm on (four pitches) the other.
    ASSERT_EQ(net.supports[0].holesMm.size(), 2u);
    EXPECT_NEAR(net.supports[0].holesMm[0], 8, 1e-9);
    EXPECT_NEAR(net.supports[0].holesMm[1], 40, 1e-9);
    // Beside the holes nothing carries it.
    shaft.id = id;
    shaft.atUm[0] += 4000;
    f.project = must(model::putShaft(f.project, board, shaft));
    EXPECT_TRUE(drive::makeDriveNet(drive::readBoards(f.project, X), drive::listEngaged(f.project))
                    .supports[0]
                    .holesMm.empty());
}

TEST(Strand, TurnsUntilItIsTight) {
    // r = 24, g = 16, slack 10: chord √(26² − 16²) = 20.49 = 2·24·sin(θ/2) → θ = 50.55°
    EXPECT_NEAR(drive::calcStrandTurnDeg(strand(24, 16, 10)), 50.549, 0.001);
    // Whatever the angle: the distance of the guides there is gap and slack together.
    for (const auto& s : {strand(24, 16, 10), strand(10, 0, 5), strand(40, 30, 1)}) {
        const double half = base::degToRad(drive::calcStrandTurnDeg(s)) / 2, r = base::umToMm(s.offUm),
                     g = base::umToMm(s.gapUm);
        const geometry::Vec3 still(r, 0, 0), turned(r * std::cos(2 * half), r * std::sin(2 * half), g);
        EXPECT_NEAR((turned - still).norm(), g + base::umToMm(s.slackUm), 1e-9);
    }
    EXPECT_NEAR(drive::calcStrandTurnDeg(strand(24, 16, 0)), 0, 1e-12);
    EXPECT_NEAR(drive::calcStrandTurnDeg(strand(10, 0, 20)), 180, 0); // reaches right across
    EXPECT_NEAR(drive::calcStrandTurnDeg(strand(0, 16, 0)), drive::kMostTwistDeg, 0);
    double before = -1;
    for (double slack = 0; slack < 30; slack += 2) {
        const double now = drive::calcStrandTurnDeg(strand(20, 10, slack));
        EXPECT_GE(now, before);
        before = now;
    }
}

TEST(Strand, LimitsTheFunctionThatTurnsItAndIsMended) {
    const auto f = TableFigure(90);
    const auto made = report(f.project);
    const auto* v = find(made, "strand");
    ASSERT_TRUE(v);
    EXPECT_EQ(v->state, State::Fail);
    EXPECT_NEAR(v->value, 90, 1e-9);
    EXPECT_NEAR(v->limit, drive::calcStrandTurnDeg(strand(24, 16, 10)), 1e-9);
    EXPECT_EQ(v->text, "Gate string limits Slew");
    const auto mends = verdict::listMends(made, *v);
    ASSERT_FALSE(mends.empty());
    const auto mended = report(must(mends.front().apply(f.project)));
    EXPECT_NE(find(mended, "strand")->state, State::Fail);
    EXPECT_EQ(find(report(TableFigure(30).project), "strand")->state, State::Good);
    EXPECT_EQ(find(report(TableFigure(0).project), "strand")->state, State::Fail); // endless
}

TEST(Strand, EndsWhatIsAskedToTurnEndlessly) {
    auto f = TableFigure(0);
    model::Ask ask;
    ask.measure = "function-turns";
    ask.word = "endless";
    const auto answer = [&](const model::Project& project) {
        const auto made = report(project);
        for (const auto& v : made.verdicts)
            if (v.check == "ask") return v.state;
        return State::Thin;
    };
    ask.function = "Slew";
    f.project = must(model::putAsk(f.project, ask));
    EXPECT_EQ(answer(f.project), State::Fail);
    EXPECT_EQ(answer(must(model::removeFromBoard(f.project, {f.project.boards[0]->strands[0].id.text}))), State::Good);
}

TEST(Strand, GoesWithWhatItCrosses) {
    const auto f = TableFigure(90);
    EXPECT_TRUE(must(model::removeFromBoard(f.project, {f.table.text})).boards[0]->strands.empty());
    auto wrong = f.project.boards[0]->strands[0];
    wrong.slackUm = -1;
    EXPECT_EQ(model::putStrand(f.project, f.board, wrong).error().code, "strand.value");
    wrong.slackUm = 0;
    wrong.over = {"nothing"};
    EXPECT_EQ(model::putStrand(f.project, f.board, wrong).error().code, "strand.value");
}

TEST(Strand, StandsInTheFileAndInTheResults) {
    auto f = TableFigure(90);
    model::Loop loop; // belts keep their length
    loop.belt = true;
    const auto a = f.shaft(10, 0), b = f.shaft(16, 0);
    loop.gears = {f.gear(a, GearKind::Pulley, 24, 1), f.gear(b, GearKind::Pulley, 24, 1)};
    loop.links = 160;
    f.project = must(model::putLoop(f.project, f.board, loop));
    f.gear(f.shaft(20, 0), GearKind::Actuator, 13, 3);
    const std::string text = files::writeProject(f.project);
    const auto again = must(files::parseProject(text));
    EXPECT_EQ(files::writeProject(again), text);
    ASSERT_EQ(again.boards[0]->strands.size(), 1u);
    EXPECT_EQ(again.boards[0]->strands[0].slackUm, 10'000);
    EXPECT_EQ(again.boards[0]->loops[0].links, 160);
    const auto json = files::makeDriveJson(report(f.project), std::nullopt);
    ASSERT_EQ(json["strands"].size(), 1u);
    EXPECT_NEAR(json["strands"][0]["turns_deg"].get<double>(), 50.549, 0.001);
}

TEST(BoardLine, StrandsScrewsAndLengths) {
    EXPECT_EQ(must(drive::parseBoardLine("belt 160")).count, 160);
    EXPECT_EQ(must(drive::parseBoardLine("chain 24")).count, 24);
    EXPECT_EQ(must(drive::parseBoardLine("actuator 9")).kind, GearKind::Actuator);
    const auto line = must(drive::parseBoardLine("string off 3 gap 16mm slack 10mm"));
    EXPECT_EQ(line.what, drive::BoardLine::What::Strand);
    EXPECT_EQ(line.offUm, 24'000);
    EXPECT_EQ(line.slackUm, 10'000);
    EXPECT_TRUE(must(drive::parseBoardLine("wire")).wire);
    for (const char* text :
         {"belt 1.5", "belt 0", "belt 96 96", "string off", "string around", "string off 1 slack", "actuator"})
        EXPECT_FALSE(drive::parseBoardLine(text).ok()) << text;
    auto f = TableFigure(90);
    const drive::BoardHand nothing{f.board, {}, {}, 0};
    EXPECT_EQ(drive::applyBoardLine(f.project, nothing, line).error().code, "line.choose");
    const drive::BoardHand post{f.board, {f.project.boards[0]->shafts[0].id.text}, {}, 0};
    const auto two = must(drive::applyBoardLine(f.project, post, line)).project;
    ASSERT_EQ(two.boards[0]->strands.size(), 2u);
    EXPECT_EQ(two.boards[0]->strands[1].over, f.table);
}

namespace {

/// A post with a swivelling arm; a shaft of the arm's own board stands out below it and meets a block beside the post
/// when it turns.
struct ArmWithShaft : test::Figure {
    model::BoardId board;
    ArmWithShaft() {
        put(0, "plate 8x8 at -4 -4 0");
        const auto lower = put(0, "small turntable lower at 0 0 1");
        put(0, "brick 1x1 at -1 2 1");
        const auto upper = put(1, "small turntable upper at 0 0 0");
        join("small turntable", lower, "lower", upper, "upper");
        model::Place place;
        place.atUm = {24'000, 0, 0};
        project = must(model::addBoard(project, "Arm", project.sections[1]->id, place, &board));
    }
    void hang(double lowMm) {
        model::Shaft shaft;
        shaft.atUm = {0, 0, base::mmToUm(-lowMm)};
        shaft.lengthUm = base::mmToUm(lowMm + 16);
        project = must(model::putShaft(project, board, shaft));
    }
};

} // namespace

TEST(BoardBodies, AShaftStopsAJointAtABrick) {
    ArmWithShaft f;
    const auto free = f.range();
    EXPECT_TRUE(free.endless);
    // The shaft at 24 mm from the axis passes over the plate, and meets the block at (−8, 16) whose far corner is 17…22
    // mm from it.
    f.put(0, "brick 1x1 at -1 3 1");
    f.hang(4);
    const auto stopped = f.range();
    EXPECT_FALSE(stopped.endless);
    ASSERT_EQ(stopped.high.by, pose::StopBy::Contact);
    const auto& by = stopped.high.moving.spot.section == 1 ? stopped.high.moving : stopped.high.fixed;
    EXPECT_EQ(model::getPart(f.project, by.spot).id.text, f.project.boards[0]->shafts[0].id.text);
    EXPECT_EQ(by.spot.part, 1); // beyond the arm's only part
    // Second route: a figure whose arm has the same axle as a part stops at the same angle.
    ArmWithShaft twin;
    twin.put(0, "brick 1x1 at -1 3 1");
    model::NewPart axle;
    axle.shape = must(parts::makeShape("axle 3"));
    axle.place = model::makePlace(model::listBoardParts(*f.project.boards[0]).parts[0].X_BP);
    axle.place.atUm[0] += 24'000;
    std::vector<model::PartId> ids;
    twin.project = must(model::addParts(twin.project, twin.project.sections[1]->id, {&axle, 1}, &ids));
    EXPECT_NEAR(twin.range().free.high, stopped.free.high, 1e-6);
    EXPECT_NEAR(twin.range().free.low, stopped.free.low, 1e-6);
}

TEST(BoardBodies, CollidesInAPose) {
    ArmWithShaft f;
    f.put(0, "brick 1x1 at -1 3 1");
    f.hang(4);
    const double angle = f.range().free.high + 5;
    f.project = must(model::setJointValue(f.project, f.project.joints[0].id, {angle}));
    const auto bodies = pose::makeBodies(f.project, f.tree(), bonds::calcBonds(f.project));
    EXPECT_EQ(pose::calcCollisions(f.placed(), bodies).size(), 1u);
    const auto made = report(f.project);
    const auto* v = find(made, "collide");
    ASSERT_TRUE(v);
    EXPECT_EQ(v->state, State::Fail);
    EXPECT_EQ(find(made, "board-brick"), nullptr); // said once
}
