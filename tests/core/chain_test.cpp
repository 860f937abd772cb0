// SPDX-License-Identifier: GPL-3.0-or-later
// Chains against hand arithmetic: a run of hinges like the heron's neck, 24 mm and 3.2 mm from centre to centre.
#include "core/pose/chain.h"

#include "core/base/at.h"
#include "core/base/units.h"
#include "tests/support/figures.h"
#include "tests/support/near.h"

using namespace ivrant;
using test::HingeRun;
using test::must;

namespace {
const double kLink = std::hypot(24.0, 3.2);

model::Stance held(const HingeRun& run) {
    model::Stance stance;
    stance.kind = model::Stance::Kind::Held;
    stance.section = run.project.sections[0]->id;
    return stance;
}
} // namespace

TEST(Chain, CircleThroughThreePoints) {
    EXPECT_NEAR(pose::calcCircleRadius({5, 0, 0}, {0, 5, 0}, {-5, 0, 0}), 5, test::kRounding);
    EXPECT_TRUE(std::isinf(pose::calcCircleRadius({0, 0, 0}, {1, 1, 0}, {2, 2, 0})));
}

TEST(Chain, PlayIsLeverTimesPlay) {
    // Straight run of 3 with the tip at P: levers are the distances across the axis (x); ±1° each.
    const HingeRun run(3);
    const auto context = run.context();
    const auto chain = must(pose::makeChain(context, run.values(), 0, 2));
    const auto study = pose::calcChain(context, run.values(), chain);
    const auto placed = run.placed();
    const geometry::Vec3 tip = placed.X_WS[3] * chain.tip;
    double sum = 0;
    for (int j = 0; j < 3; ++j) {
        // Centres: 16 mm along y and 3.2 mm up from the base's first cell, then a link each.
        const double lever = std::hypot(tip.y() - (16 + 24 * j), tip.z() - (3.2 + 3.2 * j));
        EXPECT_NEAR(ivrant::at(study.play, j).leverMm, lever, 1e-6);
        sum += lever * base::kPi / 180;
    }
    EXPECT_NEAR(study.tipPlayMm, sum, 1e-6);
    EXPECT_NEAR(study.lengthMm, 2 * kLink + study.play[2].leverMm,
                0.5); // the last lever is from the axis, not the centre
}

TEST(Chain, FreeBendAddsUpAndMakesTheExpectedCircle) {
    // Three small hinges with nothing on them but the pieces themselves: each folds upwards until pieces meet; what all
    // reach together can only be less than their sum, and their circle is L / (2 sin(θ/2)) for the common bend θ.
    const HingeRun run(3, "plate 1x1 at 0 0 2");
    const auto context = run.context();
    const auto chain = must(pose::makeChain(context, run.values(), 0, 2));
    const auto study = pose::calcChain(context, run.values(), chain);
    for (const auto* limit : {&study.low, &study.high}) {
        EXPECT_LE(std::abs(limit->totalDeg), std::abs(limit->singleSumDeg) + 0.05);
        const auto tree = context.tree;
        EXPECT_TRUE(pose::PoseChecker(context, run.values()).isFree(limit->values));
        // Radius by the formula for the middle joint's bend between two equal links.
        std::vector<geometry::Frame> X;
        const pose::Kinematics kinematics(run.project, tree);
        kinematics.place(limit->values, X);
        const geometry::Vec3 a = kinematics.jointFrame(X, 0).translation(),
                             b = kinematics.jointFrame(X, 1).translation(),
                             c = kinematics.jointFrame(X, 2).translation();
        const double bend = std::acos(std::clamp((b - a).normalized().dot((c - b).normalized()), -1.0, 1.0));
        EXPECT_NEAR((b - a).norm(), kLink, 1e-9);
        EXPECT_LE(limit->radiusMm, kLink / (2 * std::sin(bend / 2)) + 1e-6);
    }
    EXPECT_LT(study.low.totalDeg, 0);
    EXPECT_GT(study.high.totalDeg, 0);
}

