// SPDX-License-Identifier: GPL-3.0-or-later
// What cannot be built is refused: couplings across a gap, chains out of their plane, faces that barely meet, axes that
// miss; and how long a chain is.
#include <cmath>

#include "core/base/at.h"
#include "core/base/units.h"
#include "core/model/edits_boards.h"
#include "core/model/wheel_size.h"
#include "tests/support/boards.h"
#include "tests/support/near.h"

using namespace ivrant;
using model::BoardAxis;
using model::GearKind;
using test::BoardFigure;
using test::must;

namespace {

/// Two sprockets in one plane, or so far out of it.
drive::DriveNet makeChained(double outOfPlane, BoardAxis axis = BoardAxis::Out) {
    BoardFigure f;
    const auto a = f.shaft(0, 0), b = f.shaft(8, 0, 4, 0, axis);
    model::Loop loop;
    loop.gears = {f.gear(a, GearKind::Sprocket, 10, 1), f.gear(b, GearKind::Sprocket, 10, 1 + outOfPlane)};
    f.project = must(model::putLoop(f.project, f.board, loop));
    return f.net();
}

} // namespace

TEST(Refused, ACouplingReachesThreePitches) {
    for (const double gap : {0.0, 3.0, 3.5, 24.0}) {
        BoardFigure f;
        const auto a = f.shaft(0, 0, 4), b = f.shaft(0, 0, 4, 4 + gap);
        f.project = must(model::putCoupling(f.project, f.board, {{}, a, b, false, {}}));
        const auto net = f.net();
        EXPECT_EQ(net.relations.size(), gap <= 3 ? 1u : 0u) << gap;
        EXPECT_EQ(net.clashes.size(), gap <= 3 ? 0u : 1u) << gap;
    }
}

TEST(Refused, CoupledShaftsLieInOneLine) {
    // Beside each other, and a universal one whose shafts pass each other; bent in one point it runs.
    const auto relations = [](double aside, bool universal) {
        BoardFigure f;
        const auto a = f.shaft(0, 0, 4), b = f.shaft(aside, 0, 4, 4.5);
        f.project = must(model::putCoupling(f.project, f.board, {{}, a, b, universal, {}}));
        return f.net().relations.size();
    };
    for (const bool universal : {false, true}) {
        EXPECT_EQ(relations(0, universal), 1u);
        EXPECT_EQ(relations(1, universal), 0u) << "8 mm";
    }
}

