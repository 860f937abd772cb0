// SPDX-License-Identifier: GPL-3.0-or-later
// Closed meshes as bodies, hulls, and convex pieces that hold what a mesh holds.
#include <cmath>
#include <gtest/gtest.h>
#include <random>

#include "core/base/progress.h"
#include "core/base/units.h"
#include "core/geometry/gap.h"
#include "core/geometry/hull_solid.h"
#include "core/geometry/mesh.h"
#include "core/geometry/pieces.h"
#include "tests/support/fcl_solids.h"
#include "tests/support/figures.h"
#include "tests/support/meshes.h"

using namespace ivrant;
using geometry::Solid;
using geometry::TriangleMesh;
using geometry::Vec3;
using test::angle;
using test::extrude;
using test::meshOf;
using test::must;

namespace {

double sumOf(const std::vector<Solid>& pieces) {
    double sum = 0;
    for (const auto& p : pieces) sum += geometry::calcVolume(p);
    return sum;
}

bool isInside(const Solid& piece, const Vec3& p) {
    const Vec3 own = piece.X_PS.inverse() * p;
    return std::all_of(piece.hull->faces.begin(), piece.hull->faces.end(),
                       [&](const auto& f) { return f.normal.dot(own - f.outline.front()) <= 1e-6; });
}

} // namespace

TEST(Hull, ABoxOfPointsHasTheBoxesVolumeSupportRayAndErosion) {
    std::vector<Vec3> corners;
    for (int c = 0; c < 8; ++c) corners.emplace_back(c & 1 ? 12 : 2, c & 2 ? 23 : 3, c & 4 ? 5 : -1);
    const Solid hull = geometry::makeHull(corners), box = geometry::makeBox({2, 3, -1}, {12, 23, 5});
    EXPECT_NEAR(geometry::calcVolume(hull), 10 * 20 * 6, 1e-2);
    EXPECT_LT((geometry::calcCentroid(hull) - Vec3(7, 13, 2)).norm(), 1e-4);
    EXPECT_EQ(hull.hull->faces.size(), 6u);
    const Solid small = geometry::calcEroded(hull, 0.5);
    const auto bounds = geometry::calcBounds(small, geometry::Frame::Identity());
    EXPECT_LT((bounds.low - Vec3(2.5, 3.5, -0.5)).norm(), 1e-3);
    EXPECT_LT((bounds.high - Vec3(11.5, 22.5, 4.5)).norm(), 1e-3);
    EXPECT_NEAR(geometry::calcRayHit(hull, {7, 13, 20}, {0, 0, -1}), geometry::calcRayHit(box, {7, 13, 20}, {0, 0, -1}),
                1e-3);
    EXPECT_LT(geometry::calcRayHit(hull, {30, 13, 20}, {0, 0, -1}), 0);
    EXPECT_THROW((void)geometry::makeHull({{0, 0, 0}, {1, 0, 0}, {0, 1, 0}, {1, 1, 0}}), std::invalid_argument);
}

TEST(Hull, DistancesAgreeWithAnotherLibrary) {
    std::mt19937 random(5);
    std::uniform_real_distribution<double> at(-10, 10);
    int apart = 0;
    for (int i = 0; i < 60; ++i) {
        std::vector<Vec3> points;
        for (int k = 0; k < 14; ++k) points.emplace_back(at(random), at(random), at(random));
        const Solid hull = geometry::makeHull(points);
        const Solid ball = geometry::makeSphere({at(random) * 3, at(random) * 3, at(random) * 3}, 3);
        const auto place = [](const Solid& s) {
            return geometry::PlacedSolid{&s, &s, s.X_PS.linear(), s.X_PS.translation()};
        };
        const double ours = geometry::calcDistance(place(hull), place(ball));
        const auto a = test::toFcl(hull);
        const auto b = std::make_shared<fcl::Sphered>(3.0);
        const fcl::CollisionObjectd oa(a, hull.X_PS), ob(b, ball.X_PS);
        fcl::DistanceRequestd request;
        fcl::DistanceResultd result;
        const double theirs = fcl::distance(&oa, &ob, request, result);
        if (theirs <= 1e-3) continue;
        ++apart;
        EXPECT_NEAR(ours, theirs, 2e-3) << i;
    }
    EXPECT_GT(apart, 20);
}

TEST(MeshBody, VolumeAndCentreOfAnAngleAreThoseOfItsTwoLegs) {
    const auto body = must(geometry::makeMeshBody(angle()));
    EXPECT_NEAR(body.volume, 40 * 10 * 20 + 10 * 30 * 20, 1e-6);
    const Vec3 centre = (8000 * Vec3(20, 10, 5) + 6000 * Vec3(5, 10, 25)) / 14000;
    EXPECT_LT((body.centre - centre).norm(), 1e-9);
    auto turned = angle();
    for (auto& t : turned.triangles) std::swap(t[0], t[1]);
    EXPECT_NEAR(must(geometry::makeMeshBody(turned)).volume, 14000, 1e-6) << "inside out is turned";
}

