// SPDX-License-Identifier: GPL-3.0-or-later
// The worst case against hand arithmetic and against brute force over a grid; the chooser against exchanging by hand.
#include "core/pose/worst.h"

#include <cmath>
#include <random>

#include "core/base/at.h"
#include "core/base/units.h"
#include "core/model/mass.h"
#include "core/pose/choose.h"
#include "core/pose/stance.h"
#include "tests/support/figures.h"
#include "tests/support/near.h"

using namespace ivrant;
using test::HingeRun;
using test::must;

namespace {

model::Stance heldAt(const model::Project& project, int section) {
    model::Stance stance;
    stance.kind = model::Stance::Kind::Held;
    stance.section = ivrant::at(project.sections, section)->id;
    return stance;
}

pose::WorstLoad worstOf(const test::Figure& f, int joint, double tilt, int ground = 0) {
    return pose::calcWorstLoad(f.context(), f.values(), heldAt(f.project, ground), joint, tilt,
                               ivrant::at(trials::calcStrengths(f.project), joint));
}

} // namespace

TEST(Worst, OneArmByHand) {
    // The arm may hang from −80° to −20°: its need is W·L·cos(θ + α), α the angle of the centre above the axis; the
    // largest is at −20°.
    HingeRun run(1, "brick 1x2 at 0 0 2", {{-80, -20}});
    auto at = run;
    at.project = must(model::setJointValue(run.project, run.joints[0], {-20}));
    const auto worst = worstOf(run, 0, 0);
    EXPECT_NEAR(worst.needNmm, at.load().needNmm, 1e-9);
    EXPECT_NEAR(worst.values[0][0], -20, 1e-6);
    EXPECT_NEAR(*worst.margin, 18 / worst.needNmm, 1e-9);
}

TEST(Worst, TheTiltTurnsTheLeverLevel) {
    // Full lever is W·L, reached when the arm lies level; from −20° + α a tilt of up to 45° brings it there, and less
    // brings it as near as it can: need = W·L·cos(max(0, |θ + α| − tilt)).
    HingeRun run(1, "brick 1x2 at 0 0 2", {{-80, -40}});
    HingeRun level(1, "brick 1x2 at 0 0 2", {{-90, 90}});
    const double full = worstOf(level, 0, 0).needNmm;
    const double none = worstOf(run, 0, 0).needNmm;
    const double below = std::acos(none / full); // how far the centre is below level at the best end
    EXPECT_NEAR(worstOf(run, 0, 10).needNmm, full * std::cos(below - base::degToRad(10)), 1e-6);
    EXPECT_NEAR(worstOf(run, 0, 45).needNmm, full, 1e-6);
    EXPECT_NEAR(worstOf(run, 0, 10).tiltDeg, 10, 1e-6);
}

TEST(Worst, BruteForceOverThreeHingesAndTilts) {
    HingeRun run(3, "brick 2x4 at 0 0 2", {{-70, 50}});
    const auto context = run.context();
    const auto stance = heldAt(run.project, 0);
    const geometry::Vec3 down(0, 0, -1);
    for (int joint = 0; joint < 3; ++joint) {
        double most = 0;
        for (double a = -70; a <= 50; a += 5)
            for (double b = -70; b <= 50; b += 5)
                for (double c = -70; c <= 50; c += 5)
                    most = std::max(most, pose::calcNeed(context, {{a}, {b}, {c}}, stance, joint, down));
        const auto worst = worstOf(run, joint, 0);
        EXPECT_GE(worst.needNmm, most - 1e-9) << joint;
        EXPECT_LE(worst.needNmm, most * 1.01) << joint; // the grid misses the top by at most 1 − cos 5°
        EXPECT_NEAR(pose::calcNeed(context, worst.values, stance, joint, down), worst.needNmm, 1e-9);
    }
}

TEST(Worst, BallsAndTheOtherSideOfTheGround) {
    // Held at the tip instead of the base, the same joint carries the base: brute force over tilts of the ball.
    test::Figure f;
    const auto ball = f.put(0, "ball plate small 1x2 at 0 0 0");
    f.put(0, "brick 2x4 at 0 0 1");
    const auto cup = f.put(1, "cup plate small 1x2 at 0 0 0");
    f.put(1, "brick 1x2 at 0 0 1");
    f.join("small ball and cup", ball, "ball", cup, "cup", {}, {{-40, 40}, {-40, 40}, {-30, 30}});
    const auto context = f.context();
    for (const int ground : {0, 1}) {
        const auto worst = worstOf(f, 0, 0, ground);
        double most = 0;
        for (double a = -40; a <= 40; a += 5)
            for (double b = -40; b <= 40; b += 5) {
                if (std::hypot(a, b) > 45) continue;
                for (double t = -30; t <= 30; t += 15)
                    most =
                        std::max(most, pose::calcNeed(context, {{a, b, t}}, heldAt(f.project, ground), 0, {0, 0, -1}));
            }
        EXPECT_GE(worst.needNmm, most * (1 - 1e-6)) << ground;
        EXPECT_LE(worst.needNmm, most * 1.02) << ground;
        EXPECT_LE(std::hypot(worst.values[0][0], worst.values[0][1]), 45 + 1e-9);
    }
}

