// SPDX-License-Identifier: GPL-3.0-or-later
// The line through runs of a motor, the stand-in that gives runs, and runs in words.
#include "core/trials/motor_fit.h"

#include <gtest/gtest.h>

#include "core/drive/motor.h"
#include "core/trials/motor_stand.h"

using namespace ivrant;
using model::MotorRun;
using trials::StandTruth;

namespace {

StandTruth exactTruth() {
    StandTruth truth;
    truth.noLoadRpm = 400;
    truth.stallNmm = 60;
    truth.noLoadA = 0.06;
    truth.stallA = 0.9;
    truth.openV = 8.8;
    truth.innerOhm = 1.2;
    truth.spread = 0;
    return truth;
}

std::vector<MotorRun> takeRuns(const StandTruth& truth, int count, double upTo, unsigned seed = 1) {
    trials::SimulatedMotorStand stand(truth, seed);
    std::vector<MotorRun> runs;
    for (int i = 0; i < count; ++i) runs.push_back(stand.run(upTo * i / (count - 1)));
    return runs;
}

} // namespace

TEST(MotorFit, FindsTheLineBehindExactRunsAtFallingVoltage) {
    const auto fit = trials::fitMotor(takeRuns(exactTruth(), 5, 40), 9);
    ASSERT_TRUE(fit) << fit.error().message;
    EXPECT_NEAR(fit->noLoadRpm, 400, 1e-6);
    EXPECT_NEAR(fit->stallNmm, 60, 1e-6);
    EXPECT_NEAR(fit->noLoadA, 0.06, 1e-9);
    EXPECT_NEAR(fit->stallA, 0.9, 1e-9);
    EXPECT_NEAR(fit->openV.value(), 8.8, 1e-9);
    EXPECT_NEAR(fit->innerOhm.value(), 1.2, 1e-9);
    EXPECT_NEAR(fit->spreadRpm, 0, 1e-6);
}

TEST(MotorFit, ByHand) {
    // At 9 V always: 300, 200, 100 rpm at 0, 10, 20 N·mm: 10 rpm for each N·mm, so stall at 30. Current 0.1, 0.2, 0.3.
    const auto fit = trials::fitMotor({{0, 300, 0.1, 9}, {10, 200, 0.2, 9}, {20, 100, 0.3, 9}}, 9);
    ASSERT_TRUE(fit);
    EXPECT_NEAR(fit->noLoadRpm, 300, 1e-9);
    EXPECT_NEAR(fit->stallNmm, 30, 1e-9);
    EXPECT_NEAR(fit->stallA, 0.4, 1e-9);
    EXPECT_FALSE(fit->openV) << "the voltage did not move: nothing is known of the battery";
}

TEST(MotorFit, NoiseOfTwoPercentLeavesTheLineWithinFive) {
    auto truth = exactTruth();
    truth.spread = 0.02;
    for (unsigned seed = 1; seed <= 20; ++seed) {
        const auto fit = trials::fitMotor(takeRuns(truth, 12, 50, seed), 9);
        ASSERT_TRUE(fit);
        EXPECT_NEAR(fit->noLoadRpm / 400, 1, 0.05) << seed;
        EXPECT_NEAR(fit->stallNmm / 60, 1, 0.05) << seed;
        EXPECT_GT(fit->spreadRpm, 0);
    }
}

TEST(MotorFit, NamesWhatIsWrongWithTheRuns) {
    EXPECT_EQ(trials::fitMotor({}, 9).error().code, "motor.runs");
    EXPECT_EQ(trials::fitMotor({{0, 300, 0.1, 9}, {10, 200, 0.2, 9}}, 9).error().code, "motor.runs");
    EXPECT_EQ(trials::fitMotor({{10, 300, 0.1, 9}, {10, 301, 0.1, 9}, {10, 299, 0.1, 9}}, 9).error().code,
              "motor.spread");
    EXPECT_EQ(trials::fitMotor({{0, 0, 0, 9}, {0, 0, 0, 9}, {0, 0, 0, 9}}, 9).error().code, "motor.spread");
    EXPECT_EQ(trials::fitMotor({{0, 100, 0.1, 9}, {10, 200, 0.2, 9}, {20, 300, 0.3, 9}}, 9).error().code, "motor.line");
    EXPECT_EQ(trials::fitMotor({{0, 300, 0.3, 9}, {10, 200, 0.2, 9}, {20, 100, 0.1, 9}}, 9).error().code, "motor.line");
    EXPECT_EQ(trials::fitMotor({{0, 300, 0.1, 9}, {10, 200, 0.2, 0}, {20, 100, 0.3, 9}}, 9).error().place, "1");
    EXPECT_EQ(trials::fitMotor({{0, 300, 0.1, 9}, {10, 200, 0.2, 9}, {20, 100, 0.3, 9}}, 0).error().code, "motor.line");
}

TEST(MotorStand, StallsWhereMotorAndBatterySay) {
    const auto truth = exactTruth();
    trials::SimulatedMotorStand stand(truth, 3);
    const drive::MotorLine line{"M",           truth.ratedV, truth.noLoadRpm, truth.stallNmm,
                                truth.noLoadA, truth.stallA, false,           false};
    const drive::Battery battery{"B", truth.openV, truth.innerOhm, 0, false};
    const double stall = drive::calcStallNmm(line, battery); // the second route
    EXPECT_GT(stand.run(stall * 0.99).rpm, 0);
    const auto still = stand.run(stall * 1.5);
    EXPECT_EQ(still.rpm, 0);
    EXPECT_NEAR(still.currentA, drive::calcCurrentA(line, stall), 1e-9)
        << "it draws what it draws at stall, whatever hangs on it";
    EXPECT_NEAR(stand.run(20).rpm, drive::calcSpeedRpm(line, battery, 20), 1e-9);
}

TEST(MotorWords, ReadsRunsInAnyOrder) {
    // 40 g on a drum of 12 mm: 0.392266 N · 6 mm = 2.353596 N·mm.
    const auto run = trials::parseMotorLine("40 g 312 rpm, 0.21 A; 8.74V", 12);
    ASSERT_TRUE(run) << run.error().message;
    EXPECT_NEAR(run->torqueNmm, 2.353596, 1e-6);
    EXPECT_EQ(run->rpm, 312);
    EXPECT_EQ(run->currentA, 0.21);
    EXPECT_EQ(run->voltageV, 8.74);
    const auto other = trials::parseMotorLine("210mA 9V 0 rpm 12 Nmm", 12);
    ASSERT_TRUE(other);
    EXPECT_NEAR(other->currentA, 0.21, 1e-12);
    EXPECT_EQ(other->torqueNmm, 12);
    for (const char* bad : {"", "fast", "40", "40 bananas", "-3 g 100 rpm", "1e400 rpm", "nan V"})
        EXPECT_EQ(trials::parseMotorLine(bad, 12).error().code, "instrument.text") << bad;
    EXPECT_EQ(trials::parseMotorLine("40 g", 0).error().code, "motor.drum");
}
