// SPDX-License-Identifier: GPL-3.0-or-later
// Where sections go: joint frames by hand, the inverse, limits, and collisions between sections.
#include "core/pose/kinematics.h"

#include <cmath>
#include <random>

#include "core/base/units.h"
#include "core/pose/collide.h"
#include "tests/support/figures.h"
#include "tests/support/near.h"

using namespace ivrant;
using geometry::Vec3;
using test::Figure;
using test::kRounding;

namespace {

struct Hinge : Figure {
    model::JointId joint;
    explicit Hinge(double degrees) {
        const auto fork = put(0, "stepped hinge small fork at 0 0 0");
        const auto tongue = put(1, "stepped hinge small tongue at 0 0 0");
        joint = join("stepped hinge small", fork, "finger", tongue, "finger", {degrees});
    }
};

struct Ball : Figure {
    explicit Ball(const std::vector<double>& value) {
        const auto ball = put(0, "ball plate small 1x2 at 0 0 0");
        const auto cup = put(1, "cup plate small 1x2 at 0 0 0");
        join("small ball and cup", ball, "ball", cup, "cup", value);
    }
};

const parts::JointKind& kind(const char* name) { return *parts::findJointKind(name); }

} // namespace

TEST(Kinematics, AtZeroBothHalvesLieInLine) {
    // Axes at (0, 16, 3.2) in the fork and (0, −8, 3.2) in the tongue: the tongue's origin comes to (0, 24, 0),
    // unturned.
    const Hinge h(0);
    const auto placed = h.placed();
    EXPECT_LT((placed.X_WS[1].translation() - Vec3(0, 24, 0)).norm(), kRounding);
    EXPECT_LT((placed.X_WS[1].linear() - geometry::Mat3::Identity()).norm(), kRounding);
}

TEST(Kinematics, PositiveTurnsAreRightHandedAboutTheFromPortsAxis) {
    // The fork's axis is +x: 90° turn y to z. The tongue's cell (0, 0) is 8 mm beyond the axis and 3.2 below it:
    // (8, −3.2) in (y, z) from the axis goes to (3.2, 8).
    const Hinge h(90);
    const Vec3 origin = h.placed().X_WS[1].translation();
    EXPECT_LT((origin - Vec3(0, 16 + 3.2, 3.2 + 8)).norm(), 1e-9) << origin.transpose();
}

TEST(Kinematics, TheAxisStaysWhereItIs) {
    for (double degrees : {-67.5, -22.5, 45.0, 90.0}) {
        const Hinge h(degrees);
        const Vec3 axis = h.placed().X_WS[1] * Vec3(0, -8, 3.2);
        EXPECT_LT((axis - Vec3(0, 16, 3.2)).norm(), 1e-9) << degrees;
    }
}

TEST(Kinematics, ATurntableTurnsAboutItsMiddle) {
    Figure f;
    const auto lower = f.put(0, "small turntable lower at 0 0 0");
    const auto upper = f.put(1, "small turntable upper at 0 0 0");
    f.join("small turntable", lower, "lower", upper, "upper", {90});
    // Middle (4, 4); +90° about +z takes the origin (−4, −4) from the middle to (4, −4).
    EXPECT_LT((f.placed().X_WS[1].translation() - Vec3(8, 0, 3.2)).norm(), 1e-9);
}

TEST(Kinematics, AClipSlidesAlongTheBar) {
    Figure f;
    const auto bar = f.put(0, "bar plate 1x2 at 0 0 0");
    const auto clip = f.put(1, "clip plate 1x2 at 0 0 0");
    f.join("clip on bar", bar, "bar", clip, "clip", {0, 1.5});
    const Vec3 slid = f.placed().X_WS[1].translation();
    f.project = test::must(model::setJointValue(f.project, f.project.joints[0].id, {0, 0}));
    const Vec3 from = f.placed().X_WS[1].translation();
    EXPECT_NEAR((slid - from).norm(), 1.5, kRounding);
    EXPECT_NEAR(std::abs((slid - from).x()), 1.5, kRounding) << "bars of plates lie along x";
}

TEST(Kinematics, BallsFollowTheFormula) {
    // R = exp(s1·b + s2·(a × b)) · exp(t·a) with a = +y, b = +z, a × b = +x of the ball plate: s2 = 30° lifts about x.
    const Ball tilted({0, 30, 0});
    const geometry::Mat3 expected = Eigen::AngleAxisd(base::degToRad(30), Vec3::UnitX()).toRotationMatrix();
    EXPECT_LT((tilted.placed().X_WS[1].linear() - expected).norm(), 1e-9);
    const Ball twisted({0, 0, 40});
    EXPECT_LT(
        (twisted.placed().X_WS[1].linear() - Eigen::AngleAxisd(base::degToRad(40), Vec3::UnitY()).toRotationMatrix())
            .norm(),
        1e-9);
    const Ball both({20, -15, 0});
    const Vec3 vector = base::degToRad(1) * (20 * Vec3::UnitZ() - 15 * Vec3::UnitX());
    EXPECT_LT((both.placed().X_WS[1].linear() - geometry::expMap(vector)).norm(), 1e-9);
}

