// SPDX-License-Identifier: GPL-3.0-or-later
// Turn clearance and gaps against geometry, covers, solving for places, ways between poses.
#include <cmath>
#include <fcl/narrowphase/collision.h>

#include "core/base/at.h"
#include "core/base/units.h"
#include "core/pose/clearance.h"
#include "core/pose/collide.h"
#include "core/pose/covers.h"
#include "core/pose/gaps.h"
#include "core/pose/path.h"
#include "core/pose/reach.h"
#include "core/pose/solve.h"
#include "core/pose/stance.h"
#include "tests/support/fcl_solids.h"
#include "tests/support/figures.h"
#include "tests/support/linkages.h"
#include "tests/support/near.h"

using namespace ivrant;
using geometry::Vec3;
using test::Figure;
using test::must;

namespace {

constexpr double kInset = 0.1;

/// A turntable with its axis at (4, 4) mm; what turns is put on section 1, one plate above the lower half.
struct Table : Figure {
    explicit Table(const std::vector<std::string>& turning, const std::vector<std::string>& standing = {}) {
        const auto lower = put(0, "small turntable lower at 0 0 1");
        for (const auto& part : standing) put(0, part);
        const auto upper = put(1, "small turntable upper at 0 0 0");
        for (const auto& part : turning) put(1, part);
        join("small turntable", lower, "lower", upper, "upper");
    }
    [[nodiscard]] pose::TurnClearance clearance() const {
        return must(pose::calcTurnClearance(context(), values(), {0, 0}));
    }
};

} // namespace

TEST(Clearance, SquareBesideAWallByHand) {
    // A plate 4x4 about its middle: corner at √2 · (16 − 0.1). The wall's cell 4 begins at 4·8 − 4 = 28, 24 from the
    // axis, inset 0.1.
    const Table table({"plate 4x4 at -1 -1 1"}, {"brick 1x8 at 4 -3 1"});
    const auto c = table.clearance();
    EXPECT_NEAR(c.gapMm, 24 + kInset - std::sqrt(2.0) * (16 - kInset), 0.006);
    EXPECT_TRUE(c.passes);
    EXPECT_NEAR(std::abs(std::remainder(c.atDeg - 45, 90)), 0, 3); // a corner points at the wall; the gap is flat there
    const double off = must(pose::calcOffAxisPlay(table.context(), table.values(), {0, 0}));
    EXPECT_NEAR(off, c.gapMm, 0.03); // towards the wall; shifted by the gap the two touch
    EXPECT_LE(off, c.gapMm + 0.006);
}

TEST(Clearance, SquareAmongRoundPosts) {
    // A brick 6x6 among round bricks 4x4 (radius 16 − 0.1): nearest when a corner points at a post's axis. The post's
    // middle is at (3.5 + 1.5) · 8 = 40, (36, 36) from the axis.
    const Table table({"brick 6x6 at -2 -2 1"}, {"round brick 4x4 at 3.5 3.5 1", "round brick 4x4 at 3.5 3.5 4"});
    const double corner = std::sqrt(2.0) * (24 - kInset), distance = 36 * std::sqrt(2.0), radius = 16 - kInset;
    EXPECT_NEAR(table.clearance().gapMm, distance - radius - corner, 0.006);
}

TEST(Clearance, RoundedSquareBesideRoundPosts) {
    // A rounded square: crossed plates, and round plates 1x1 (radius 3.9) at its corners (±12, ±12) from the axis:
    // 12·√2 + 3.9. The posts' axes are at 3.7 · 8 − 4 = 25.6 and ±4 from it, radius 3.9.
    const Table table({"plate 4x2 at -1 0 1", "plate 2x4 at 0 -1 2", "round plate 1x1 at -1 -1 3",
                       "round plate 1x1 at 2 -1 3", "round plate 1x1 at -1 2 3", "round plate 1x1 at 2 2 3"},
                      {"round brick 1x1 at 3.7 0 1", "round brick 1x1 at 3.7 0 4", "round brick 1x1 at 3.7 1 1",
                       "round brick 1x1 at 3.7 1 4"});
    EXPECT_NEAR(table.clearance().gapMm, std::hypot(25.6, 4.0) - 12 * std::sqrt(2.0) - 2 * (4 - kInset), 0.006);
}

