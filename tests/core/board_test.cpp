// SPDX-License-Identifier: GPL-3.0-or-later
// Boards laid out by hand: what meshes, with which sense, what is in the way, what is carried; the whole report of a
// small drive.
#include <cmath>
#include <gtest/gtest.h>

#include "core/base/at.h"
#include "core/base/units.h"
#include "tests/support/boards.h"
#include "tests/support/near.h"

using namespace ivrant;
using drive::Fit;
using model::BoardAxis;
using model::GearKind;
using test::BoardFigure;
using test::must;

namespace {

TEST(DriveNet, WheelsInMeshJoinUp) {
    BoardFigure f;
    const auto a = f.shaft(0, 0), b = f.shaft(2, 0), c = f.shaft(2, 3);
    f.spur(a, 8);
    f.spur(b, 24); // 16 mm
    f.spur(b, 8, 3);
    f.spur(c, 40, 3);                 // 24 mm
    EXPECT_EQ(f.ratio(a, c), "1:15"); // 8/24 · 8/40
    const auto net = f.net();
    EXPECT_EQ(net.relations.size(), 2U);
    EXPECT_TRUE(net.faults.empty());
    EXPECT_TRUE(net.clashes.empty()) << net.clashes.front().text;
}

TEST(DriveNet, OtherLayersDoNotMesh) {
    BoardFigure f;
    const auto a = f.shaft(0, 0), b = f.shaft(2, 0);
    f.spur(a, 8, 1);
    f.spur(b, 24, 2);
    EXPECT_EQ(f.ratio(a, b), "0");
}

TEST(DriveNet, BindingAndSkippingTellTheError) {
    // 24 and 20 want 22 mm. 21.6 mm: 0.4 too near; 22.63 (2, 2): 0.63 too far.
    BoardFigure f;
    const auto a = f.shaft(0, 0), b = f.shaft(2.7, 0);
    f.spur(a, 24);
    const auto second = f.spur(b, 20);
    auto net = f.net();
    ASSERT_EQ(net.faults.size(), 1U);
    EXPECT_EQ(net.faults[0].fit, Fit::Binds);
    EXPECT_NEAR(net.faults[0].errorMm, -0.4, 1e-9);
    f.project = must(model::moveOnBoard(f.project, f.board, {b.text}, {-5600, 16000, 0}));
    net = f.net();
    ASSERT_EQ(net.faults.size(), 1U);
    EXPECT_EQ(net.faults[0].fit, Fit::Skips);
    EXPECT_NEAR(net.faults[0].errorMm, 8 * std::sqrt(8) - 22, 1e-9);
    EXPECT_EQ(at(net.rings, net.faults[0].gearB).id, second.text);
}

TEST(DriveNet, BevelPairAcross) {
    // 12 on a shaft to the right, 20 on one out of the board: the axes meet at the origin; the 12 stands 10 + 2 = 12 mm
    // from it, the 20 6 + 2 = 8 mm.
    BoardFigure f;
    const auto a = f.shaft(1, 0, 4, 0, BoardAxis::Right), b = f.shaft(0, 0, 4, 0.5);
    f.gear(a, GearKind::Bevel, 12, 0.5); // centre at x = 1.5 pitches
    f.gear(b, GearKind::Bevel, 20, 0.5); // centre at z = 1 pitch
    EXPECT_TRUE(f.net().faults.empty());
    // Contact at (10, 0, 6): the 12 about +x moves it by x̂ × (0,0,6) = −6ŷ; the 20 about +z: ẑ × (10,0,0) = +10ŷ:
    // senses oppose.
    EXPECT_EQ(f.ratio(a, b), "-3:5");
}

TEST(DriveNet, CrownWithASpur) {
    // Crown 24 about +z at the origin facing up; spur 8 on a shaft along x whose axis lies 4 + 4 = 8 mm above the
    // crown's middle, its middle 12 mm out.
    BoardFigure f;
    const auto crown = f.shaft(0, 0, 2), spur = f.shaft(1, 0, 2, 2, BoardAxis::Right);
    f.gear(crown, GearKind::Crown, 24, 1);
    f.spur(spur, 8, 0.5);
    EXPECT_EQ(f.ratio(spur, crown),
              "1:3"); // contact (12, 0, 12): x̂ × (0,0,−4) = +4ŷ; ẑ × (12,0,·) = +12ŷ: the same way
    // Below the spur's axis by the same distance but facing away, it does not reach it.
    f.project = must(model::moveOnBoard(f.project, f.board, {crown.text}, {0, 0, 16000}));
    EXPECT_TRUE(f.net().relations.empty());
}

TEST(DriveNet, WormHandednessAndDistance) {
    // Worm along x at y = 2 above a 24 at the origin: 4 + 12 = 16 mm.
    BoardFigure f;
    const auto wheel = f.shaft(0, 0), worm = f.shaft(-2, 2, 4, 1, BoardAxis::Right);
    f.spur(wheel, 24, 1);
    const auto thread = f.gear(worm, GearKind::Worm, 1, 2);
    // Right-handed, turning positively about +x, its thread runs to −x; at the top of a wheel turning positively about
    // +z the teeth run to −x too.
    EXPECT_EQ(f.ratio(worm, wheel), "1:24");
    model::Gear left = f.project.boards[0]->gears.back();
    ASSERT_EQ(left.id, thread);
    left.leftHand = true;
    f.put(left);
    EXPECT_EQ(f.ratio(worm, wheel), "-1:24");
    EXPECT_TRUE(f.net().efficiency[0].forward <= 0 || f.net().efficiency[0].backward <= 0)
        << "from the wheel's side it does not run";
}

TEST(DriveNet, RackMovesByTeeth) {
    BoardFigure f;
    const auto a = f.shaft(0, 0);
    f.spur(a, 16, 1);
    const auto rack = f.rack(-2, -1, 1, 13); // its pitch line 8 mm below
    // At the bottom a wheel turning positively moves to +x.
    EXPECT_EQ(f.ratio(a, rack), "16:1");
}

TEST(DriveNet, RingAroundAWheel) {
    BoardFigure f;
    const auto ring = f.shaft(0, 0), wheel = f.shaft(2, 0); // (56 − 24)/2 = 16 mm
    f.gear(ring, GearKind::Ring, 56, 1);
    f.spur(wheel, 24, 1);
    EXPECT_EQ(f.ratio(wheel, ring), "3:7");
    // Further out it is pressed into the ring.
    f.project = must(model::moveOnBoard(f.project, f.board, {wheel.text}, {400, 0, 0}));
    ASSERT_EQ(f.net().faults.size(), 1U);
    EXPECT_EQ(f.net().faults[0].fit, Fit::Binds);
}

TEST(DriveNet, DifferentialChainBeltAndCoupling) {
    BoardFigure f;
    const auto left = f.shaft(0, 0, 4), right = f.shaft(0, 0, 4, 4), pinion = f.shaft(2.5, 0, 4, 2);
    model::Gear housing;
    housing.kind = GearKind::Differential;
    housing.teeth = 28;
    housing.shaft = left;
    housing.other = right;
    housing.alongUm = f.um(4);
    const auto differential = f.put(housing);
    f.spur(pinion, 12, 2); // 20 mm from the axis, in the case's plane
    auto net = f.net();
    EXPECT_TRUE(net.notes.empty());
    auto motion = drive::solveTrain(net.train, {net.findRotor(pinion.text), net.findRotor(right.text)});
    EXPECT_EQ(motion.ratio(net.findRotor(differential.text), net.findRotor(pinion.text)), drive::makeRational(-3, 7));
    EXPECT_EQ(motion.ratio(net.findRotor(left.text), net.findRotor(pinion.text)),
              drive::makeRational(-6, 7)); // the right side held
    EXPECT_EQ(motion.ratio(net.findRotor(left.text), net.findRotor(right.text)), drive::makeRational(-1));

    BoardFigure g;
    const auto a = g.shaft(0, 0), b = g.shaft(8, 0), c = g.shaft(8, 0, 4, 6);
    const auto ga = g.gear(a, GearKind::Sprocket, 10, 1), gb = g.gear(b, GearKind::Sprocket, 20, 1);
    const auto pa = g.gear(a, GearKind::Pulley, 16, 3), pb = g.gear(b, GearKind::Pulley, 32, 3);
    g.project = must(model::putLoop(g.project, g.board, {{}, false, false, {ga, gb}, 0, {}}));
    EXPECT_EQ(g.ratio(a, b), "1:2");
    g.project = must(model::putCoupling(g.project, g.board, {{}, b, c, true, {}}));
    EXPECT_EQ(g.ratio(a, c), "1:2");
    g.project =
        must(model::putLoop(g.project, g.board, {{}, true, true, {pa, pb}, 0, {}})); // crossed: the other way round
    EXPECT_EQ(g.ratio(a, b), "0") << "a chain and a crossed belt lock each other";
}

TEST(DriveNet, TwoBoardsInOtherPlanesMesh) {
    // A second board stands upright on the first's origin, turned by Rx(90°): its z points to the first's −y. Bevels 12
    // and 12, 8 mm each from where they meet.
    BoardFigure f;
    const auto a = f.shaft(0, 0, 4, 0.5); // along +z, centre at z = 8 mm
    f.gear(a, GearKind::Bevel, 12, 0.5);
    model::Place upright;
    upright.attitude = 20; // U_5 = Rx(90°)
    f.addBoard({}, upright);
    const auto b = f.shaft(0, 0, 4, 0.5); // along the second board's z = −y of the first
    f.gear(b, GearKind::Bevel, 12, 0.5);
    ASSERT_EQ(f.project.boards.size(), 2U);
    EXPECT_EQ(std::abs(std::stoi(f.ratio(a, b))), 1);
    EXPECT_TRUE(f.net().faults.empty());
}

TEST(DriveNet, ATurntableCarriesABoardAndItsShaftsCreep) {
    // Turntable 56 on a centre line; a shaft through its middle carries an 8 above; on the carried board a 24 beside
    // it.
    BoardFigure f;
    const auto line = f.shaft(0, 0, 1), through = f.shaft(0, 0, 6, 1.01), slew = f.shaft(4, 0, 2);
    model::Gear table;
    table.kind = GearKind::Turntable;
    table.teeth = 56;
    table.shaft = line;
    table.alongUm = f.um(2);
    const auto turntable = f.put(table);
    f.gear(slew, GearKind::Spur, 8, 1.5); // (56 + 8)/2 = 32 mm
    f.spur(through, 8, 3.99);             // z = 5 pitches
    f.addBoard({}, {});
    f.project = must(model::carryBoard(f.project, f.board, turntable));
    const auto up = f.shaft(2, 0, 2, 4);
    f.spur(up, 24, 1); // 16 mm from the middle, z = 5 pitches
    const auto net = f.net();
    EXPECT_TRUE(net.offAxis.empty());
    const int drive = net.findRotor(slew.text), input = net.findRotor(through.text), output = net.findRotor(up.text),
              slewing = net.findRotor(turntable.text);
    const auto motion = drive::solveTrain(net.train, {drive, input});
    EXPECT_EQ(motion.ratio(slewing, drive), drive::makeRational(-1, 7));
    EXPECT_EQ(motion.ratio(output, input), drive::makeRational(-1, 3));
    // Creep: the input held, ω = −1/3·(0 − ω_c) = ω_c/3.
    EXPECT_EQ(motion.ratio(output, drive), drive::makeRational(-1, 21));
    // Off the axis the mesh would open as soon as it slews.
    f.project = must(model::moveOnBoard(f.project, f.project.boards[0]->id, {through.text}, {0, 16000, 0}));
    f.project = must(model::moveOnBoard(f.project, f.project.boards[1]->id, {up.text}, {0, 16000, 0}));
    ASSERT_EQ(f.net().offAxis.size(), 1U);
    EXPECT_NEAR(f.net().offAxis[0].offMm, 16, 1e-9);
}

TEST(BoardBodies, ShaftThroughAWheelAndWheelsInOneLayer) {
    BoardFigure f;
    const auto a = f.shaft(0, 0), b = f.shaft(1, 0);
    f.spur(a, 40, 1); // tips at 21 mm, the other shaft at 8
    const auto clashes = f.net().clashes;
    ASSERT_EQ(clashes.size(), 1U);
    EXPECT_EQ(clashes[0].idA, b.text);
    EXPECT_NEAR(clashes[0].depthMm, 21 + 2.4 - 8, 1e-9);

    BoardFigure g;
    const auto c = g.shaft(0, 0), d = g.shaft(2, 0);
    g.gear(c, GearKind::Pulley, 20, 1);
    g.spur(d, 24, 1); // 16 mm apart, tips 11 + 13: 8 mm into each other; the shafts lie in the other's disc as well
    EXPECT_FALSE(g.net().clashes.empty());
    g.project = must(model::moveOnBoard(g.project, g.board, {d.text}, {24000, 0, 0}));
    EXPECT_TRUE(g.net().clashes.empty());
}

TEST(BoardBodies, CrossingAndLinedUpShafts) {
    BoardFigure f;
    f.shaft(0, 0, 4);
    f.shaft(-2, 0, 4, 2, BoardAxis::Right); // through the first one
    ASSERT_EQ(f.net().clashes.size(), 1U);
    EXPECT_NEAR(f.net().clashes[0].depthMm, 4.8, 1e-9);
    BoardFigure g;
    g.shaft(0, 0, 4);
    const auto second = g.shaft(0, 0, 4, 4); // end to end
    EXPECT_TRUE(g.net().clashes.empty());
    g.project = must(model::moveOnBoard(g.project, g.board, {second.text}, {0, 0, -8000}));
    ASSERT_EQ(g.net().clashes.size(), 1U);
    EXPECT_NEAR(g.net().clashes[0].depthMm, 8, 1e-9);
}

TEST(BoardBodies, ShaftsAreCarriedByWallsInHoles) {
    BoardFigure f;
    f.project = must(model::setWalls(f.project, f.board, {4000, 20000}));
    const auto a = f.shaft(0, 0, 5), b = f.shaft(3.1, 0, 5);
    f.spur(a, 8, 4);
    auto net = f.net();
    EXPECT_EQ(net.supports[0].holesMm, (std::vector<double>{4, 20}));
    EXPECT_NEAR(net.supports[0].overhangMm, 32 - 20, 1e-9);
    EXPECT_EQ(net.supports[0].shortMm, 0);
    EXPECT_TRUE(net.supports[1].holesMm.empty()) << "3.1 pitches is in no hole";
    f.spur(a, 8, 5); // its middle at the very end
    EXPECT_NEAR(f.net().supports[0].shortMm, 3.9 - 0.5, 1e-9);
    (void)b;
}

TEST(Loops, LengthOfChainsAndBelts) {
    // Two equal circles: 2·d + 2πr.
    EXPECT_NEAR(*model::calcLoopLength(10, 10, 80), 160 + 20 * base::kPi, 1e-9);
    // R 20, r 10, d 50: 2·√(2500 − 100) + 30π + 20·asin(0.2) = 97.980 + 94.248 + 4.027.
    EXPECT_NEAR(*model::calcLoopLength(20, 10, 50), 2 * std::sqrt(2400) + 30 * base::kPi + 20 * std::asin(0.2), 1e-9);
    EXPECT_EQ(model::calcLoopLength(20, 10, 15).error().code, "loop.length");
    EXPECT_EQ(model::calcLoopLength(20, 10, 29, true).error().code, "loop.length");
    // Crossed equals open when one circle shrinks to nothing.
    EXPECT_NEAR(*model::calcLoopLength(20, 0, 50, true), *model::calcLoopLength(20, 0, 50), 1e-9);
    const auto chain = must(model::calcChain(10, 10, 80));
    EXPECT_GE(chain.slackMm, 0);
    EXPECT_LT(chain.slackMm, 8);
    EXPECT_LT(must(model::calcChain(10, 10, 80, chain.links - 1)).slackMm, 0);
}

TEST(FunctionLoad, ArmIsHardestWhenLevel) {
    model::DriveFunction arm;
    arm.load = model::LoadKind::Arm;
    arm.amount = 100;
    arm.radiusMm = 80;
    arm.fromDeg = -30;
    arm.travel = 90;
    const auto hardest = drive::calcHardest(arm);
    EXPECT_NEAR(hardest.nmm, 0.1 * 9.80665 * 80, 1e-9);
    EXPECT_NEAR(hardest.at, 30, 1e-9);
    EXPECT_NEAR(hardest.least, 0.1 * 9.80665 * 80 * 0.5, 1e-9); // cos 60°
    arm.travel = -60;                                           // down to hanging: it pushes all the way
    EXPECT_EQ(drive::calcHardest(arm).nmm, 0);
    EXPECT_LT(drive::calcHardest(arm).least, 0);
}

TEST(FunctionLoad, TravelTimeAgainstClosedForms) {
    model::DriveFunction f;
    f.travel = 90;
    EXPECT_NEAR(*drive::calcTravelS(f, [](double) { return 30.0; }), 3, 1e-12);
    // Speed 10 + torque with torque cos θ over 0..90°: ∫ dθ/(10 + cos θ) = 2/√99 · atan(√(9/11)·tan 45°) rad.
    f.load = model::LoadKind::Arm;
    f.amount = 1000 / 9.80665;
    f.radiusMm = 1;
    const double closed = 2 / std::sqrt(99.0) * std::atan(std::sqrt(9.0 / 11)) * 180 / base::kPi;
    EXPECT_NEAR(*drive::calcTravelS(f, [](double nmm) { return 10 + nmm; }), closed, 1e-6);
    EXPECT_FALSE(drive::calcTravelS(f, [](double) { return 0.0; }));
    f.travel = 0;
    EXPECT_FALSE(drive::calcTravelS(f, [](double) { return 1.0; }));
}

TEST(DriveReport, ALiftThroughAWorm) {
    BoardFigure f;
    const auto worm = f.shaft(-2, 2, 4, 1, BoardAxis::Right, "Worm"),
               wheel = f.shaft(0, 0, 4, 0, BoardAxis::Out, "Lift");
    f.gear(worm, GearKind::Worm, 1, 2);
    f.spur(wheel, 24, 1);
    f.motor(worm);
    model::DriveFunction lift;
    lift.name = "Lift";
    lift.shaft = wheel;
    lift.load = model::LoadKind::Lift;
    lift.amount = 200; // g on 10 mm: 19.61 N·mm
    lift.radiusMm = 10;
    lift.travel = 720;
    f.function(lift);
    const auto report = f.report();
    ASSERT_EQ(report.positions.size(), 1U);
    const auto& state = report.positions[0].functions.at(0);
    EXPECT_EQ(report.motion.freedom(), 1);
    ASSERT_EQ(state.motors.size(), 1U);
    EXPECT_EQ(state.motors[0].ratio, drive::makeRational(1, 24));
    EXPECT_TRUE(state.holds);
    // At the motor: 19.613/24/(0.30·0.98); by hand on its line with 1 Ω: n = 400·((9 − (0.06 + 0.014·T))/9 − T/60).
    const double torque = 0.2 * 9.80665 * 10 / 24 / (0.30 * 0.98);
    EXPECT_NEAR(state.motors[0].point.torqueNmm, torque, 1e-9);
    const double rpm = 400 * ((9 - (0.06 + 0.014 * torque)) / 9 - torque / 60);
    EXPECT_NEAR(state.motors[0].point.rpm, rpm, 1e-6);
    EXPECT_NEAR(state.speed, rpm / 24, 1e-6);
    EXPECT_NEAR(*state.travelS, 720 / (rpm / 24 * 6), 1e-6);
    EXPECT_NEAR(state.outW / (state.outW + state.lostW), 0.30 * 0.98, 1e-9);
    EXPECT_NEAR(state.playDeg, base::radToDeg(0.2 / 12), 1e-9);
}

TEST(DriveReport, SelectorGivesEachFunctionItsTurn) {
    // Motor 24 between two loose 24s on their own shafts; the selector engages one or none.
    BoardFigure f;
    const auto motor = f.shaft(0, 0), a = f.shaft(3, 0), b = f.shaft(-3, 0);
    f.spur(motor, 24);
    const auto la = f.gear(a, GearKind::Spur, 24, 1, true), lb = f.gear(b, GearKind::Spur, 24, 1, true);
    f.motor(motor);
    for (const auto& [name, on] : {std::pair{"Slew", a}, std::pair{"Gate", b}}) {
        model::DriveFunction function;
        function.name = name;
        function.shaft = on;
        f.function(function);
    }
    f.project = must(
        model::putSelector(f.project, f.board, {{}, "Selector", {{"slew", {la}}, {"gate", {lb}}, {"off", {}}}, 2, {}}));
    const auto report = f.report();
    ASSERT_EQ(report.positions.size(), 3U);
    EXPECT_EQ(report.present, 2);
    const auto driven = [&](std::size_t position, std::size_t function) {
        return !report.positions[position].functions[function].motors.empty();
    };
    EXPECT_TRUE(driven(0, 0));
    EXPECT_FALSE(driven(0, 1));
    EXPECT_TRUE(driven(1, 1));
    EXPECT_FALSE(driven(2, 0) || driven(2, 1));
    f.project = must(model::setSelectorPosition(f.project, f.project.boards[0]->selectors[0].id, 0));
    EXPECT_EQ(f.report().present, 0);
    EXPECT_EQ(model::setSelectorPosition(f.project, f.project.boards[0]->selectors[0].id, 3).error().code,
              "selector.position");
}

TEST(DriveReport, ALockIsToldInWords) {
    BoardFigure f;
    const auto a = f.shaft(0, 0), b = f.shaft(2, 0);
    f.spur(a, 16, 1);
    f.spur(b, 16, 1);
    f.spur(a, 8, 2);
    f.spur(b, 24, 2);
    f.motor(a);
    const auto report = f.report();
    const auto& position = report.positions[0];
    ASSERT_EQ(position.lock.size(), 2U);
    EXPECT_NE(position.lock[0].find("16"), std::string::npos);
    EXPECT_EQ(position.freedom, 0);
}

TEST(DriveReport, ALockBesideTheMotorIsToldAndAHeldShaftIsNone) {
    BoardFigure f;
    const auto motor = f.shaft(20, 0), a = f.shaft(0, 0), b = f.shaft(2, 0), c = f.shaft(0, 6), d = f.shaft(2, 6);
    f.motor(motor);
    f.spur(a, 16, 1);
    f.spur(b, 16, 1);
    f.spur(c, 16, 1);
    f.spur(d, 16, 1);
    model::Shaft held = f.project.boards[0]->shafts[3];
    ASSERT_EQ(held.id, c);
    held.held = true;
    f.project = must(model::putShaft(f.project, f.board, held));
    EXPECT_TRUE(f.report().positions[0].lock.empty()) << "d stands still because c is held";
    f.spur(a, 8, 2);
    f.spur(b, 24, 2);
    const auto report = f.report();
    EXPECT_EQ(report.positions[0].lock.size(), 2U);
    EXPECT_FALSE(report.motion.isLocked(report.net.findRotor(motor.text)));
}

TEST(DriveReport, AMotorOnTheMeanOfTwoOthersFights) {
    BoardFigure f;
    const auto left = f.shaft(0, 0, 2), right = f.shaft(0, 0, 2, 2), across = f.shaft(3.25, 0);
    model::Gear differential;
    differential.kind = GearKind::Differential;
    differential.teeth = 28;
    differential.shaft = left;
    differential.other = right;
    differential.alongUm = f.um(2);
    f.put(differential);
    f.spur(across, 24, 2);
    for (const auto& shaft : {left, right, across}) f.motor(shaft);
    EXPECT_EQ(f.report().positions[0].fighting, (std::vector<int>{2}));
}

TEST(Boards, EditsKeepThemWhole) {
    BoardFigure f;
    const auto a = f.shaft(0, 0), b = f.shaft(2, 0);
    const auto ga = f.spur(a, 8), gb = f.spur(b, 24);
    f.motor(a);
    model::DriveFunction function;
    function.name = "Turn";
    function.gear = gb;
    f.function(function);
    const auto before = f.project;
    f.project = must(model::removeFromBoard(f.project, {b.text}));
    EXPECT_EQ(f.project.boards[0]->gears.size(), 1U);
    EXPECT_TRUE(f.project.boards[0]->functions.empty());
    EXPECT_EQ(f.project.boards[0]->motors.size(), 1U);
    EXPECT_EQ(before.boards[0]->gears.size(), 2U) << "the project before stays as it was";
    EXPECT_EQ(model::removeFromBoard(f.project, {"nothing"}).error().code, "edit.missing");
    EXPECT_EQ(model::moveOnBoard(f.project, f.board, {ga.text}, {1, 0, 0}).error().code, "edit.missing")
        << "wheels move with their shafts";
    f.project = must(model::removeBoard(f.project, f.board));
    EXPECT_TRUE(f.project.boards.empty());
}

TEST(Boards, NonsenseIsRefusedWithItsPlace) {
    BoardFigure f;
    const auto a = f.shaft(0, 0);
    const auto refuse = [&](model::Gear gear, const std::string& code) {
        const auto result = model::putGear(f.project, f.board, std::move(gear));
        ASSERT_FALSE(result.ok()) << code;
        EXPECT_EQ(result.error().code, code);
        EXPECT_EQ(result.error().place.rfind("/boards/0/gears/0/", 0), 0U) << result.error().place;
    };
    model::Gear gear;
    gear.shaft = a;
    for (const int teeth : {0, -8, 3, 1000}) {
        gear.teeth = teeth;
        refuse(gear, "gear.teeth");
    }
    gear.teeth = 8;
    gear.shaft = {"h99"};
    refuse(gear, "gear.shaft");
    gear.shaft = a;
    gear.alongUm = 1'000'000'000;
    refuse(gear, "board.place");
    model::Shaft shaft;
    EXPECT_EQ(model::putShaft(f.project, f.board, shaft).error().code, "shaft.length");
    EXPECT_EQ(model::putMotor(f.project, f.board, {{}, "M", "motor large", {"h77"}, false, {}}).error().code,
              "motor.shaft");
    EXPECT_EQ(model::putLoop(f.project, f.board, {{}, false, false, {}, 0, {}}).error().code, "loop.gears");
    EXPECT_EQ(model::putFunction(f.project, f.board, {}).error().code, "function.target");
}

} // namespace