TEST(Refused, AWheelOnARackSharesHalfOfItsFace) {
    for (const double offMm : {0.0, 3.0, 6.0}) {
        BoardFigure f;
        const auto on = f.shaft(0, 0);
        f.spur(on, 16, 1);
        model::Gear rack;
        rack.kind = GearKind::Rack;
        rack.teeth = 16;
        rack.atUm = {-20'000, 8000, 8000 + base::mmToUm(offMm)};
        f.put(rack);
        const auto net = f.net();
        ASSERT_EQ(net.relations.size(), 1u) << offMm;
        // Both 8 mm wide or less: half of the narrower one is shared up to half a width off.
        const double half = model::calcWheelSize(GearKind::Spur, 16).halfWidthMm;
        EXPECT_EQ(net.faults.size(), offMm > std::max(half, 4.0) ? 1u : 0u) << offMm;
    }
}

TEST(Refused, AChainRunsInOnePlane) {
    EXPECT_EQ(makeChained(0).relations.size(), 1u);
    EXPECT_EQ(makeChained(0.1).relations.size(), 1u) << "0.8 mm";
    for (const auto& net : {makeChained(2), makeChained(0, BoardAxis::Up)}) {
        EXPECT_TRUE(net.relations.empty());
        ASSERT_FALSE(net.clashes.empty());
        EXPECT_NE(net.clashes[0].text.find("The chain"), std::string::npos);
    }
}

TEST(Refused, FacesShareHalfOfTheNarrowerOne) {
    const double width = 2 * model::calcWheelSize(GearKind::Spur, 24).halfWidthMm;
    for (const double shared : {1.0, 0.51, 0.49, 0.2}) { // of the width
        BoardFigure f;
        const auto a = f.shaft(0, 0), b = f.shaft(3, 0);
        f.spur(a, 24, 1);
        f.spur(b, 24, 1 + (1 - shared) * width / 8);
        const auto net = f.net();
        ASSERT_EQ(net.faults.size(), shared >= 0.5 ? 0u : 1u) << shared;
        if (shared >= 0.5) continue;
        EXPECT_EQ(net.faults[0].fit, drive::Fit::Aside);
        EXPECT_NEAR(net.faults[0].errorMm, (0.5 - shared) * width, 1e-3);
    }
}

TEST(Refused, BevelsWhoseAxesMiss) {
    // A double bevel 12 and another across: 6 + 2 mm each from where the axes meet.
    for (const double missMm : {0.0, 0.2, 0.8, 1.6}) {
        BoardFigure f;
        const auto a = f.shaft(0, 0, 4), b = f.shaft(missMm / 8, -2, 4, 2, BoardAxis::Up);
        f.gear(a, GearKind::Bevel, 12, 1);
        f.gear(b, GearKind::Bevel, 12, 1);
        const auto net = f.net();
        ASSERT_EQ(net.relations.size(), 1u) << missMm;
        ASSERT_EQ(net.faults.size(), missMm <= drive::kWidestMm ? 0u : 1u) << missMm;
        for (const auto& fault : net.faults) EXPECT_NEAR(fault.errorMm, missMm, 1e-3); // whole µm
    }
}

TEST(ChainLength, LinksAreChords) {
    // Equal sprockets: two straight runs and all teeth of one, whatever their count.
    for (const int z : {6, 10, 24})
        EXPECT_NEAR(must(model::calcChain(z, z, 80, 100)).slackMm, (100 - (2 * 80 / 8.0 + z)) * 8, 1e-9) << z;
    // Unlike ones, against the usual approximation 2C/p + (z1 + z2)/2 + ((z2 − z1)/2π)²·p/C.
    const double usual = 2 * 200 / 8.0 + (10 + 24) / 2.0 + std::pow(14 / (2 * base::kPi), 2) * 8 / 200;
    EXPECT_NEAR(100 - must(model::calcChain(10, 24, 200, 100)).slackMm / 8, usual, 0.02);
}

TEST(ChainLength, ThreeWheelsAndMore) {
    // Equal wheels on a polygon: its sides, and once round one wheel; in either sense.
    const std::vector<model::LoopWheel> square{
        {{0, 0}, 12, 10}, {{80, 0}, 12, 10}, {{80, 64}, 12, 10}, {{0, 64}, 12, 10}};
    auto other = square;
    std::reverse(other.begin(), other.end());
    for (const auto& wheels : {square, other}) {
        const auto loop = must(model::calcRoundLoop(wheels));
        EXPECT_NEAR(loop.straightMm, 2 * (80 + 64), 1e-9);
        for (const double wrap : loop.wrapsRad) EXPECT_NEAR(wrap, base::kPi / 2, 1e-9);
        EXPECT_NEAR(must(model::calcChainRound(wheels, 60)).slackMm, (60 - (36 + 10)) * 8, 1e-9);
    }
    // Two wheels: as open belts are (Niemann).
    const auto two = must(model::calcRoundLoop({{{0, 0}, 20, 0}, {{50, 0}, 10, 0}}));
    EXPECT_NEAR(two.straightMm + 20 * two.wrapsRad[0] + 10 * two.wrapsRad[1], *model::calcLoopLength(20, 10, 50), 1e-9);
    // Brute force: the hull of many points on three unlike circles is what lies tight round them.
    const std::vector<model::LoopWheel> three{{{0, 0}, 15, 0}, {{90, 10}, 25, 0}, {{30, 70}, 8, 0}};
    const auto loop = must(model::calcRoundLoop(three));
    double length = loop.straightMm;
    for (std::size_t i = 0; i < 3; ++i) length += three[i].radiusMm * loop.wrapsRad[i];
    double support = 0; // Cauchy: the length of a convex curve is the integral of its support function
    constexpr int kSteps = 20'000;
    for (int k = 0; k < kSteps; ++k) {
        const double angle = 2 * base::kPi * k / kSteps;
        double most = -1e300;
        for (const auto& wheel : three)
            most = std::max(most,
                            wheel.centre.x() * std::cos(angle) + wheel.centre.y() * std::sin(angle) + wheel.radiusMm);
        support += most * 2 * base::kPi / kSteps;
    }
    EXPECT_NEAR(length, support, 1e-3);
    // A wheel inside the others is not touched.
    EXPECT_EQ(
        model::calcRoundLoop({{{0, 0}, 10, 0}, {{100, 0}, 10, 0}, {{50, 5}, 2, 0}, {{50, 80}, 10, 0}}).error().code,
        "loop.length");
    EXPECT_EQ(model::calcRoundLoop({{{0, 0}, 30, 0}, {{10, 0}, 10, 0}}).error().code, "loop.length");
}
