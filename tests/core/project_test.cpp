// SPDX-License-Identifier: GPL-3.0-or-later
// The project as a value: places, masses, look-ups, and every rule it keeps.
#include "core/model/project.h"

#include <random>

#include "core/base/units.h"
#include "core/model/mass.h"
#include "core/model/validate.h"
#include "tests/support/figures.h"
#include "tests/support/near.h"

using namespace ivrant;
using geometry::Vec3;
using test::Figure;
using test::must;

TEST(Place, TurnsStayTurnsAndOddAttitudesStayUnit) {
    std::mt19937 random(8);
    std::uniform_real_distribution<double> in(-100, 100);
    for (int turn = 0; turn < 24; ++turn) {
        const auto place =
            model::makePlace(geometry::makeFrame(geometry::getTurn(turn), Vec3(in(random), in(random), in(random))));
        ASSERT_TRUE(place.isTurn());
        EXPECT_EQ(std::get<int>(place.attitude), turn);
    }
    for (int i = 0; i < 50; ++i) {
        const auto pose = geometry::makeFrame(geometry::expMap(Vec3(in(random), in(random), in(random)) / 60),
                                              Vec3(in(random), in(random), in(random)));
        const auto place = model::makePlace(pose);
        EXPECT_NEAR(std::get<Eigen::Quaterniond>(place.attitude).norm(), 1, 1e-12);
        EXPECT_LT((place.frame().linear() - pose.linear()).norm(), 1e-9);
        EXPECT_LT((place.frame().translation() - pose.translation()).cwiseAbs().maxCoeff(), 0.0005 + 1e-9)
            << "to the nearest micrometre";
    }
}

TEST(Mass, CentreOfTwoAndOfBallast) {
    // 10 g at x = 0 and 30 g of ballast at x = 40 mm: the centre is at 30 mm along x.
    Figure f;
    const auto part = f.put(0, "tile 1x1 at 0 0 0");
    f.project = must(model::weighParts(f.project, std::array{part}, 10));
    model::Ballast ballast;
    ballast.massG = 30;
    ballast.atUm = {40000, 0, 1600};
    f.project = must(model::addBallast(f.project, f.project.sections[0]->id, ballast));
    const auto mass = model::calcMass(f.placed());
    EXPECT_DOUBLE_EQ(mass.massG, 40);
    EXPECT_NEAR(mass.centre.x(), 30, 1e-9);
    EXPECT_NEAR(mass.centre.z(), 1.6, 1e-9);
    EXPECT_EQ(model::calcMass(Figure().placed()).massG, 0);
}

TEST(Mass, SectionsAddUpToTheWhole) {
    Figure f;
    for (std::size_t s = 0; s < 4; ++s)
        f.put(s, "brick 2x" + std::to_string(s + 1) + " at " + std::to_string(4 * s) + " 0 0");
    double sum = 0;
    Vec3 moment = Vec3::Zero();
    for (int s = 0; s < 4; ++s) {
        const auto one = model::calcMass(f.placed(), {s});
        sum += one.massG;
        moment += one.massG * one.centre;
    }
    const auto all = model::calcMass(f.placed());
    EXPECT_NEAR(all.massG, sum, 1e-9);
    EXPECT_LT((all.centre - moment / sum).norm(), 1e-9);
}

TEST(Tree, CarriedSectionsFollowTheirCarrier) {
    Figure f;
    auto carrier = f.put(0, "stepped hinge small fork at 0 0 0");
    for (std::size_t s = 1; s <= 3; ++s) {
        const auto tongue = f.put(s, "stepped hinge small tongue at 0 0 0");
        f.join("stepped hinge small", carrier, "finger", tongue, "finger");
        carrier = f.put(s, "stepped hinge small fork at 0 0 1");
    }
    f.put(4, "plate 1x1 at 30 0 0");
    const auto tree = f.tree();
    EXPECT_EQ(tree.carriedBy(0), (std::vector<int>{1, 2, 3}));
    EXPECT_EQ(tree.carriedBy(2), (std::vector<int>{3}));
    EXPECT_EQ(tree.parent(3), 2);
    EXPECT_EQ(tree.parent(0), -1);
    EXPECT_EQ(tree.parent(4), -1);
    EXPECT_EQ(tree.order.size(), 5U);
}

TEST(Index, FindsEveryPartAndNoOther) {
    Figure f;
    std::vector<model::PartId> ids;
    for (int i = 0; i < 20; ++i)
        ids.push_back(f.put(static_cast<std::size_t>(i % 3), "brick 1x1 at " + std::to_string(i) + " 0 0"));
    const model::PartIndex index(f.project);
    for (const auto& id : ids) EXPECT_EQ(model::getPart(f.project, index.find(id)).id, id);
    EXPECT_EQ(index.find(model::PartId{"p999"}).section, -1);
    EXPECT_THROW((void)model::getPart(f.project, {7, 0}), std::out_of_range);
}

TEST(Validate, EveryBrokenRuleHasItsCodeAndPlace) {
    Figure f;
    const auto fork = f.put(0, "stepped hinge small fork at 0 0 0"),
               tongue = f.put(1, "stepped hinge small tongue at 0 0 0");
    f.join("stepped hinge small", fork, "finger", tongue, "finger", {0}, {{0, 45}});
    ASSERT_TRUE(model::validate(f.project));
    const auto broken = [&](auto change) {
        model::Project p = f.project;
        change(p);
        const auto status = model::validate(p);
        return status ? std::string("whole") : status.error().code + " " + status.error().place;
    };
    EXPECT_EQ(broken([](auto& p) { p.joints[0].id.text = "J 1"; }), "id.syntax /joints/0/id");
    EXPECT_EQ(broken([](auto& p) { p.joints[0].id.text = p.sections[0]->id.text; }), "id.twice /joints/0/id");
    EXPECT_EQ(broken([](auto& p) { p.joints[0].from.part.text = "p77"; }), "joint.part /joints/0/from/part");
    EXPECT_EQ(broken([](auto& p) { p.joints[0].to.port = "thumb"; }), "joint.port /joints/0/to/port");
    EXPECT_EQ(broken([](auto& p) { p.joints[0].kind = parts::findJointKind("smooth pin"); }),
              "joint.kind /joints/0/kind");
    EXPECT_EQ(broken([](auto& p) { p.joints[0].value = {}; }), "joint.value /joints/0/value");
    EXPECT_EQ(broken([](auto& p) { p.joints[0].value = {std::nan("")}; }), "joint.value /joints/0/value/0");
    EXPECT_EQ(broken([](auto& p) { p.joints[0].wanted = {{5, -5}}; }), "joint.value /joints/0/wanted/0");
    EXPECT_EQ(broken([](auto& p) { p.joints.push_back(p.joints[0]), p.joints[1].id.text = "j9"; }),
              "joint.twice /joints/1");
}
