// SPDX-License-Identifier: GPL-3.0-or-later
// Holding and tipping against hand arithmetic, and against the energy: the torque a joint must hold is the derivative
// of the potential energy over its angle.
#include "core/pose/hold.h"

#include <cmath>
#include <random>

#include "core/base/units.h"
#include "core/pose/stance.h"
#include "core/stand/ballast.h"
#include "tests/support/figures.h"
#include "tests/support/near.h"

using namespace ivrant;
using test::Figure;
using test::kRounding;

namespace {

/// Parts weighed so that the arithmetic is by hand: the tongue is nearly nothing, the block 10 g.
struct Arm : Figure {
    model::PartId fork, tongue, block;
    explicit Arm(const std::string& blockText = "brick 2x2 at 0 4 0") {
        fork = put(0, "stepped hinge small fork at 0 0 0");
        tongue = put(1, "stepped hinge small tongue at 0 0 0");
        block = put(1, blockText);
        project = test::must(model::weighParts(project, std::array{tongue}, 1e-6));
        project = test::must(model::weighParts(project, std::array{block}, 10));
    }
};

double needAt(const Figure& f, int joint = 0) { return f.load(joint).needNmm; }

} // namespace

TEST(Hold, HorizontalArmByHand) {
    // Block of cells y = 32, 40 in the tongue's frame: centre of mass at y = 36 (studs are symmetrical), the axis at
    // −8: arm 44 mm. 10 g · 9.80665 = 0.0980665 N; × 44 = 4.3149 N·mm.
    Arm a;
    a.join("stepped hinge small", a.fork, "finger", a.tongue, "finger");
    EXPECT_NEAR(needAt(a), 0.0980665 * 44, 1e-6);
    const auto load = a.load();
    EXPECT_NEAR(load.have.value, 30 * 0.6, kRounding); // starting value × 0.6
    EXPECT_NEAR(*load.margin, 18 / (0.0980665 * 44), 1e-5);
    EXPECT_NEAR(load.pullN, 0, 1e-9); // pulls across the exit direction only when it hangs
}

TEST(Hold, HangingArmPullsInsteadOfTurning) {
    // At −90° the block hangs below the axis, 1 studded-brick centre of mass height off the line: lever = height of its
    // centre above the axis level, z_c − 3.2.
    Arm a;
    a.join("stepped hinge small", a.fork, "finger", a.tongue, "finger", {-90});
    const double lever = test::must(parts::makeShape("brick 2x2"))->centre.z() - 3.2;
    const auto load = a.load();
    EXPECT_NEAR(load.needNmm, 0.0980665 * std::abs(lever), 1e-6);
}

TEST(Hold, EnergyRouteGivesTheSameTorque) {
    std::mt19937 random(11);
    std::uniform_real_distribution<double> angle(-80, 80);
    for (int i = 0; i < 20; ++i) {
        Arm a;
        const auto pin = a.put(1, "pin smooth at 3 2 0");
        (void)pin;
        const double theta = angle(random);
        const auto id = a.join("stepped hinge small", a.fork, "finger", a.tongue, "finger", {theta});
        const double h = 1e-3;
        const auto energyAt = [&](double degrees) {
            Figure moved = a;
            moved.project = test::must(model::setJointValue(a.project, id, {degrees}));
            return pose::calcPotentialEnergy(moved.placed());
        };
        const double derivative = (energyAt(theta + h) - energyAt(theta - h)) / (2 * base::degToRad(h));
        EXPECT_NEAR(needAt(a), std::abs(derivative), 1e-5) << theta; // central difference, error ~ h²
    }
}

TEST(Hold, BallNeedsTheWholeTorque) {
    // Mass at (x, y) off a ball: |τ| = m·g·√(x² + y²), whatever the axes.
    Figure f;
    const auto ball = f.put(0, "ball plate small 1x2 at 0 0 0");
    const auto cup = f.put(1, "cup plate small 1x2 at 0 0 0");
    const auto block = f.put(1, "brick 2x2 at 2 3 0");
    f.project = test::must(model::weighParts(f.project, std::array{cup}, 1e-6));
    f.project = test::must(model::weighParts(f.project, std::array{block}, 20));
    f.join("small ball and cup", ball, "ball", cup, "cup");
    // Block centre (20, 28), joint centre (0, −8): (20, 36).
    EXPECT_NEAR(needAt(f), 0.196133 * std::hypot(20.0, 36.0), 1e-5);
}