TEST(Clearance, WhatMeetsDoesNotPassAndTheBoundIsNeverAboveSamples) {
    const Table meets({"plate 8x8 at -3 -3 1"}, {"brick 1x8 at 5 -3 1"});
    EXPECT_FALSE(meets.clearance().passes);
    EXPECT_EQ(meets.clearance().gapMm, 0);
    const Table table({"plate 4x6 at -1 -2 1"}, {"brick 1x1 at 6 1 1", "round brick 2x2 at -5 4 1"});
    const auto c = table.clearance();
    for (double a = 0; a < 360; a += 1.7) {
        auto turned = table;
        turned.project = must(model::setJointValue(table.project, table.project.joints[0].id, {a}));
        double least = 1e9;
        const auto placed = turned.placed();
        for (std::size_t p = 0; p < turned.project.sections[0]->parts.size(); ++p)
            for (std::size_t q = 1; q < turned.project.sections[1]->parts.size(); ++q)
                least =
                    std::min(least, pose::calcPartDistance(placed, {0, static_cast<int>(p)}, {1, static_cast<int>(q)}));
        EXPECT_LE(c.gapMm, least + 0.006) << a;
    }
}

TEST(Clearance, MisalignmentOfANeighbourByHand) {
    // Two turntables 40 mm apart, each with a square 4x4 (half side h = 15.9, corner R = √2·h): one turns past the
    // other while the other stands at α. The nearest point of the standing square to the turning axis is the foot on
    // its face, 40·cos α − h away: it passes while that is at least R (less the 0.05 mm that do not count).
    Figure f;
    f.put(0, "plate 16x16 at -7 -7 0");
    const auto left = f.put(0, "small turntable lower at 0 0 1"), right = f.put(0, "small turntable lower at 5 0 1");
    const auto a = f.put(1, "small turntable upper at 0 0 0");
    f.put(1, "plate 4x4 at -1 -1 1");
    const auto b = f.put(2, "small turntable upper at 0 0 0");
    f.put(2, "plate 4x4 at -1 -1 1");
    f.join("small turntable", left, "lower", a, "upper");
    f.join("small turntable", right, "lower", b, "upper");
    const double h = 16 - kInset, corner = std::sqrt(2.0) * h, apart = 40;
    const auto off = must(pose::calcMisalignment(f.context(), f.values(), {0, 0}, {1, 0}));
    const double alpha = base::radToDeg(std::acos((corner + h - 0.05) / apart));
    EXPECT_NEAR(off.highDeg, alpha, 0.1);
    EXPECT_NEAR(off.lowDeg, -alpha, 0.1);
}

TEST(Gaps, BareHingeFromAbove) {
    // Fingers seen from above: two of the fork 2.5 mm wide, one of the tongue 2.6 mm, each from the plate's end (4 mm,
    // less the body's own 0.1 mm inset it is not hidden) to the knuckle's round end 1.5 mm beyond the axis.
    Figure f;
    const auto fork = f.put(0, "stepped hinge small fork at 0 0 0");
    f.join("stepped hinge small", fork, "finger", f.put(1, "stepped hinge small tongue at 0 0 0"), "finger");
    const double area = pose::calcGapArea(f.placed(), f.context(), 0, {0, 0, -1}, 0.05);
    EXPECT_NEAR(area, (2 * 2.5 + 2.6) * (4 + 1.5), 1.0); // half a pixel along 60 mm of border
    // A tile over it hides all of it.
    f.put(0, "plate 1x4 at 0 0 2");
    EXPECT_NEAR(pose::calcGapArea(f.placed(), f.context(), 0, {0, 0, -1}, 0.05), 0,
                2.5); // the slits beside the inset plate
}

