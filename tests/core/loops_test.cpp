// SPDX-License-Identifier: GPL-3.0-or-later
// Loops: closed forms of four-bars and parallelograms, dead points, change points, any joint as the driver, there and
// back again.
#include <cmath>
#include <gtest/gtest.h>
#include <random>

#include "core/base/at.h"
#include "core/base/units.h"
#include "core/pose/loops.h"
#include "core/pose/rings.h"
#include "tests/support/linkages.h"

using namespace ivrant;
using pose::LoopEnd;
using pose::LoopFollower;
using test::FourBar;
using test::Parallelogram;

namespace {

constexpr double kBase = 56, kCrank = 16, kCoupler = 48, kRocker = 40;

double direction(double value) { return base::degToRad(90 - value); }

/// Value of the rocker for a value of the crank, coupler above: two circles (Norton, Design of Machinery, ch. 4).
double rockerFor(double crankValue) {
    const double crank = direction(crankValue);
    const double px = kCrank * std::cos(crank), pz = kCrank * std::sin(crank);
    const double dx = px - kBase, dz = pz, d = std::hypot(dx, dz);
    const double inner = std::acos((d * d + kRocker * kRocker - kCoupler * kCoupler) / (2 * d * kRocker));
    return 90 - base::radToDeg(std::atan2(dz, dx) - inner);
}
double wrapped(double deg) { return std::remainder(deg, 360); }

/// A figure's loops, driven by one joint.
struct Rig {
    explicit Rig(const test::Figure& figure, int driver, int freedom = 0)
        : tree(figure.tree()), kinematics(figure.project, tree), values(figure.values()),
          follower(kinematics, pose::planLoops(kinematics, values, {driver, freedom})), place(follower.start(values)) {}
    model::SectionTree tree;
    pose::Kinematics kinematics;
    pose::JointValues values;
    LoopFollower follower;
    pose::LoopPlace place;
};

} // namespace

TEST(Loops, AFourBarIsOneBlockOfThree) {
    const FourBar f;
    const Rig rig(f, 0);
    ASSERT_EQ(rig.follower.plan().blocks.size(), 1u);
    EXPECT_EQ(rig.follower.plan().blocks[0].unknown.size(), 3u);
    EXPECT_EQ(rig.follower.plan().moved, (std::vector<int>{0, 1, 2, 3}));
    EXPECT_TRUE(rig.follower.plan().idle.empty());
    EXPECT_TRUE(rig.place.isClosed());
    EXPECT_LT(rig.place.gapMm, 1e-9);
}

TEST(Loops, AFourBarFollowsItsClosedForm) {
    const FourBar f;
    for (const int places : {8, 72, 360}) {
        Rig rig(f, 0);
        for (int k = 1; k <= places; ++k) {
            const double at = 360.0 * k / places;
            ASSERT_EQ(rig.follower.advance(rig.place, at), LoopEnd::Reached);
            EXPECT_NEAR(wrapped(rig.place.values[2][0] - rockerFor(at)), 0, 1e-9) << at;
        }
        EXPECT_NEAR(rig.place.values[0][0], 360, 1e-12) << "turns are not wrapped";
    }
}

TEST(Loops, RatesAreThoseOfSmallSteps) {
    const FourBar f;
    Rig rig(f, 0);
    ASSERT_EQ(rig.follower.advance(rig.place, 77), LoopEnd::Reached);
    const double h = 0.01;
    pose::LoopPlace before = rig.place, after = rig.place;
    ASSERT_EQ(rig.follower.advance(before, 77 - h), LoopEnd::Reached);
    ASSERT_EQ(rig.follower.advance(after, 77 + h), LoopEnd::Reached);
    for (const int j : {1, 2, 3}) {
        const double slope = (at(after.values, j)[0] - at(before.values, j)[0]) / (2 * h);
        const double bend =
            (at(after.values, j)[0] - 2 * at(rig.place.values, j)[0] + at(before.values, j)[0]) / (h * h);
        EXPECT_NEAR(at(rig.place.rates, j)[0], slope, 1e-7) << j;
        EXPECT_NEAR(at(rig.place.second, j)[0], base::radToDeg(bend), 1e-4) << j;
    }
}

TEST(Loops, AnyJointOfTheRingDrivesTheSamePlaces) {
    const FourBar f;
    Rig byCrank(f, 0);
    ASSERT_EQ(byCrank.follower.advance(byCrank.place, 100), LoopEnd::Reached);
    for (const int driver : {1, 2, 3}) {
        pose::JointValues values = byCrank.place.values;
        Rig there(f, driver);
        there.place = there.follower.start(values);
        const double target = at(values, driver)[0] + 2;
        ASSERT_EQ(there.follower.advance(there.place, target), LoopEnd::Reached);
        pose::LoopPlace back = byCrank.place;
        ASSERT_EQ(byCrank.follower.advance(back, there.place.values[0][0]), LoopEnd::Reached);
        for (const int j : {0, 1, 2, 3})
            EXPECT_NEAR(wrapped(at(back.values, j)[0] - at(there.place.values, j)[0]), 0, 1e-8) << driver << " " << j;
    }
}