TEST(Hold, WeightOnAnUprightSwivelNeedsNothing) {
    Figure f;
    const auto base = f.put(0, "plate 2x2 at 0 0 0");
    const auto head = f.put(1, "brick 1x1 at 0 0 0");
    f.join("one-stud swivel", base, "stud 0,0", head, "cell 0,0");
    const auto load = f.load();
    EXPECT_FALSE(load.margin.has_value());
    EXPECT_EQ(load.pullN, 0); // it is pressed on
}

TEST(Hold, UpsideDownSwivelIsPulledByItsWeight) {
    Figure f;
    const auto base = f.put(0, "plate 2x2 at 0 0 0 turn 4"); // u = 1: z down
    const auto head = f.put(1, "brick 1x1 at 0 0 0");
    f.project = test::must(model::weighParts(f.project, std::array{head}, 100));
    f.join("one-stud swivel", base, "stud 0,0", head, "cell 0,0");
    EXPECT_NEAR(f.load().pullN, 0.980665, 1e-6);
}

TEST(Hold, DemandGrowsWithEveryMassInProportion) {
    Arm a;
    a.join("stepped hinge small", a.fork, "finger", a.tongue, "finger", {22.5});
    const double before = needAt(a);
    a.project = test::must(model::weighParts(a.project, std::array{a.block}, 30));
    EXPECT_NEAR(needAt(a), 3 * before, 1e-5);
}

TEST(Tipping, SquareBlockByHand) {
    // Brick 2x2 on the ground: footprint 15.8 mm square (inset), so d = 7.9 in all four directions; the centre of mass
    // is in the middle, at z from 1474.6·… weighed parts keep the shape's centre. tan = 7.9 / z.
    Figure f;
    f.put(0, "brick 2x2 at 0 0 0");
    auto placed = f.placed();
    const auto tip = *stand::calcTipping(placed, pose::listCorners(placed));
    const double z = test::must(parts::makeShape("brick 2x2"))->centre.z();
    EXPECT_NEAR(tip.angleDeg, base::radToDeg(std::atan(7.9 / z)), 1e-9);
    EXPECT_NEAR(stand::calcTipAngleToward(tip, 45), base::radToDeg(std::atan(7.9 * std::sqrt(2.0) / z)), 1e-9);
    EXPECT_EQ(tip.support.size(), 4U);
}

TEST(Tipping, OverhangFallsByItself) {
    Figure f;
    const auto foot = f.put(0, "brick 2x2 at 0 0 0");
    const auto out = f.put(0, "brick 2x4 at 0 1 3");
    f.project = test::must(model::weighParts(f.project, std::array{foot}, 1));
    f.project = test::must(model::weighParts(f.project, std::array{out}, 9));
    // Centres at y = 4 and 20: (4 + 9·20)/10 = 18.4, the edge at 11.9: 6.5 outside, towards +y.
    auto placed = f.placed();
    const auto tip = *stand::calcTipping(placed, pose::listCorners(placed));
    EXPECT_LT(tip.angleDeg, 0);
    EXPECT_NEAR(std::tan(base::degToRad(tip.angleDeg)) * tip.centre.z(), -6.5, 1e-9);
    EXPECT_NEAR(tip.towardDeg, 90, 1e-9);
}

TEST(Tipping, BallastIsTheLeastGramThatIsEnough) {
    Figure f;
    f.put(0, "plate 4x4 at 0 0 0");
    const auto tower = f.put(0, "brick 1x1 at 0 3 1");
    f.project = test::must(model::weighParts(f.project, std::array{tower}, 30));
    auto placed = f.placed();
    const auto tip = *stand::calcTipping(placed, pose::listCorners(placed));
    const double wanted = tip.angleDeg + 10;
    const std::array standings{stand::Standing{placed, tip}};
    const auto proposal = stand::calcBallast(standings, 0, wanted, 1000);
    ASSERT_TRUE(proposal);
    const auto angleWith = [&](double gram) {
        model::Ballast b;
        b.massG = gram;
        b.atUm = model::makePlace(geometry::makeFrame(geometry::Mat3::Identity(), placed.X_WS[0] * proposal->at)).atUm;
        const auto heavier = test::must(model::addBallast(f.project, f.project.sections[0]->id, b));
        model::Placed p{&heavier, placed.X_WS};
        return stand::calcTipping(p, pose::listCorners(p))->angleDeg;
    };
    EXPECT_GE(angleWith(proposal->massG), wanted - 0.01);
    EXPECT_LT(angleWith(proposal->massG - 1), wanted);
}

