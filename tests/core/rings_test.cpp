// SPDX-License-Identifier: GPL-3.0-or-later
// Rings: a joint between sections that hang together already is a constraint; the others follow, within what closes.
#include <cmath>
#include <gtest/gtest.h>

#include "core/base/at.h"
#include "core/base/units.h"
#include "core/bonds/fits.h"
#include "core/files/project_file.h"
#include "core/pose/chain.h"
#include "core/pose/map.h"
#include "core/pose/path.h"
#include "core/pose/reach.h"
#include "core/pose/rings.h"
#include "core/verdict/mends.h"
#include "tests/support/linkages.h"
#include "tests/support/repo.h"

using namespace ivrant;
using geometry::Vec3;
using test::Figure;
using test::FourBar;

namespace {

double direction(double value) { return base::degToRad(90 - value); }

constexpr double kBase = 56, kCrank = 16, kCoupler = 48, kRocker = 40;

/// Angle of the rocker from x for a crank angle, coupler above: two circles (Norton, Design of Machinery, ch. 4).
double rockerFor(double crank) {
    const double px = kCrank * std::cos(crank), pz = kCrank * std::sin(crank);
    const double dx = px - kBase, dz = pz, d = std::hypot(dx, dz);
    const double inner = std::acos((d * d + kRocker * kRocker - kCoupler * kCoupler) / (2 * d * kRocker));
    return std::atan2(dz, dx) - inner; // the tip above the line
}

pose::Closed closedAt(const FourBar& f, double crankValue) {
    const auto context = f.context();
    auto values = f.values();
    values[0][0] = crankValue;
    const pose::PoseChecker checker(context, values);
    return pose::calcClosed(checker, values, {{0, 0}});
}

/// Two arms of one bone each on a body, both holding one crossbar: balls and cups all round.
struct TwoHands : Figure {
    TwoHands() {
        const auto left = put(0, "ball plate large 1x2 at 0 0 0"), right = put(0, "ball plate large 1x2 at 6 0 0");
        put(0, "plate 1x8 at 0 0 -1 turn 3");
        const auto armLeft = put(1, "limb bone 5 at 0 0 0"), armRight = put(2, "limb bone 5 at 0 0 0");
        const auto cupLeft = put(3, "cup plate large 1x2 at 0 0 0"), cupRight = put(3, "cup plate large 1x2 at 6 0 0");
        put(3, "plate 1x8 at 0 1 -1 turn 3");
        join("large ball and cup", left, "ball", armLeft, "cup");
        join("large ball and cup", right, "ball", armRight, "cup");
        join("large ball and cup", armLeft, "ball", cupLeft, "cup");
        join("large ball and cup", armRight, "ball", cupRight, "cup");
    }
};

} // namespace

TEST(Rings, TheLastJointOfARingClosesIt) {
    const FourBar f;
    const auto tree = f.tree();
    EXPECT_EQ(tree.closing, std::vector<int>{3});
    EXPECT_EQ(tree.carrier, (std::vector<int>{-1, 0, 1, 2}));
    auto ring = tree.ringOf(3);
    std::sort(ring.begin(), ring.end());
    EXPECT_EQ(ring, (std::vector<int>{0, 1, 2}));
    EXPECT_TRUE(tree.isInRing(3));
    EXPECT_TRUE(tree.carriedBy(3).empty());
}

TEST(Rings, TheOrderOfTheJointsDoesNotMatterAsLongAsAllHangTogether) {
    const FourBar f;
    auto mixed = f.project;
    std::swap(mixed.joints[2], mixed.joints[3]); // the coupler is carried twice before the rocker is carried at all
    const auto tree = model::makeTree(mixed);
    ASSERT_TRUE(tree);
    EXPECT_EQ(tree->closing.size(), 1u);
    mixed.joints.pop_back(); // now nothing ties the rocker to the rest
    EXPECT_EQ(model::makeTree(mixed).error().code, "joint.ring");
}

TEST(Rings, TheRockerFollowsTheCrankAsTwoCirclesSay) {
    const FourBar f;
    for (double crankValue : {90.0, 60.0, 30.0, 0.0, -45.0}) {
        const auto closed = closedAt(f, crankValue);
        ASSERT_TRUE(closed.closed) << crankValue << ": " << closed.gapMm << " mm";
        EXPECT_EQ(closed.values[0][0], crankValue);
        const double rocker = direction(closed.values[2][0]);
        const Vec3 tip(kBase + kRocker * std::cos(rocker), 0, kRocker * std::sin(rocker));
        const double crank = direction(crankValue);
        const Vec3 pin(kCrank * std::cos(crank), 0, kCrank * std::sin(crank));
        EXPECT_NEAR((tip - pin).norm(), kCoupler, 0.05) << crankValue;
        EXPECT_NEAR(std::remainder(rocker - rockerFor(crank), 2 * base::kPi), 0, 2e-3) << crankValue;
    }
}

