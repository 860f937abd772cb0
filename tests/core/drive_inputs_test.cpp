// SPDX-License-Identifier: GPL-3.0-or-later
// What reaches the gear boards from elsewhere: gravity at joints, measured motors, loads of several kinds.
#include "core/study/drive_inputs.h"

#include <algorithm>
#include <cmath>

#include "core/base/units.h"
#include "core/model/edits_boards.h"
#include "core/pose/joint_arm.h"
#include "core/verdict/mends.h"
#include "tests/support/boards.h"
#include "tests/support/near.h"

using namespace ivrant;
using model::GearKind;
using model::LoadKind;
using test::Figure;
using test::must;

namespace {

/// Block of 10 g whose centre is 44 mm from a level axis; the tongue weighs nearly nothing.
struct Arm : Figure {
    model::JointId joint;
    Arm() {
        const auto fork = put(0, "stepped hinge small fork at 0 0 0"),
                   tongue = put(1, "stepped hinge small tongue at 0 0 0"), block = put(1, "brick 2x2 at 0 4 0");
        project = must(model::weighParts(project, std::array{tongue}, 1e-6));
        project = must(model::weighParts(project, std::array{block}, 10));
        joint = join("stepped hinge small", fork, "finger", tongue, "finger");
    }
    void turnTo(double degrees) { project = must(model::setJointValue(project, joint, {degrees})); }
    [[nodiscard]] pose::GravityArm arm() const { return pose::calcGravityArm(placed(), tree(), 0).value(); }
    [[nodiscard]] double energyAt(double degrees) const {
        pose::JointValues values = this->values();
        values[0][0] = degrees;
        return pose::calcPotentialEnergy(pose::calcPlaced(project, tree(), values));
    }
};

constexpr double kWeightN = 0.0980665; // of 10 g

} // namespace

TEST(JointArm, IsTheDerivativeOfTheEnergyAtEveryAngle) {
    const Arm a;
    const auto arm = a.arm();
    // Centre level with the axis up to the height of the brick's middle: lever √(44² + z²), at least 44 mm.
    EXPECT_GE(arm.nmm, 44 * kWeightN);
    EXPECT_LT(arm.nmm, 45 * kWeightN);
    for (double v = -90; v <= 90; v += 15) {
        constexpr double kStepDeg = 0.01;
        const double slope = (a.energyAt(v + kStepDeg) - a.energyAt(v - kStepDeg)) / base::degToRad(2 * kStepDeg);
        EXPECT_NEAR(arm.nmm * std::cos(base::degToRad(v + arm.offsetDeg)), slope, 1e-5)
            << v; // the difference's own error: h²/6 of the torque
    }
}

TEST(JointArm, DoesNotDependOnWhereTheJointStands) {
    Arm a;
    const auto first = a.arm();
    a.turnTo(67.5);
    const auto second = a.arm();
    EXPECT_NEAR(first.nmm, second.nmm, 1e-9);
    EXPECT_NEAR(std::remainder(first.offsetDeg - second.offsetDeg, 360), 0, 1e-7);
}

TEST(JointArm, UprightAxesAskNothingAndBallsHaveNone) {
    Figure f;
    const auto lower = f.put(0, "small turntable lower at 0 0 0"), upper = f.put(1, "small turntable upper at 0 0 0");
    f.put(1, "plate 2x8 at 0 0 2");
    f.join("small turntable", lower, "lower", upper, "upper");
    EXPECT_NEAR(pose::calcGravityArm(f.placed(), f.tree(), 0).value().nmm, 0, 1e-9);
    Figure g;
    const auto ball = g.put(0, "ball plate small 1x2 at 0 0 0"), cup = g.put(1, "cup plate small 1x2 at 0 0 0");
    g.join("small ball and cup", ball, "ball", cup, "cup");
    EXPECT_FALSE(pose::calcGravityArm(g.placed(), g.tree(), 0));
    EXPECT_FALSE(pose::calcGravityArm(g.placed(), g.tree(), 7));
}

namespace {

/// The arm with a board whose only shaft turns its joint.
struct DrivenArm : Arm {
    model::BoardId board;
    model::ShaftId shaft;
    explicit DrivenArm(const std::string& line = "motor medium") {
        project = must(model::addBoard(project, "Lift", project.sections[0]->id, {}, &board));
        model::Shaft added;
        added.lengthUm = 40'000;
        project = must(model::putShaft(project, board, added, &shaft));
        project = must(model::putMotor(project, board, {{}, "M", line, shaft, false, {}}));
        model::DriveFunction function;
        function.name = "Raise";
        function.shaft = shaft;
        function.load = LoadKind::Joint;
        function.joint = joint;
        function.fromDeg = -45;
        function.travel = 90;
        project = must(model::putFunction(project, board, function));
    }
    [[nodiscard]] drive::DriveReport report() const {
        const auto at = placed();
        return study::calcDrive(at, tree());
    }
};

} // namespace

