// SPDX-License-Identifier: GPL-3.0-or-later
// Places for posts and the usual cases, by properties: what is offered does what is said of it; forces follow their
// lever; cases push where it tips.
#include <cmath>
#include <gtest/gtest.h>
#include <random>

#include "core/pose/stance.h"
#include "core/stand/counterweight.h"
#include "core/stand/post_design.h"
#include "core/study/post_check.h"
#include "core/study/stand_cases.h"
#include "tests/support/reports.h"
#include "tests/support/stacks.h"

using namespace ivrant;
using geometry::Vec3;
using test::must;
using test::reportOf;
using test::Stack;

namespace {

/// A foot, a mast on it, and arms that overhang somewhere.
model::Project makeMast(std::mt19937& random) {
    std::uniform_int_distribution<int> at(-3, 2), high(1, 4);
    Stack f;
    f.put(0, "plate 4x4 at -1 -1 0");
    const int courses = high(random);
    for (int k = 0; k < courses; ++k) f.put(0, "brick 2x2 at 0 0 " + std::to_string(1 + 3 * k));
    int top = 1 + 3 * courses;
    for (int k = 0; k < 3; ++k, ++top) {
        const bool along = k % 2 == 0;
        f.put(0, (along ? "plate 2x8 at 0 " : "plate 8x2 at ") + std::to_string(at(random) - 1) +
                     (along ? " " : " 0 ") + std::to_string(top));
    }
    f.put(0, "brick 2x2 at 0 0 " + std::to_string(top));
    return f.project;
}

model::Placed placeOf(const model::Project& project) { return {&project, {geometry::Frame::Identity()}, {}}; }
stand::Tipping tippingOf(const model::Placed& placed) { return *stand::calcTipping(placed, pose::listCorners(placed)); }

/// A square foot of 40 mm about the origin, the centre of gravity at x, that high.
stand::Tipping makeTipping(double x, double height) {
    stand::Tipping tipping;
    tipping.support = {{-20, -20}, {20, -20}, {20, 20}, {-20, 20}};
    tipping.massG = 100;
    tipping.centre = {x, 0, height};
    return stand::calcTippingWith(tipping, 0, tipping.centre);
}

} // namespace

TEST(PostDesign, WhatIsOfferedDoesWhatIsSaidOfIt) {
    std::mt19937 random(17);
    std::size_t offered = 0;
    for (int trial = 0; trial < 25; ++trial) {
        const auto project = makeMast(random);
        const auto placed = placeOf(project);
        const auto tipping = tippingOf(placed);
        const double wish = tipping.angleDeg + 3;
        const auto spots = stand::listPosts(placed, tipping, wish);
        const auto boxes = stand::listPartBoxes(placed);
        for (std::size_t i = 0; i < spots.size(); ++i, ++offered) {
            const auto& spot = spots[i];
            EXPECT_GE(spot.tipDeg, wish);
            EXPECT_GE(spot.tiltN, spot.restN);
            EXPECT_GT(spot.tiltN, 0);
            EXPECT_TRUE(stand::isWayFree(boxes, spot.at));
            for (std::size_t k = 0; k < i; ++k)
                EXPECT_GE((spots[k].at - spot.at).norm(), 2 * base::kPitchMm - 1e-9) << "they lie apart";
            // The second way: kept in the project, the same part lies on it and the model tips where it was said.
            const auto kept = must(model::putPost(project, study::makePost(spot.at)));
            const auto with = placeOf(kept);
            const auto posts = stand::placePosts(with);
            ASSERT_EQ(posts.size(), 1U);
            EXPECT_EQ(posts[0].state, stand::PostState::Touches);
            EXPECT_EQ(posts[0].part, spot.part);
            EXPECT_NEAR(tippingOf(with).angleDeg, spot.tipDeg, 1e-6);
            EXPECT_NEAR(stand::calcTippingWithout(with, pose::listCorners(with), 0)->angleDeg, tipping.angleDeg, 1e-9);
        }
        if (!spots.empty()) {
            EXPECT_LE(spots.front().at.z(), spots.back().at.z()) << "the shortest first";
        }
    }
    EXPECT_GT(offered, 30U);
}