TEST(Stance, FlatPutsTheSectionUprightOnTheGround) {
    Arm a;
    model::Place tilted;
    tilted.atUm = {1000, 2000, 50000};
    tilted.attitude = Eigen::Quaterniond(Eigen::AngleAxisd(0.5, geometry::Vec3::UnitX()));
    a.project = test::must(model::placeSection(a.project, a.project.sections[0]->id, tilted));
    a.join("stepped hinge small", a.fork, "finger", a.tongue, "finger");
    auto placed = a.placed();
    model::Stance stance;
    stance.kind = model::Stance::Kind::Flat;
    stance.section = a.project.sections[0]->id;
    pose::applyStance(placed, stance);
    EXPECT_TRUE((placed.X_WS[0].linear() * geometry::Vec3::UnitZ()).isApprox(geometry::Vec3::UnitZ()));
    double low = 1e9;
    for (const auto& p : pose::listCorners(placed, 0)) low = std::min(low, p.z());
    EXPECT_NEAR(low, 0, 1e-9);
}

TEST(Stance, SettleChoosesTheStableFaceNearestToTheWish) {
    // A brick 2x6 cannot stand on an edge: wished 50° off its top, it settles on its underside, wished on its end,
    // there.
    Figure f;
    f.put(0, "tile 2x6 at 0 0 0");
    const auto settle = [&](std::array<double, 3> up) {
        auto placed = f.placed();
        model::Stance stance;
        stance.kind = model::Stance::Kind::Settle;
        stance.up = up;
        pose::applyStance(placed, stance);
        return geometry::Vec3(placed.X_WS[0].linear().transpose() * geometry::Vec3::UnitZ());
    };
    EXPECT_TRUE(settle({0, 0.7, 1}).isApprox(geometry::Vec3::UnitZ(), 1e-3));
    EXPECT_TRUE(settle({0, 1, 0.1}).isApprox(geometry::Vec3::UnitY(), 1e-3));
}

TEST(Kinematics, ValuesComeBackFromThePose) {
    std::mt19937 random(5);
    std::uniform_real_distribution<double> v(-40, 40);
    Figure f;
    const auto ball = f.put(0, "ball plate large 1x2 at 0 0 0 turn 9");
    const auto cup = f.put(1, "cup plate large 1x2 at 3 1 2 turn 14");
    const auto id = f.join("large ball and cup", ball, "ball", cup, "cup");
    for (int i = 0; i < 50; ++i) {
        const std::vector<double> value{v(random), v(random), v(random)};
        f.project = test::must(model::setJointValue(f.project, id, value));
        const auto placed = f.placed();
        const auto back = pose::calcValues(f.project, f.tree(), 0, placed.X_WS[0].inverse() * placed.X_WS[1]);
        for (std::size_t k = 0; k < 3; ++k) EXPECT_NEAR(back[k], value[k], 1e-7);
        // The joint's centres stay together.
        const geometry::Vec3 p = (placed.X_WS[0] * pose::calcFromFrame(f.project, f.tree(), 0)).translation();
        EXPECT_TRUE(p.isApprox((placed.X_WS[1] * pose::calcToFrame(f.project, f.tree(), 0)).translation(), 1e-9));
    }
}

TEST(Kinematics, PositiveAnglesTurnRightHandedlyAboutTheFromAxis) {
    Arm a;
    a.join("stepped hinge small", a.fork, "finger", a.tongue, "finger", {90});
    // The fork's axis is +x: a point ahead of the joint (+y) goes up (+z).
    const auto placed = a.placed();
    const geometry::Vec3 tip = placed.X_WS[1] * geometry::Vec3(0, 0, 3.2); // 8 mm ahead of the axis, level with it
    EXPECT_TRUE(tip.isApprox(geometry::Vec3(0, 16, 3.2 + 8), 1e-9)) << tip.transpose();
}

