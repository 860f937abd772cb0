// SPDX-License-Identifier: GPL-3.0-or-later
// What acts on a drive at the same time: several functions on one motor, threads that hold, clutches that let go,
// weights that move along a line.
#include <cmath>

#include "core/base/at.h"
#include "core/base/units.h"
#include "core/model/edits_boards.h"
#include "core/verdict/report.h"
#include "tests/support/boards.h"
#include "tests/support/near.h"

using namespace ivrant;
using model::GearKind;
using test::BoardFigure;

namespace {

constexpr double kSpur = drive::kSpurEfficiency * drive::kBearingEfficiency;

/// A motor with an 8 between two wheels of 24 that turn alike, a third of it.
struct Twin : BoardFigure {
    model::ShaftId in, left, right;
    Twin() {
        in = shaft(0, 0);
        left = shaft(-2, 0);
        right = shaft(2, 0);
        spur(in, 8);
        spur(left, 24);
        spur(right, 24);
        motor(in);
    }
    void load(const model::ShaftId& on, model::LoadKind kind, double amount, double travel, double radius = 0) {
        model::DriveFunction f;
        f.name = "f" + on.text;
        f.shaft = on;
        f.load = kind;
        f.amount = amount;
        f.radiusMm = radius;
        f.travel = travel;
        function(std::move(f));
    }
    [[nodiscard]] drive::DriveReport report() const {
        return drive::calcDriveReport(project, drive::readBoards(project, poses()));
    }
};

/// N·mm at the motor of a function, as the selectors stand.
double torqueOf(const drive::DriveReport& report, std::size_t function) {
    return at(report.positions, report.present).functions.at(function).motors.at(0).point.torqueNmm;
}

/// A worm along the board's height beside a 24: 4 + 12 mm apart.
struct WormPair : BoardFigure {
    model::ShaftId wheel = shaft(0, 0, 6), worm = shaft(2, -2, 4, 1, model::BoardAxis::Up);
    WormPair() {
        spur(wheel, 24);
        gear(worm, GearKind::Worm, 1, 2);
    }
    void load(const model::ShaftId& on, model::LoadKind kind, double amount, double travel, double radius = 0,
              bool mustHold = false) {
        model::DriveFunction f;
        f.name = "Out";
        f.shaft = on;
        f.load = kind;
        f.amount = amount;
        f.radiusMm = radius;
        f.travel = travel;
        f.mustHold = mustHold;
        function(std::move(f));
    }
};

} // namespace

TEST(DriveTogether, LoadsOfOneMotorAddUp) {
    Twin one, both;
    one.load(one.left, model::LoadKind::Friction, 30, 90);
    both.load(both.left, model::LoadKind::Friction, 30, 90);
    both.load(both.right, model::LoadKind::Friction, 45, 90);
    // A third of the speed: a third of the torque, and what the mesh loses.
    EXPECT_NEAR(torqueOf(one.report(), 0), 30 / 3.0 / kSpur, 1e-9);
    const auto report = both.report();
    EXPECT_NEAR(torqueOf(report, 0), (30 + 45) / 3.0 / kSpur, 1e-9);
    EXPECT_NEAR(torqueOf(report, 1), (30 + 45) / 3.0 / kSpur, 1e-9);
    const auto& state = report.positions[0].functions[0];
    EXPECT_TRUE(state.together);
    // Power: what the motor gives at that speed goes out or is lost. 2π/60 rad/s for each rpm, mW for N·mm.
    const auto& point = state.motors[0].point;
    EXPECT_NEAR(point.torqueNmm * point.rpm * 2 * base::kPi / 60 / 1000, state.outW + state.lostW, 1e-9);
    EXPECT_NEAR(state.outW, (30 + 45) * point.rpm / 3 * 2 * base::kPi / 60 / 1000, 1e-9);
}

TEST(DriveTogether, EachIsGoodAloneAndBothStall) {
    const double stall = drive::calcStallNmm(*drive::findStartingMotor("motor medium"), drive::getStartingBattery());
    const double most = 0.7 * stall * 3 * kSpur; // 0.7 of what it has, at a third of the speed
    Twin both;
    both.load(both.left, model::LoadKind::Friction, most, 90);
    both.load(both.right, model::LoadKind::Friction, most, 90);
    const auto report = both.report();
    const auto& functions = report.positions[0].functions;
    EXPECT_TRUE(functions[0].motors[0].point.stalls);
    EXPECT_NEAR(*functions[0].margin, 1 / 1.4, 1e-6);
    Twin one;
    one.load(one.left, model::LoadKind::Friction, most, 90);
    EXPECT_FALSE(one.report().positions[0].functions[0].motors[0].point.stalls);
}

