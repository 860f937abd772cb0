// SPDX-License-Identifier: GPL-3.0-or-later
// How figures stand: upright on a section, settled on their hull, held; hulls in the plane and in space.
#include "core/pose/stance.h"

#include <cmath>
#include <random>

#include "core/base/units.h"
#include "core/geometry/hull.h"
#include "core/stand/tipping.h"
#include "tests/support/linkages.h"
#include "tests/support/near.h"

using namespace ivrant;
using geometry::Vec3;
using test::Figure;

namespace {

model::Stance settle(double x, double y, double z) {
    model::Stance stance;
    stance.kind = model::Stance::Kind::Settle;
    stance.up = {x, y, z};
    return stance;
}

double lowest(const model::Placed& placed) {
    double low = 1e30;
    for (const Vec3& p : pose::listCorners(placed)) low = std::min(low, p.z());
    return low;
}

} // namespace

TEST(Stance, FlatPutsTheLowestPointOnTheGroundAndKeepsTheHeading) {
    Figure f;
    f.put(0, "brick 2x4 at 0 0 0");
    model::Place place;
    place.atUm = {5000, 6000, 70000};
    place.attitude =
        Eigen::Quaterniond(Eigen::AngleAxisd(0.4, Vec3::UnitZ()) * Eigen::AngleAxisd(0.9, Vec3(1, 1, 0).normalized()));
    f.project = test::must(model::placeSection(f.project, f.project.sections[0]->id, place));
    model::Stance flat;
    flat.kind = model::Stance::Kind::Flat;
    flat.section = f.project.sections[0]->id;
    auto placed = f.placed();
    pose::applyStance(placed, flat);
    EXPECT_NEAR(lowest(placed), 0, 1e-9);
    EXPECT_NEAR(placed.X_WS[0].linear()(2, 2), 1, 1e-9) << "its own z points up";
}

