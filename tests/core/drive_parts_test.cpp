// SPDX-License-Identifier: GPL-3.0-or-later
// A drive read off parts: what turns with what, what carries it, what holds the motor.
#include <gtest/gtest.h>

#include "core/verdict/report.h"
#include "tests/support/machines.h"
#include "tests/support/reports.h"

namespace ivrant {
namespace {

using test::Machine;
using test::SeatedGearbox;

TEST(DriveParts, AGearboxOfPartsTurnsByItsTeeth) {
    SeatedGearbox g;
    g.name(g.output, "Lamp shaft");
    g.turn("Lamp", g.output);
    EXPECT_EQ(g.ratio(g.input, g.output), "-1:3");
    const auto report = g.report();
    ASSERT_EQ(report.motors.size(), 1u);
    EXPECT_EQ(report.motors[0].motor.line, "motor medium");
    ASSERT_EQ(report.positions.front().functions.size(), 1u);
    const auto& lamp = report.positions.front().functions.front();
    ASSERT_EQ(lamp.motors.size(), 1u);
    EXPECT_EQ(drive::formatRatio(lamp.motors.front().ratio), "-1:3");
    // 20 N·mm through one pair: 20 / 3 / (0.92 · 0.98) at the motor.
    EXPECT_NEAR(lamp.motors.front().point.torqueNmm, 20.0 / 3 / (0.92 * 0.98), 1e-6);
    EXPECT_EQ(report.net.rotors[static_cast<std::size_t>(lamp.rotor)].name, "Lamp shaft");
    EXPECT_EQ(report.net.rotors.size(), 2u); // the bricks' own parts are none
}

TEST(DriveParts, ShaftsAreCarriedByTheHolesOfTheWalls) {
    const SeatedGearbox g;
    const auto net = g.report().net;
    ASSERT_EQ(net.supports.size(), 2u);
    for (const auto& support : net.supports) {
        const bool input = support.shaft == g.input.text;
        // From the start of each axle: the motor's output (its hole's middle 40 mm), the walls at 56 and 80 mm.
        const std::vector<double> wanted = input ? std::vector<double>{4, 20, 44} : std::vector<double>{4, 28};
        ASSERT_EQ(support.holesMm.size(), wanted.size());
        for (std::size_t i = 0; i < wanted.size(); ++i) EXPECT_NEAR(support.holesMm[i], wanted[i], 1e-9);
        EXPECT_EQ(support.bricks, 2);
    }
}

TEST(DriveParts, WithoutItsSeatTheMotorHangs) {
    SeatedGearbox g;
    g.turn("Lamp", g.output);
    auto report = test::reportOf(g.project);
    const auto* seat = test::findCheck(report, "motor-seat");
    ASSERT_NE(seat, nullptr);
    EXPECT_EQ(seat->state, verdict::State::Good);
    g.remove(g.seatA);
    g.remove(g.seatB);
    report = test::reportOf(g.project);
    seat = test::findCheck(report, "motor-seat");
    ASSERT_NE(seat, nullptr);
    EXPECT_EQ(seat->state, verdict::State::Fail);
    ASSERT_EQ(seat->place.parts.size(), 1u);
    EXPECT_EQ(seat->place.parts.front(), g.motor);
}

TEST(DriveParts, AMotorBesideTheShaftTurnsNothing) {
    SeatedGearbox g;
    g.turn("Lamp", g.output);
    g.lift(g.motor, 3.2);
    auto report = test::reportOf(g.project);
    EXPECT_TRUE(g.report().motors.empty());
    const auto* seat = test::findCheck(report, "motor-seat");
    ASSERT_NE(seat, nullptr);
    EXPECT_EQ(seat->text, "motor medium (" + g.motor.text + ") is held by nothing");
    g.lift(g.motor, -3.2);
    g.remove(g.input);
    report = test::reportOf(g.project);
    const auto* idle = test::findCheck(report, "motor-idle");
    ASSERT_NE(idle, nullptr);
    EXPECT_EQ(idle->state, verdict::State::Thin);
    const auto* driven = test::findCheck(report, "reached");
    ASSERT_NE(driven, nullptr);
    EXPECT_EQ(driven->state, verdict::State::Fail);
}

TEST(DriveParts, AWheelThatIsTakenOutStopsTheLamp) {
    SeatedGearbox g;
    g.turn("Lamp", g.output);
    g.remove(g.small);
    EXPECT_EQ(g.ratio(g.input, g.output), "0");
    const auto state = g.report().positions.front().functions.front();
    EXPECT_TRUE(state.motors.empty());
}

} // namespace
} // namespace ivrant