TEST(PostDesign, ForcesFollowTheirLever) {
    const auto falls = makeTipping(30, 60); // 10 mm beyond the edge at x = 20
    const double weight = base::weightN(100);
    EXPECT_NEAR(stand::calcPostN(falls, {40, 0}, 0), weight * 10 / 20, 1e-9);
    EXPECT_NEAR(stand::calcPostN(falls, {60, 0}, 0), weight * 10 / 40, 1e-9) << "twice as far, half as much";
    // Tilted by t towards it: weight·(sin t·h + cos t·10) / arm.
    const double t = base::degToRad(8);
    EXPECT_NEAR(stand::calcPostN(falls, {60, 0}, 8), weight * (std::sin(t) * 60 + std::cos(t) * 10) / 40, 1e-9);
    double before = 0;
    for (double tilt = 0; tilt < 30; tilt += 1) {
        const double now = stand::calcPostN(falls, {60, 0}, tilt);
        EXPECT_GE(now, before) << "more tilt, more force";
        EXPECT_LE(now, weight) << "never more than all of it";
        before = now;
    }
    const auto stands = makeTipping(0, 40);
    EXPECT_EQ(stand::calcPostN(stands, {60, 0}, 8), 0) << "its own feet are enough: it tips at 26.6°";
    EXPECT_GT(stand::calcPostN(stands, {60, 0}, 30), 0);
    EXPECT_EQ(stand::calcPostN(falls, {0, 0}, 0), 0) << "a post among the feet helps against no edge";
    stand::Tipping line = falls;
    line.support.resize(2);
    EXPECT_EQ(stand::calcPostN(line, {60, 0}, 0), weight) << "on a line it may have to carry nearly all";
}

TEST(PostDesign, OnePostMoreNeverTipsSooner) {
    std::mt19937 random(23);
    std::uniform_real_distribution<double> place(-80, 80);
    for (int trial = 0; trial < 200; ++trial) {
        const auto tipping = makeTipping(place(random) / 4, 30 + std::abs(place(random)));
        const auto with = stand::calcTippingOn(tipping, {place(random), place(random)});
        EXPECT_GE(with.angleDeg, tipping.angleDeg - 1e-9);
        EXPECT_EQ(with.massG, tipping.massG);
    }
}

TEST(UsualCases, PushWhereItTipsFirst) {
    std::mt19937 random(5);
    for (int trial = 0; trial < 10; ++trial) {
        const auto project = makeMast(random);
        const auto placed = placeOf(project);
        const auto tipping = tippingOf(placed);
        const auto cases = stand::listUsualCases(placed, tipping, 10);
        ASSERT_EQ(cases.size(), 5U);
        const double toward = base::degToRad(tipping.towardDeg);
        const Vec3 way(std::cos(toward), std::sin(toward), 0);
        EXPECT_TRUE(cases[0].accelerationG.isApprox(Vec3(0, 0, -1)));
        EXPECT_NEAR(cases[1].accelerationG.norm(), 1, 1e-12) << "a slope changes the way of the weight, not how much";
        EXPECT_NEAR(cases[1].accelerationG.dot(way), std::sin(base::degToRad(10)), 1e-12);
        EXPECT_TRUE(cases[2].strapped);
        EXPECT_NEAR(-cases[2].accelerationG.z(), stand::kBumpDownG, 1e-12);
        EXPECT_NEAR(cases[2].accelerationG.dot(way), stand::kBumpAsideG, 1e-12);
        EXPECT_NEAR(cases[3].pushN.dot(way), stand::kKnockN, 1e-12);
        // By brute force: the highest centre takes the knock, the one nearest the centre of gravity the hand.
        double highest = -1, nearest = 1e9;
        for (const auto& part : project.sections[0]->parts) {
            const Vec3 centre = part.place.frame() * part.shape->centre;
            highest = std::max(highest, centre.z());
            nearest = std::min(nearest, (centre - tipping.centre).norm());
        }
        EXPECT_NEAR(cases[3].pushAt.z(), highest, 1e-9);
        EXPECT_TRUE(stand::findHighest(placed).isApprox(cases[3].pushAt));
        ASSERT_EQ(cases[4].hands.size(), 1U);
        EXPECT_FALSE(cases[4].ground);
        EXPECT_NEAR((cases[4].hands[0] - tipping.centre).norm(), nearest, 1e-9);
    }
}

TEST(UsualCases, AKeptPostCountsInAllThatStandOnTheGround) {
    Stack f;
    f.put(0, "brick 2x2 at 0 0 0");
    f.put(0, "plate 2x8 at 0 0 3");
    f.put(0, "brick 2x2 at 0 6 4");
    const auto bare = reportOf(f.project),
               posted = reportOf(must(model::putPost(f.project, study::makePost({4, 52, 9.6}))));
    const auto contacts = [](const verdict::Report& report, const stand::StandCase& standCase) {
        const auto solved = must(study::calcStandCase(report, report.present, standCase));
        return std::count_if(solved.net.contacts.begin(), solved.net.contacts.end(), [](const auto& contact) {
            return contact.kind == stand::ContactKind::Ground && contact.corners.front().z() > 1;
        });
    };
    for (const auto& standCase : study::listStandCases(posted, posted.present))
        EXPECT_EQ(contacts(posted, standCase), standCase.ground ? 1 : 0) << standCase.key;
    EXPECT_EQ(contacts(bare, {}), 0);
    // Half-built, before its part is there, it carries nothing yet.
    const auto solved = must(study::calcStandCase(posted, posted.present, study::makeHalfBuilt(posted, 1)));
    EXPECT_FALSE(solved.net.bodies.empty());
    stand::StandCase foot;
    foot.built = [](model::PartSpot spot) { return spot.part == 0; };
    EXPECT_EQ(contacts(posted, foot), 0);
}
