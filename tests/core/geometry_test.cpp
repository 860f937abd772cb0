// SPDX-License-Identifier: GPL-3.0-or-later
#include <cmath>
#include <random>

#include "core/base/units.h"
#include "core/geometry/gap.h"
#include "core/geometry/hull.h"
#include "core/geometry/mesh.h"
#include "tests/support/near.h"

using namespace ivrant::geometry;
using ivrant::base::kPi;

namespace {

struct Held {
    Solid solid, eroded;
    Frame X;
    Held(Solid s, const Frame& x) : solid(std::move(s)), eroded(calcEroded(solid, kContactToleranceMm)), X(x) {}
    [[nodiscard]] PlacedSolid placed() const {
        const Frame x = X * solid.X_PS;
        return {&solid, &eroded, x.linear(), x.translation()};
    }
};

Frame at(double x, double y, double z) { return makeFrame(Mat3::Identity(), Vec3(x, y, z)); }

} // namespace

TEST(Frames, TheTwentyFourTurnsAreAllDifferentRotations) {
    for (int a = 0; a < 24; ++a) {
        EXPECT_NEAR(getTurn(a).determinant(), 1, 1e-12);
        EXPECT_EQ(findTurn(getTurn(a)), a);
    }
}

TEST(Frames, UpAxisFollowsTheTable) {
    // turn = 4u + r; u: +z, −z, +x, −x, +y, −y.
    const Vec3 wanted[] = {Vec3::UnitZ(), -Vec3::UnitZ(), Vec3::UnitX(), -Vec3::UnitX(), Vec3::UnitY(), -Vec3::UnitY()};
    for (int u = 0; u < 6; ++u)
        for (int r = 0; r < 4; ++r) EXPECT_TRUE((getTurn(4 * u + r) * Vec3::UnitZ()).isApprox(wanted[u])) << u << r;
}

TEST(Frames, TurnsFormAGroup) {
    for (int a = 0; a < 24; ++a)
        for (int b = 0; b < 24; ++b) EXPECT_TRUE(getTurn(multiplyTurns(a, b)).isApprox(getTurn(a) * getTurn(b)));
}

TEST(Solids, VolumesMatchTheBook) {
    EXPECT_NEAR(calcVolume(makeBox({0, 0, 0}, {2, 3, 4})), 24, 1e-9);
    EXPECT_NEAR(calcVolume(makeCylinder({0, 0, 0}, {0, 0, 5}, 2)), kPi * 20, 1e-9);
    EXPECT_NEAR(calcVolume(makeSphere({1, 2, 3}, 3)), 36 * kPi, 1e-9);
    EXPECT_NEAR(calcVolume(makePrism(Frame::Identity(), {{0, 0}, {4, 0}, {0, 3}}, 5)), 60, 1e-9); // ½·4·3 × 10
    EXPECT_THROW((void)makeCylinder({0, 0, 0}, {0, 0, 0}, 1), std::invalid_argument);
    EXPECT_THROW((void)makePrism(Frame::Identity(), {{0, 0}, {0, 3}, {4, 0}}, 5), std::invalid_argument); // clockwise
}

TEST(Solids, SupportOfARotatedBoxGivesTightBounds) {
    const Solid box = makeBox({-1, -1, -1}, {1, 1, 1});
    const auto b = calcBounds(box, makeRotationAbout(Vec3::Zero(), Vec3::UnitZ(), kPi / 4));
    EXPECT_NEAR(b.high.x(), std::sqrt(2.0), 1e-12);
    EXPECT_NEAR(b.high.z(), 1, 1e-12);
}

TEST(Solids, RayHitsAtTheSurface) {
    EXPECT_NEAR(calcRayHit(makeSphere({0, 0, 0}, 2), {-10, 0, 0}, {1, 0, 0}), 8, 1e-9);
    EXPECT_NEAR(calcRayHit(makeCylinder({0, 0, -3}, {0, 0, 3}, 2), {0, -10, 0}, {0, 1, 0}), 8, 1e-9);
    EXPECT_NEAR(calcRayHit(makeBox({-1, -1, -1}, {1, 1, 1}), {0, 0, 9}, {0, 0, -1}), 8, 1e-9);
    EXPECT_LT(calcRayHit(makeBox({-1, -1, -1}, {1, 1, 1}), {0, 3, 9}, {0, 0, -1}), 0);
}

TEST(Gap, BoxesFaceToFace) {
    const Held a(makeBox({-1, -1, -1}, {1, 1, 1}), at(0, 0, 0)), b(makeBox({-1, -1, -1}, {1, 1, 1}), at(3, 0.3, 0.2));
    const Gap gap = calcGap(a.placed(), b.placed());
    EXPECT_NEAR(gap.distance, 1, 1e-9);
    EXPECT_TRUE(gap.normal.isApprox(Vec3::UnitX()));
    EXPECT_NEAR(calcDistance(a.placed(), b.placed()), 1, 1e-6);
}

