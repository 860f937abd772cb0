// SPDX-License-Identifier: GPL-3.0-or-later
// Pulling a hand or the body of a figure: what may follow, what stays, and where it ends; the load model of the worst
// case beside it.
#include <cmath>
#include <gtest/gtest.h>
#include <random>
#include <set>

#include "core/base/at.h"
#include "core/base/units.h"
#include "core/pose/limb.h"
#include "core/pose/load_model.h"
#include "core/pose/worst.h"
#include "tests/support/linkages.h"

using namespace ivrant;
using geometry::Vec3;
using test::FourBar;
using test::HingeRun;
using test::must;
using test::Walker;

namespace {

model::Placed standing(const test::Figure& f, const model::Stance& stance) {
    auto placed = pose::calcPlaced(f.project, f.tree(), f.values());
    placed.project = &f.project;
    pose::applyStance(placed, stance);
    return placed;
}

} // namespace

TEST(Limb, BodyPulledDownKeepsBothFeetAndUsesBothLegs) {
    const Walker w;
    const auto context = w.context();
    const pose::PoseChecker checker(context, w.values());
    const auto& stance = w.project.poses[0].stands;
    const auto placed = standing(w, stance);
    const Vec3 point = placed.X_WS[0] * Vec3(32, 0, 0);
    auto request = pose::makeLimbRequest(checker, w.values(), placed, stance, 0, point);
    EXPECT_EQ(request.grounded, 3);
    ASSERT_EQ(request.goals.size(), 2u);
    EXPECT_EQ(request.goals[1].section, 6) << "the other foot; the shins touch the ground too, but are no ends";
    EXPECT_EQ(request.freedoms.size(), 6u);
    EXPECT_EQ(request.limits.size(), 6u);
    for (const double down : {4.0, 8.0, 14.0}) {
        request.goals[0].target = point - Vec3(0, 0, down);
        const auto solution = pose::calcSolution(checker.kinematics(), request);
        EXPECT_LT(solution.errorMm, 0.05) << down;
        EXPECT_LT(solution.errorDeg, 0.05) << down;
    }
    // Higher than the legs are long: the point stays short, the feet hardly move.
    request.goals[0].target = point + Vec3(0, 0, 40);
    const auto solution = pose::calcSolution(checker.kinematics(), request);
    EXPECT_GT(solution.errorMm, 20);
}

TEST(Limb, TheFootThatStandsCannotBePulledAndTheOtherOneCan) {
    const Walker w;
    const auto context = w.context();
    const pose::PoseChecker checker(context, w.values());
    const auto& stance = w.project.poses[0].stands;
    const auto placed = standing(w, stance);
    EXPECT_TRUE(
        pose::makeLimbRequest(checker, w.values(), placed, stance, 3, placed.X_WS[3].translation()).freedoms.empty());
    auto lift = pose::makeLimbRequest(checker, w.values(), placed, stance, 6, placed.X_WS[6].translation());
    ASSERT_EQ(lift.goals.size(), 1u) << "a foot that is pulled is not kept";
    EXPECT_EQ(lift.freedoms.front().joint, 5) << "its own ankle first";
    lift.goals[0].target += Vec3(0, 0, 12);
    EXPECT_LT(pose::calcSolution(checker.kinematics(), lift).errorMm, 0.05);
}

TEST(Limb, ASettledFigureIsPulledFromItsRoot) {
    const Walker w;
    const auto context = w.context();
    const pose::PoseChecker checker(context, w.values());
    const model::Stance settled{model::Stance::Kind::Settle, {}, {0, 0, 1}};
    const auto placed = standing(w, settled);
    const auto request = pose::makeLimbRequest(checker, w.values(), placed, settled, 6, placed.X_WS[6].translation());
    EXPECT_EQ(request.grounded, -1);
    EXPECT_EQ(request.goals.size(), 1u);
    for (const auto& f : request.freedoms) EXPECT_GE(f.joint, 3) << "the left leg has no part in it";
    EXPECT_TRUE(pose::makeLimbRequest(checker, w.values(), placed, settled, 0, Vec3::Zero()).freedoms.empty())
        << "the root hangs on nothing";
}

TEST(Limb, ARingThatMovesBringsAllItsJointsAndStaysClosed) {
    FourBar f;
    f.project = must(pose::poseJoints(f.project, {{f.project.joints[0].id, {0}}}));
    const auto context = f.context();
    const pose::PoseChecker checker(context, f.values());
    const model::Stance stance{model::Stance::Kind::Flat, f.project.sections[0]->id, {}};
    const auto placed = standing(f, stance);
    const Vec3 tip = placed.X_WS[1] * Vec3(16, 0, 0);
    auto request = pose::makeLimbRequest(checker, f.values(), placed, stance, 1, tip);
    std::set<int> joints;
    for (const auto& freedom : request.freedoms) joints.insert(freedom.joint);
    EXPECT_EQ(joints, (std::set<int>{0, 1, 2})) << "not the one that closes: it follows";
    const Vec3 pivot = placed.X_WS[1] * Vec3::Zero();
    request.goals[0].target = pivot + Eigen::AngleAxisd(0.3, Vec3::UnitY()) * (tip - pivot); // on the crank's circle
    const auto solution = pose::calcSolution(checker.kinematics(), request);
    EXPECT_LT(solution.errorMm, 0.05);
    for (const auto& gap : pose::calcRingGaps(checker.kinematics(), solution.values))
        EXPECT_TRUE(gap.isClosed()) << gap.gapMm;
    EXPECT_NEAR(solution.values[0][0] - f.values()[0][0], base::radToDeg(0.3), 0.3);
}