TEST(Covers, WhatACoverCostsIsTheDifferenceOfTwoSweeps) {
    Figure f;
    const auto fork = f.put(0, "stepped hinge small fork at 0 0 0");
    const auto cover = f.put(0, "brick 1x2 at 0 0 1");
    f.put(1, "brick 1x2 at 0 0 1");
    f.join("stepped hinge small", fork, "finger", f.put(1, "stepped hinge small tongue at 0 0 0"), "finger");
    const model::PartIndex index(f.project);
    const auto costs = pose::calcCoverCosts(f.context(), f.values(), {index.find(cover)});
    ASSERT_EQ(costs.size(), 1U);
    const double with = f.range().free.high;
    auto bare = f;
    bare.project = must(model::removeParts(f.project, std::array{cover}));
    EXPECT_NEAR(costs[0].with.free.high, with, 1e-9);
    // Without the part its studs below show again; they stand away from the sweep here.
    EXPECT_NEAR(costs[0].without.free.high, bare.range().free.high, 0.05);
    EXPECT_GT(costs[0].costDeg, 1);
    const auto gains = pose::calcStopGains(f.context(), f.values(), {0, 0}, true);
    ASSERT_FALSE(gains.empty());
    EXPECT_GT(gains[0].gain, 0);
    // The hinge's own halves are never taken away.
    EXPECT_TRUE(pose::calcCoverCosts(f.context(), f.values(), {index.find(fork)}).empty());
}

namespace {

struct Reacher : test::HingeRun {
    pose::RangeContext held;
    pose::PoseChecker checker;
    pose::SolveRequest request;
    explicit Reacher(int count) : HingeRun(count), held(context()), checker(held, values()) {
        request.values = values();
        pose::addFreedomsTo(checker, count, -1, 10, request);
        request.goals.push_back({count, Vec3(0, 8, 3.2), Vec3::Zero(), std::nullopt, 1});
        request.keepSteps = false;
    }
    [[nodiscard]] pose::ReachRequest reach(int samples) const {
        pose::ReachRequest reach;
        reach.freedoms = request.freedoms;
        reach.limits = request.limits;
        reach.section = request.goals[0].section;
        reach.tip = request.goals[0].point;
        reach.samples = samples;
        return reach;
    }
    [[nodiscard]] Vec3 tipAt(const pose::JointValues& v) const {
        std::vector<geometry::Frame> X;
        checker.kinematics().place(v, X);
        return at(X, request.goals[0].section) * request.goals[0].point;
    }
};

} // namespace

TEST(Solve, ComesBackToWhereAKnownPosePutsTheTip) {
    Reacher r(4);
    r.request.goals[0].target = r.tipAt({{20}, {-35}, {30}, {10}});
    const auto s = pose::calcSolution(r.checker.kinematics(), r.request);
    EXPECT_LT(s.errorMm, 0.01);
    EXPECT_LT((r.tipAt(s.values) - r.request.goals[0].target).norm(), 0.01);
    for (const auto& v : s.values) EXPECT_LE(std::abs(v[0]), 90 + 1e-9);
}

TEST(Solve, StepsStayStepsAndTheOutOfReachIsSaid) {
    Reacher r(4);
    r.request.keepSteps = true;
    r.request.goals[0].target = r.tipAt({{22.5}, {-45}, {22.5}, {0}});
    for (const auto& v : pose::calcSolution(r.checker.kinematics(), r.request).values)
        EXPECT_NEAR(std::remainder(v[0], 22.5), 0, 1e-9);
    r.request.goals[0].target = Vec3(0, 5000, 0);
    EXPECT_GT(pose::calcSolution(r.checker.kinematics(), r.request).errorMm, 4000);
}

TEST(Solve, TheNearestJointsFollowFirst) {
    Reacher r(4);
    r.request.goals[0].target = r.tipAt(r.values()) + Vec3(0, -0.5, 2);
    const auto s = pose::calcSolution(r.checker.kinematics(), r.request);
    ASSERT_LT(s.errorMm, 0.05);
    EXPECT_EQ(r.request.freedoms.front().joint, 3); // nearest first
}