TEST(Gap, DepthOfOverlappingBoxes) {
    const Held a(makeBox({-1, -1, -1}, {1, 1, 1}), at(0, 0, 0)), b(makeBox({-1, -1, -1}, {1, 1, 1}), at(1.7, 0, 0));
    EXPECT_NEAR(calcDepth(a.placed(), b.placed()), 0.3, 1e-9);
}

TEST(Gap, RoundSolidsAreTrulyRound) {
    // Two crossed cylinders of radius 2, axes 5 apart: 5 − 2 − 2 = 1.
    const Held a(makeCylinder({-9, 0, 0}, {9, 0, 0}, 2), at(0, 0, 0)),
        b(makeCylinder({0, -9, 0}, {0, 9, 0}, 2), at(0, 0, 5));
    EXPECT_NEAR(calcGap(a.placed(), b.placed()).distance, 1, 1e-6);
    // A sphere of radius 3 over the corner (1,1,1) of a cube, centre at (4,4,4): 3·√3 − 3.
    const Held cube(makeBox({-1, -1, -1}, {1, 1, 1}), at(0, 0, 0)), ball(makeSphere({0, 0, 0}, 3), at(4, 4, 4));
    EXPECT_NEAR(calcGap(cube.placed(), ball.placed()).distance, 3 * std::sqrt(3.0) - 3, 1e-6);
    EXPECT_NEAR(calcDistance(ball.placed(), cube.placed()), 3 * std::sqrt(3.0) - 3, 1e-6);
}

TEST(Gap, RoundDepthByErosion) {
    const Held a(makeSphere({0, 0, 0}, 2), at(0, 0, 0)), b(makeSphere({0, 0, 0}, 2), at(3.6, 0, 0));
    EXPECT_NEAR(calcDepth(a.placed(), b.placed()), 0.4, 0.002);
    EXPECT_LE(calcToleratedGap(a.placed(), b.placed()).distance, 0);
    const Held c(makeSphere({0, 0, 0}, 2), at(3.97, 0, 0)); // 0.03 deep: within the tolerance
    EXPECT_GT(calcToleratedGap(a.placed(), c.placed()).distance, 0.015);
}

TEST(Gap, SymmetricAndIndependentOfWhereTheTableStands) {
    std::mt19937 random(3);
    std::uniform_real_distribution<double> place(-4, 4), angle(-3, 3);
    for (int i = 0; i < 200; ++i) {
        const auto pose = [&] {
            return Frame(makeFrame(expMap(Vec3(angle(random), angle(random), angle(random))),
                                   Vec3(place(random), place(random), place(random))));
        };
        const Solid shapes[] = {makeBox({-1, -2, -1.5}, {1, 2, 1.5}), makeCylinder({0, 0, -2}, {0, 0, 2}, 1),
                                makePrism(Frame::Identity(), {{-1, -1}, {2, -1}, {-1, 2}}, 1)};
        const Frame move = pose();
        const Held a(shapes[i % 3], pose()), b(shapes[(i / 3) % 3], pose());
        const Held a2(a.solid, move * a.X), b2(b.solid, move * b.X);
        const double d = calcDistance(a.placed(), b.placed());
        EXPECT_NEAR(d, calcDistance(b.placed(), a.placed()), 1e-5);
        EXPECT_NEAR(d, calcDistance(a2.placed(), b2.placed()), 1e-5);
        EXPECT_LE(calcGap(a.placed(), b.placed()).distance, d + 1e-5); // a lower bound
    }
}

TEST(Hull, SquareWithInnerPoints) {
    const auto hull = calcHull2({{0, 0}, {2, 0}, {2, 2}, {0, 2}, {1, 1}, {1, 0}});
    EXPECT_EQ(hull.size(), 4U);
    EXPECT_EQ(calcHull2({{0, 0}, {1, 1}}).size(), 2U);
}

TEST(Hull, BoxHasSixFacesInAnyAttitude) {
    const Frame X = makeFrame(expMap({0.3, -0.7, 1.1}), {5, 6, 7});
    std::vector<Vec3> corners;
    for (int c = 0; c < 8; ++c) corners.push_back(X * Vec3(c & 1 ? 1 : -1, c & 2 ? 2 : -2, c & 4 ? 3 : -3));
    corners.push_back(X * Vec3(0.1, 0.2, 0.3));
    const auto faces = calcHullFaces(corners);
    EXPECT_EQ(faces.size(), 6U);
    for (const auto& f : faces) EXPECT_EQ(f.outline.size(), 4U);
    EXPECT_TRUE(calcHullFaces({{0, 0, 0}, {1, 0, 0}, {0, 1, 0}, {1, 1, 0}}).empty());
}