TEST(DriveTogether, WhatIsLoweredWhileAnotherIsLiftedAsksNothing) {
    const double weight = base::weightN(100) * 10; // 100 g on a drum of 10 mm
    Twin same;
    same.load(same.left, model::LoadKind::Lift, 100, 90, 10);
    same.load(same.right, model::LoadKind::Lift, 100, 90, 10);
    EXPECT_NEAR(torqueOf(same.report(), 0), 2 * weight / 3 / kSpur, 1e-9) << "both go up";
    // A wheel between turns the right one the other way: it goes down while the left one goes up.
    Twin other;
    const auto far = other.shaft(5, 0);
    other.spur(far, 24);
    other.load(other.left, model::LoadKind::Lift, 100, 90, 10);
    other.load(far, model::LoadKind::Lift, 100, 90, 10);
    EXPECT_NEAR(torqueOf(other.report(), 0), weight / 3 / kSpur, 1e-9);
}

TEST(DriveTogether, AWheelNeverTurnsAWorm) {
    // Driven from the worm it runs, from the wheel it stands.
    for (const bool fromWorm : {true, false}) {
        WormPair f;
        f.motor(fromWorm ? f.worm : f.wheel);
        f.load(fromWorm ? f.wheel : f.worm, model::LoadKind::Friction, 1, 0);
        const auto report = drive::calcDriveReport(f.project, drive::readBoards(f.project, f.poses()));
        ASSERT_EQ(report.net.relations.size(), 1u);
        const auto& position = report.positions[0];
        EXPECT_EQ(position.stuck.empty(), fromWorm);
        EXPECT_EQ(position.functions[0].stuck, !fromWorm);
        EXPECT_EQ(position.functions[0].motors.empty(), !fromWorm);
        const auto verdicts = verdict::calcReport(std::make_shared<const model::Project>(f.project)).verdicts;
        const auto has = [&](const std::string& id, verdict::State state) {
            return std::any_of(verdicts.begin(), verdicts.end(),
                               [&](const auto& v) { return v.check == id && v.state == state; });
        };
        EXPECT_EQ(has("worm-behind", verdict::State::Fail), !fromWorm);
        EXPECT_TRUE(has("reached", fromWorm ? verdict::State::Good : verdict::State::Fail));
    }
}

TEST(DriveTogether, AWormBeforeAClutchHoldsNothingWhenItLetsGo) {
    // Motor – worm – 24 – (8, loose, with a clutch) – 24 out; or the clutch before the worm.
    for (const bool wormFirst : {true, false}) {
        WormPair f;
        model::ShaftId out = f.wheel;
        model::GearId clutch;
        if (wormFirst) {
            clutch = f.gear(f.wheel, GearKind::Spur, 8, 3, true);
            out = f.shaft(-2, 0, 6);
            f.spur(out, 24, 3);
            f.motor(f.worm);
        } else {
            const auto in = f.shaft(3, -2, 4, 1, model::BoardAxis::Up);
            f.spur(in, 8, 3.5);
            clutch = f.gear(f.worm, GearKind::Spur, 8, 3.5, true);
            f.motor(in);
        }
        f.load(out, model::LoadKind::Lift, 10, 90, 10, true);
        f.project =
            test::must(model::putSelector(f.project, f.board, {{}, "S", {{"Off", {}}, {"On", {clutch}}}, 1, {}}));
        const auto report = drive::calcDriveReport(f.project, drive::readBoards(f.project, f.poses()));
        ASSERT_EQ(report.positions.size(), 2u);
        EXPECT_EQ(report.positions[0].functions[0].holds, !wormFirst) << "Off";
        EXPECT_TRUE(report.positions[1].functions[0].holds) << "On";
        EXPECT_FALSE(report.positions[1].functions[0].motors.empty());
        const auto verdicts = verdict::calcReport(std::make_shared<const model::Project>(f.project)).verdicts;
        const auto held =
            std::find_if(verdicts.begin(), verdicts.end(), [](const auto& v) { return v.check == "self-hold"; });
        ASSERT_NE(held, verdicts.end());
        EXPECT_EQ(held->state, wormFirst ? verdict::State::Fail : verdict::State::Good) << held->detail;
    }
}