TEST(Rings, AFourBarThatMovesEndsWhereCrankAndCouplerAreInLine) {
    FourBar f;
    auto at = closedAt(f, 0);
    ASSERT_TRUE(at.closed);
    const auto context = f.context();
    const auto range = pose::calcRange(context, at.values, 2, 0);
    // Law of cosines at the rocker's pivot for coupler + crank and coupler − crank.
    const auto rockerAngle = [](double d) {
        return base::radToDeg(std::acos((kBase * kBase + kRocker * kRocker - d * d) / (2 * kBase * kRocker)));
    };
    EXPECT_NEAR(range.free.high - range.free.low, rockerAngle(kCoupler + kCrank) - rockerAngle(kCoupler - kCrank), 0.3);
    EXPECT_EQ(range.low.by, pose::StopBy::Ring);
    EXPECT_EQ(range.high.by, pose::StopBy::Ring);
    // 16 + 56 is less than 48 + 40 (Grashof): the crank turns all round.
    EXPECT_TRUE(pose::calcRange(context, at.values, 0, 0).endless);
}

TEST(Rings, PosingOneJointMovesTheOthersAndRefusesWhatCannotClose) {
    FourBar f;
    const auto closed = closedAt(f, 0);
    std::map<model::JointId, std::vector<double>> all;
    for (std::size_t j = 0; j < closed.values.size(); ++j) all[f.project.joints[j].id] = closed.values[j];
    f.project = test::must(model::setJointValues(f.project, all));
    const auto moved = test::must(pose::poseJoints(f.project, {{f.project.joints[0].id, {20}}}));
    EXPECT_EQ(moved.joints[0].value[0], 20);
    EXPECT_NE(moved.joints[2].value[0], f.project.joints[2].value[0]);
    const auto tree = f.tree();
    const pose::Kinematics kinematics(moved, tree);
    for (const auto& gap : pose::calcRingGaps(kinematics, pose::getValues(moved, nullptr))) EXPECT_TRUE(gap.isClosed());
    const auto refused = pose::poseJoints(f.project, {{f.project.joints[2].id, {-60}}});
    ASSERT_FALSE(refused);
    EXPECT_EQ(refused.error().code, "ring.open");
    EXPECT_NE(refused.error().message.find("a dead point of its ring"), std::string::npos);
}

TEST(Rings, ATypedValueIsReachedTheShortWayRound) {
    FourBar f; // the long way round has dead points
    pose::Closed closed;
    f.project = test::must(pose::closeRings(f.project, {f.project.joints[0].id}, closed));
    const double now = f.project.joints[2].value[0];
    const auto moved = test::must(pose::poseJoints(f.project, {{f.project.joints[2].id, {now + 2 - 360}}}));
    EXPECT_EQ(moved.joints[2].value[0], now + 2 - 360);
    const auto tree = f.tree();
    for (const auto& gap : pose::calcRingGaps(pose::Kinematics(moved, tree), pose::getValues(moved, nullptr)))
        EXPECT_TRUE(gap.isClosed());
}

TEST(Rings, AllAreClosedAtOnceWithWhatIsKept) {
    FourBar f;
    pose::Closed closed;
    const auto made = test::must(pose::closeRings(f.project, {f.project.joints[0].id}, closed));
    EXPECT_TRUE(closed.closed);
    EXPECT_EQ(made.joints[0].value, f.project.joints[0].value) << "kept";
    const double rocker = direction(made.joints[2].value[0]), crank = direction(made.joints[0].value[0]);
    EXPECT_NEAR(std::remainder(rocker - rockerFor(crank), 2 * base::kPi), 0, 2e-3);
    EXPECT_EQ(pose::closeRings(f.project, {{"j99"}}, closed).error().code, "edit.missing");
    EXPECT_EQ(pose::closeRings(model::makeEmptyProject("None"), {}, closed).error().code, "ring.none");
}

TEST(Rings, AnOpenRingIsAVerdictWithAMendThatClosesIt) {
    FourBar f;
    const auto report = verdict::calcReport(std::make_shared<const model::Project>(f.project));
    const auto ring =
        std::find_if(report.verdicts.begin(), report.verdicts.end(), [](const auto& v) { return v.check == "ring"; });
    ASSERT_NE(ring, report.verdicts.end());
    EXPECT_EQ(ring->state, verdict::State::Fail);
    EXPECT_GT(ring->value, 1);
    const auto mends = verdict::listMends(report, *ring);
    ASSERT_EQ(mends.size(), 1u);
    const auto mended = test::must(mends[0].apply(f.project));
    const auto after = verdict::calcReport(std::make_shared<const model::Project>(mended));
    const auto now =
        std::find_if(after.verdicts.begin(), after.verdicts.end(), [](const auto& v) { return v.check == "ring"; });
    ASSERT_NE(now, after.verdicts.end());
    EXPECT_EQ(now->state, verdict::State::Good);
    EXPECT_LE(now->value, pose::kRingGapMm);
}