TEST(Chain, UnrelatedJointsAreNoRun) {
    test::Figure f;
    const auto left = f.put(0, "stepped hinge small fork at 0 0 0"),
               right = f.put(0, "stepped hinge small fork at 4 0 0");
    f.join("stepped hinge small", left, "finger", f.put(1, "stepped hinge small tongue at 0 0 0"), "finger");
    f.join("stepped hinge small", right, "finger", f.put(2, "stepped hinge small tongue at 0 0 0"), "finger");
    EXPECT_EQ(pose::makeChain(f.context(), f.values(), 0, 1).error().code, "chain.run");
}

TEST(Sag, AJointThatIsTooWeakSinksUntilItHolds) {
    // A clip holds 8 × 0.6 = 4.8 N·mm. A weighed arm whose centre lies L from the axis needs W·L·cos θ: it holds from
    // cos θ = 4.8 / (W·L).
    test::Figure f;
    const auto clip = f.put(1, "clip plate 1x2 at 0 0 0");
    const auto bar = f.put(0, "bar plate 1x2 at 0 0 0");
    f.put(0, "brick 1x2 at 0 0 1");
    const auto plate = f.put(1, "plate 1x8 at 0 -6 1");
    f.project = must(model::weighParts(f.project, std::array{clip}, 1e-6));
    f.project = must(model::weighParts(f.project, std::array{plate}, 20));
    f.join("clip on bar", bar, "bar", clip, "clip", {0, 0});
    const auto context = f.context();
    const auto chain = must(pose::makeChain(context, f.values(), 0, 0));
    model::Stance stance;
    stance.kind = model::Stance::Kind::Held;
    stance.section = f.project.sections[0]->id;
    const auto strengths = trials::calcStrengths(f.project);
    const double need = f.load().needNmm;
    ASSERT_GT(need, 4.8);
    const auto sag = pose::calcSag(context, f.values(), chain, stance, strengths);
    ASSERT_EQ(sag.steps.size(), 1U);
    EXPECT_TRUE(sag.settled);
    EXPECT_NEAR(sag.steps[0].margin, 4.8 / need, 1e-9);
    if (!sag.steps[0].stopped) {
        auto at = f;
        at.project = must(model::setJointValue(f.project, f.project.joints[0].id, sag.values[0]));
        EXPECT_NEAR(at.load().needNmm, 4.8, 0.02); // bisected to 0.01°
    }
    EXPECT_GT(sag.tipDropMm, 0);
    const auto firm = pose::calcFirmFirst(context, f.values(), chain, stance, strengths);
    ASSERT_EQ(firm.size(), 1U);
    EXPECT_NEAR(firm[0].dropWithoutMm, 0, 1e-9); // with the only joint firm nothing sags
}

TEST(Sag, TheWeakestGivesWayFirstAndAStrongRunDoesNot) {
    HingeRun run(4, "weight brick 2x4 at 0 0 2");
    const auto context = run.context();
    const auto chain = must(pose::makeChain(context, run.values(), 0, 3));
    const auto sag = pose::calcSag(context, run.values(), chain, held(run), trials::calcStrengths(run.project));
    ASSERT_FALSE(sag.steps.empty());
    EXPECT_EQ(sag.steps[0].joint, 0); // the longest lever
    for (const auto& step : sag.steps)
        EXPECT_NEAR(std::remainder(step.toDeg, 22.5), 0, 1e-9) << "stepped joints rest on steps";
    model::JointStrengths strong = trials::calcStrengths(run.project);
    for (auto& s : strong) s.holding.value = 1e6;
    EXPECT_TRUE(pose::calcSag(context, run.values(), chain, held(run), strong).steps.empty());
    EXPECT_TRUE(pose::calcFirmFirst(context, run.values(), chain, held(run), strong).empty());
}
