// SPDX-License-Identifier: GPL-3.0-or-later
// Distances and depths of solids against another library, against sampling, and their invariances.
#include "core/geometry/gap.h"

#include <random>

#include "core/base/units.h"
#include "tests/support/fcl_solids.h"
#include "tests/support/near.h"

using namespace ivrant;
using geometry::Frame;
using geometry::Mat3;
using geometry::PlacedSolid;
using geometry::Solid;
using geometry::Vec3;

namespace {

struct Random {
    std::mt19937 engine{42};
    double in(double low, double high) { return std::uniform_real_distribution<double>(low, high)(engine); }
    Vec3 point(double size) { return {in(-size, size), in(-size, size), in(-size, size)}; }
    Frame pose(double size) { return geometry::makeFrame(geometry::expMap(point(3)), point(size)); }
    Solid solid() {
        switch (static_cast<int>(in(0, 4))) {
        case 0: return geometry::makeBox(Vec3::Zero(), Vec3(in(1, 12), in(1, 12), in(1, 12)));
        case 1: return geometry::makeCylinder(Vec3::Zero(), Vec3(0, 0, in(1, 15)), in(0.5, 6));
        case 2: return geometry::makeSphere(Vec3::Zero(), in(0.5, 6));
        default:
            return geometry::makePrism(Frame::Identity(), {{0, 0}, {in(4, 12), 0}, {in(0, 4), in(3, 9)}}, in(1, 6));
        }
    }
};

/// A solid placed by its own frame, with what its place points to.
struct Placed {
    Solid solid, eroded;
    Frame X;
    Placed(const Solid& s, const Frame& X_WP)
        : solid(s), eroded(geometry::calcEroded(s, geometry::kContactToleranceMm)), X(X_WP * s.X_PS) {}
    [[nodiscard]] PlacedSolid at() const { return {&solid, &eroded, X.linear(), X.translation()}; }
    [[nodiscard]] Vec3 support(const Vec3& d) const {
        return X * geometry::findSupport(solid, X.linear().transpose() * d);
    }
};

} // namespace

TEST(GapOracle, DistancesAgreeWithFcl) {
    Random random;
    int apart = 0;
    for (int i = 0; i < 400; ++i) {
        const Placed a(random.solid(), random.pose(4)), b(random.solid(), random.pose(22));
        fcl::DistanceRequestd request;
        request.gjk_solver_type = fcl::GST_LIBCCD;
        fcl::DistanceResultd result;
        const double other =
            fcl::distance(test::toFcl(a.solid).get(), a.X, test::toFcl(b.solid).get(), b.X, request, result);
        const double own = geometry::calcDistance(a.at(), b.at());
        if (other > 0.01) {
            EXPECT_NEAR(own, other, 2e-3)
                << i; // the other library stops at about 1e-6 relative on v², less on round pairs
            ++apart;
        } else {
            EXPECT_LT(own, 0.02) << i;
        }
    }
    EXPECT_GT(apart, 200);
}

TEST(GapOracle, TheNormalSeparatesByTheGap) {
    // Along the normal every point of b is at least the gap further than every point of a.
    Random random;
    for (int i = 0; i < 400; ++i) {
        const Placed a(random.solid(), random.pose(4)), b(random.solid(), random.pose(22));
        const auto gap = geometry::calcGap(a.at(), b.at());
        if (gap.distance <= 0) continue;
        EXPECT_NEAR(gap.normal.norm(), 1, 1e-9);
        const double between = gap.normal.dot(b.support(-gap.normal)) - gap.normal.dot(a.support(gap.normal));
        EXPECT_GE(between, gap.distance - 1e-5) << i;
    }
}

TEST(GapOracle, SwappingTheTwoChangesNothing) {
    Random random;
    for (int i = 0; i < 200; ++i) {
        const Placed a(random.solid(), random.pose(4)), b(random.solid(), random.pose(14));
        EXPECT_NEAR(geometry::calcDistance(a.at(), b.at()), geometry::calcDistance(b.at(), a.at()), 1e-5) << i;
    }
}

TEST(GapOracle, MovingBothTogetherChangesNothing) {
    Random random;
    for (int i = 0; i < 200; ++i) {
        const Solid s = random.solid(), t = random.solid();
        const Frame X = random.pose(4), Y = random.pose(14), move = random.pose(300);
        EXPECT_NEAR(geometry::calcDistance(Placed(s, X).at(), Placed(t, Y).at()),
                    geometry::calcDistance(Placed(s, move * X).at(), Placed(t, move * Y).at()), 1e-5)
            << i;
    }
}

TEST(GapOracle, MovingApartAlongTheNormalAddsToTheDistance) {
    Random random;
    for (int i = 0; i < 200; ++i) {
        const Placed a(random.solid(), random.pose(4));
        Placed b(random.solid(), random.pose(20));
        const auto gap = geometry::calcGap(a.at(), b.at());
        if (gap.distance <= 0.1) continue;
        b.X.translation() += 5 * gap.normal;
        EXPECT_GE(geometry::calcDistance(a.at(), b.at()), gap.distance + 5 - 1e-5) << i;
    }
}

TEST(GapOracle, DepthIsWhatSeparates) {
    // Eroding one solid by a hair more than the depth sets the two apart; by a hair less does not.
    Random random;
    int deep = 0;
    for (int i = 0; i < 200; ++i) {
        const Placed a(random.solid(), random.pose(2)), b(random.solid(), random.pose(6));
        if (a.solid.kind == geometry::SolidKind::Box && b.solid.kind == geometry::SolidKind::Box)
            continue; // exact by axes, tested by hand
        const double depth = geometry::calcDepth(a.at(), b.at());
        const Solid middle =
            geometry::calcEroded(a.solid, 100); // nothing but its middle: if that is inside, no erosion helps
        const PlacedSolid core{&middle, &middle, a.X.linear(), a.X.translation()};
        if (depth < 0.05 || geometry::calcDistance(core, b.at()) <= 0) continue;
        const Solid more = geometry::calcEroded(a.solid, depth + 0.01),
                    less = geometry::calcEroded(a.solid, depth - 0.01);
        const PlacedSolid smaller{&more, &more, a.X.linear(), a.X.translation()},
            larger{&less, &less, a.X.linear(), a.X.translation()};
        EXPECT_GT(geometry::calcDistance(smaller, b.at()), 0) << i;
        EXPECT_LT(geometry::calcDistance(larger, b.at()), 1e-6) << i;
        ++deep;
    }
    EXPECT_GT(deep, 20);
}

TEST(GapOracle, SupportPointsAreOfTheSolidAndFarthest) {
    Random random;
    for (int i = 0; i < 200; ++i) {
        const Solid s = random.solid();
        const Vec3 d = random.point(1);
        const Vec3 p = geometry::findSupport(s, d);
        EXPECT_LE(p.norm(), s.reach + 1e-9);
        for (int k = 0; k < 20; ++k) EXPECT_LE(d.dot(geometry::findSupport(s, random.point(1))), d.dot(p) + 1e-9);
        const auto bounds = geometry::calcBounds(s, Frame::Identity());
        EXPECT_TRUE(((s.X_PS * p).array() <= bounds.high.array() + 1e-9).all() &&
                    ((s.X_PS * p).array() >= bounds.low.array() - 1e-9).all());
    }
}