namespace {

Eigen::Vector2d turned(const Eigen::Vector2d& p, double angle) { return Eigen::Rotation2Dd(angle) * p; }

/// Farthest that a point lies outside a counter-clockwise polygon; negative inside.
double outside(const std::vector<Eigen::Vector2d>& hull, const Eigen::Vector2d& p) {
    double most = -1e9;
    for (std::size_t i = 0; i < hull.size(); ++i) {
        const Eigen::Vector2d edge = (hull[(i + 1) % hull.size()] - hull[i]).normalized(), to = p - hull[i];
        most = std::max(most, edge.y() * to.x() - edge.x() * to.y());
    }
    return most;
}

/// Corners by brute force: a point is one when some line through it has all others strictly on one side, by more than
/// rounding.
std::size_t countCorners(const std::vector<Eigen::Vector2d>& points) {
    std::size_t corners = 0;
    for (const auto& p : points) {
        std::vector<double> angles;
        for (const auto& q : points)
            if ((q - p).norm() > 1e-6) angles.push_back(std::atan2(q.y() - p.y(), q.x() - p.x()));
        std::sort(angles.begin(), angles.end());
        double widest = angles.front() + 2 * kPi - angles.back();
        for (std::size_t i = 1; i < angles.size(); ++i) widest = std::max(widest, angles[i] - angles[i - 1]);
        corners += widest > kPi + 1e-6 ? 1 : 0;
    }
    return corners;
}

} // namespace

TEST(Hull, DecksOnFeetAreTheSameInAnyAttitudeAndOrder) {
    // Feet on a grid: many points in line, which any turn moves off the line by rounding alone.
    std::mt19937 random(3);
    for (int round = 0; round < 300; ++round) {
        std::vector<Eigen::Vector2d> feet;
        std::uniform_int_distribution<int> place(0, 12);
        const int count = 2 + static_cast<int>(random() % 6);
        for (int i = 0; i < count; ++i) {
            const Eigen::Vector2d at(8.0 * place(random), 8.0 * place(random));
            for (const auto& corner : {Eigen::Vector2d(-3.9, -3.9), Eigen::Vector2d(3.9, -3.9),
                                       Eigen::Vector2d(3.9, 3.9), Eigen::Vector2d(-3.9, 3.9)})
                feet.push_back(at + corner);
        }
        std::sort(feet.begin(), feet.end(),
                  [](const auto& l, const auto& r) { return std::pair(l.x(), l.y()) < std::pair(r.x(), r.y()); });
        feet.erase(std::unique(feet.begin(), feet.end()), feet.end());
        const std::size_t wanted = countCorners(feet);
        for (int turn = 0; turn < 8; ++turn) {
            const double angle = turn == 0 ? 0 : std::uniform_real_distribution<double>(0, 2 * kPi)(random);
            std::vector<Eigen::Vector2d> points;
            for (const auto& p : feet) points.push_back(turned(p + Eigen::Vector2d(turn * 1000.1, 0), angle));
            std::shuffle(points.begin(), points.end(), random);
            const auto hull = calcHull2(points);
            ASSERT_EQ(hull.size(), wanted) << "round " << round << " turn " << turn;
            for (const auto& p : points) ASSERT_LE(outside(hull, p), 2e-5);
            for (const auto& corner : hull)
                ASSERT_NE(std::find(points.begin(), points.end(), corner), points.end())
                    << "corners are points of the input";
            double area = 0;
            for (std::size_t i = 0; i < hull.size(); ++i)
                area +=
                    (hull[i].x() * hull[(i + 1) % hull.size()].y() - hull[(i + 1) % hull.size()].x() * hull[i].y()) / 2;
            ASSERT_GT(area, 0) << "counter-clockwise";
        }
    }
}

TEST(Hull, PointsInLineUpToRoundingKeepTheTrueCorners) {
    // x falls back by a last bit along an edge, which sorts its end before its beginning.
    const double e = 4e-15;
    const auto hull = calcHull2({{0, 0}, {-e, 8}, {e, 16}, {0, 24}, {30, 24}, {30 + 2 * e, 12}, {30, 0}, {15, -e}});
    ASSERT_EQ(hull.size(), 4U);
    EXPECT_EQ(calcHull2({{0, 0}, {1e-12, 5}, {0, 10}, {-1e-12, 7}}).size(), 2U);
    EXPECT_TRUE(calcHull2({}).empty());
    EXPECT_EQ(calcHull2({{3, 4}, {3, 4}, {3 + 1e-9, 4}}).size(), 1U);
}

