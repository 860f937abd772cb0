// SPDX-License-Identifier: GPL-3.0-or-later
// Seams, necks, pieces that come off, friction, bases that bend, against geometry and closed forms.
#include <algorithm>
#include <cmath>
#include <gtest/gtest.h>

#include "core/stand/cases.h"
#include "core/stand/certificate.h"
#include "core/stand/structure.h"
#include "core/study/asked_tip.h"
#include "core/verdict/mends.h"
#include "tests/support/stacks.h"

using namespace ivrant;
using geometry::Vec3;
using test::must;
using test::Overhang;
using test::Stack;

namespace {

/// Two towers of bricks 2x2 side by side on a plate.
struct Twins : Stack {
    explicit Twins(int courses, int tiedAt = -1) {
        put(0, "plate 4x8 at 0 0 0");
        for (int i = 0; i < courses; ++i) {
            const std::string up = std::to_string(1 + 3 * i);
            if (i == tiedAt) {
                put(0, "brick 2x4 at 1 2 " + up);
                continue;
            }
            put(0, "brick 2x2 at 1 2 " + up);
            put(0, "brick 2x2 at 1 4 " + up);
        }
    }
};

} // namespace

TEST(Structure, AStraightSeamIsCountedInCourses) {
    const Twins f(5);
    const auto seams = stand::findSeams(f.placed(), 0);
    ASSERT_EQ(seams.size(), 1U);
    EXPECT_EQ(seams[0].axis, 1);
    EXPECT_EQ(seams[0].courses, 5);
    EXPECT_NEAR(seams[0].atMm, 28, 1e-9); // cell 3 ends half a pitch past its middle
    EXPECT_NEAR(seams[0].bottomMm, 3.2, 1e-9);
    EXPECT_NEAR(seams[0].topMm, 51.2, 1e-9);
    EXPECT_EQ(seams[0].parts.size(), 10U);
    EXPECT_EQ(seams[0].alike.size(), 5U);
}

TEST(Structure, ALongPartEndsASeam) {
    EXPECT_TRUE(stand::findSeams(Twins(5, 2).placed(), 0).empty()); // two courses below, two above
    const auto seams = stand::findSeams(Twins(6, 2).placed(), 0);
    ASSERT_EQ(seams.size(), 1U);
    EXPECT_EQ(seams[0].courses, 3);
    EXPECT_TRUE(stand::findSeams(Twins(2).placed(), 0).empty());
}

TEST(Structure, AWallThatIsTiedBehindHasNoSeam) {
    Twins f(4);
    for (int i = 0; i < 4; ++i) f.put(0, "brick 1x4 at 0 2 " + std::to_string(1 + 3 * i));
    const auto seams = stand::findSeams(f.placed(), 0);
    ASSERT_EQ(seams.size(), 1U); // but the wall and what it ties stand side by side with nothing across
    EXPECT_EQ(seams[0].axis, 0);
    EXPECT_NEAR(seams[0].atMm, 4, 1e-9);
}