TEST(Loops, ADrivenRockerEndsAtItsDeadPoints) {
    const FourBar f;
    // Crank and coupler in line: the rocker's tip is their sum or difference from the crank's centre.
    const auto rockerAt = [](double reach) {
        return 90 - base::radToDeg(base::kPi - std::acos((kBase * kBase + kRocker * kRocker - reach * reach) /
                                                         (2 * kBase * kRocker)));
    };
    for (const bool up : {false, true}) {
        Rig rig(f, 2);
        rig.place = rig.follower.start(Rig(f, 0).place.values);
        const double from = rig.place.values[2][0];
        EXPECT_EQ(rig.follower.advance(rig.place, from + (up ? 300 : -300)), LoopEnd::Dead);
        const double end = rig.place.values[2][0];
        const double expected = rockerAt(up ? kCoupler + kCrank : kCoupler - kCrank);
        EXPECT_NEAR(wrapped(end - expected), 0, 0.02) << up;
    }
}

TEST(Loops, AParallelogramStaysOneThroughItsChangePoints) {
    const Parallelogram f;
    for (const int places : {8, 24, 36, 72, 360}) {
        for (const int sense : {1, -1}) {
            Rig rig(f, 0);
            std::vector<double> change;
            for (int k = 1; k <= places; ++k) {
                const double at = 30 + sense * 360.0 * k / places;
                ASSERT_EQ(rig.follower.advance(rig.place, at, &change), LoopEnd::Reached) << places << " " << k;
                EXPECT_NEAR(wrapped(rig.place.values[2][0] - at), 0, 1e-5) << places << " " << at; // a double root
            }
            ASSERT_EQ(change.size(), 2u) << places;
            for (const double at : change) EXPECT_NEAR(std::abs(std::remainder(at - 90, 180)), 0, 0.1);
        }
    }
}

TEST(Loops, ACrankTooLongToCloseLeavesAGap) {
    test::OpenLinks open;
    const Rig rig(open, 0);
    EXPECT_FALSE(rig.place.isClosed());
    EXPECT_NEAR(rig.place.gapMm, 56 - 8 - 16 - 16, 0.2);
    EXPECT_GE(rig.place.gapJoint, 0);
}

TEST(Loops, TransmissionIsTheAngleBetweenCouplerAndRocker) {
    const FourBar f;
    Rig rig(f, 0);
    for (double at = 15; at <= 360; at += 15) {
        ASSERT_EQ(rig.follower.advance(rig.place, at), LoopEnd::Reached);
        const auto list = rig.follower.calcTransmissions(rig.place);
        ASSERT_EQ(list.size(), 1u);
        EXPECT_TRUE(list[0].angle);
        EXPECT_EQ(list[0].joint, 3);
        const double crank = direction(at);
        const double d2 = kCrank * kCrank + kBase * kBase - 2 * kCrank * kBase * std::cos(crank);
        const double mu = std::acos((kCoupler * kCoupler + kRocker * kRocker - d2) / (2 * kCoupler * kRocker));
        EXPECT_NEAR(list[0].sine, std::sin(mu), 1e-9) << at;
    }
}

TEST(Loops, AShaftInTwoBearingsTurnsInBoth) {
    // The rocker hangs in two walls: the second bearing is read off, whichever of the two the file lists first.
    for (const bool secondFirst : {false, true}) {
        test::Linkage f;
        f.put(0, "beam 8 at 0 0 0");
        f.put(0, "beam 8 at 0 2 0");
        const auto crank = f.put(1, "beam 3 at 0 0 0"), coupler = f.put(2, "beam 7 at 0 0 0"),
                   rocker = f.put(3, "beam 6 at 0 0 0");
        f.tie(0, 0, crank, "hole 0 back", 0);
        f.tie(1, 2, coupler, "hole 0 back", 90);
        const auto second = [&] {
            const auto pin = f.put(0, "pin ribbed at 7 1.5 0 turn 3");
            f.join("ribbed pin", pin, "end+", rocker, "hole 0", {0});
        };
        const auto first = [&] { f.tie(0, 7, rocker, "hole 0 back", 0); };
        if (secondFirst) second();
        first();
        if (!secondFirst) second();
        f.tie(3, 5, coupler, "hole 6 back", 0);
        Rig rig(f, 0);
        EXPECT_EQ(rig.follower.plan().moved.size(), 5u);
        EXPECT_TRUE(rig.follower.plan().idle.empty());
        ASSERT_TRUE(rig.place.isClosed()) << rig.place.gapMm;
        ASSERT_EQ(rig.follower.advance(rig.place, 120), LoopEnd::Reached);
        EXPECT_NEAR(std::abs(at(rig.place.rates, 2)[0]), std::abs(at(rig.place.rates, 3)[0]), 1e-9);
    }
}