TEST(Hull, GridsOfPointsInSpaceHaveTheFacesOfTheirBox) {
    // A studded plate in small: thousands of points in few planes, in any attitude.
    std::mt19937 random(5);
    std::vector<Vec3> points;
    for (int i = 0; i < 40; ++i)
        for (int j = 0; j < 30; ++j)
            for (const double z : {0.0, 3.2, 4.9}) points.emplace_back(8.0 * i, 8.0 * j, z);
    for (int turn = 0; turn < 20; ++turn) {
        const Frame X = turn == 0 ? Frame::Identity() : makeFrame(expMap(Vec3::Random() * 3), {100, -50, 7});
        std::vector<Vec3> moved;
        for (const auto& p : points) moved.push_back(X * p);
        std::shuffle(moved.begin(), moved.end(), random);
        const auto faces = calcHullFaces(moved);
        ASSERT_EQ(faces.size(), 6U) << turn;
        double volume = 0;
        for (const auto& f : faces) {
            EXPECT_EQ(f.outline.size(), 4U);
            for (const auto& p : moved) ASSERT_LE(f.normal.dot(p - f.outline[0]), 1e-6);
            for (std::size_t i = 2; i < f.outline.size(); ++i)
                volume += (f.outline[0] - X.translation())
                              .dot((f.outline[i - 1] - X.translation()).cross(f.outline[i] - X.translation())) /
                          6;
        }
        EXPECT_NEAR(volume, 312 * 232 * 4.9, 1e-3);
    }
    EXPECT_EQ(dropInnerOfLines(points).size(), 8U) << "all but the corners lie between others";
}

TEST(Hull, OfRandomPointsContainsThemAndHasTheirSupport) {
    // Second way: in any direction the hull reaches as far as the farthest point.
    std::mt19937 random(9);
    std::normal_distribution<double> spread(0, 20);
    for (int round = 0; round < 20; ++round) {
        std::vector<Vec3> points;
        for (int i = 0; i < 200; ++i) points.emplace_back(spread(random), spread(random), spread(random));
        const auto faces = calcHullFaces(points);
        for (int k = 0; k < 50; ++k) {
            const Vec3 d = Vec3(spread(random), spread(random), spread(random)).normalized();
            double far = -1e9, reach = -1e9;
            for (const auto& p : points) far = std::max(far, d.dot(p));
            for (const auto& f : faces)
                for (const auto& p : f.outline) reach = std::max(reach, d.dot(p));
            EXPECT_NEAR(reach, far, 0.011); // faces within 0.01 mm are joined
        }
    }
}

TEST(Mesh, ClosedSolidsHaveTheVolumeOfTheirTriangles) {
    // Divergence theorem: V = Σ a·(b×c)/6 over outward triangles.
    const auto volume = [](const Solid& s, int sides) {
        double v = 0;
        for (const auto& t : makeTriangles(makeFaces(s, sides))) v += t[0].dot(t[1].cross(t[2])) / 6;
        return v;
    };
    EXPECT_NEAR(volume(makeBox({1, 2, 3}, {2, 4, 6}), 8), 6, 1e-9);
    EXPECT_NEAR(volume(makePrism(at(1, 2, 3), {{0, 0}, {4, 0}, {0, 3}}, 5), 8), 60, 1e-9);
    // A regular n-gon of radius r has area ½ n r² sin(2π/n).
    EXPECT_NEAR(volume(makeCylinder({0, 0, 0}, {0, 0, 5}, 2), 24), 5 * 0.5 * 24 * 4 * std::sin(2 * kPi / 24), 1e-9);
    EXPECT_NEAR(volume(makeSphere({0, 0, 0}, 3), 64), 36 * kPi, 1.2); // faceted from inside: 1 % of 113
}

TEST(Hull, OfManyPointsHasAllToTheLeftAndOnlyCorners) {
    // Enough points that inner ones are left out first; on a coarse grid, so that many lie on edges and twice in one
    // place.
    std::mt19937 random(7);
    for (int round = 0; round < 100; ++round) {
        std::uniform_int_distribution<int> place(0, 6 + round % 20);
        std::vector<Eigen::Vector2d> points;
        for (int i = 0; i < 200; ++i) points.emplace_back(4.0 * place(random), 3.2 * place(random));
        const auto hull = calcHull2(points);
        ASSERT_GE(hull.size(), 3U);
        const auto cross = [](const Eigen::Vector2d& a, const Eigen::Vector2d& b, const Eigen::Vector2d& p) {
            return (b - a).x() * (p - a).y() - (b - a).y() * (p - a).x();
        };
        for (std::size_t i = 0; i < hull.size(); ++i) {
            const auto &a = hull[i], &b = hull[(i + 1) % hull.size()], &c = hull[(i + 2) % hull.size()];
            EXPECT_GT(cross(a, b, c), 1e-6) << "a corner turns, round " << round;
            for (const auto& p : points) EXPECT_GE(cross(a, b, p), -1e-6) << "round " << round;
        }
    }
}
