// SPDX-License-Identifier: GPL-3.0-or-later
// Boxes: sizes by hand, places that never overlap, as few pieces as fit, weights added up, batteries for the day.
#include "core/study/packing.h"

#include <gtest/gtest.h>

#include <random>

#include "core/base/units.h"
#include "core/files/project_file.h"
#include "core/files/results_modules.h"
#include "tests/support/figures.h"
#include "tests/support/repo.h"

using namespace ivrant;
using geometry::Vec3;
using test::must;

namespace {

study::Facts packFactsOf(const model::Project& project) {
    study::Wanted wanted;
    wanted.facts = study::kModules | study::kDrive;
    return study::calcFacts(std::make_shared<const model::Project>(project), wanted);
}

/// A tower of bricks in three lifts of which the upper two come off.
struct Tower : test::Figure {
    explicit Tower(int bricks) {
        std::vector<model::PartId> ids;
        for (int k = 0; k < bricks; ++k) ids.push_back(put(0, "brick 2x2 at 0 0 " + std::to_string(3 * k)));
        for (const auto& [name, from] : {std::pair("Middle", bricks / 3), std::pair("Top", 2 * bricks / 3)}) {
            model::Module one;
            one.name = name;
            one.parts.assign(ids.begin() + from, ids.end());
            project = must(model::putModule(project, one));
        }
    }
    void boxes(const std::array<double, 3>& mm, double foam = 20, double kg = 10) {
        model::Packing packing;
        packing.boxMm = mm;
        packing.foamMm = foam;
        packing.mostKg = kg;
        project = must(model::setPacking(project, packing));
    }
};

} // namespace

TEST(Packing, TheLeastRectangleLiesOnAnEdge) {
    for (const double turn : {0.0, 10.0, 37.0, 90.0, 123.0, -45.0}) {
        std::vector<Vec3> corners;
        const Eigen::AngleAxisd by(base::degToRad(turn), Vec3::UnitZ());
        for (const double x : {-50.0, 50.0})
            for (const double y : {-10.0, 10.0})
                for (const double z : {3.0, 33.0}) corners.push_back(by * Vec3(x, y, z));
        const auto size = study::calcUprightSize(corners);
        EXPECT_NEAR(size.mm.x(), 100, 1e-6) << turn;
        EXPECT_NEAR(size.mm.y(), 20, 1e-6) << turn;
        EXPECT_NEAR(size.mm.z(), 30, 1e-9) << turn;
        // Turned so, the long side lies along x.
        const Eigen::AngleAxisd back(base::degToRad(size.turnDeg), Vec3::UnitZ());
        double reach = 0;
        for (const Vec3& corner : corners) reach = std::max(reach, std::abs((back * corner).x()));
        EXPECT_NEAR(reach, 50, 1e-6) << turn;
    }
    EXPECT_EQ(study::calcUprightSize({}).mm, Vec3(Vec3::Zero()));
}

TEST(Packing, PiecesLieInTheirBoxesAndNeverInEachOther) {
    std::mt19937 random(5);
    std::uniform_real_distribution<double> any(0, 1);
    for (int round = 0; round < 300; ++round) {
        const Vec3 box(150 + 250 * any(random), 150 + 250 * any(random), 200);
        std::vector<Vec3> sizes;
        std::vector<double> masses;
        const int count = 1 + static_cast<int>(any(random) * 14);
        for (int i = 0; i < count; ++i) {
            const double a = 20 + 180 * any(random), b = 20 + 100 * any(random);
            sizes.emplace_back(std::max(a, b), std::min(a, b), 50 + 150 * any(random));
            masses.push_back(100 + 1500 * any(random));
        }
        const auto places = study::placeInBoxes(sizes, masses, box, 4000);
        const double along = std::max(box.x(), box.y()), across = std::min(box.x(), box.y());
        std::map<int, double> weight;
        std::map<int, int> pieces;
        for (std::size_t i = 0; i < sizes.size(); ++i) {
            weight[places[i].box] += masses[i];
            ++pieces[places[i].box];
        }
        for (std::size_t i = 0; i < sizes.size(); ++i) {
            const auto rect = [&](std::size_t k) {
                const double w = places[k].across ? sizes[k].y() : sizes[k].x(),
                             d = places[k].across ? sizes[k].x() : sizes[k].y();
                return Eigen::AlignedBox2d(Eigen::Vector2d(places[k].atMm[0], places[k].atMm[1]),
                                           Eigen::Vector2d(places[k].atMm[0] + w, places[k].atMm[1] + d));
            };
            const bool fits = sizes[i].x() <= along && sizes[i].y() <= across && sizes[i].z() <= box.z();
            if (!fits) {
                EXPECT_EQ(pieces[places[i].box], 1) << "what is too large has its box alone";
                continue;
            }
            EXPECT_LE(rect(i).max().x(), along + 1e-6);
            EXPECT_LE(rect(i).max().y(), across + 1e-6);
            EXPECT_LE(weight[places[i].box], 4000 + 1e-6);
            for (std::size_t k = 0; k < i; ++k)
                if (places[k].box == places[i].box) {
                    const auto both = rect(i).intersection(rect(k));
                    EXPECT_FALSE(both.sizes().minCoeff() > 1e-6) << "round " << round;
                }
        }
    }
}