TEST(Kinematics, ValuesFromAPoseAreItsInverse) {
    std::mt19937 random(5);
    std::uniform_real_distribution<double> angle(-30, 30);
    for (int i = 0; i < 50; ++i) {
        const std::vector<double> value{angle(random), angle(random), 4 * angle(random)};
        const Ball b(value);
        const auto placed = b.placed();
        const auto back = pose::calcValues(b.project, b.tree(), 0, placed.X_WS[0].inverse() * placed.X_WS[1]);
        for (std::size_t k = 0; k < 3; ++k) EXPECT_NEAR(back[k], value[k], 1e-7) << i;
    }
    const Hinge h(67.5);
    const auto placed = h.placed();
    EXPECT_NEAR(pose::calcValues(h.project, h.tree(), 0, placed.X_WS[0].inverse() * placed.X_WS[1])[0], 67.5, 1e-9);
}

TEST(Kinematics, AChainAddsItsAngles) {
    Figure f;
    auto carrier = f.put(0, "stepped hinge small fork at 0 0 0");
    for (std::size_t s = 1; s <= 3; ++s) {
        const auto tongue = f.put(s, "stepped hinge small tongue at 0 0 0");
        f.join("stepped hinge small", carrier, "finger", tongue, "finger", {22.5});
        carrier = f.put(s, "stepped hinge small fork at 0 0 1");
    }
    const geometry::Mat3 expected = Eigen::AngleAxisd(base::degToRad(67.5), Vec3::UnitX()).toRotationMatrix();
    EXPECT_LT((f.placed().X_WS[3].linear() - expected).norm(), 1e-9);
}

TEST(Kinematics, PosesReplaceOnlyTheJointsTheyName) {
    Hinge h(22.5);
    model::NamedPose pose;
    EXPECT_EQ(pose::getValues(h.project, &pose)[0][0], 22.5);
    pose.values[h.joint] = {45};
    EXPECT_EQ(pose::getValues(h.project, &pose)[0][0], 45);
    EXPECT_EQ(pose::getValues(h.project, nullptr)[0][0], 22.5);
}

TEST(Kinematics, ExcessAndStepsByHand) {
    EXPECT_EQ(pose::calcOwnExcess(kind("stepped hinge small"), {90}), 0);
    EXPECT_EQ(pose::calcOwnExcess(kind("stepped hinge small"), {-100}), 10);
    EXPECT_EQ(pose::calcOwnExcess(kind("smooth pin"), {1000}), 0) << "endless";
    EXPECT_NEAR(pose::calcOwnExcess(kind("small ball and cup"), {36, 27, 500}), 0, kRounding) << "√(36² + 27²) = 45";
    EXPECT_NEAR(pose::calcOwnExcess(kind("small ball and cup"), {40, 30, 0}), 5, kRounding);
    EXPECT_NEAR(pose::calcOwnExcess(kind("clip on bar"), {200, 2.0}), 0.4, kRounding);
    EXPECT_NEAR(pose::calcStepOffset(kind("stepped hinge large"), {50}), 5, kRounding) << "45 is nearest";
    EXPECT_EQ(pose::calcStepOffset(kind("small turntable"), {50}), 0);
}

TEST(Kinematics, NearestValuesAreLegalAndNear) {
    EXPECT_EQ(pose::calcNearestValue(kind("stepped hinge small"), {100})[0], 90);
    EXPECT_EQ(pose::calcNearestValue(kind("stepped hinge small"), {-30})[0], -22.5);
    const auto ball = pose::calcNearestValue(kind("small ball and cup"), {40, 30, 7});
    EXPECT_NEAR(std::hypot(ball[0], ball[1]), 45, kRounding);
    EXPECT_NEAR(ball[0] / ball[1], 4.0 / 3, kRounding) << "the direction is kept";
    EXPECT_EQ(ball[2], 7);
    EXPECT_EQ(pose::calcNearestValue(kind("clip on bar"), {15, -9})[1], -1.6);
}

TEST(Collide, FindsEachPairOfDifferentSectionsOnce) {
    // Two roots: a brick of the second is half in the first's, 8 mm along x; bodies are 0.1 narrower on each side: 7.8
    // mm deep along x, 9.6 along z, 15.8 along y: the least is the depth.
    Figure f;
    f.put(0, "tile 2x2 at 0 0 0");
    f.put(0, "tile 2x2 at 0 0 1");
    f.put(1, "tile 2x2 at 1 0 0");
    const auto bodies = pose::makeBodies(f.project, f.tree(), bonds::calcBonds(f.project));
    const auto found = pose::calcCollisions(f.placed(), bodies);
    ASSERT_EQ(found.size(), 1U);
    EXPECT_EQ(found[0].a, (model::PartSpot{0, 0}));
    EXPECT_EQ(found[0].b, (model::PartSpot{1, 0}));
    EXPECT_NEAR(found[0].depthMm, 3.2, 0.002) << "a tile is 3.2 high: out upwards or downwards is shortest";
}

