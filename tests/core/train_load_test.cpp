// SPDX-License-Identifier: GPL-3.0-or-later
// Torque through trains: hand arithmetic with losses, balance of power, virtual work, worms that hold, play at the
// output; motors.
#include <cmath>
#include <gtest/gtest.h>

#include "core/base/units.h"
#include "core/drive/motor.h"
#include "core/drive/train_load.h"
#include "tests/support/near.h"
#include "tests/support/trains.h"

using namespace ivrant::drive;
using ivrant::test::kRounding;

namespace {

LoadResult valueOf(const ivrant::base::Result<LoadResult>& result) { return result.value(); }

TEST(TrainLoad, TwoStagesWithLosses) {
    // 12:36 twice, 0.92 each. Output load 90 N·mm, shaft 2 turns 1/9 of the motor: the motor gives 90/9/0.92² = 11.8147
    // N·mm.
    const Train train{3, {makeSpur(0, 12, 1, 36), makeSpur(1, 12, 2, 36)}};
    const auto motion = solveTrain(train, {0});
    const auto load = valueOf(calcLoad(train, motion, {{{0, 180.0}}, {{2, -90.0}}, {{0.92, 0.92}, {0.92, 0.92}}}));
    EXPECT_NEAR(load.driveNmm.at(0), 90.0 / 9 / 0.92 / 0.92, kRounding);
    EXPECT_NEAR(load.speedsRpm[2], 20, kRounding);
    // What the middle shaft gets of the first stage it gives to the second.
    EXPECT_NEAR(std::abs(load.onTerms[0][1]), 90.0 / 3 / 0.92, kRounding);
    EXPECT_NEAR(load.onTerms[0][1], -load.onTerms[1][0], kRounding);
    EXPECT_NEAR(load.outW, 90e-3 * 20 * ivrant::base::kPi / 30, kRounding);
    EXPECT_NEAR(load.inW, load.outW + load.lossW[0] + load.lossW[1], kRounding);
}

TEST(TrainLoad, AWeightThatPushesIsHeldBackByLess) {
    // The same train lowering: the load drives, so the motor sees 90/9·0.92² and brakes.
    const Train train{3, {makeSpur(0, 12, 1, 36), makeSpur(1, 12, 2, 36)}};
    const auto load =
        valueOf(calcLoad(train, solveTrain(train, {0}), {{{0, -180.0}}, {{2, -90.0}}, {{0.92, 0.92}, {0.92, 0.92}}}));
    EXPECT_NEAR(load.driveNmm.at(0), 90.0 / 9 * 0.92 * 0.92, kRounding);
    EXPECT_LT(load.driveNmm.at(0) * load.speedsRpm[0], 0) << "it takes power";
}

TEST(TrainLoad, WormHoldsAndMustBeDrivenDown) {
    // Single start on 8 mm: γ = atan(1/8) = 7.125°; η 0.30: tan(γ + ρ) = 0.41667, γ + ρ = 22.62°, ρ = 15.49° > γ:
    // holds.
    const Efficiency worm = makeWormEfficiency(1, 8, 0.30);
    EXPECT_TRUE(worm.holds());
    EXPECT_NEAR(worm.backward, std::tan((7.12502 - 15.49485) / 180 * ivrant::base::kPi) / 0.125, 1e-4);
    const Train train{2, {makeWorm(0, 1, 1, 24, true)}};
    const auto motion = solveTrain(train, {0});
    const auto up = valueOf(calcLoad(train, motion, {{{0, 240.0}}, {{1, -72.0}}, {worm}}));
    EXPECT_NEAR(up.driveNmm.at(0), 72.0 / 24 / 0.30, 1e-9);
    const auto down = valueOf(calcLoad(train, motion, {{{0, -240.0}}, {{1, -72.0}}, {worm}}));
    EXPECT_NEAR(down.driveNmm.at(0), 72.0 / 24 * worm.backward, 1e-9);
    EXPECT_GT(down.driveNmm.at(0) * down.speedsRpm[0], 0) << "lowering takes power as well";
    EXPECT_NEAR(down.inW, down.outW + down.lossW[0], 1e-12);
}

TEST(TrainLoad, SteepWormRunsBack) {
    EXPECT_FALSE(makeWormEfficiency(6, 8, 0.85).holds());
    EXPECT_NEAR(makeWormEfficiency(1, 8, 0.9999).backward, 0.9999,
                1e-3); // nearly no friction: nearly the same both ways
}

TEST(TrainLoad, EpicyclicTorquesByMembers) {
    // Sun 24, ring 56 held, planet 16, no loss: torques stand as 24 : 56 : −80; carrier load 100 N·mm: sun 30, ring 70.
    const Train train{
        4, {makeCarried(makeSpur(0, 24, 3, 16), 2, {3}), makeCarried(makeChain(1, 56, 3, 16), 2, {3}), makeHeld(1)}};
    const auto load = valueOf(calcLoad(train, solveTrain(train, {0}), {{{0, 100.0}}, {{2, -100.0}}, {}}));
    EXPECT_NEAR(load.driveNmm.at(0), 30, kRounding);
    EXPECT_NEAR(std::abs(load.onTerms[2][0]), 70, kRounding);
}

TEST(TrainLoad, EpicyclicRollingPower) {
    // With 0.92 a mesh, ring held, sun driving: η = (1 + i₀·η₀)/(1 + i₀), i₀ = 56/24, η₀ = 0.92² (Müller, ch. 3).
    const Train train{
        4, {makeCarried(makeSpur(0, 24, 3, 16), 2, {3}), makeCarried(makeChain(1, 56, 3, 16), 2, {3}), makeHeld(1)}};
    const auto load = valueOf(
        calcLoad(train, solveTrain(train, {0}), {{{0, 100.0}}, {{2, -100.0}}, {{0.92, 0.92}, {0.92, 0.92}, {}}}));
    const double basic = 56.0 / 24, wanted = (1 + basic * 0.92 * 0.92) / (1 + basic);
    EXPECT_NEAR(load.outW / load.inW, wanted, 1e-12);
}

TEST(TrainLoad, TwoMotorsThroughADifferentialShareTheTorque) {
    // Case = mean of the sides: each side carries half of the case's torque.
    const Train train{3, {makeDifferential(0, 1, 2)}};
    const auto load = valueOf(calcLoad(train, solveTrain(train, {1, 2}), {{{1, 100.0}, {2, 40.0}}, {{0, -50.0}}, {}}));
    EXPECT_NEAR(load.driveNmm.at(1), 25, kRounding);
    EXPECT_NEAR(load.driveNmm.at(2), 25, kRounding);
    EXPECT_NEAR(load.speedsRpm[0], 70, kRounding);
}

TEST(TrainLoad, ALoadOnALockedTrainNeedsNoDrive) {
    const Train train{2, {makeSpur(0, 20, 1, 20), makeSpur(0, 16, 1, 24)}};
    const auto load = valueOf(calcLoad(train, solveTrain(train, {0}), {{}, {{1, -40.0}}, {}}));
    EXPECT_TRUE(load.driveNmm.empty());
    EXPECT_NEAR(load.onTerms[0][1] + load.onTerms[1][1], 40, kRounding);
}

TEST(TrainLoad, RandomTrainsByVirtualWorkAndBalance) {
    std::mt19937 random(8);
    std::uniform_real_distribution<double> number(-50, 50);
    int settled = 0;
    for (int round = 0; round < 120; ++round) {
        const Train train = ivrant::test::makeRandomTrain(random, 8, 6);
        const auto motion = solveTrain(train, {0, 1});
        LoadRequest request;
        for (int thing : motion.independent) request.speedsRpm[thing] = number(random);
        for (int thing = 2; thing < train.things; ++thing) request.loadsNmm[thing] = number(random);
        // No loss: by virtual work the drive on an independent thing is −Σ load · ratio.
        const auto ideal = valueOf(calcLoad(train, motion, request));
        for (int thing : motion.independent) {
            double work = 0;
            for (const auto& [at, load] : request.loadsNmm) work += load * motion.ratio(at, thing).get_d();
            EXPECT_NEAR(ideal.driveNmm.at(thing), -work, 1e-7 * (1 + std::abs(work))) << round;
        }
        request.efficiency.assign(train.relations.size(), {0.9, 0.9});
        const auto lossy = calcLoad(train, motion, request);
        if (!lossy) continue;
        ++settled;
        double losses = 0;
        for (double loss : lossy->lossW) losses += loss;
        EXPECT_NEAR(lossy->inW, lossy->outW + losses, 1e-9 * (1 + lossy->inW)) << round;
    }
    EXPECT_GT(settled, 80);
}

TEST(Play, AddsUpWithTheRemainingRatio) {
    // 12:36, 12:36, play 0.2 mm at each pitch line: the last wheel by 0.2/18 rad, the first stage's 0.2/18 · 12/36.
    const Train train{3, {makeSpur(0, 12, 1, 36), makeSpur(1, 12, 2, 36)}};
    const auto motion = solveTrain(train, {0});
    EXPECT_NEAR(calcPlayRad(train, motion, 2, {0.4, 0.4}), 0.2 / 18 * (1 + 1.0 / 3), kRounding);
    EXPECT_EQ(calcPlayRad(train, motion, 0, {0.4, 0.4}), 0);
}

// Motors

const MotorLine kMotor{"test", 9, 400, 60, 0.06, 0.9};

TEST(Motor, TwoLinesCross) {
    // No inner resistance. Load 6 + 0.05·n: 400·(1 − T/60) = n, T = 6 + 0.05 n → n = (400 − 40)/(1 + 400·0.05/60) =
    // 270.
    const auto point = calcWorkingPoint(kMotor, {"", 9, 0, 1000}, [](double rpm) { return 6 + 0.05 * rpm; });
    EXPECT_NEAR(point.rpm, 270, 1e-6);
    EXPECT_NEAR(point.torqueNmm, 19.5, 1e-6);
    EXPECT_NEAR(point.currentA, 0.06 + 0.84 * 19.5 / 60, 1e-9);
    EXPECT_NEAR(point.margin, 60 / 19.5, 1e-6);
    EXPECT_NEAR(point.runMinutes, 60 / point.currentA, 1e-9);
    EXPECT_FALSE(point.hot);
}

TEST(Motor, InnerResistanceLowersTheLine) {
    // 30 N·mm, 2 Ω: I = 0.06 + 0.84/2 = 0.48 A; 9 − 0.96 = 8.04 V; n = 400·(8.04/9 − 0.5) = 157.333.
    const auto point = calcWorkingPoint(kMotor, {"", 9, 2, 0}, [](double) { return 30.0; });
    EXPECT_NEAR(point.rpm, 400 * (8.04 / 9 - 0.5), 1e-6);
    EXPECT_NEAR(point.voltageV, 8.04, 1e-9);
    EXPECT_TRUE(point.hot);
    EXPECT_EQ(point.runMinutes, 0) << "no capacity known";
}

TEST(Motor, HalfTheVoltageMovesTheLineInParallel) {
    const Battery half{"", 4.5, 0, 0};
    EXPECT_NEAR(calcSpeedRpm(kMotor, half, 0), 200, kRounding);
    EXPECT_NEAR(calcStallNmm(kMotor, half), 30, kRounding);
    const Battery full{"", 9, 0, 0};
    EXPECT_NEAR(calcSpeedRpm(kMotor, full, 10) - calcSpeedRpm(kMotor, half, 10), 200, kRounding);
}

TEST(Motor, StallsWhereTheLineEnds) {
    const Battery battery{"", 9, 3, 500};
    const double stall = calcStallNmm(kMotor, battery);
    EXPECT_NEAR(calcSpeedRpm(kMotor, battery, stall), 0, 1e-9);
    const auto point = calcWorkingPoint(kMotor, battery, [&](double) { return stall * 2; });
    EXPECT_TRUE(point.stalls);
    EXPECT_EQ(point.rpm, 0);
    EXPECT_NEAR(point.margin, 0.5, 1e-12);
}

TEST(Motor, APushingLoadRunsItFaster) {
    const auto point = calcWorkingPoint(kMotor, {"", 9, 0, 0}, [](double) { return -15.0; });
    EXPECT_NEAR(point.rpm, 500, 1e-6);
}

TEST(Motor, BadValuesAreNamed) {
    MotorLine dead = kMotor;
    dead.ratedV = 0;
    EXPECT_EQ(checkMotor(dead, getStartingBattery()).error().code, "motor.value");
    EXPECT_FALSE(checkMotor(kMotor, {"", 0, 1, 1}).ok());
    EXPECT_FALSE(checkMotor(kMotor, {"", 9, -1, 1}).ok());
    EXPECT_THROW((void)calcWorkingPoint(dead, getStartingBattery(), [](double) { return 0.0; }), std::invalid_argument);
    for (const MotorLine& motor : getStartingMotors())
        EXPECT_TRUE(checkMotor(motor, getStartingBattery()).ok()) << motor.name;
    EXPECT_EQ(findStartingMotor("motor medium")->name, "motor medium");
    EXPECT_EQ(findStartingMotor("none"), nullptr);
}

} // namespace