TEST(Worst, NeverBelowAnyPoseWithinTheRanges) {
    const HingeRun run(4, "brick 1x4 at 0 0 2", {{-60, 60}});
    const auto context = run.context();
    std::mt19937 random(8);
    std::uniform_real_distribution<double> angle(-60, 60);
    const auto worst = worstOf(run, 1, 15);
    for (int i = 0; i < 300; ++i) {
        pose::JointValues values{{angle(random)}, {angle(random)}, {angle(random)}, {angle(random)}};
        const double way = angle(random), tilt = base::degToRad(15);
        const geometry::Vec3 down(std::sin(tilt) * std::cos(way), std::sin(tilt) * std::sin(way), -std::cos(tilt));
        EXPECT_LE(pose::calcNeed(context, values, heldAt(run.project, 0), 1, down), worst.needNmm * (1 + 1e-6));
    }
}

TEST(Worst, BruteForceAmongWhatStandsOnAPad) {
    // Three hinges on a pad of 30 x 40 mm: reached out far it falls over, and a tilt falls sooner. The second way is a
    // grid over values and tilts with the plumb line through the common centre of gravity.
    HingeRun run(3, "brick 2x4 at 0 0 2", {{-60, 80}});
    const auto context = run.context();
    const auto tree = run.tree();
    const auto stance = heldAt(run.project, 0);
    const Eigen::Vector2d low(-12, -10), high(18, 30);
    const auto centreOf = [&](const pose::JointValues& values) {
        return model::calcMass(pose::calcPlaced(run.project, tree, values)).centre;
    };
    const auto plumb = [](const geometry::Vec3& centre, const geometry::Vec3& down) -> Eigen::Vector2d {
        return centre.head<2>() + down.head<2>() * (centre.z() / -down.z());
    };
    const auto stands = [&](const pose::JointValues& values, const geometry::Vec3& down) {
        const Eigen::Vector2d at = plumb(centreOf(values), down);
        return (at.array() >= low.array()).all() && (at.array() <= high.array()).all();
    };
    const auto set = [&](const pose::JointValues& values, int) -> std::optional<pose::StandSet> {
        if (!stands(values, {0, 0, -1})) return std::nullopt;
        const geometry::Vec3 c = centreOf(values);
        pose::StandSet found{geometry::Mat3::Identity(), {}};
        for (const auto& corner : {low, Eigen::Vector2d(high.x(), low.y()), high, Eigen::Vector2d(low.x(), high.y())})
            found.polygon.push_back((corner - c.head<2>()) / c.z());
        return found;
    };
    int fell = 0;
    for (const double tiltDeg : {0.0, 10.0})
        for (int joint = 0; joint < 3; ++joint) {
            double most = 0;
            for (double a = -60; a <= 80; a += 10)
                for (double b = -60; b <= 80; b += 10)
                    for (double c = -60; c <= 80; c += 10)
                        for (int way = 0; way < (tiltDeg > 0 ? 12 : 1); ++way)
                            for (const double t : {tiltDeg / 2, tiltDeg}) {
                                const double turn = base::degToRad(30 * way), tilt = base::degToRad(t);
                                const geometry::Vec3 down(std::sin(tilt) * std::cos(turn),
                                                          std::sin(tilt) * std::sin(turn), -std::cos(tilt));
                                const pose::JointValues values{{a}, {b}, {c}};
                                if (stands(values, down))
                                    most = std::max(most, pose::calcNeed(context, values, stance, joint, down));
                                else
                                    ++fell;
                            }
            const std::vector<pose::JointValues> starts{{{0}, {0}, {0}}, {{-60}, {80}, {40}}};
            const auto worst = pose::calcWorstStanding(context, starts, stance, joint, tiltDeg,
                                                       trials::calcStrengths(run.project)[0], set);
            EXPECT_GE(worst.needNmm, 0.9 * most) << joint << " tilted " << tiltDeg;
            // What it names stands, is within the tilt, and asks that much.
            EXPECT_NEAR(pose::calcNeed(context, worst.values, stance, joint, worst.down), worst.needNmm,
                        1e-6 * worst.needNmm);
            const geometry::Vec3 nudged =
                (worst.down + 1e-6 * geometry::Vec3(0, 0, -1)).normalized(); // on an edge it just stands
            EXPECT_TRUE(stands(worst.values, nudged) ||
                        std::abs(plumb(centreOf(worst.values), worst.down).x() - low.x()) < 1e-3 ||
                        (plumb(centreOf(worst.values), worst.down) - high).cwiseAbs().minCoeff() < 1e-3 ||
                        (plumb(centreOf(worst.values), worst.down) - low).cwiseAbs().minCoeff() < 1e-3);
            EXPECT_LE(worst.tiltDeg, tiltDeg + 1e-6);
            EXPECT_TRUE(worst.amongStanding);
        }
    EXPECT_GT(fell, 500) << "the pad matters";
}

