// SPDX-License-Identifier: GPL-3.0-or-later
// Bond equilibrium against closed forms, and what must hold of any model: scaling, supports, mirror, order of parts.
#include <algorithm>
#include <cmath>
#include <gtest/gtest.h>
#include <random>

#include "core/base/at.h"
#include "core/stand/certificate.h"
#include "core/stand/interior_point.h"
#include "tests/support/stacks.h"

using namespace ivrant;
using geometry::Vec3;
using test::Corbels;
using test::must;
using test::Overhang;
using test::Stack;

namespace {
constexpr double kSolver = 2e-3; ///< λ is found within the relative gap and the share counted as whole
}

TEST(Equilibrium, ATowerAsksNothingOfItsStuds) {
    Stack f;
    f.put(0, "plate 4x4 at 0 0 0");
    for (int i = 0; i < 5; ++i) f.put(0, "brick 2x2 at 1 1 " + std::to_string(1 + 3 * i));
    const auto e = f.solve();
    EXPECT_TRUE(e.stands);
    EXPECT_TRUE(e.lambdaAtMost);
    EXPECT_LE(*e.lambda, 0.06);
    EXPECT_LT(e.residualN, 1e-4);
    for (const auto& force : e.forces) EXPECT_LT(force.use, 0.02);
}

TEST(Equilibrium, OneStudOverhang) {
    // The arm's weight W acts 12 mm from the stud, 8 mm beyond the edge it turns about; the stud pulls 4 mm from that
    // edge: T = 2 W.
    const Overhang f;
    const double w = f.weight("brick 1x4");
    const auto e = f.solve();
    EXPECT_TRUE(e.stands);
    EXPECT_NEAR(*e.lambda, 2 * w / 1.5, kSolver * *e.lambda);
    // The weakest bond is that stud, used by λ.
    const auto made = f.net();
    std::size_t worst = 0;
    for (std::size_t k = 0; k < e.forces.size(); ++k)
        if (e.forces[k].use > e.forces[worst].use) worst = k;
    EXPECT_EQ(ivrant::at(made.bodies, made.contacts[worst].b).spot.part, 2);
    EXPECT_NEAR(e.forces[worst].pullN, 2 * w, 0.02 * w);
    EXPECT_STREQ(e.forces[worst].mode, "pull");
}

TEST(Equilibrium, TwoCourseArmAsksTwiceAsMuch) {
    Overhang f;
    f.put(0, "brick 1x4 at 0 0 7");
    EXPECT_NEAR(*f.solve().lambda, 4 * f.weight("brick 1x4") / 1.5, kSolver * 2);
}

TEST(Equilibrium, CorbelsLeanOut) {
    // Above the joint under course i lie m = n − i bricks, their weights 0, 8, 16 … mm beyond the edge: T·4 =
    // 8·W·m(m−1)/2, T = W·m(m−1).
    for (const int n : {3, 4, 5}) {
        const Corbels f(n);
        const double m = n - 1, expected = f.weight("brick 1x2") * m * (m - 1) / 1.5;
        EXPECT_NEAR(*f.solve().lambda, expected, kSolver * std::max(1.0, expected)) << n;
    }
}

TEST(Equilibrium, ALever) {
    // A brick 1x8 on a post under its third cell: the middle is 28 mm, the edge 20 mm, the stud 16 mm from its end's
    // cell: T = 2 W.
    Stack f;
    f.put(0, "plate 8x8 at 0 0 0");
    f.put(0, "brick 1x1 at 0 2 1");
    f.put(0, "brick 1x8 at 0 0 4");
    const double alone = *f.solve().lambda;
    EXPECT_NEAR(alone, 2 * f.weight("brick 1x8") / 1.5, kSolver);
    // A brick on the short arm: about the edge at 20 mm W·8 against V·20 (1x1 over the first cell).
    f.put(0, "brick 1x1 at 0 0 7");
    const double expected = (f.weight("brick 1x8") * 8 - f.weight("brick 1x1") * 20) / 4 / 1.5;
    EXPECT_NEAR(*f.solve().lambda, expected, kSolver);
}

TEST(Equilibrium, WhatTipsIsHeldByNoStrength) {
    Stack f;
    f.put(0, "brick 1x1 at 0 0 0");
    f.put(0, "brick 1x4 at 0 0 3");
    const auto e = f.solve();
    EXPECT_FALSE(e.stands);
    EXPECT_TRUE(std::isinf(*e.lambda));
    EXPECT_FALSE(e.falling.empty());
}