TEST(Stance, AFootStandsAtItsOwnPlaceInEveryPose) {
    test::Walker w;
    w.project = test::must(
        model::placeSection(w.project, w.project.sections[3]->id, model::Place{{100'000, -40'000, 7'000}, 0}));
    const auto tree = w.tree();
    const model::Stance stance = w.project.poses[0].stands; // a copy: the project is exchanged below
    for (const double bend : {150.0, 130.0, 165.0}) {
        w.project = test::must(model::setJointValue(w.project, w.project.joints[0].id, {bend}));
        auto placed = pose::calcPlaced(w.project, tree, w.values());
        const double apart = (placed.X_WS[6].translation() - placed.X_WS[3].translation()).norm();
        pose::applyStance(placed, stance);
        EXPECT_NEAR(placed.X_WS[3].translation().x(), 100, 1e-9) << bend;
        EXPECT_NEAR(placed.X_WS[3].translation().y(), -40, 1e-9) << bend;
        EXPECT_NEAR(placed.X_WS[3].linear()(2, 2), 1, 1e-9) << "upright";
        EXPECT_NEAR((placed.X_WS[6].translation() - placed.X_WS[3].translation()).norm(), apart, 1e-9)
            << "moved as a whole";
    }
}

TEST(Stance, HeldStaysWhereTheFilePutsIt) {
    Figure f;
    f.put(0, "brick 2x4 at 0 0 0");
    model::Place place;
    place.atUm = {1000, 2000, 55000};
    f.project = test::must(model::placeSection(f.project, f.project.sections[0]->id, place));
    auto placed = f.placed();
    pose::applyStance(placed, model::Stance{});
    EXPECT_LT((placed.X_WS[0].translation() - Vec3(1, 2, 55)).norm(), 1e-9);
}

TEST(Stance, ABrickSettlesOnTheFaceThatIsWished) {
    // A tile has six stable faces; the wished up direction chooses among them.
    Figure f;
    f.put(0, "tile 2x4 at 0 0 0");
    for (const Vec3& up : {Vec3(0, 0, 1), Vec3(0, 0, -1), Vec3(1, 0, 0), Vec3(0, -1, 0)}) {
        auto placed = f.placed();
        pose::applyStance(placed, settle(up.x(), up.y(), up.z()));
        EXPECT_NEAR((placed.X_WS[0].linear() * up).z(), 1, 1e-6) << up.transpose();
        EXPECT_NEAR(lowest(placed), 0, 1e-6);
    }
}

TEST(Stance, AnOverhangingFigureFallsToAStableFace) {
    // A tall post at the end of a short plate with a long arm on top: it does not stand on the plate; the settled
    // figure does.
    Figure f;
    f.put(0, "plate 2x2 at 0 0 0");
    f.put(0, "brick 2x2 at 0 0 1");
    f.put(0, "plate 2x12 at 0 0 4");
    auto placed = f.placed();
    pose::applyStance(placed, settle(0, 0, 1));
    const auto tip = stand::calcTipping(placed, pose::listCorners(placed));
    ASSERT_TRUE(tip);
    EXPECT_GT(tip->angleDeg, 0);
    EXPECT_NEAR(lowest(placed), 0, 1e-6);
}

TEST(Stance, AWheelTouchesTheGroundExactly) {
    // The lowest points of a cylinder on its side are taken exactly, not from the corners of a polygon.
    Figure f;
    f.put(0, "wheel 60x20 at 0 0 0");
    model::Stance flat;
    flat.kind = model::Stance::Kind::Flat;
    flat.section = f.project.sections[0]->id;
    auto placed = f.placed();
    pose::applyStance(placed, flat);
    EXPECT_NEAR(placed.X_WS[0].translation().z(), 30, 1e-9);
    const auto ground = pose::listGroundCorners(placed, 1);
    EXPECT_GE(std::count_if(ground.begin(), ground.end(), [](const Vec3& p) { return std::abs(p.z()) < 1e-9; }), 2)
        << "a line across the tread";
}

TEST(Stance, GroundCornersAreTheLowOnesOfAll) {
    Figure f;
    f.put(0, "plate 4x4 at 0 0 0");
    f.put(0, "brick 2x2 at 1 1 1");
    f.put(0, "round brick 1x1 at 0 0 1");
    const auto placed = f.placed();
    const auto all = pose::listCorners(placed), low = pose::listGroundCorners(placed, 1);
    EXPECT_LT(low.size(), all.size());
    const auto touching = [](const std::vector<Vec3>& points) {
        return std::count_if(points.begin(), points.end(), [](const Vec3& p) { return p.z() < 0.05; });
    };
    EXPECT_EQ(touching(low), touching(all));
}

TEST(Stance, DefaultIsTheFirstPosesOrTheFirstRoot) {
    Figure f;
    f.put(0, "plate 2x2 at 0 0 0");
    const auto byRoot = pose::getDefaultStance(f.project, f.tree());
    EXPECT_EQ(byRoot.kind, model::Stance::Kind::Flat);
    EXPECT_EQ(byRoot.section, f.project.sections[0]->id);
    f.project = test::must(model::addPose(f.project, "Lying", {}, settle(1, 0, 0)));
    EXPECT_EQ(pose::getDefaultStance(f.project, f.tree()), settle(1, 0, 0));
}

TEST(Hull, APlaneHullByHand) {
    const auto hull = geometry::calcHull2({{0, 0}, {4, 0}, {4, 3}, {0, 3}, {2, 1}, {2, 0}, {4, 3}});
    ASSERT_EQ(hull.size(), 4U) << "points inside, on edges and repeated are left out";
    double area = 0;
    for (std::size_t i = 0; i < hull.size(); ++i)
        area += 0.5 * (hull[i].x() * hull[(i + 1) % 4].y() - hull[(i + 1) % 4].x() * hull[i].y());
    EXPECT_NEAR(area, 12, 1e-12) << "counter-clockwise";
    EXPECT_EQ(geometry::calcHull2({{1, 1}, {2, 2}, {3, 3}}).size(), 2U);
    EXPECT_EQ(geometry::calcHull2({{1, 1}}).size(), 1U);
    EXPECT_TRUE(geometry::calcHull2({}).empty());
}

TEST(Hull, EveryPointIsInsideEveryEdge) {
    std::mt19937 random(3);
    std::normal_distribution<double> spread(0, 50);
    for (int round = 0; round < 20; ++round) {
        std::vector<Eigen::Vector2d> points;
        for (int i = 0; i < 60; ++i) points.emplace_back(spread(random), spread(random));
        const auto hull = geometry::calcHull2(points);
        for (std::size_t i = 0; i < hull.size(); ++i) {
            const Eigen::Vector2d edge = hull[(i + 1) % hull.size()] - hull[i];
            for (const auto& p : points) EXPECT_GE(edge.x() * (p - hull[i]).y() - edge.y() * (p - hull[i]).x(), -1e-9);
        }
    }
}

TEST(Hull, ABoxHasSixFaces) {
    std::vector<Vec3> points;
    for (int c = 0; c < 8; ++c) points.emplace_back(c & 1 ? 30 : 0, c & 2 ? 20 : 0, c & 4 ? 10 : 0);
    points.emplace_back(15, 10, 5); // inside
    const auto faces = geometry::calcHullFaces(points);
    ASSERT_EQ(faces.size(), 6U);
    double area = 0;
    for (const auto& face : faces) {
        Vec3 sum = Vec3::Zero();
        for (std::size_t i = 0; i < face.outline.size(); ++i)
            sum += face.outline[i].cross(face.outline[(i + 1) % face.outline.size()]);
        area += 0.5 * sum.dot(face.normal);
        EXPECT_NEAR(face.normal.cwiseAbs().maxCoeff(), 1, 1e-5);
    }
    EXPECT_NEAR(area, 2 * (600 + 300 + 200), 0.01);
    EXPECT_TRUE(geometry::calcHullFaces({Vec3(0, 0, 0), Vec3(1, 0, 0), Vec3(0, 1, 0), Vec3(1, 1, 0)}).empty())
        << "flat points span nothing";
}

TEST(Hull, StableUpsOfABoxAreItsSixAxes) {
    std::vector<Vec3> points;
    for (int c = 0; c < 8; ++c) points.emplace_back(c & 1 ? 1 : -1, c & 2 ? 2 : -2, c & 4 ? 3 : -3);
    EXPECT_EQ(pose::calcStableUps(points, Vec3::Zero()).size(), 6U);
    // With the weight far up it stands only lying down or on its head: the faces whose outline the plumb line meets.
    const auto high = pose::calcStableUps(points, Vec3(0.99, 0, 0));
    EXPECT_EQ(high.size(), 6U) << "still inside all outlines";
    EXPECT_EQ(pose::calcStableUps(points, Vec3(5, 0, 0)).size(), 2U) << "outside: only the two faces across x hold it";
}