TEST(DriveInputs, AJointsWeightIsTheFunctionsLoadOverItsTravel) {
    const DrivenArm a;
    const auto report = a.report();
    const auto arm = a.arm();
    double most = 0; // by looking at every hundredth of a degree
    for (double v = -45; v <= 45; v += 0.01)
        most = std::max(most, arm.nmm * std::cos(base::degToRad(v + arm.offsetDeg)));
    EXPECT_NEAR(report.positions[0].functions[0].hardest.nmm, most, 1e-6);
    EXPECT_TRUE(report.positions[0].functions[0].margin);
}

TEST(DriveInputs, ALostJointLeavesTheFunctionWithoutItsLoad) {
    DrivenArm a;
    a.project = must(model::removeJoint(a.project, a.joint, {}));
    const auto& function = a.project.boards[0]->functions[0];
    EXPECT_EQ(function.load, LoadKind::None);
    EXPECT_TRUE(function.joint.empty());
    model::DriveFunction wrong = function;
    wrong.load = LoadKind::Joint;
    EXPECT_EQ(model::putFunction(a.project, a.board, wrong).error().code, "function.joint");
    wrong.joint = {"j99"};
    EXPECT_EQ(model::putFunction(a.project, a.board, wrong).error().code, "function.joint");
}

TEST(DriveInputs, MeasuredRunsTakeThePlaceOfStartingValues) {
    DrivenArm a;
    EXPECT_FALSE(a.report().motors[0].line->measured);
    model::Series series;
    series.quantity = model::Quantity::Motor;
    series.kind = "motor medium";
    // rpm = 40·V − 8·τ; I = 0.1 + 0.01·τ; V = 9 − 1.5·I: at 9 V 360 rpm without load, stall 45 N·mm.
    for (const double torque : {0.0, 10.0, 20.0, 30.0}) {
        const double current = 0.1 + 0.01 * torque, voltage = 9 - 1.5 * current;
        series.runs.push_back({torque, 40 * voltage - 8 * torque, current, voltage});
    }
    auto workshop = a;
    workshop.project.workshop = std::make_shared<const std::vector<model::Series>>(std::vector{series});
    a.project = must(model::putSeries(a.project, series));
    for (const DrivenArm* each : {&a, &workshop}) {
        const auto report = each->report();
        ASSERT_TRUE(report.motors[0].line->measured);
        EXPECT_NEAR(report.motors[0].line->noLoadRpm, 360, 1e-6);
        EXPECT_NEAR(report.motors[0].line->stallNmm, 45, 1e-6);
        EXPECT_NEAR(report.motors[0].line->stallA, 0.55, 1e-9);
        EXPECT_TRUE(report.battery.measured);
        EXPECT_NEAR(report.battery.innerOhm, 1.5, 1e-6);
        EXPECT_NEAR(report.battery.voltage, 9, 1e-6);
    }
    series.runs.resize(2); // two fit any line: they do not count
    a.project.measured.clear();
    a.project = must(model::putSeries(a.project, series));
    EXPECT_FALSE(a.report().motors[0].line->measured);
}

TEST(DriveInputs, ACrankNeedsNoBattery) {
    const DrivenArm a("hand crank");
    const auto report = a.report();
    const auto& point = report.positions[0].functions[0].motors[0].point;
    EXPECT_EQ(point.currentA, 0);
    EXPECT_EQ(point.runMinutes, 0);
    const auto& line = *report.motors[0].line;
    EXPECT_NEAR(point.rpm, line.noLoadRpm * (1 - point.torqueNmm / line.stallNmm), 1e-6);
}