TEST(Equilibrium, TooHeavyForItsStudFallsAndIsNamed) {
    Overhang f;
    f.pull = 1.2 * f.weight("brick 1x4"); // 2 W are asked
    const auto e = f.solve();
    EXPECT_FALSE(e.stands);
    EXPECT_NEAR(*e.lambda, 2 / 1.2, kSolver * 2);
    const auto made = f.net();
    ASSERT_EQ(e.falling.size(), 1u);
    EXPECT_EQ(ivrant::at(made.bodies, e.falling[0]).spot.part, 2);
    ASSERT_TRUE(e.firstToGo);
    const auto& contact = ivrant::at(made.contacts, *e.firstToGo);
    EXPECT_EQ(std::max(contact.a, contact.b), 2);
}

TEST(Equilibrium, ScalesWithWeightAndAgainstLimits) {
    const Corbels f(4);
    const double one = *f.solve().lambda;
    EXPECT_NEAR(*f.solve({0, 0, -2}).lambda, 2 * one, 2 * kSolver);
    Corbels strong(4);
    strong.pull *= 2;
    strong.shear *= 2;
    EXPECT_NEAR(*strong.solve().lambda, one / 2, kSolver);
}

TEST(Equilibrium, ASupportNeverMakesItWorse) {
    Overhang f;
    const double before = *f.solve().lambda;
    f.put(0, "brick 1x1 at 0 3 1"); // under the arm's far end
    const auto after = f.solve();
    EXPECT_LE(*after.lambda, before * (1 + kSolver));
    EXPECT_TRUE(after.lambdaAtMost);
}

TEST(Equilibrium, MirrorAndOrderOfPartsDoNotMatter) {
    EXPECT_NEAR(*Corbels(4).solve().lambda, *Corbels(4, true).solve().lambda, kSolver);
    Corbels f(4);
    const double one = *f.solve().lambda;
    auto section = std::make_shared<model::Section>(*f.project.sections[0]);
    std::reverse(section->parts.begin(), section->parts.end());
    f.project.sections[0] = section;
    EXPECT_NEAR(*f.solve().lambda, one, kSolver);
}

TEST(Equilibrium, TurnedOnItsSideTheSameBondsCarry) {
    // The whole on its side, held by hand at the plate: gravity across the studs asks shear instead of pull.
    const Overhang f;
    stand::NetRequest held;
    held.ground = false;
    held.hands = {{28, 28, 1.6}};
    const auto upright = f.solve({0, 0, -1}, held), sideways = f.solve({1, 0, 0}, held);
    EXPECT_TRUE(upright.stands);
    EXPECT_NEAR(*upright.lambda, *f.solve().lambda, kSolver);
    EXPECT_TRUE(sideways.certain);
    // Upside down all turns about the other edge, 4 mm beyond the stud: T·4 = W·(12 + 4), and the post hangs on its own
    // stud too: T·4 = W·16 + P·4.
    const auto down = f.solve({0, 0, 1}, held);
    EXPECT_NEAR(*down.lambda, (4 * f.weight("brick 1x4") + f.weight("brick 1x1")) / 1.5, 2 * kSolver);
}

TEST(Equilibrium, FloatingPartsAreNamed) {
    Overhang f;
    f.put(0, "brick 2x2 at 4 4 20");
    const auto e = f.solve();
    EXPECT_FALSE(e.stands);
    EXPECT_EQ(e.falling, std::vector<int>{3});
    EXPECT_TRUE(std::isinf(*e.lambda));
}

TEST(Equilibrium, NothingAndNoWeightAreErrors) {
    const stand::BondNet nothing;
    EXPECT_EQ(stand::calcEquilibrium(nothing, {}).error().code, "stand.empty");
    const Overhang f;
    const auto made = f.net();
    EXPECT_EQ(stand::calcEquilibrium(made, stand::calcLoads(made, Vec3::Zero())).error().code, "stand.empty");
    Overhang weak;
    weak.pull = 0;
    const auto none = weak.net();
    EXPECT_EQ(stand::calcEquilibrium(none, stand::calcLoads(none, {0, 0, -Stack::kHeavy})).error().code,
              "stand.limits");
}