TEST(Loops, FiveLinksInARingLeaveOneFree) {
    test::Linkage f;
    f.put(0, "beam 8 at 0 0 0");
    const auto a = f.put(1, "beam 4 at 0 0 0"), b = f.put(2, "beam 6 at 0 0 0"), c = f.put(3, "beam 6 at 0 0 0"),
               d = f.put(4, "beam 4 at 0 0 0");
    f.tie(0, 0, a, "hole 0 back", 0);
    // One layer further out, where the other arm's link comes to.
    f.join("ribbed pin", f.put(1, "pin ribbed at 3 1.5 0 turn 1"), "end+", b, "hole 0 back", {134});
    f.tie(0, 7, d, "hole 0 back", 0);
    f.tie(4, 3, c, "hole 0 back", 46);
    f.tie(3, 5, b, "hole 5 back", 60);
    Rig rig(f, 0);
    ASSERT_TRUE(rig.place.isClosed());
    EXPECT_FALSE(rig.follower.plan().idle.empty());
    EXPECT_EQ(rig.follower.advance(rig.place, 10), LoopEnd::Reached) << "it goes on with the smallest step";
}

TEST(Loops, WhatLiesOnNoLoopStaysAsItIs) {
    FourBar f;
    const auto arm = f.put(4, "beam 3 at 0 0 0");
    f.tie(2, 3, arm, "hole 0 back", 15);
    Rig rig(f, 0);
    EXPECT_EQ(rig.follower.plan().moved.size(), 4u);
    ASSERT_EQ(rig.follower.advance(rig.place, 90), LoopEnd::Reached);
    EXPECT_EQ(rig.place.values[4][0], 15);
    Rig alone(f, 4);
    EXPECT_TRUE(alone.follower.plan().blocks.empty());
    ASSERT_EQ(alone.follower.advance(alone.place, 375), LoopEnd::Reached);
    EXPECT_EQ(alone.place.values[4][0], 375);
}

TEST(Loops, RandomLinkagesComeBackToWhereTheyBegan) {
    std::mt19937 random(5);
    const auto pick = [&](int low, int high) { return std::uniform_int_distribution<int>(low, high)(random); };
    int turned = 0, ended = 0;
    for (int round = 0; round < 200; ++round) {
        test::Linkage f;
        const int frame = pick(5, 12), ca = pick(2, 4), co = pick(5, 12), ro = pick(4, 9);
        f.put(0, "beam " + std::to_string(frame) + " at 0 0 0");
        const auto crank = f.put(1, "beam " + std::to_string(ca) + " at 0 0 0"),
                   coupler = f.put(2, "beam " + std::to_string(co) + " at 0 0 0"),
                   rocker = f.put(3, "beam " + std::to_string(ro) + " at 0 0 0");
        f.tie(0, 0, crank, "hole 0 back", pick(-170, 170));
        f.tie(1, ca - 1, coupler, "hole 0 back", pick(20, 80));
        f.tie(0, frame - 1, rocker, "hole 0 back", pick(-30, 30));
        f.tie(3, ro - 1, coupler, "hole " + std::to_string(co - 1) + " back", 0);
        Rig rig(f, 0);
        if (rig.place.gapMm > 1e-6) continue; // it does not close, or only as ports may be off
        const pose::LoopPlace start = rig.place;
        const double from = start.values[0][0];
        std::vector<double> change;
        const LoopEnd end = rig.follower.advance(rig.place, from + 200, &change);
        (end == LoopEnd::Reached ? turned : ended)++;
        EXPECT_LT(rig.place.gapMm, 0.003);
        if (!change.empty()) continue; // either way is right there
        if (end == LoopEnd::Dead) {    // from just before the dead point
            rig.place = start;
            ASSERT_EQ(rig.follower.advance(rig.place, from + 1e-3), LoopEnd::Reached);
        }
        ASSERT_EQ(rig.follower.advance(rig.place, from), LoopEnd::Reached);
        for (const int j : {1, 2, 3})
            EXPECT_NEAR(at(rig.place.values, j)[0], at(start.values, j)[0], 1e-6) << round << " " << j;
    }
    EXPECT_GT(turned, 5);
    EXPECT_GT(ended, 3);
}