TEST(MeshBody, OpenHugeAndBrokenMeshesAreNamed) {
    auto open = angle();
    open.triangles.pop_back();
    const auto error = geometry::makeMeshBody(open).error();
    EXPECT_EQ(error.code, "mesh.open");
    EXPECT_NE(error.message.find("3 edges"), std::string::npos) << error.message;
    EXPECT_EQ(geometry::makeMeshBody({}).error().code, "mesh.empty");
    auto far = angle();
    for (auto& p : far.points) p *= 1000;
    EXPECT_EQ(geometry::makeMeshBody(far).error().code, "mesh.size");
    auto nan = angle();
    nan.points[3].y() = std::nan("");
    EXPECT_EQ(geometry::makeMeshBody(nan).error().code, "mesh.number");
    auto stray = angle();
    stray.triangles[0][1] = 99;
    EXPECT_EQ(geometry::makeMeshBody(stray).error().code, "mesh.number");
    TriangleMesh many;
    many.points = angle().points;
    many.triangles.assign(geometry::kMostTriangles + 1, {0, 1, 2});
    EXPECT_EQ(geometry::makeMeshBody(many).error().code, "mesh.size");
    EXPECT_EQ(geometry::makeMeshBody(extrude({{0, 0}, {10, 0}, {10, 10}}, {{0, 1, 2}}, 0)).error().code, "mesh.empty")
        << "flat";
}

TEST(Pieces, AConvexBodyIsOnePieceAndAnAngleTwo) {
    const auto box = must(
        geometry::calcConvexPieces(must(geometry::makeMeshBody(meshOf({geometry::makeBox({0, 0, 0}, {30, 10, 8})})))));
    ASSERT_EQ(box.pieces.size(), 1u);
    EXPECT_NEAR(box.excessShare, 0, 1e-4);
    const auto two = must(geometry::calcConvexPieces(must(geometry::makeMeshBody(angle()))));
    EXPECT_EQ(two.pieces.size(), 2u);
    EXPECT_NEAR(sumOf(two.pieces), 14000, 14);
    EXPECT_LT(two.outsideMm, 1e-3);
}

TEST(Pieces, AUTroughKeepsItsHollow) {
    const auto trough = extrude({{0, 0}, {60, 0}, {60, 30}, {50, 30}, {50, 10}, {10, 10}, {10, 30}, {0, 30}},
                                {{0, 1, 4}, {0, 4, 5}, {1, 2, 3}, {1, 3, 4}, {0, 5, 6}, {0, 6, 7}}, 40);
    const auto found = must(geometry::calcConvexPieces(must(geometry::makeMeshBody(trough))));
    EXPECT_LE(found.pieces.size(), 4u);
    EXPECT_LT(found.excessShare, 0.01);
    for (const auto& piece : found.pieces) EXPECT_FALSE(isInside(piece, Vec3(30, 20, 20)));
    EXPECT_TRUE(std::any_of(found.pieces.begin(), found.pieces.end(),
                            [](const auto& piece) { return isInside(piece, Vec3(5, 20, 20)); }));
}

TEST(Pieces, RoundBodiesAreFollowedCloselyAndSayHowClosely) {
    const auto body = must(geometry::makeMeshBody(meshOf({geometry::makeSphere({0, 0, 0}, 20)}, 48)));
    EXPECT_NEAR(body.volume, 4.0 / 3 * base::kPi * 8000, 500);
    const auto found = must(geometry::calcConvexPieces(body));
    EXPECT_EQ(found.pieces.size(), 1u);
    EXPECT_LT(found.excessShare, 0.001);
    EXPECT_GT(found.outsideMm, 0);
    EXPECT_LT(found.outsideMm, 0.5);
}

TEST(Pieces, ARingOfTubeIsCutUntilItsHoleIsFree) {
    TriangleMesh torus;
    constexpr int kAround = 48, kTube = 16;
    for (int i = 0; i < kAround; ++i)
        for (int k = 0; k < kTube; ++k) {
            const double a = 2 * base::kPi * i / kAround, b = 2 * base::kPi * k / kTube, r = 30 + 6 * std::cos(b);
            torus.points.emplace_back(r * std::cos(a), r * std::sin(a), 6 * std::sin(b));
        }
    const auto id = [](int i, int k) { return (i % kAround) * kTube + k % kTube; };
    for (int i = 0; i < kAround; ++i)
        for (int k = 0; k < kTube; ++k) {
            torus.triangles.push_back({id(i, k), id(i + 1, k), id(i + 1, k + 1)});
            torus.triangles.push_back({id(i, k), id(i + 1, k + 1), id(i, k + 1)});
        }
    const auto body = must(geometry::makeMeshBody(torus));
    const auto found = must(geometry::calcConvexPieces(body));
    EXPECT_LE(found.pieces.size(), 24u);
    EXPECT_LT(found.excessShare, 0.03);
    for (const auto& piece : found.pieces) EXPECT_FALSE(isInside(piece, Vec3::Zero()));
    EXPECT_GE(sumOf(found.pieces), body.volume * 0.97);
}