TEST(Rings, StudiesForFreeJointsSayThatARingIsNone) {
    const FourBar f;
    const auto context = f.context();
    EXPECT_EQ(pose::calcMap(context, f.values(), {{0, 0}, {1, 0}}).error().code, "map.ring");
    EXPECT_EQ(pose::makeChain(context, f.values(), 0, 1).error().code, "chain.ring");
    auto other = f.values();
    other[0][0] = 10;
    const pose::PoseChecker checker(context, f.values());
    EXPECT_EQ(pose::calcDetour(checker, f.values(), other).error().code, "path.ring");
}

TEST(Rings, ReachOfARingIsWhereItCloses) {
    const FourBar f;
    const auto context = f.context();
    const auto at = closedAt(f, 0).values;
    const pose::PoseChecker checker(context, at);
    pose::ReachRequest request;
    request.freedoms = {{2, 0}};
    request.limits = {{-180, 180}};
    request.section = 3;
    request.tip = Vec3(kRocker, 0, 0);
    request.samples = 60;
    const auto reach = pose::calcReach(checker, at, request);
    EXPECT_GT(reach.points.size(), 10u);
    for (const Vec3& p : reach.points) EXPECT_NEAR((p - Vec3(kBase, p.y(), 0)).norm(), kRocker, 0.01);
}

TEST(Rings, TwoHandsHoldOneThingWhileAShoulderMoves) {
    TwoHands f;
    const auto open = f.project;
    ASSERT_EQ(f.tree().closing, std::vector<int>{3});
    f.project = test::must(pose::poseJoints(open, {{open.joints[0].id, {0, 0, 0}}}));
    const auto moved = test::must(pose::poseJoints(f.project, {{f.project.joints[0].id, {12, 0, 0}}}));
    EXPECT_EQ(moved.joints[0].value, (std::vector<double>{12, 0, 0}));
    const auto tree = f.tree();
    const auto placed = pose::calcPlaced(moved, tree, pose::getValues(moved, nullptr));
    // Two routes: the ring's own gap, and the places of ball and cup in the world.
    const auto at = [&](int section, const Vec3& p) { return Vec3(ivrant::at(placed.X_WS, section) * p); };
    EXPECT_LT((at(2, Vec3(0, -40, 0)) - at(3, Vec3(48, -8, 3.2))).norm(), pose::kRingGapMm);
    EXPECT_LT((at(1, Vec3(0, -40, 0)) - at(3, Vec3(0, -8, 3.2))).norm(), 1e-6);
}

TEST(Rings, AStoredRingClosesAsItWasSaved) {
    const auto project = test::must(files::loadProject(test::repo("/tests/fixtures/basket_crank.ivrant")));
    ASSERT_EQ(project.ownShapes.size(), 1u);
    const auto tree = test::must(model::makeTree(project));
    const pose::Kinematics kinematics(project, tree);
    const auto gaps = pose::calcRingGaps(kinematics, pose::getValues(project, nullptr));
    ASSERT_EQ(gaps.size(), 1u);
    EXPECT_TRUE(gaps[0].isClosed());
    EXPECT_LT(gaps[0].gapMm, 1e-3);
}

TEST(Rings, WhatCarriesCannotGoBeforeWhatCloses) {
    FourBar f;
    const auto place = model::Place{};
    const auto opened = model::removeJoint(f.project, f.project.joints[3].id, place);
    ASSERT_TRUE(opened);
    EXPECT_TRUE(test::must(model::makeTree(*opened)).closing.empty());
    EXPECT_EQ(opened->sections.size(), 4u);
}

TEST(Rings, PortsThatMeetInsideAFigureAreOfferedAsAClosingJoint) {
    FourBar f;
    const auto closed = closedAt(f, 0);
    f.project.joints.pop_back();
    auto values = closed.values;
    values.pop_back();
    const auto tree = f.tree();
    const auto offers = bonds::listJointOffers(pose::calcPlaced(f.project, tree, values), tree);
    ASSERT_FALSE(offers.empty());
    EXPECT_EQ(offers.back().kind->name, "ribbed pin");
    model::Joint joint;
    joint.kind = offers.back().kind;
    joint.from = offers.back().from;
    joint.to = offers.back().to;
    joint.value = {0};
    const auto joined = test::must(model::addJoint(f.project, joint));
    EXPECT_EQ(test::must(model::makeTree(joined)).closing.size(), 1u);
    EXPECT_TRUE(files::parseProject(files::writeProject(joined)));
}