TEST(Limb, SteppedJointsEndOnTheirSteps) {
    const HingeRun run(5);
    const auto context = run.context();
    const pose::PoseChecker checker(context, run.values());
    const model::Stance stance{model::Stance::Kind::Flat, run.project.sections[0]->id, {}};
    const auto placed = standing(run, stance);
    const Vec3 tip = placed.X_WS[5] * Vec3(0, 8, 3.2);
    auto request = pose::makeLimbRequest(checker, run.values(), placed, stance, 5, tip);
    request.goals[0].target = tip + Vec3(0, -30, 40);
    const auto solution = pose::calcSolution(checker.kinematics(), request);
    for (const auto& v : solution.values) EXPECT_NEAR(std::remainder(v[0], 22.5), 0, 1e-9);
    EXPECT_LT(solution.errorMm, (request.goals[0].target - tip).norm());
}

namespace {

/// Every need of the load model after random changes against one that is set anew.
void compareChangesWithSetting(const test::Figure& f, int joint, const model::Stance& stance, unsigned seed) {
    const auto context = f.context();
    pose::LoadModel changed(context, f.values(), stance, joint), anew(context, f.values(), stance, joint);
    auto values = f.values();
    changed.set(values);
    std::mt19937 random(seed);
    std::uniform_real_distribution<double> share(0, 1);
    for (int i = 0; i < 40 && !changed.coordinates().empty(); ++i) {
        const auto& c = changed.coordinates()[random() % changed.coordinates().size()];
        const double v = c.range.low + share(random) * (c.range.high - c.range.low);
        const pose::LoadModel::Line line(changed, c); // what it says before the change …
        const Vec3 foretold = line.at(v);
        pose::valueOf(values, c.freedom) = v;
        changed.change(c.freedom, v);
        anew.set(values);
        EXPECT_LT((changed.lever() - anew.lever()).norm(), 1e-7 * (1 + anew.lever().norm()));
        EXPECT_LT((foretold - changed.lever()).norm(), 1e-7 * (1 + anew.lever().norm())) << "… is what comes of it";
    }
}

} // namespace

TEST(LoadModel, ChangingOneFreedomIsSettingAllWhateverStands) {
    HingeRun run(4, "brick 1x2 at 0 0 2", {{-60, 60}});
    for (const int ground : {0, 2, 4})
        for (const int joint : {0, 1, 3}) {
            const model::Stance stance{model::Stance::Kind::Held, at(run.project.sections, ground)->id, {}};
            compareChangesWithSetting(run, joint, stance, static_cast<unsigned>(10 * ground + joint));
        }
}

TEST(LoadModel, BallsAndSlidesAsWell) {
    test::Figure f;
    const auto ball = f.put(0, "ball plate small 1x2 at 0 0 0"), cup = f.put(1, "cup plate small 1x2 at 0 0 0"),
               bar = f.put(2, "bar plate 1x2 at 0 0 0");
    const auto clip = f.put(1, "clip plate 1x2 at 0 0 1");
    f.put(2, "brick 1x4 at 0 0 1");
    f.join("small ball and cup", ball, "ball", cup, "cup", {0, 0, 0}, {{-20, 20}, {-20, 20}, {-40, 40}});
    f.join("clip on bar", clip, "clip", bar, "bar", {0, 0}, {{-50, 50}, {-1, 1}});
    for (const int ground : {0, 1, 2})
        for (const int joint : {0, 1}) {
            const model::Stance stance{model::Stance::Kind::Held, at(f.project.sections, ground)->id, {}};
            compareChangesWithSetting(f, joint, stance, static_cast<unsigned>(7 * ground + joint));
        }
}

TEST(LoadModel, IsTheStaticsOfThePlacedFigure) {
    HingeRun run(3, "weight brick 2x4 at 0 0 2", {{-70, 70}});
    const model::Stance held{model::Stance::Kind::Held, run.project.sections[0]->id, {}};
    std::mt19937 random(4);
    std::uniform_real_distribution<double> angle(-70, 70);
    for (int i = 0; i < 12; ++i) {
        std::map<model::JointId, std::vector<double>> values;
        for (const auto& id : run.joints) values[id] = {angle(random)};
        run.project = must(model::setJointValues(run.project, values));
        for (int j = 0; j < 3; ++j) {
            const double need = pose::calcNeed(run.context(), run.values(), held, j, -Vec3::UnitZ());
            EXPECT_NEAR(need, run.load(j).needNmm, 1e-7 * (1 + need)) << j;
        }
    }
}