TEST(Collide, TouchingAndNestedStudsAreNoCollision) {
    Figure f;
    f.put(0, "plate 2x2 at 0 0 0");
    f.put(1, "tile 2x2 at 2 0 0"); // side by side
    const auto bodies = pose::makeBodies(f.project, f.tree(), bonds::calcBonds(f.project));
    EXPECT_TRUE(pose::calcCollisions(f.placed(), bodies).empty());
    const Hinge hinge(0);
    const auto own = pose::makeBodies(hinge.project, hinge.tree(), bonds::calcBonds(hinge.project));
    EXPECT_TRUE(pose::calcCollisions(hinge.placed(), own).empty()) << "fingers sit in each other by nature";
}

TEST(Collide, StopsAtTheMostWanted) {
    Figure f;
    for (int i = 0; i < 6; ++i) {
        f.put(0, "tile 1x1 at " + std::to_string(2 * i) + " 0 0");
        f.put(1, "tile 1x1 at " + std::to_string(2 * i) + " 0 0");
    }
    const auto bodies = pose::makeBodies(f.project, f.tree(), bonds::calcBonds(f.project));
    EXPECT_EQ(pose::calcCollisions(f.placed(), bodies).size(), 6U);
    EXPECT_EQ(pose::calcCollisions(f.placed(), bodies, 2).size(), 2U);
}

namespace {

struct Universal : Figure {
    explicit Universal(const std::vector<double>& value) {
        const auto fork = put(0, "universal joint fork at 0 0 0"), cross = put(1, "universal joint cross at 0 0 0");
        join("universal joint", fork, "fork", cross, "fork", value, {{-30, 30}, {-30, 30}});
    }
};

} // namespace

TEST(UniversalJoint, TheForkTurnsAboutItsOwnAxisThenTheCrossAboutTheTiltedOne) {
    // The fork's axis a is +x, its pin b +y, c = a × b +z. s1 = 20° about y, then s2 = 15° about the pin that went with
    // it.
    const Universal u({20, 15});
    const double s1 = base::degToRad(20), s2 = base::degToRad(15);
    const geometry::Mat3 wanted =
        (Eigen::AngleAxisd(s1, Vec3::UnitY()) * Eigen::AngleAxisd(s2, Vec3::UnitZ())).toRotationMatrix();
    EXPECT_LT((u.placed().X_WS[1].linear() - wanted).norm(), 1e-9);
    const double between = base::radToDeg(std::acos(wanted(0, 0))); // of the shafts, both along x
    EXPECT_NEAR(pose::calcTilt(kind("universal joint"), {20, 15}), between, 1e-9);
    EXPECT_NEAR(between, base::radToDeg(std::acos(std::cos(s1) * std::cos(s2))), 1e-9);
}

TEST(UniversalJoint, LimitIsTheAngleBetweenTheShafts) {
    // cos 35° / cos 20° = 0.8717: 29.34° are left to the other axis.
    EXPECT_NEAR(pose::calcOwnRange(kind("universal joint"), {0, 20}, 0)->high, 29.34, 0.01);
    EXPECT_EQ(pose::calcOwnExcess(kind("universal joint"), {29.3, 20}), 0);
    EXPECT_GT(pose::calcOwnExcess(kind("universal joint"), {29.5, 20}), 0.05);
    const auto nearest = pose::calcNearestValue(kind("universal joint"), {40, 30});
    EXPECT_LE(pose::calcTilt(kind("universal joint"), nearest), 35 + 1e-9);
    EXPECT_NEAR(nearest[1] / nearest[0], 0.75, 1e-9);
}

TEST(UniversalJoint, ValuesComeBackFromTheMotion) {
    std::mt19937 random(3);
    std::uniform_real_distribution<double> tilt(-24, 24);
    for (int i = 0; i < 50; ++i) {
        const std::vector<double> value{tilt(random), tilt(random)};
        const auto back =
            pose::calcMotionValues(kind("universal joint"), pose::calcMotion(kind("universal joint"), value));
        EXPECT_NEAR(back[0], value[0], 1e-9);
        EXPECT_NEAR(back[1], value[1], 1e-9);
    }
}

TEST(UniversalJoint, ABarePairReachesItsLimitEveryWayWithoutMeeting) {
    for (double s1 : {0.0, 15.0, -25.0}) {
        const Universal u({s1, 0});
        for (const int freedom : {0, 1}) {
            const auto range = u.range(0, freedom);
            EXPECT_EQ(range.low.by, pose::StopBy::Own) << s1 << " " << freedom;
            EXPECT_EQ(range.high.by, pose::StopBy::Own) << s1 << " " << freedom;
        }
    }
}

TEST(UniversalJoint, HoldsNoBend) {
    const Universal u({10, 0});
    EXPECT_EQ(u.load().have.value, 0);
    EXPECT_GT(u.load().needNmm, 0);
    EXPECT_EQ(u.load().margin.value(), 0);
}