TEST(Worst, MoreTiltIsNeverEasierAndWiderRangesNeither) {
    double before = 0;
    for (double tilt : {0.0, 5.0, 10.0, 20.0, 40.0}) {
        const double need = worstOf(HingeRun(2, "brick 1x2 at 0 0 2", {{-80, -50}}), 0, tilt).needNmm;
        EXPECT_GE(need, before - 1e-9);
        before = need;
    }
    EXPECT_GE(worstOf(HingeRun(2, "brick 1x2 at 0 0 2", {{-90, 0}}), 0, 0).needNmm,
              worstOf(HingeRun(2, "brick 1x2 at 0 0 2", {{-80, -50}}), 0, 0).needNmm);
}

namespace {

std::vector<pose::JointChoice> choose(const test::Figure& f, int joint, double firm) {
    pose::ChooseRequest request;
    request.joint = joint;
    request.firm = firm;
    request.strengthOf = [&](const parts::JointKind& kind) { return trials::calcStrength(f.project, kind); };
    return pose::calcChoices(f.project, request);
}

const pose::JointChoice& find(const std::vector<pose::JointChoice>& choices, const std::string& kind) {
    return *std::find_if(choices.begin(), choices.end(), [&](const auto& c) { return c.kind->name == kind; });
}

} // namespace

TEST(Choose, EachRowIsWhatAnExchangeByHandGives) {
    const HingeRun run(2, "brick 1x4 at 0 0 2", {{-60, 40}});
    const auto choices = choose(run, 0, 0.5);
    EXPECT_EQ(choices.size(), parts::getJointKinds().size());
    for (const auto& c : choices) {
        if (!c.inPlace || c.present) continue;
        test::Figure by;
        by.project = must(model::exchangeJointKind(run.project, run.joints[0], c.kind->name));
        const int bend = c.kind->motion == parts::JointMotion::Ball ? 1 : 0;
        const auto range = by.range(0, bend);
        if (c.free) {
            EXPECT_NEAR(c.free->low, range.free.low, 1e-9) << c.kind->name;
            EXPECT_NEAR(c.free->high, range.free.high, 1e-9) << c.kind->name;
        }
        EXPECT_NEAR(c.strength.holding.value, c.kind->holdingNmm * 0.6, 1e-9);
        if (c.margin) {
            EXPECT_NEAR(*c.margin, c.strength.holding.value / c.needNmm, 1e-9);
        }
        EXPECT_NEAR(c.lengthChangeMm, 0, 1e-6) << "end pieces share their frames";
    }
    EXPECT_TRUE(find(choices, "stepped hinge small").present);
    EXPECT_FALSE(find(choices, "small turntable").inPlace);
    EXPECT_FALSE(find(choices, "small turntable").add.empty());
    EXPECT_FALSE(find(choices, "small turntable").ruledOut.empty());
}

TEST(Choose, TheSliderPrefersFirmOrSmooth) {
    const HingeRun run(1, "plate 1x2 at 0 0 2", {{-20, 20}});
    const auto rankOf = [](const std::vector<pose::JointChoice>& list, const std::string& kind) {
        return &find(list, kind) - list.data();
    };
    auto choices = choose(run, 0, 1);
    EXPECT_LT(rankOf(choices, "stepped hinge large"), rankOf(choices, "small ball and cup"));
    pose::sortChoices(choices, 0);
    EXPECT_LT(rankOf(choices, "small ball and cup"), rankOf(choices, "stepped hinge large"));
}

TEST(Choose, TooWeakOrTooShortIsRuledOutWithItsReason) {
    const HingeRun run(4, "weight brick 2x4 at 0 0 2", {{-80, 60}});
    const auto choices = choose(run, 0, 0.5);
    const auto& ball = find(choices, "small ball and cup");
    EXPECT_FALSE(ball.covers); // 45° are not 80°
    EXPECT_NE(ball.says.find("wanted range"), std::string::npos) << ball.says;
    EXPECT_NE(ball.says.find("sags"), std::string::npos) << ball.says;
    EXPECT_TRUE(std::all_of(choices.begin(), choices.end(), [](const auto& c) { return !c.says.empty(); }));
}

TEST(Choose, NearestStepsToEachPose) {
    HingeRun run(1, "plate 1x2 at 0 0 2");
    run.project = must(model::exchangeJointKind(run.project, run.joints[0], "small ball and cup"));
    run.project = must(model::addPose(run.project, "Bent", {{run.joints[0], {0, 30, 0}}}, heldAt(run.project, 0)));
    const auto choices = choose(run, 0, 0.5);
    const auto& hinge = find(choices, "stepped hinge small");
    ASSERT_EQ(hinge.nearest.size(), 1U);
    EXPECT_NEAR(hinge.nearest[0].wanted, 30, 1e-9);
    EXPECT_NEAR(hinge.nearest[0].nearest, 22.5, 1e-9);
}