TEST(DriveTogether, HoldsOnlyWhatWouldTurnAThreadFromBehind) {
    // Whoever is on the worm's own shaft turns it from its own side.
    for (const bool onWorm : {false, true}) {
        WormPair f;
        f.motor(f.worm);
        f.load(onWorm ? f.worm : f.wheel, model::LoadKind::Lift, 10, 90, 10);
        EXPECT_EQ(
            drive::calcDriveReport(f.project, drive::readBoards(f.project, f.poses())).positions[0].functions[0].holds,
            !onWorm);
    }
    // A little friction elsewhere on the train holds no weight.
    Twin twin;
    twin.load(twin.left, model::LoadKind::Lift, 500, 90, 20);
    twin.load(twin.right, model::LoadKind::Friction, 1, 90);
    EXPECT_FALSE(twin.report().positions[0].functions[0].holds);
}

TEST(DriveTogether, LoweringThroughAWormCosts) {
    for (const double travel : {90.0, -90.0}) {
        WormPair f;
        f.motor(f.worm);
        f.load(f.wheel, model::LoadKind::Lift, 500, travel, 20);
        const auto report = drive::calcDriveReport(f.project, drive::readBoards(f.project, f.poses()));
        const auto& share = report.positions[0].functions[0].motors.at(0);
        const double weight = base::weightN(500) * 20;
        // Up: through the forward efficiency. Down: the thread rubs more than the weight pushes, −(backward) of it.
        const auto worms = drive::makeWormEfficiency(1, 8, drive::kWormEfficiency);
        ASSERT_LT(worms.backward, 0);
        const double up = weight / 24 / (worms.forward * drive::kBearingEfficiency),
                     down = -worms.backward * weight / 24;
        EXPECT_NEAR(share.point.torqueNmm, travel > 0 ? up : down, 1e-6);
        EXPECT_NEAR(report.positions[0].functions[0].speed, share.point.rpm / 24, 1e-6);
    }
}

TEST(DriveTogether, WeightsOnALineNeedNoLever) {
    model::DriveFunction f;
    f.load = model::LoadKind::Lift;
    f.amount = 20'000;
    f.travel = 16;
    EXPECT_NEAR(drive::calcHardest(drive::makeStraight(f)).nmm, 20 * 9.80665, 1e-9) << "newtons";
    f.load = model::LoadKind::Slope;
    f.fromDeg = 30;
    EXPECT_NEAR(drive::calcHardest(drive::makeStraight(f)).nmm,
                20 * 9.80665 * (0.5 + model::kRolling * std::sqrt(3) / 2), 1e-9);
}

TEST(DriveTogether, ARackEnds) {
    // A rack of 16 teeth, π·16 = 50.3 mm, its middle over the wheel: 25.1 mm each way.
    for (const double travel : {25.0, -25.0, 26.0, -26.0}) {
        BoardFigure f;
        const auto on = f.shaft(0, 0);
        f.spur(on, 16, 1);
        model::Gear rack;
        rack.kind = GearKind::Rack;
        rack.teeth = 16;
        const double half = model::calcWheelSize(GearKind::Rack, 16).halfWidthMm;
        rack.atUm = {-base::mmToUm(half), 8000, 8000};
        const auto id = f.put(rack);
        f.motor(on);
        model::DriveFunction push;
        push.name = "Push";
        push.gear = id;
        push.travel = travel / 25.0 * (half - 0.1);
        if (std::abs(travel) > 25) push.travel = travel / 26.0 * (half + 0.1);
        f.function(push);
        const auto verdicts = verdict::calcReport(std::make_shared<const model::Project>(f.project)).verdicts;
        const auto end =
            std::find_if(verdicts.begin(), verdicts.end(), [](const auto& v) { return v.check == "rack-end"; });
        ASSERT_NE(end, verdicts.end());
        EXPECT_EQ(end->state, std::abs(travel) > 25 ? verdict::State::Fail : verdict::State::Good) << travel;
    }
}