TEST(DriveInputs, MotorsThatWorkTogetherShareTheBattery) {
    // Two medium motors on the sides of a differential; 60 N·mm of friction on its case: 2·ωcase = ω1 + ω2, each
    // carries half. At equal speeds nothing rolls inside the case, so nothing is lost there. Each motor finds the
    // battery lower by the current of both.
    test::BoardFigure f;
    const auto left = f.shaft(-5, 0, 5, 0, model::BoardAxis::Right),
               right = f.shaft(0, 0, 5, 0, model::BoardAxis::Right);
    model::Gear housing;
    housing.kind = GearKind::Differential;
    housing.teeth = 28;
    housing.shaft = left;
    housing.other = right;
    housing.alongUm = 40'000;
    const auto id = f.put(housing);
    f.motor(left);
    f.motor(right);
    model::DriveFunction function;
    function.name = "Case";
    function.gear = id;
    function.load = LoadKind::Friction;
    function.amount = 60;
    f.function(function);
    const auto report = f.report();
    const auto& state = report.positions[0].functions[0];
    ASSERT_EQ(state.motors.size(), 2U);
    const auto& line = *report.motors[0].line;
    const double torque = 30;
    const double current = line.noLoadA + (line.stallA - line.noLoadA) * torque / line.stallNmm;
    const double voltage = report.battery.voltage - 2 * current * report.battery.innerOhm;
    const double rpm = line.noLoadRpm * (voltage / line.ratedV - torque / line.stallNmm);
    EXPECT_NEAR(state.motors[0].point.torqueNmm, torque, 1e-9);
    EXPECT_NEAR(state.motors[0].point.voltageV, voltage, 1e-9);
    EXPECT_NEAR(state.speed, rpm, 1e-6) << "half the sum of two equal speeds";
}

TEST(FunctionLoad, SlopeAndBandByHand) {
    model::DriveFunction slope;
    slope.load = LoadKind::Slope;
    slope.amount = 500; // g: 4.903325 N
    slope.radiusMm = 20;
    slope.fromDeg = 30;
    // 4.903325 · 20 · (0.5 + 0.04 · 0.8660254) = 98.0665 · 0.53464102 = 52.4304
    EXPECT_NEAR(drive::calcLoadNmm(slope, 0), 52.4304, 1e-3);
    slope.fromDeg = 0; // rolling alone
    EXPECT_NEAR(drive::calcLoadNmm(slope, 123), 98.0665 * 0.04, 1e-9);

    model::DriveFunction band;
    band.load = LoadKind::Band;
    band.amount = 2;
    band.radiusMm = 10;
    band.ratePerMm = 0.1;
    band.travel = 180;
    // Half a turn at 10 mm stretches it 31.4159 mm: 10 · (2 + 3.14159) = 51.4159.
    EXPECT_NEAR(drive::calcLoadNmm(band, 180), 51.4159, 1e-3);
    EXPECT_NEAR(drive::calcHardest(band).nmm, 51.4159, 1e-3);
    EXPECT_NEAR(drive::calcHardest(band).least, 20, 1e-12);
    band.radiusMm = 0; // straight: 2 + 0.1 · 40
    EXPECT_NEAR(drive::calcLoadNmm(band, 40), 6, 1e-12);
}