TEST(Equilibrium, APushTopplesATower) {
    // A tower 2 cells wide (16 mm) of bricks 2x2 on the ground: H at height z tips it at H·z = W·8.
    Stack f;
    for (int i = 0; i < 6; ++i) f.put(0, "brick 2x2 at 0 0 " + std::to_string(3 * i));
    const auto made = f.net();
    const double weight = 6 * f.weight("brick 2x2"), z = 6 * 9.6 - 4.8;
    const double tips = weight * 8 / z;
    for (const double share : {0.9, 1.1}) {
        auto loads = stand::calcLoads(made, {0, 0, -Stack::kHeavy});
        stand::addPush(loads, made, 5, {4, 4, z}, {0, tips * share, 0});
        EXPECT_EQ(must(stand::calcEquilibrium(made, loads)).stands, share < 1) << share;
    }
}

TEST(Equilibrium, TheGroundSlidesAtItsFriction) {
    Stack f;
    f.put(0, "plate 8x8 at 0 0 0");
    const auto tilted = [&](double slope) { return f.solve({slope, 0, -1}).stands; };
    EXPECT_TRUE(tilted(stand::kGroundFriction * 0.97));
    EXPECT_FALSE(tilted(stand::kGroundFriction * 1.03));
}

TEST(Equilibrium, ThePathOfTheLoadEndsOnTheGround) {
    const Overhang f;
    const auto made = f.net();
    const auto e = must(stand::calcEquilibrium(made, stand::calcLoads(made, {0, 0, -Stack::kHeavy})));
    const auto path = stand::findLoadPath(made, e, 2);
    ASSERT_EQ(path.size(), 3u); // arm on post, post on plate, plate on the ground
    EXPECT_EQ(ivrant::at(made.contacts, path.back()).kind, stand::ContactKind::Ground);
}

TEST(Equilibrium, ForcesBalanceEveryPart) {
    // Pressing less pulling of the contacts below is the weight of all above: a stack that is hit at no side.
    Corbels f(4);
    const auto made = f.net();
    const auto e = must(stand::calcEquilibrium(made, stand::calcLoads(made, {0, 0, -Stack::kHeavy})));
    double above = 0;
    for (int b = 4; b >= 1; --b) {
        above += Stack::kHeavy * base::weightN(ivrant::at(made.bodies, b).massG);
        for (std::size_t k = 0; k < made.contacts.size(); ++k)
            if (made.contacts[k].b == b && made.contacts[k].kind == stand::ContactKind::Studs) {
                EXPECT_NEAR(e.forces[k].pressN - e.forces[k].pullN, above, 2e-3 * above) << b;
            }
    }
}

TEST(Equilibrium, RandomHeapsFallTogetherOrStand) {
    // λ and the list of falling parts are two programs: they must agree whether it stands.
    std::mt19937 random(42);
    std::uniform_int_distribution<int> cell(0, 6), kind(0, 3);
    const char* shapes[] = {"brick 2x2", "brick 2x4", "plate 2x3", "brick 1x3"};
    int standing = 0, fallen = 0, proven = 0;
    for (int model = 0; model < 200; ++model) {
        Stack f;
        f.pull = 0.5 + 0.5 * (model % 7);
        f.put(0, "brick 2x2 at 3 3 0");
        for (int layer = 1; layer < 5; ++layer)
            for (int k = 0; k < 2; ++k) {
                const std::string at = " at " + std::to_string(cell(random)) + " " + std::to_string(cell(random)) +
                                       " " + std::to_string(3 * layer);
                f.put(0, shapes[kind(random)] + at);
            }
        const auto e = f.solve();
        ASSERT_TRUE(e.certain);
        // Quick proof may fail to come, but never says that something stands which falls.
        const auto made = f.net();
        const bool proof =
            must(stand::calcCertificate(made, stand::calcLoads(made, Stack::kHeavy * Vec3(0, 0, -1)))).stands;
        if (proof) {
            EXPECT_TRUE(e.stands) << model << ' ' << *e.lambda;
            ++proven;
        }
        if (std::abs(*e.lambda - 1) < 0.01) continue;
        EXPECT_EQ(e.stands, *e.lambda < 1) << model << ' ' << *e.lambda;
        (e.stands ? standing : fallen) += 1;
    }
    EXPECT_GT(fallen, 20);
    EXPECT_GE(standing + fallen, 150);
    EXPECT_GE(proven, standing * 2 / 3);
}