TEST(Hull, MovedFacesLeaveWhatIsDeeperThanThat) {
    std::mt19937 random(11);
    std::uniform_real_distribution<double> at(-12, 12);
    for (int i = 0; i < 20; ++i) {
        std::vector<Vec3> points;
        for (int k = 0; k < 20; ++k) points.emplace_back(at(random), at(random), at(random));
        const Solid hull = geometry::makeHull(points);
        const Solid small = geometry::calcEroded(hull, 1.5);
        const auto depthOf = [&](const Vec3& p) { // of a point below the nearest face
            double depth = 1e300;
            for (const auto& f : hull.hull->faces) depth = std::min(depth, f.normal.dot(f.outline.front() - p));
            return depth;
        };
        for (const Vec3& p : small.hull->corners)
            EXPECT_NEAR(depthOf(p), 1.5, 0.01) << "each corner lies on moved faces";
        for (const Vec3& p : points) EXPECT_NEAR(geometry::calcOutside(hull, p), 0, 0.01);
        // The support of the small one along a face's normal is that face moved inwards, or less where others cut it
        // off.
        for (const auto& f : hull.hull->faces)
            EXPECT_LE(f.normal.dot(geometry::findSupport(small, f.normal)),
                      f.normal.dot(f.outline.front()) - 1.5 + 0.01);
    }
    EXPECT_EQ(
        geometry::calcEroded(geometry::makeHull({{0, 0, 0}, {9, 0, 0}, {0, 9, 0}, {9, 9, 0}, {0, 0, 1}, {9, 9, 1}}), 2)
            .hull->corners.size(),
        1u);
}

TEST(Hull, OutsideIsTheDistanceFromTheNearestFaceAhead) {
    const Solid box = geometry::makeHull(
        {{0, 0, 0}, {10, 0, 0}, {0, 10, 0}, {10, 10, 0}, {0, 0, 10}, {10, 0, 10}, {0, 10, 10}, {10, 10, 10}});
    EXPECT_EQ(geometry::calcOutside(box, {5, 5, 5}), 0);
    EXPECT_NEAR(geometry::calcOutside(box, {5, 5, 13}), 3, 1e-4);
    EXPECT_NEAR(geometry::calcOutside(box, {13, 14, 5}), 4, 1e-4) << "the farthest face, less than the distance 5";
}

TEST(Pieces, TogetherHoldWhatTheMeshHolds) {
    // Points inside a winding body, by counting how often a ray leaves it, lie in some piece or hardly outside.
    std::vector<Eigen::Vector2d> outline{{0, 0},   {50, 0},  {50, 20}, {40, 20}, {40, 10}, {30, 10},
                                         {30, 30}, {20, 30}, {20, 10}, {10, 10}, {10, 40}, {0, 40}};
    const std::vector<std::array<int, 3>> fill{{0, 1, 4}, {1, 2, 3}, {1, 3, 4}, {0, 4, 5},  {0, 5, 8},
                                               {5, 6, 7}, {5, 7, 8}, {0, 8, 9}, {0, 9, 11}, {9, 10, 11}};
    const auto body = must(geometry::makeMeshBody(extrude(outline, fill, 15)));
    const auto found = must(geometry::calcConvexPieces(body));
    std::mt19937 random(2);
    std::uniform_real_distribution<double> x(0, 50), y(0, 15), z(0, 40);
    int inside = 0, wrongly = 0;
    for (int i = 0; i < 3000; ++i) {
        const Vec3 p(x(random), y(random), z(random));
        bool in = false; // the outline, by crossings
        for (std::size_t k = 0; k < outline.size(); ++k) {
            const auto &a = outline[k], &b = outline[(k + 1) % outline.size()];
            if ((a.y() > p.z()) != (b.y() > p.z()) &&
                p.x() < a.x() + (b.x() - a.x()) * (p.z() - a.y()) / (b.y() - a.y()))
                in = !in;
        }
        double out = 1e300;
        for (const auto& piece : found.pieces) out = std::min(out, geometry::calcOutside(piece, p));
        inside += in ? 1 : 0;
        if (in) {
            EXPECT_LE(out, found.outsideMm + 0.01) << p.transpose();
        }
        wrongly += !in && out == 0 ? 1 : 0;
    }
    EXPECT_GT(inside, 500);
    EXPECT_LE(wrongly, 0.04 * inside) << "little is filled that was hollow";
    EXPECT_GE(sumOf(found.pieces), body.volume * 0.999);
}

TEST(Pieces, FewAreAsFewAsAskedAndStoppingStops) {
    const auto body = must(geometry::makeMeshBody(angle()));
    EXPECT_EQ(must(geometry::calcConvexPieces(body, 1)).pieces.size(), 1u);
    EXPECT_GT(must(geometry::calcConvexPieces(body, 1)).excessShare, 0.1);
    base::Progress progress;
    progress.stop();
    EXPECT_EQ(geometry::calcConvexPieces(body, 24, 0.03, &progress).error().code, "mesh.stopped");
}