TEST(DriveInputs, AJointIsHeldByItsDriveOnlyWhenNoSelectorLetsGo) {
    // A worm on a 24 on the arm's shaft; the 24 first fixed, then a clutch wheel that a selector may let go.
    DrivenArm a;
    model::Shaft across;
    across.axis = model::BoardAxis::Right;
    across.atUm = {-16'000, -16'000, 20'000}; // 4 + 12 mm beside the arm's shaft, in the wheel's plane
    across.lengthUm = 32'000;
    model::ShaftId acrossId;
    a.project = must(model::putShaft(a.project, a.board, across, &acrossId));
    model::Gear worm;
    worm.kind = GearKind::Worm;
    worm.teeth = 1;
    worm.shaft = acrossId;
    worm.alongUm = 16'000;
    a.project = must(model::putGear(a.project, a.board, worm));
    model::Gear wheel;
    wheel.teeth = 24;
    wheel.shaft = a.shaft;
    wheel.alongUm = 20'000;
    model::GearId wheelId;
    a.project = must(model::putGear(a.project, a.board, wheel, &wheelId));
    model::DriveMotor motor = a.project.boards[0]->motors[0];
    motor.shaft = acrossId;
    a.project = must(model::putMotor(a.project, a.board, motor));
    a.project = must(
        model::weighParts(a.project, std::array{a.project.sections[1]->parts[1].id}, 400)); // more than friction holds
    const auto holdOf = [&] {
        const auto report = verdict::calcReport(std::make_shared<const model::Project>(a.project));
        for (const auto& v : report.verdicts)
            if (v.check == "hold") return v;
        throw std::runtime_error("no verdict on holding");
    };
    const auto fixed = holdOf();
    EXPECT_EQ(fixed.state, verdict::State::Good);
    EXPECT_FALSE(fixed.margin);
    EXPECT_NE(fixed.text.find("is held by its drive"), std::string::npos) << fixed.text;
    wheel = a.project.boards[0]->gears[1];
    wheel.loose = true;
    a.project = must(model::putGear(a.project, a.board, wheel));
    a.project =
        must(model::putSelector(a.project, a.board, {{}, "Selector", {{"Raise", {wheelId}}, {"Off", {}}}, 0, {}}));
    const auto loose = holdOf();
    EXPECT_EQ(loose.state, verdict::State::Fail);
    EXPECT_NE(loose.detail.find("does not hold it with Selector at Off"), std::string::npos) << loose.detail;
}

namespace {

/// A motor over 8:24 to a drum that must stay without power.
struct Winch : test::BoardFigure {
    model::ShaftId drum;
    Winch() {
        const auto input = shaft(0, 0, 3);
        drum = shaft(2, 0, 3);
        spur(input, 8);
        spur(drum, 24);
        motor(input);
        model::DriveFunction function;
        function.name = "Wind";
        function.shaft = drum;
        function.load = LoadKind::Lift;
        function.amount = 50;
        function.radiusMm = 8;
        function.travel = 360;
        function.mustHold = true;
        this->function(function);
    }
    [[nodiscard]] verdict::Report checked() const {
        return verdict::calcReport(std::make_shared<const model::Project>(project));
    }
    [[nodiscard]] std::string wordOf(const std::string& measure) const {
        model::Ask ask;
        ask.measure = measure;
        ask.function = "Wind";
        ask.word = "*";
        const auto report =
            verdict::calcReport(std::make_shared<const model::Project>(must(model::putAsk(project, ask))));
        for (const auto& v : report.verdicts)
            if (v.check == "ask") return v.detail + " " + v.text;
        return "";
    }
};

} // namespace

TEST(DriveMends, SwapToAWormHolds) {
    const Winch winch;
    const auto report = winch.checked();
    const auto found = std::find_if(report.verdicts.begin(), report.verdicts.end(),
                                    [](const auto& v) { return v.check == "self-hold"; });
    ASSERT_NE(found, report.verdicts.end());
    ASSERT_EQ(found->state, verdict::State::Fail);
    const auto mends = verdict::listMends(report, *found);
    ASSERT_FALSE(mends.empty());
    EXPECT_EQ(mends[0].text.rfind("swap to a worm", 0), 0U) << mends[0].text;
    Winch mended;
    mended.project = must(mends[0].apply(winch.project));
    const auto after = mended.checked();
    for (const auto& v : after.verdicts) {
        if (v.check == "self-hold") {
            EXPECT_EQ(v.state, verdict::State::Good);
        }
        EXPECT_NE(v.check, "mesh") << v.detail;
        EXPECT_NE(v.check, "drive-clash") << v.detail;
    }
    EXPECT_EQ(drive::formatRatio(after.drive->positions[0].functions[0].motors[0].ratio).find("24") !=
                  std::string::npos,
              true)
        << "one thread: 1:24";
}

TEST(DriveAsks, EndlessOrNot) {
    Winch winch;
    EXPECT_NE(winch.wordOf("function-turns").find("endless"), std::string::npos) << winch.wordOf("function-turns");
    // A motor of its own on what turns: its wire ends the turning.
    model::BoardId carried;
    model::Gear table;
    table.kind = GearKind::Turntable;
    table.teeth = 56;
    table.shaft = winch.shaft(20, 0, 3);
    table.alongUm = 8'000;
    const auto id = winch.put(table);
    winch.project = must(model::addBoard(winch.project, "Top", {}, {}, &carried));
    winch.project = must(model::carryBoard(winch.project, carried, id));
    model::Shaft own;
    own.lengthUm = 24'000;
    model::ShaftId ownId;
    winch.project = must(model::putShaft(winch.project, carried, own, &ownId));
    winch.project = must(model::putMotor(winch.project, carried, {{}, "Top motor", "motor small", ownId, false, {}}));
    const auto pinion = winch.shaft(24, 0, 3); // 8 + 56: 32 mm
    winch.spur(pinion, 8);
    winch.motor(pinion);
    model::DriveFunction slew;
    slew.name = "Slew";
    slew.gear = id;
    winch.function(slew);
    const auto report = winch.checked();
    const auto wire =
        std::find_if(report.verdicts.begin(), report.verdicts.end(), [](const auto& v) { return v.check == "wire"; });
    ASSERT_NE(wire, report.verdicts.end());
    EXPECT_EQ(wire->state, verdict::State::Fail) << "it has no end of its travel";
    EXPECT_NE(wire->text.find("Top motor"), std::string::npos);
    slew = winch.project.boards[0]->functions.back();
    slew.travel = 180;
    winch.project = must(model::putFunction(winch.project, winch.project.boards[0]->id, slew));
    const auto limited = winch.checked();
    for (const auto& v : limited.verdicts)
        if (v.check == "wire") {
            EXPECT_EQ(v.margin, 2.0) << "360 over 180";
        }
}
