// SPDX-License-Identifier: GPL-3.0-or-later
// Exact ratios of trains worked out by hand, locks and what makes them, loose things; the floating-point route beside
// it.
#include <gtest/gtest.h>

#include "core/base/at.h"
#include "core/drive/train.h"
#include "tests/support/trains.h"

using namespace ivrant::drive;
using ivrant::test::calcRank;
using ivrant::test::makeMatrix;
using ivrant::test::makeRandomTrain;
using ivrant::test::stops;

namespace {

Rational q(long a, long b = 1) { return makeRational(a, b); }

TEST(Ratio, OneStageTurnsTheOtherWay) {
    // 8 drives 24: 8/24 = 1/3, opposite sense.
    const auto motion = solveTrain({2, {makeSpur(0, 8, 1, 24)}}, {0});
    EXPECT_EQ(motion.ratio(1, 0), q(-1, 3));
    EXPECT_EQ(motion.freedom(), 1);
}

TEST(Ratio, TwoStagesMultiply) {
    // 12:28 then 12:36: 12/28 · 12/36 = 1/7, same sense again.
    const auto motion = solveTrain({3, {makeSpur(0, 12, 1, 28), makeSpur(1, 12, 2, 36)}}, {0});
    EXPECT_EQ(motion.ratio(2, 0), q(1, 7));
}

TEST(Ratio, FourStagesAndAWorm) {
    // 12:28 · 12:36 · 1:15 = 1/105 (the worm's thread right-handed: positive).
    const auto motion =
        solveTrain({4, {makeSpur(0, 12, 1, 28), makeSpur(1, 12, 2, 36), makeWorm(2, 1, 3, 15, true)}}, {0});
    EXPECT_EQ(motion.ratio(3, 0), q(1, 105));
    EXPECT_EQ(formatRatio(motion.ratio(3, 0)), "1:105");
}

TEST(Ratio, AnIdlerOnlyTurnsTheSenseRound) {
    // 20 - 16 - 40: the 16 falls out, 20/40 = 1/2, same sense.
    const auto motion = solveTrain({3, {makeSpur(0, 20, 1, 16), makeSpur(1, 16, 2, 40)}}, {0});
    EXPECT_EQ(motion.ratio(2, 0), q(1, 2));
    EXPECT_EQ(motion.ratio(1, 0), q(-5, 4));
}

TEST(Ratio, ChainAndRingKeepTheSense) {
    EXPECT_EQ(solveTrain({2, {makeChain(0, 16, 1, 40)}}, {0}).ratio(1, 0), q(2, 5));
    EXPECT_EQ(solveTrain({2, {makeChain(0, 12, 1, 60)}}, {0}).ratio(1, 0), q(1, 5)); // 12 inside a ring of 60
}

TEST(Ratio, BevelPairBothWays) {
    EXPECT_EQ(solveTrain({2, {makeBevel(0, 12, 1, 20, true)}}, {0}).ratio(1, 0), q(3, 5));
    EXPECT_EQ(solveTrain({2, {makeBevel(0, 12, 1, 20, false)}}, {0}).ratio(1, 0), q(-3, 5));
}

TEST(Ratio, WormOnAToothedRackMovesByTeeth) {
    // Worm on 24, on its shaft an 8 on a rack: one turn of the worm is 8/24 = 1/3 tooth, π/3 mm at module 1.
    const auto motion = solveTrain({3, {makeWorm(0, 1, 1, 24, true), makeChain(1, 8, 2, 1)}}, {0});
    EXPECT_EQ(motion.ratio(2, 0), q(1, 3));
}

// Epicyclic: sun 24, ring 56, planets 16 between (24 + 2·16 = 56). Things: 0 sun, 1 ring, 2 carrier, 3 planet relative
// to it.
Train makeEpicyclic() {
    return {4, {makeCarried(makeSpur(0, 24, 3, 16), 2, {3}), makeCarried(makeChain(1, 56, 3, 16), 2, {3})}};
}

TEST(Epicyclic, RingHeld) {
    // Willis: ω_c/ω_s = z_s/(z_s + z_r) = 24/80 = 3/10.
    Train train = makeEpicyclic();
    train.relations.push_back(makeHeld(1));
    const auto motion = solveTrain(train, {0});
    EXPECT_EQ(motion.ratio(2, 0), q(3, 10));
    // The planet on its pin: −24/16·(1 − 3/10) = −21/20.
    EXPECT_EQ(motion.ratio(3, 0), q(-21, 20));
}

TEST(Epicyclic, SunHeld) {
    // ω_c/ω_r = z_r/(z_s + z_r) = 56/80 = 7/10.
    Train train = makeEpicyclic();
    train.relations.push_back(makeHeld(0));
    EXPECT_EQ(solveTrain(train, {1}).ratio(2, 1), q(7, 10));
}

TEST(Epicyclic, CarrierHeld) {
    // ω_r/ω_s = −z_s/z_r = −24/56 = −3/7.
    Train train = makeEpicyclic();
    train.relations.push_back(makeHeld(2));
    EXPECT_EQ(solveTrain(train, {0}).ratio(1, 0), q(-3, 7));
}

TEST(Epicyclic, NothingHeldHasTwoFreedoms) {
    const auto motion = solveTrain(makeEpicyclic(), {0, 1});
    EXPECT_EQ(motion.freedom(), 2);
    // 80·ω_c = 24·ω_s + 56·ω_r.
    EXPECT_EQ(motion.ratio(2, 0), q(3, 10));
    EXPECT_EQ(motion.ratio(2, 1), q(7, 10));
    EXPECT_EQ(motion.listLoose({0}), (std::vector<int>{1, 2, 3}));
}

TEST(Differential, OneSideHeldDoublesTheOther) {
    // 2·case = left + right, right 0: left = 2·case.
    const auto motion = solveTrain({3, {makeDifferential(0, 1, 2), makeHeld(2)}}, {0});
    EXPECT_EQ(motion.ratio(1, 0), q(2));
}

TEST(Differential, CaseHeldTurnsOneSideBack) {
    EXPECT_EQ(solveTrain({3, {makeDifferential(0, 1, 2), makeHeld(0)}}, {1}).ratio(2, 1), q(-1));
}

TEST(Differential, AddsTwoMotors) {
    // Motors 0 and 1 on the sides through 12:20 each: case = −(3/5)(m0 + m1)/2.
    const Train train{5, {makeSpur(0, 12, 3, 20), makeSpur(1, 12, 4, 20), makeDifferential(2, 3, 4)}};
    const auto motion = solveTrain(train, {0, 1});
    EXPECT_EQ(motion.ratio(2, 0), q(-3, 10));
    EXPECT_EQ(motion.ratio(2, 1), q(-3, 10));
    EXPECT_TRUE(motion.opposed.empty());
}

TEST(Differential, SubtractorDrivesStraightAndTurns) {
    // Two cases whose left sides share an idler pair: the usual straight/turn coupling. Things: 0 drive case A, 1 steer
    // case B, 2 left wheel, 3 right wheel; B's sides turn the wheels against each other: 2·drive = l + r; 2·steer = l −
    // r.
    const Train train{5, {makeDifferential(0, 2, 3), makeSpur(4, 16, 3, 16), makeDifferential(1, 2, 4)}};
    const auto motion = solveTrain(train, {0, 1});
    EXPECT_EQ(motion.ratio(2, 0), q(1));
    EXPECT_EQ(motion.ratio(2, 1), q(1));
    EXPECT_EQ(motion.ratio(3, 0), q(1));
    EXPECT_EQ(motion.ratio(3, 1), q(-1));
}

TEST(Selector, EngagedClutchPicksForwardOrReverse) {
    // Input 0 with 24:24 straight to wheel 1, and over an idler 24:16:24 to wheel 2, both loose on output 3.
    const Train base{5, {makeSpur(0, 24, 1, 24), makeSpur(0, 24, 4, 16), makeSpur(4, 16, 2, 24)}};
    Train forward = base, back = base;
    back.relations.push_back(makeTogether(3, 1));
    forward.relations.push_back(makeTogether(3, 2));
    EXPECT_EQ(solveTrain(forward, {0}).ratio(3, 0), q(1));
    EXPECT_EQ(solveTrain(back, {0}).ratio(3, 0), q(-1));
    EXPECT_EQ(solveTrain(base, {0}).listLoose({0}), (std::vector<int>{3}));
}

TEST(Turntable, SlewingMakesAShaftThroughItCreep) {
    // Shaft 0 stands on the turntable's axis; on the slewing part (carrier 2) its 12 drives a 20 (thing 1, told
    // relative to the part). ω₁ = −12/20·(ω₀ − ω_c): with the input held, a turn of the part turns the 20 by +3/5.
    const auto motion = solveTrain({3, {makeCarried(makeSpur(0, 12, 1, 20), 2, {1})}}, {0, 2});
    EXPECT_EQ(motion.ratio(1, 0), q(-3, 5));
    EXPECT_EQ(motion.ratio(1, 2), q(3, 5));
}

TEST(Lock, ThreeWheelsInARing) {
    // Three outside meshes in a triangle: each would have to turn against both others.
    const Train train{4,
                      {makeSpur(0, 16, 1, 16), makeSpur(1, 16, 2, 16), makeSpur(2, 16, 0, 16), makeSpur(2, 8, 3, 24)}};
    const auto motion = solveTrain(train, {0});
    EXPECT_EQ(motion.freedom(), 0);
    EXPECT_TRUE(motion.isLocked(3));
    EXPECT_EQ(motion.opposed, (std::vector<int>{0}));
    EXPECT_EQ(explainLock(train, 0), (std::vector<int>{0, 1, 2}));
    EXPECT_EQ(explainLock(train, 3), (std::vector<int>{0, 1, 2, 3}));
}

TEST(Lock, TwoPathsOfOtherRatio) {
    // Between the same two shafts 20:20 and 16:24: only rest satisfies both.
    const Train train{3, {makeSpur(0, 20, 1, 20), makeSpur(0, 16, 1, 24), makeSpur(1, 8, 2, 8)}};
    EXPECT_EQ(explainLock(train, 1), (std::vector<int>{0, 1}));
    EXPECT_TRUE(explainLock({3, {train.relations[0], train.relations[2]}}, 1).empty());
}

TEST(Lock, AnEvenRingOfEqualWheelsRunsAndIsTold) {
    const auto motion = solveTrain(
        {4, {makeSpur(0, 16, 1, 16), makeSpur(1, 16, 2, 16), makeSpur(2, 16, 3, 16), makeSpur(3, 16, 0, 16)}}, {0});
    EXPECT_EQ(motion.freedom(), 1);
    EXPECT_EQ(motion.redundant.size(), 1U);
    EXPECT_EQ(motion.ratio(2, 0), q(1));
}

TEST(Lock, TwoMotorsOnOneShaftFight) {
    const auto motion = solveTrain({3, {makeSpur(0, 12, 2, 36), makeSpur(1, 20, 2, 28)}}, {0, 1});
    EXPECT_EQ(motion.opposed, (std::vector<int>{1})); // the second named gives way
    EXPECT_EQ(motion.ratio(1, 0), q(7, 15));          // 12/36 · 28/20
}

TEST(Train, NothingAndNonsense) {
    EXPECT_EQ(solveTrain({}).freedom(), 0);
    EXPECT_EQ(solveTrain({3, {}}).freedom(), 3);
    EXPECT_EQ(solveTrain({1, {makeTogether(0, 0)}}).redundant, (std::vector<int>{0}));
    EXPECT_THROW((void)makeSpur(0, 0, 1, 8), std::invalid_argument);
    EXPECT_THROW((void)solveTrain({1, {makeSpur(0, 8, 1, 8)}}), std::out_of_range);
    EXPECT_THROW((void)solveTrain({1, {}}, {4}), std::out_of_range);
    EXPECT_THROW((void)makeRational(1, 0), std::invalid_argument);
}

TEST(Train, RatioTexts) {
    EXPECT_EQ(formatRatio(q(3, 5)), "3:5");
    EXPECT_EQ(formatRatio(q(-10, 30)), "-1:3");
    EXPECT_EQ(formatRatio(q(42, 2)), "21:1");
    EXPECT_EQ(formatRatio(q(0)), "0");
    EXPECT_EQ(formatDecimal(q(1, 105)), "0.009524");
}

TEST(RandomTrains, ExactAgreesWithFloatingPoint) {
    std::mt19937 random(11);
    for (int round = 0; round < 200; ++round) {
        const int things = std::uniform_int_distribution<int>(3, 14)(random);
        const Train train = makeRandomTrain(random, things, std::uniform_int_distribution<int>(1, 14)(random));
        const auto motion = solveTrain(train, {0, 1});
        const Eigen::MatrixXd matrix = makeMatrix(train);
        EXPECT_EQ(motion.freedom(), things - calcRank(matrix)) << round;
        EXPECT_EQ(motion.redundant.size(), train.relations.size() - static_cast<std::size_t>(calcRank(matrix)))
            << round;
        // Any motion of the independent things satisfies every relation.
        std::map<int, double> given;
        for (int thing : motion.independent) given[thing] = std::uniform_real_distribution<double>(-100, 100)(random);
        const auto speeds = motion.speeds(given);
        const Eigen::VectorXd all = Eigen::Map<const Eigen::VectorXd>(speeds.data(), things);
        EXPECT_LT((matrix * all).cwiseAbs().maxCoeff(), 1e-7 * (1 + all.cwiseAbs().maxCoeff())) << round;
        for (const auto& [thing, speed] : given) EXPECT_DOUBLE_EQ(at(speeds, thing), speed);
    }
}

TEST(RandomTrains, LocksAreExplainedByASmallestSet) {
    std::mt19937 random(5);
    int locks = 0;
    for (int round = 0; round < 150; ++round) {
        const Train train = makeRandomTrain(random, 9, 11);
        const auto motion = solveTrain(train);
        for (int thing = 0; thing < train.things; ++thing) {
            const auto set = explainLock(train, thing);
            ASSERT_EQ(!set.empty(), motion.isLocked(thing)) << round;
            if (set.empty()) continue;
            ++locks;
            EXPECT_TRUE(stops(train, set, thing)) << round;
            for (std::size_t without = 0; without < set.size(); ++without) {
                std::vector<int> rest = set;
                rest.erase(rest.begin() + static_cast<std::ptrdiff_t>(without));
                EXPECT_FALSE(stops(train, rest, thing)) << round;
            }
        }
    }
    EXPECT_GT(locks, 50);
}

TEST(RandomTrains, ProofAddsUpExactly) {
    std::mt19937 random(23);
    const Train train = makeRandomTrain(random, 12, 14);
    for (int thing = 0; thing < train.things; ++thing) {
        std::map<int, Rational> sum;
        const auto proof = proveZero(train, {{thing, 1}});
        for (const Share& share : proof)
            for (const Term& term : at(train.relations, share.relation).terms) {
                sum[term.thing] += share.factor * term.factor;
                if (term.carrier >= 0) sum[term.carrier] -= share.factor * term.factor;
            }
        for (const auto& [at, value] : sum) EXPECT_EQ(value, proof.empty() ? q(0) : q(at == thing ? 1 : 0));
    }
}

TEST(RandomTrains, OrderOfRelationsDoesNotMatter) {
    std::mt19937 random(3);
    Train train = makeRandomTrain(random, 10, 8);
    const auto before = solveTrain(train, {0});
    std::reverse(train.relations.begin(), train.relations.end());
    const auto after = solveTrain(train, {0});
    EXPECT_EQ(before.freedom(), after.freedom());
    for (int thing = 0; thing < train.things; ++thing) EXPECT_EQ(before.isLocked(thing), after.isLocked(thing));
}

} // namespace