TEST(Solve, TwoFeetStayWhileTheBodyGoesDown) {
    const test::Walker w;
    const auto tree = w.tree();
    const auto context = w.context();
    const pose::PoseChecker checker(context, w.values());
    const auto before = w.placed();
    pose::SolveRequest request;
    request.values = w.values();
    request.grounded = 3;
    request.X_WGround = before.X_WS[3];
    for (const int section : {0, 6}) pose::addFreedomsTo(checker, section, 3, 8, request);
    const Vec3 middle(32, 0, 0);
    request.goals.push_back({0, middle, before.X_WS[0] * middle - Vec3(0, 0, 10), std::nullopt, 1});
    request.goals.push_back({6, Vec3::Zero(), before.X_WS[6].translation(), before.X_WS[6].linear(), 4});
    const auto solution = pose::calcSolution(checker.kinematics(), request);
    EXPECT_LT(solution.errorMm, 0.02);
    EXPECT_LT(solution.errorDeg, 0.05);
    // By another way: place the figure and bring its left foot back to where it stood.
    auto placed = pose::calcPlaced(w.project, tree, solution.values);
    const geometry::Frame back = before.X_WS[3] * placed.X_WS[3].inverse();
    EXPECT_LT((back * placed.X_WS[6].translation() - before.X_WS[6].translation()).norm(), 0.02);
    EXPECT_LT((back * (placed.X_WS[0] * middle) - (before.X_WS[0] * middle - Vec3(0, 0, 10))).norm(), 0.02);
    // Each hip stands 2 · 32 · cos α over its ankle when it is straight above: both legs bend further.
    const double high = 64 * std::cos(base::degToRad(test::Walker::kBend));
    const Vec3 hip = back * (placed.X_WS[0] * Vec3::Zero()), ankle = back * (placed.X_WS[3] * Vec3(16, 0, 0));
    EXPECT_LT((hip - ankle).norm(), high - 5);
}

TEST(Reach, HaltonSpreadsEvenlyAndAllPointsAreFree) {
    double sum = 0;
    for (int i = 1; i <= 1000; ++i) sum += pose::calcHalton(i, 3);
    EXPECT_NEAR(sum / 1000, 0.5, 0.005);
    EXPECT_NEAR(pose::calcHalton(1, 2), 0.5, 1e-12);
    EXPECT_NEAR(pose::calcHalton(3, 2), 0.75, 1e-12);
    Reacher r(3);
    auto request = r.reach(500);
    const auto reach = pose::calcReach(r.checker, r.values(), request);
    ASSERT_GT(reach.points.size(), 100U);
    EXPECT_EQ(reach.tried, 500);
    for (std::size_t i = 0; i < reach.points.size(); i += 17) {
        EXPECT_TRUE(r.checker.isFree(reach.poses[i]));
        EXPECT_LT((r.tipAt(reach.poses[i]) - reach.points[i]).norm(), 1e-9);
    }
    EXPECT_GE(at(reach.points, reach.highest).z(), at(reach.points, reach.lowest).z());
}

TEST(Reach, OfAStandingFigureStaysAboveTheGround) {
    Reacher r(3);
    auto request = r.reach(800);
    const auto hanging = pose::calcReach(r.checker, r.values(), request);
    request.stance = {model::Stance::Kind::Flat, r.project.sections[0]->id, {}};
    const auto standing = pose::calcReach(r.checker, r.values(), request);
    EXPECT_GT(standing.underGround, 10);
    EXPECT_EQ(standing.points.size() + static_cast<std::size_t>(standing.underGround), hanging.points.size());
    const auto tree = r.tree();
    for (std::size_t i = 0; i < standing.points.size(); i += 11) {
        auto placed = pose::calcPlaced(r.project, tree, standing.poses[i]);
        pose::applyStance(placed, request.stance);
        for (const Vec3& p : pose::listCorners(placed)) EXPECT_GE(p.z(), -0.051);
        EXPECT_LT((placed.X_WS[3] * request.tip - standing.points[i]).norm(), 1e-9);
    }
}