TEST(Packing, AsFewPiecesAsFit) {
    Tower tower(12); // 12 bricks of 9.6 mm and a stud of 1.7: 116.9 mm
    tower.boxes({200, 200, 160});
    auto plan = study::planPacking(packFactsOf(tower.project));
    EXPECT_TRUE(plan.fits());
    ASSERT_EQ(plan.pieces.size(), 1U);
    EXPECT_NEAR(plan.pieces[0].size.mm.z(), 12 * 9.6 + 1.7, 0.02);
    tower.boxes({200, 200, 130}); // 156.9 no longer fits; without the upper third 8 bricks and 40 mm of foam do
    plan = study::planPacking(packFactsOf(tower.project));
    EXPECT_TRUE(plan.fits());
    ASSERT_EQ(plan.taken.size(), 1U);
    ASSERT_EQ(plan.boxes.size(), 1U);
    EXPECT_EQ(plan.boxes[0].pieces.size(), 2U);
    tower.boxes({200, 200, 90}); // thirds of 4 bricks: 38.4 + 1.7 + 40
    plan = study::planPacking(packFactsOf(tower.project));
    EXPECT_TRUE(plan.fits());
    EXPECT_EQ(plan.pieces.size(), 3U);
    tower.boxes({200, 200, 70});
    plan = study::planPacking(packFactsOf(tower.project));
    EXPECT_FALSE(plan.fits());
    // Putting up: the lower of two first.
    tower.boxes({200, 200, 90});
    plan = study::planPacking(packFactsOf(tower.project));
    std::vector<std::string> put;
    for (const auto& step : plan.putUp)
        if (step.text.starts_with("put on")) put.push_back(step.text);
    ASSERT_EQ(put.size(), 2U);
    EXPECT_NE(put[0].find("Middle"), std::string::npos);
    EXPECT_NE(put[1].find("Top"), std::string::npos);
}

TEST(Packing, WeightsAddUp) {
    Tower tower(3);
    tower.boxes({400, 300, 300});
    const auto plan = study::planPacking(packFactsOf(tower.project));
    ASSERT_EQ(plan.boxes.size(), 1U);
    const Vec3 piece = plan.pieces[0].size.mm, in = piece + Vec3::Constant(40);
    EXPECT_NEAR((plan.boxes[0].insideMm - in).norm(), 0, 1e-9);
    const double foamL = (in.prod() - piece.prod()) / 1e6;
    EXPECT_NEAR(plan.boxes[0].foamL, foamL, 1e-9);
    const double brick = must(parts::makeShape("brick 2x2"))->massG;
    const double area = 2 * (in.x() * in.y() + in.y() * in.z() + in.z() * in.x()) / 1e6;
    EXPECT_NEAR(plan.boxes[0].massG, 3 * brick + foamL * 25 + area * 600, 1e-6);
    // A box that may weigh less than a piece holds it alone and says that it does not fit.
    Tower heavy(100); // 100 bricks weigh more than 100 g; thirds of them less
    ASSERT_GT(100 * brick, 100);
    heavy.project = must(model::removeModule(heavy.project, heavy.project.modules.list[1].id));
    heavy.project = must(model::removeModule(heavy.project, heavy.project.modules.list[0].id));
    heavy.boxes({1500, 1500, 1500}, 20, 0.1);
    EXPECT_FALSE(study::planPacking(packFactsOf(heavy.project)).pieces[0].fits);
    Tower parted(100);
    parted.boxes({1500, 1500, 1500}, 20, 0.1);
    EXPECT_TRUE(study::planPacking(packFactsOf(parted.project)).fits());
}

TEST(Packing, BatteriesLastTheDay) {
    const auto bridge = must(files::loadProject(test::repo("/data/demo/bridge.ivrant")));
    const auto facts = packFactsOf(bridge);
    const auto plan = study::planPacking(facts);
    double most = 0;
    for (const auto& position : facts.drive->positions)
        for (const auto& function : position.functions) {
            double sum = 0;
            for (const auto& share : function.motors)
                if (share.known) sum += share.point.currentA;
            most = std::max(most, sum);
        }
    const double hours = facts.drive->battery.capacityMah / 1000 / most;
    const auto battery = std::find_if(plan.bring.begin(), plan.bring.end(), [](const study::BringLine& line) {
        return line.what.find("charged cells") != std::string::npos;
    });
    ASSERT_NE(battery, plan.bring.end());
    EXPECT_EQ(battery->count, static_cast<int>(std::ceil(8 / hours)));
    model::Packing longer = bridge.making.packing;
    longer.showHours = 24;
    const auto next = study::planPacking(packFactsOf(must(model::setPacking(bridge, longer))));
    EXPECT_EQ(next.bring.front().count, static_cast<int>(std::ceil(24 / hours)));
    longer.running = 0;
    EXPECT_TRUE(study::planPacking(packFactsOf(must(model::setPacking(bridge, longer))))
                    .bring.front()
                    .what.starts_with("spare"));
}

TEST(Packing, WishesAreKeptAndChecked) {
    Tower tower(6);
    tower.boxes({350, 250, 200}, 15, 7.5);
    const std::string text = files::writeProject(tower.project);
    const auto again = must(files::parseProject(text));
    EXPECT_EQ(again.making.packing, tower.project.making.packing);
    model::Packing wrong;
    wrong.boxMm[1] = 10;
    EXPECT_EQ(model::setPacking(tower.project, wrong).error().place, "/making/packing/box_mm");
    wrong = {};
    wrong.running = 1.5;
    EXPECT_EQ(model::setPacking(tower.project, wrong).error().place, "/making/packing/running");
    const auto facts = packFactsOf(tower.project);
    const std::string csv = files::makePackingCsv(facts, study::planPacking(facts));
    EXPECT_TRUE(csv.starts_with("what,count,size_mm,mass_g,note\r\nbox 1,1,"));
    // Of nothing there is nothing to pack.
    const auto empty = study::planPacking(packFactsOf(model::makeEmptyProject("Empty")));
    EXPECT_TRUE(empty.pieces.empty());
    EXPECT_TRUE(empty.boxes.empty());
}