TEST(Structure, TheNeckOpensAboutItsEdge) {
    // A brick 2x4 on a post on one stud. "2x4": two cells along x, four along y, the first over the post: its weight
    // acts 12 mm from the post's middle, 8 mm beyond the edge; the post's own weight and the stud's pull act 4 mm
    // inside it. Pushed at the upper brick's centre the foot opens first.
    Stack f;
    f.pull = 1.2;
    f.put(0, "plate 8x8 at 0 0 0");
    f.put(0, "brick 1x1 at 2 2 1");
    f.put(0, "brick 2x4 at 2 2 4");
    stand::NetRequest strapped; // or the plate tips before
    strapped.strapped = true;
    const auto net = f.net(strapped);
    const auto necks = stand::findNecks(net);
    ASSERT_GE(necks.size(), 2U);
    const double w = base::weightN(must(parts::makeShape("brick 2x4"))->massG),
                 post = base::weightN(must(parts::makeShape("brick 1x1"))->massG);
    for (const auto& [neck, z, expected] :
         {std::tuple(necks[0], 3.2, 1.2 * 4 + post * 4 - w * 8), {necks[1], 12.8, 1.2 * 4 - w * 8}}) {
        EXPECT_NEAR(neck.atZ, z, 1e-6);
        EXPECT_NEAR(neck.pushN, expected / (net.bodies[2].centre.z() - z), 1e-6);
        EXPECT_NEAR(neck.towardDeg, 90, 1e-6);
        EXPECT_GT(neck.shakeG, 0);
    }
    // Shaken: the brick alone above, its moment about the post's top against the same.
    EXPECT_NEAR(necks[1].shakeG, (1.2 * 4 - w * 8) / (w * (net.bodies[2].centre.z() - 12.8)), 1e-6);
    EXPECT_EQ(necks[0].above.size(), 2U);
    // The other way round: the balance of bonds, pushed that hard, is just at its limit.
    for (const auto& [factor, stands] : {std::pair(0.98, true), {1.02, false}}) {
        auto loads = stand::calcLoads(net, {0, 0, -1});
        stand::addPush(loads, net, 2, net.bodies[2].centre, Vec3(0, factor * necks[0].pushN, 0));
        EXPECT_EQ(must(stand::calcEquilibrium(net, loads)).stands, stands) << factor;
    }
}

TEST(Structure, LegsSideBySideAreNoNeckEachButTogether) {
    Stack f;
    f.put(0, "plate 4x8 at 0 0 0");
    f.put(0, "brick 1x1 at 1 0 1");
    f.put(0, "brick 1x1 at 1 5 1");
    f.put(0, "plate 2x6 at 1 0 4");
    const auto necks = stand::findNecks(f.net());
    ASSERT_EQ(necks.size(), 2U); // both tops as one section, both feet as one
    for (const auto& neck : necks) EXPECT_GT(neck.pushN, 0);
}

TEST(Structure, WhatComesOffWithATug) {
    const Overhang f; // brick 1x4 on one stud of a post that stands on one stud
    const auto pieces = stand::findPieces(f.net());
    ASSERT_EQ(pieces.size(), 1U); // pulled at the arm or the post: post and arm come off the plate by one stud, or the
                                  // arm alone, which is no piece
    EXPECT_NEAR(pieces[0].forceN, 1.5, 1e-9);
    EXPECT_EQ(pieces[0].bodies.size(), 2U);
    EXPECT_TRUE(stand::findPieces(Twins(4).net()).empty()); // four studs: 6 N
    // The least cut lies anywhere on the way: a tower of 2x2 held by one stud in the middle.
    Stack tower;
    tower.put(0, "plate 4x4 at 0 0 0");
    tower.put(0, "brick 2x2 at 1 1 1");
    tower.put(0, "brick 1x1 at 1 1 4");
    tower.put(0, "brick 2x2 at 1 1 7");
    tower.put(0, "brick 2x2 at 1 1 10");
    const auto found = stand::findPieces(tower.net());
    ASSERT_FALSE(found.empty());
    for (const auto& piece : found) EXPECT_NEAR(piece.forceN, 1.5, 1e-9);
}

TEST(Structure, ABareBaseBendsASpannedOneDoesNot) {
    Stack f;
    f.put(0, "plate 8x16 at 0 0 0");
    f.put(0, "brick 2x2 at 3 3 1");
    f.put(0, "brick 2x2 at 3 11 1");
    for (int i = 1; i < 40; ++i)
        for (const char* at : {"3 3 ", "3 11 "})
            f.put(0, "brick 2x2 at " + std::string(at) + std::to_string(1 + 3 * i));
    const auto bases = stand::findFlexibleBases(f.placed(), f.net());
    ASSERT_EQ(bases.size(), 1U);
    // Two loads P, a quarter of the length L from either end, between them a bare strip: M = P·L/4·… at least the sag
    // of the middle half bent evenly by P·a.
    const double length = 128, a = 32, width = 64;
    double load = 0;
    for (std::size_t b = 1; b < f.net().bodies.size(); ++b) load += base::weightN(f.net().bodies[b].massG) / 2;
    const double whole = load * a * (3 * length * length - 4 * a * a) /
                         (24 * stand::kPlateStiffNmm * width); // bare all over (Roark, table 8.1)
    EXPECT_EQ(bases[0].axis, 1);
    EXPECT_LT(bases[0].sagMm, whole * 1.02);
    EXPECT_GT(bases[0].sagMm, whole * 0.8);
    f.put(0, "plate 2x16 at 5 0 1");
    f.put(0, "plate 8x2 at 0 8 1");
    const auto stiffer = stand::findFlexibleBases(f.placed(), f.net());
    EXPECT_LT(stiffer.empty() ? 0 : stiffer[0].sagMm, bases[0].sagMm / 2);
}