namespace {

/// The same two halves, once carried from the foot and once from the arm.
struct Standing {
    Figure fromFoot, fromArm;
    Standing() {
        for (Figure* f : {&fromFoot, &fromArm}) {
            const std::size_t foot = f == &fromFoot ? 0 : 1, arm = 1 - foot;
            const auto fork = f->put(foot, "stepped hinge small fork at 0 0 0");
            f->put(foot, "plate 6x6 at -2 -4 -1");
            const auto tongue = f->put(arm, "stepped hinge small tongue at 0 0 0");
            f->put(arm, "brick 2x4 at 0 0 1");
            if (f == &fromFoot)
                f->join("stepped hinge small", fork, "finger", tongue, "finger", {22.5});
            else
                f->join("stepped hinge small", tongue, "finger", fork, "finger", {22.5});
        }
    }
    [[nodiscard]] static pose::JointLoad load(const Figure& f, const model::Stance& stance) {
        auto placed = f.placed();
        pose::applyStance(placed, stance);
        return pose::calcJointLoad(placed, f.tree(), 0, trials::calcStrengths(f.project)[0],
                                   pose::calcGroundForces(placed, f.tree(), stance));
    }
};

} // namespace

TEST(Hold, ALegThatStandsCarriesTheBodyAboveIt) {
    const Standing s;
    model::Stance onFoot;
    onFoot.kind = model::Stance::Kind::Flat;
    onFoot.section = s.fromFoot.project.sections[0]->id;
    const auto carried = Standing::load(s.fromFoot, onFoot);
    onFoot.section = s.fromArm.project.sections[1]->id;
    const auto standing = Standing::load(s.fromArm, onFoot);
    EXPECT_FALSE(carried.standsBelow);
    EXPECT_TRUE(standing.standsBelow);
    EXPECT_GT(carried.needNmm, 0.1);
    EXPECT_NEAR(standing.needNmm, carried.needNmm, 1e-9) << "who carries whom in the tree is no matter of statics";
    EXPECT_NEAR(standing.carriedG, carried.carriedG, 1e-9);
    EXPECT_NEAR(standing.pullN, carried.pullN, 1e-9);
}

TEST(Hold, HeldSectionsTakeTheirWholeWeight) {
    const Standing s;
    model::Stance held;
    const auto atRoot = Standing::load(s.fromArm, held);
    held.section = s.fromArm.project.sections[1]->id;
    const auto atFoot = Standing::load(s.fromArm, held);
    EXPECT_FALSE(atRoot.standsBelow);
    EXPECT_TRUE(atFoot.standsBelow);
}

TEST(Hold, SettledFeetShareTheWeightByTheLever) {
    // A beam of two plates joined end to end by a hinge at zero, lying flat: each half lies on the table, the hinge
    // carries nothing where the pressure is even. 100 g on the right half press that one more; whatever the split, the
    // ground's forces balance the weight.
    Figure f;
    const auto fork = f.put(0, "stepped hinge small fork at 0 0 0");
    const auto tongue = f.put(1, "stepped hinge small tongue at 0 0 0");
    const auto weight = f.put(1, "plate 1x2 at 0 0 1");
    f.project = test::must(model::weighParts(f.project, std::array{weight}, 100));
    f.join("stepped hinge small", fork, "finger", tongue, "finger");
    model::Stance settle;
    settle.kind = model::Stance::Kind::Settle;
    auto placed = f.placed();
    pose::applyStance(placed, settle);
    const auto ground = pose::calcGroundForces(placed, f.tree(), settle);
    ASSERT_EQ(ground.grounded, (std::vector<int>{0, 1})) << "both halves lie on the table";
    geometry::Vec3 force = geometry::Vec3::Zero(), moment = geometry::Vec3::Zero();
    for (const auto& w : ground.onSection) {
        EXPECT_GE(w.force.z(), 0) << "the ground never pulls";
        force += w.force;
        moment += w.moment;
    }
    const auto mass = model::calcMass(placed);
    EXPECT_NEAR(force.z(), base::weightN(mass.massG), 1e-9);
    EXPECT_NEAR((moment - mass.centre.cross(geometry::Vec3(0, 0, base::weightN(mass.massG)))).norm(), 0, 1e-6)
        << "balanced about the world origin";
    EXPECT_GT(ground.onSection[1].force.z(), ground.onSection[0].force.z()) << "the loaded half presses more";
}