namespace {

/// An arm of two hinges that swings past a wall: straight it hits, bent it passes.
struct Swing : Figure {
    Swing() {
        put(0, "plate 16x16 at -7 -7 0");
        const auto lower = put(0, "small turntable lower at 0 0 1");
        put(0, "brick 1x2 at 7 0 1");
        put(0, "brick 1x2 at 7 0 4");
        const auto upper = put(1, "small turntable upper at 0 0 0");
        const auto fork = put(1, "stepped hinge small fork at 0 0 1");
        const auto tongue = put(2, "stepped hinge small tongue at 0 0 0");
        put(2, "plate 1x6 at 0 0 1");
        join("small turntable", lower, "lower", upper, "upper");
        join("stepped hinge small", fork, "finger", tongue, "finger");
    }
    [[nodiscard]] bool oracleCollides(const pose::JointValues& values) const {
        const auto c = context();
        const auto placed = pose::calcPlaced(project, c.tree, values);
        fcl::CollisionRequestd request;
        request.gjk_solver_type = fcl::GST_LIBCCD;
        for (std::size_t a = 0; a < 3; ++a)
            for (std::size_t b = a + 1; b < 3; ++b)
                for (const auto& p : c.bodies.sections[a]->parts)
                    for (const auto& q : c.bodies.sections[b]->parts)
                        for (const auto& s : p.solids)
                            for (const auto& t : q.solids) {
                                if (c.bodies.isExempt({{static_cast<int>(a), p.part}, s.solid},
                                                      {{static_cast<int>(b), q.part}, t.solid}))
                                    continue;
                                fcl::CollisionResultd result;
                                const auto X = [&](std::size_t section, const pose::BodySolid& solid) {
                                    return placed.X_WS[section] *
                                           geometry::makeFrame(solid.inSection.R, solid.inSection.centre);
                                };
                                // eroded by the tolerance, as contacts of up to 0.05 mm do not count
                                if (fcl::collide(test::toFcl(*s.inSection.eroded).get(), X(a, s),
                                                 test::toFcl(*t.inSection.solid).get(), X(b, t), request, result) > 0)
                                    return true;
                            }
        return false;
    }
};

} // namespace

TEST(Path, BlockedStraightAndADetourThatTheOracleCallsFree) {
    const Swing f;
    const auto context = f.context();
    const pose::JointValues from{{-60}, {0}}, to{{-120}, {0}};
    const pose::PoseChecker checker(context, from);
    ASSERT_TRUE(checker.isFree(from));
    ASSERT_TRUE(checker.isFree(to));
    const auto round = pose::calcPath(checker, from, to);
    EXPECT_TRUE(round.free) << "the turntable is endless: the other way round there is nothing";
    EXPECT_EQ(round.otherWay, std::vector<int>{0});
    for (int i = 0; i <= 100; ++i) EXPECT_FALSE(f.oracleCollides(pose::calcBetween(from, round.to, i / 100.0))) << i;
    // Where something stands on that side too, the straight way is told as blocked, and by what.
    const auto straight = pose::calcPath(checker, from, {{-90}, {0}});
    EXPECT_FALSE(straight.free);
    ASSERT_TRUE(straight.blockedBy);
    EXPECT_GT(straight.freeShare, 0);
    EXPECT_LT(straight.freeShare, 1);
    const auto detour = must(pose::calcDetour(checker, from, to));
    ASSERT_GE(detour.through.size(), 3U);
    EXPECT_EQ(detour.through.front(), from);
    EXPECT_EQ(detour.through.back(), to);
    for (std::size_t leg = 0; leg + 1 < detour.through.size(); ++leg)
        for (int i = 0; i <= 40; ++i)
            EXPECT_FALSE(f.oracleCollides(pose::calcBetween(detour.through[leg], detour.through[leg + 1], i / 40.0)))
                << leg << ", " << i;
    // The same question has the same answer.
    EXPECT_EQ(must(pose::calcDetour(checker, from, to)).through, detour.through);
}

TEST(Path, EndsThatCollideAndWaysThatDoNotExistAreSaid) {
    const Swing f;
    const auto context = f.context();
    const pose::PoseChecker checker(context, f.values());
    EXPECT_EQ(pose::calcDetour(checker, {{-90}, {0}}, {{0}, {0}}).error().code, "path.end");
    EXPECT_EQ(pose::calcDetour(checker, {{-60}, {0}}, {{-120}, {0}}, 1).error().code, "path.none");
    base::Progress stopped;
    stopped.stop();
    EXPECT_EQ(pose::calcDetour(checker, {{-60}, {0}}, {{-120}, {0}}, 4000, &stopped).error().code, "path.stopped");
    EXPECT_TRUE(pose::calcPath(checker, {{0}, {0}}, {{30}, {22.5}}).free);
}