TEST(Certificate, ProvesWhatTheExactAnswerSaysAndNothingElse) {
    Stack tower;
    tower.put(0, "plate 4x4 at 0 0 0");
    for (int i = 0; i < 8; ++i) tower.put(0, "brick 2x2 at 1 1 " + std::to_string(1 + 3 * i));
    const auto net = tower.net();
    const auto loads = stand::calcLoads(net, Stack::kHeavy * Vec3(0, 0, -1));
    const auto certificate = must(stand::calcCertificate(net, loads));
    EXPECT_TRUE(certificate.stands);
    EXPECT_LE(certificate.residualN, stand::kBalanceN);
    EXPECT_GE(certificate.largestUse, *tower.solve().lambda * 0.99);
    // Again, from where it ended: nothing is left to do.
    stand::CertificateRequest again;
    again.start = &certificate.forces;
    EXPECT_LE(must(stand::calcCertificate(net, loads, again)).rounds, 1);
    Overhang arm; // made too heavy
    arm.pull = 0.1;
    arm.shear = 0.2;
    const auto weak = arm.net();
    ASSERT_FALSE(arm.solve().stands);
    EXPECT_FALSE(must(stand::calcCertificate(weak, stand::calcLoads(weak, Stack::kHeavy * Vec3(0, 0, -1)))).stands);
}

TEST(StandMends, APlateUnderWhatTipsReachesOutWhereItFalls) {
    Stack f;
    f.put(0, "brick 2x2 at 0 0 0");
    f.put(0, "brick 2x2 at 0 0 3");
    f.put(0, "brick 2x6 at 0 0 6");
    const auto before = verdict::calcReport(std::make_shared<const model::Project>(f.project));
    const auto tips =
        std::find_if(before.verdicts.begin(), before.verdicts.end(), [](const auto& v) { return v.check == "tip"; });
    ASSERT_NE(tips, before.verdicts.end());
    ASSERT_EQ(tips->state, verdict::State::Fail);
    const auto mends = verdict::listMends(before, *tips);
    const auto plate =
        std::find_if(mends.begin(), mends.end(), [](const auto& m) { return m.text.starts_with("plate "); });
    ASSERT_NE(plate, mends.end());
    const auto after = verdict::calcReport(std::make_shared<const model::Project>(must(plate->apply(f.project))));
    EXPECT_GE(after.present.tipping->angleDeg, study::kUsualTipDeg);
    EXPECT_TRUE(after.bonds[0]->loose.empty());
    EXPECT_TRUE(after.bonds[0]->overlaps.empty());
}

TEST(Structure, BallastOnABareBaseCounts) {
    Stack f;
    f.put(0, "plate 8x16 at 0 0 0");
    for (int i = 0; i < 90; ++i) f.put(0, "brick 2x2 at 3 7 " + std::to_string(1 + 3 * i));
    const auto light = stand::findFlexibleBases(f.placed(), f.net());
    ASSERT_EQ(light.size(), 1U);
    f.project = must(model::addBallast(f.project, f.project.sections[0]->id, {500, {28'000, 60'000, 20'000}}));
    const auto heavy = stand::findFlexibleBases(f.placed(), f.net());
    ASSERT_EQ(heavy.size(), 1U);
    EXPECT_NEAR(heavy[0].loadG - light[0].loadG, 500, 1e-9);
    // All of it lies over the middle: the sag grows as the load.
    EXPECT_NEAR(heavy[0].sagMm / light[0].sagMm, heavy[0].loadG / light[0].loadG, 0.01);
}
