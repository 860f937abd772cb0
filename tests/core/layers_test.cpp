// SPDX-License-Identifier: GPL-3.0-or-later
// Meshes into cells, cells into bricks that hold each other, what lies inside, what can be left out.
#include <algorithm>
#include <cmath>
#include <gtest/gtest.h>
#include <set>

#include "core/base/at.h"
#include "core/files/results_stand.h"
#include "core/files/sheet_carry.h"
#include "core/files/sheet_lifts.h"
#include "core/stand/core_removal.h"
#include "core/stand/counterweight.h"
#include "core/stand/size_rows.h"
#include "core/study/stand_cases.h"
#include "core/verdict/asks/asks.h"
#include "tests/support/reports.h"
#include "tests/support/stacks.h"

using namespace ivrant;
using geometry::Vec3;
using test::must;

namespace {

/// A box as a closed mesh.
geometry::TriangleMesh makeBox(const Vec3& low, const Vec3& high, int from = 0) {
    geometry::TriangleMesh mesh;
    for (int c = 0; c < 8; ++c)
        mesh.points.emplace_back(c & 1 ? high.x() : low.x(), c & 2 ? high.y() : low.y(), c & 4 ? high.z() : low.z());
    for (const auto& q :
         {std::array{0, 2, 3, 1}, {4, 5, 7, 6}, {0, 1, 5, 4}, {2, 6, 7, 3}, {0, 4, 6, 2}, {1, 3, 7, 5}}) {
        mesh.triangles.push_back({from + q[0], from + q[1], from + q[2]});
        mesh.triangles.push_back({from + q[0], from + q[2], from + q[3]});
    }
    return mesh;
}
geometry::MeshBody bodyOf(const geometry::TriangleMesh& mesh) { return must(geometry::makeMeshBody(mesh)); }

stand::CellGrid makeGrid(int nx, int ny, int nz) {
    stand::CellGrid grid{nx, ny, nz, {}, {}, base::kBrickMm};
    grid.filled.assign(static_cast<std::size_t>(nx * ny * nz), 1);
    return grid;
}

/// Every cell of the grid is covered once, and nothing else.
void expectCovers(const stand::CellGrid& grid, const stand::Layers& layers) {
    std::set<std::array<int, 3>> covered;
    for (const auto& b : layers.bricks)
        for (int x = b.x; x < b.x + b.across; ++x)
            for (int y = b.y; y < b.y + b.along; ++y) {
                EXPECT_TRUE(grid.isFilled(x, y, b.z / 3));
                EXPECT_TRUE(covered.insert({x, y, b.z}).second) << x << ' ' << y << ' ' << b.z;
            }
    EXPECT_EQ(covered.size() + 0, grid.count());
}

verdict::Report report(const model::Project& project) {
    return verdict::calcReport(std::make_shared<const model::Project>(project));
}

} // namespace

TEST(CellGrid, ABoxIsItsCells) {
    // 40 x 24 mm, 48 mm tall: 5 by 3 cells, 5 layers.
    const auto grid = must(stand::makeCellGrid(bodyOf(makeBox({-20, -12, 0}, {20, 12, 48})), 48));
    EXPECT_EQ(grid.nx, 5);
    EXPECT_EQ(grid.ny, 3);
    EXPECT_EQ(grid.nz, 5);
    EXPECT_EQ(grid.count(), 75u);
    // Twice as tall: everything twice as large.
    const auto twice = must(stand::makeCellGrid(bodyOf(makeBox({-20, -12, 0}, {20, 12, 48})), 96));
    EXPECT_EQ(twice.count(), 10u * 6u * 10u);
}

TEST(CellGrid, BoxesThatCrossAreTheirUnion) {
    auto mesh = makeBox({0, 0, 0}, {40, 40, 48});
    const auto second = makeBox({24, 24, 0}, {64, 64, 48}, 8);
    mesh.points.insert(mesh.points.end(), second.points.begin(), second.points.end());
    mesh.triangles.insert(mesh.triangles.end(), second.triangles.begin(), second.triangles.end());
    EXPECT_EQ(must(stand::makeCellGrid(bodyOf(mesh), 48)).count(), (25u + 25u - 4u) * 5u);
}

TEST(CellGrid, ASphereHasTheVolumeOfASphere) {
    geometry::TriangleMesh mesh;
    constexpr int kRound = 48, kRings = 24;
    mesh.points.emplace_back(0, 0, -100);
    for (int k = 1; k < kRings; ++k)
        for (int i = 0; i < kRound; ++i) {
            const double b = base::kPi * (static_cast<double>(k) / kRings - 0.5), a = 2 * base::kPi * i / kRound;
            mesh.points.push_back(100 * Vec3(std::cos(b) * std::cos(a), std::cos(b) * std::sin(a), std::sin(b)));
        }
    mesh.points.emplace_back(0, 0, 100);
    const auto at = [&](int k, int i) { return 1 + (k - 1) * kRound + i % kRound; };
    const int top = static_cast<int>(mesh.points.size()) - 1;
    for (int i = 0; i < kRound; ++i) {
        mesh.triangles.push_back({0, at(1, i + 1), at(1, i)});
        mesh.triangles.push_back({top, at(kRings - 1, i), at(kRings - 1, i + 1)});
        for (int k = 1; k + 1 < kRings; ++k) {
            mesh.triangles.push_back({at(k, i), at(k, i + 1), at(k + 1, i)});
            mesh.triangles.push_back({at(k, i + 1), at(k + 1, i + 1), at(k + 1, i)});
        }
    }
    const auto body = bodyOf(mesh);
    const auto grid = must(stand::makeCellGrid(body, 400)); // radius 200
    const double cell = 8 * 8 * 400.0 / grid.nz;
    EXPECT_NEAR(static_cast<double>(grid.count()) * cell, 8 * body.volume, 0.02 * 8 * body.volume);
}

TEST(CellGrid, BadSizesAreRefused) {
    const auto body = bodyOf(makeBox({0, 0, 0}, {40, 40, 48}));
    for (const double height : {0.0, 5.0, -10.0, 1e9, std::nan("")})
        EXPECT_EQ(stand::makeCellGrid(body, height).error().code, "grid.size") << height;
    EXPECT_EQ(stand::makeCellGrid(bodyOf(makeBox({0, 0, 0}, {1000, 1000, 2})), 100).error().code,
              "grid.size"); // a plate becomes far too wide
    auto open = makeBox({0, 0, 0}, {40, 40, 48});
    open.triangles.pop_back();
    EXPECT_EQ(geometry::makeMeshBody(open).error().code, "mesh.open");
    base::Progress stopped;
    stopped.stop();
    EXPECT_EQ(stand::makeCellGrid(body, 48, &stopped).error().code, "stopped");
}

TEST(CellGrid, DepthAndShell) {
    const auto grid = makeGrid(7, 7, 7);
    const auto depths = stand::calcDepths(grid);
    EXPECT_EQ(depths[grid.index(0, 3, 3)], 1);
    EXPECT_EQ(depths[grid.index(3, 3, 3)], 4);
    EXPECT_EQ(stand::makeHollow(grid, 1).count(), 343u - 125u);
    EXPECT_EQ(stand::makeHollow(grid, 2).count(), 343u - 27u);
    EXPECT_EQ(stand::makeHollow(grid, 9).count(), 343u);
}

TEST(Layers, CoverEveryCellOnce) {
    const auto block = makeGrid(13, 9, 6);
    expectCovers(block, must(stand::layBricks(block, stand::getUsualSizes())));
    auto ragged = makeGrid(15, 11, 8);
    for (std::size_t i = 0; i < ragged.filled.size(); ++i) ragged.filled[i] = (i * 2654435761u >> 7) % 9 != 0;
    const auto layers = must(stand::layBricks(ragged, stand::getUsualSizes()));
    std::size_t cells = 0;
    for (const auto& b : layers.bricks) cells += static_cast<std::size_t>(b.across * b.along);
    EXPECT_LE(cells, ragged.count());
    EXPECT_GT(cells, ragged.count() * 9 / 10);
    expectCovers(makeGrid(1, 1, 3), must(stand::layBricks(makeGrid(1, 1, 3), {})));
}

TEST(Layers, HangTogether) {
    // A wall two cells thick: no seam runs through all layers, so it is one piece that stands.
    const auto wall = makeGrid(24, 2, 6);
    const auto layers = must(stand::layBricks(wall, stand::getUsualSizes()));
    EXPECT_EQ(layers.hanging, 0u);
    test::Stack f;
    f.project = must(stand::makeStatue("Wall", layers, 0));
    const auto bonds = bonds::calcBonds(f.project);
    EXPECT_TRUE(bonds[0]->loose.empty());
    EXPECT_TRUE(bonds[0]->overlaps.empty());
    EXPECT_EQ(bonds[0]->groupCount, 1);
    EXPECT_TRUE(f.solve().stands);
    for (const auto& part : f.project.sections[0]->parts) EXPECT_EQ(part.step, 1 + part.place.atUm[2] / 9600);
}

TEST(Layers, WhatFloatsIsLeftOutAndCounted) {
    auto grid = makeGrid(12, 4, 4);
    for (int z = 0; z < 4; ++z)
        for (int x = 0; x < 12; ++x)
            for (int y = 0; y < 4; ++y)
                if ((x == 5 || x == 6) || (x > 6 && z < 2))
                    grid.filled[grid.index(x, y, z)] = 0; // a block in the air beside another
    const auto layers = must(stand::layBricks(grid, stand::getUsualSizes()));
    EXPECT_GT(layers.hanging, 0u);
    for (const auto& b : layers.bricks) EXPECT_LT(b.x, 5);
}

TEST(Layers, SizesAreLookedAt) {
    const auto grid = makeGrid(4, 4, 2);
    EXPECT_EQ(stand::layBricks(grid, {{3, 2}}).error().code, "layers.sizes");
    EXPECT_EQ(stand::layBricks(grid, {{2, 99}}).error().code, "layers.sizes");
    const auto only = must(stand::layBricks(grid, {{2, 2}}));
    for (const auto& b : only.bricks) EXPECT_LE(b.across * b.along, 4);
}

TEST(Sizes, GrowWithTheHeight) {
    const auto body = bodyOf(makeBox({-20, -12, 0}, {20, 12, 48}));
    const auto small = must(stand::calcSize(body, {96, 0})), large = must(stand::calcSize(body, {192, 0}));
    EXPECT_NEAR(large.massG / small.massG, 8, 0.8); // studs do not grow
    EXPECT_GT(large.parts, small.parts);
    EXPECT_NEAR(small.smallestShare, 8.0 / 96, 1e-12);
    EXPECT_NEAR(small.overhangMm, 0, 0);
    EXPECT_LT(must(stand::calcSize(body, {192, 1})).massG, 0.7 * large.massG);
}

TEST(Sizes, OverhangIsCountedInCells) {
    auto grid = makeGrid(10, 3, 2);
    for (int x = 4; x < 10; ++x)
        for (int y = 0; y < 3; ++y) grid.filled[grid.index(x, y, 0)] = 0;
    EXPECT_NEAR(stand::calcOverhangMm(grid), 6 * 8, 0);
}

TEST(PartDepth, CountsPartsUpToTheAir) {
    // 3 x 3 bricks 2x2 in three layers: the middle one of the middle layer is the only hidden one.
    test::Figure f;
    for (int z = 0; z < 3; ++z)
        for (int x = 0; x < 3; ++x)
            for (int y = 0; y < 3; ++y)
                f.put(0, "brick 2x2 at " + std::to_string(2 * x) + " " + std::to_string(2 * y) + " " +
                             std::to_string(3 * z));
    const auto depths = must(stand::calcPartDepths(f.placed()));
    EXPECT_EQ(depths.deepest, 2);
    EXPECT_EQ(std::count(depths.depth[0].begin(), depths.depth[0].end(), 2), 1);
    EXPECT_EQ(depths.depth[0][13], 2);
    // A hole in the wall shows what lies behind it.
    auto opened = must(model::removeParts(f.project, std::array{f.project.sections[0]->parts[4].id}));
    test::Figure g;
    g.project = opened;
    EXPECT_EQ(must(stand::calcPartDepths(g.placed())).deepest, 1);
}

TEST(Core, WhatIsLeftStandsAndNothingIsLoose) {
    auto layers = must(stand::layBricks(makeGrid(16, 16, 12), {{2, 4}, {2, 2}, {1, 2}}));
    const auto solid = must(stand::makeStatue("Block", layers, 0));
    const auto whole = report(solid);
    const auto core = must(study::calcCore(whole, whole.present));
    ASSERT_FALSE(core.leaveOut.empty());
    double gram = 0;
    for (const auto& spot : core.leaveOut) gram += model::getPart(solid, spot).massG();
    EXPECT_NEAR(core.massG, gram, 1e-6);
    const auto hollow = must(study::leaveOutCore(solid, core.leaveOut));
    EXPECT_EQ(hollow.partCount() + core.leaveOut.size(), solid.partCount());
    EXPECT_EQ(hollow.variants.size(), 2u);
    const auto after = report(hollow);
    EXPECT_TRUE(after.bonds[0]->loose.empty());
    const auto result = must(study::calcStandCase(after, after.present, {}));
    EXPECT_TRUE(result.equilibrium.stands);
    EXPECT_LE(*result.equilibrium.lambda, 0.68);
    EXPECT_GE(after.present.tipping->angleDeg, 8);
    // Hollowing twice keeps both.
    EXPECT_EQ(must(study::leaveOutCore(hollow, {{0, 0}})).variants.size(), 3u);
}

TEST(Core, ASmallModelHasNone) {
    test::Stack f;
    f.put(0, "plate 4x4 at 0 0 0");
    f.put(0, "brick 2x2 at 1 1 1");
    const auto made = report(f.project);
    const auto core = must(study::calcCore(made, made.present));
    EXPECT_TRUE(core.leaveOut.empty());
    EXPECT_NE(core.why.find("no core"), std::string::npos);
}

TEST(Counterweight, MovesTheCentreOfGravity) {
    test::Stack f;
    f.put(0, "plate 8x8 at 0 0 0");
    f.put(0, "brick 2x4 at 0 0 1");
    const auto tip = *report(f.project).present.tipping;
    EXPECT_NEAR(stand::calcTippingWith(tip, 0, {100, 0, 0}).angleDeg, tip.angleDeg, 1e-9);
    // Against the same weight put in as ballast.
    const auto heavier = must(model::addBallast(f.project, f.project.sections[0]->id, {25, {40'000, 40'000, 8'000}}));
    const auto real = *report(heavier).present.tipping;
    const auto told = stand::calcTippingWith(tip, 25, {40, 40, 8});
    EXPECT_NEAR(told.angleDeg, real.angleDeg, 1e-9);
    EXPECT_NEAR((told.centre - real.centre).norm(), 0, 1e-9);
    EXPECT_NEAR(stand::calcTippingWith(told, -25, {40, 40, 8}).angleDeg, tip.angleDeg, 1e-9); // and out again
}

TEST(TipPush, IsTheWeightTimesTheLeverOverTheHeight) {
    // A brick 4x4... W·d/z with d the way from the plumb line to the edge.
    test::Stack f;
    f.put(0, "brick 2x4 at 0 0 0");
    const auto made = report(f.project);
    const auto& tip = *made.present.tipping;
    const double weight = base::weightN(tip.massG);
    EXPECT_NEAR(stand::calcTipPushN(tip, 0, 9.6), weight * 7.9 / 9.6, 1e-6);
    EXPECT_NEAR(stand::calcTopMm(made.present.placed), 9.6 + 1.7, 1e-9);
}

TEST(StandCases, EveryUsualOneIsThere) {
    test::Overhang f;
    const auto made = report(f.project);
    std::set<std::string> keys;
    for (const auto& c : study::listStandCases(made, made.present)) {
        keys.insert(c.key);
        EXPECT_TRUE(study::calcStandCase(made, made.present, c).ok()) << c.key;
    }
    EXPECT_EQ(keys, (std::set<std::string>{"standing", "slope", "bump", "knock", "carry"}));
}

TEST(StandCases, HalfBuiltHasOnlyWhatIsThere) {
    test::Overhang f;
    for (int k = 0; k < 3; ++k)
        f.project = must(model::setStep(f.project, std::array{ivrant::at(f.project.sections[0]->parts, k).id}, k + 1));
    const auto made = report(f.project);
    for (int step = 1; step <= 3; ++step) {
        const auto result = must(study::calcStandCase(made, made.present, study::makeHalfBuilt(made, step)));
        EXPECT_EQ(result.net.bodies.size(), static_cast<std::size_t>(step));
        EXPECT_TRUE(result.equilibrium.stands);
    }
}

TEST(StandVerdicts, BondsAreJudgedByLambda) {
    test::Overhang f;
    f.project = must(model::addBallast(f.project, f.project.sections[0]->id, {60, {0, 20'000, 17'600}})); // on the arm
    const auto made = report(f.project);
    const auto found =
        std::find_if(made.verdicts.begin(), made.verdicts.end(), [](const auto& v) { return v.check == "bonds"; });
    ASSERT_NE(found, made.verdicts.end());
    const auto& e = made.present.standing->equilibrium;
    EXPECT_EQ(found->state == verdict::State::Fail, !e.stands);
    EXPECT_NEAR(found->value, *e.lambda, 1e-12);
    ASSERT_EQ(found->state, verdict::State::Fail);
    // Its mends were tried: each makes λ smaller.
    const auto mends = verdict::listMends(made, *found);
    ASSERT_FALSE(mends.empty());
    for (const auto& mend : mends) {
        const auto after = report(must(mend.apply(f.project)));
        EXPECT_LT(*after.present.standing->equilibrium.lambda, *e.lambda) << mend.text;
        EXPECT_TRUE(after.bonds[0]->overlaps.empty());
    }
}

TEST(Hidden, OnlyWhatNoPoseShows) {
    test::Figure f;
    for (int z = 0; z < 3; ++z)
        for (int x = 0; x < 3; ++x)
            for (int y = 0; y < 3; ++y)
                f.put(0, "brick 2x2 at " + std::to_string(2 * x) + " " + std::to_string(2 * y) + " " +
                             std::to_string(3 * z));
    const auto made = report(f.project);
    const auto hidden = must(study::calcHidden(made));
    ASSERT_EQ(hidden.parts.size(), 1u);
    EXPECT_EQ(hidden.parts[0].part, 13);
    EXPECT_NEAR(hidden.massG, f.project.sections[0]->parts[13].massG(), 1e-9);
    EXPECT_EQ(files::makeHiddenJson(made, hidden)["shapes"][0]["shape"], "brick 2x2");
}

TEST(Carrying, SaysWhereToLift) {
    test::Overhang f;
    const auto plan = files::planCarrying(report(f.project));
    const auto& rows = plan.rows;
    EXPECT_EQ(plan.lift.size() + plan.leave.size(), f.project.sections.size());
    EXPECT_NE(plan.legend.find("Green"), std::string::npos);
    EXPECT_EQ(plan.legend.find("Red"), std::string::npos) << "nothing is red";
    const auto find = [&](const std::string& what) {
        const auto found = std::find_if(rows.begin(), rows.end(), [&](const auto& row) { return row.first == what; });
        return found == rows.end() ? std::string() : found->second;
    };
    EXPECT_EQ(find("Lift here"), f.project.sections[0]->name);
    EXPECT_NE(find("Weight").find(" g ("), std::string::npos);
    // 64 x 64 mm and 4 + 3 plates with the studs, 20 mm all round.
    const auto packing = files::makeSheetPacking(report(f.project));
    ASSERT_EQ(packing.boxes.size(), 1U);
    EXPECT_NE(packing.boxes[0].first.find("inside 104 x 104 x 64 mm"), std::string::npos) << packing.boxes[0].first;
    EXPECT_TRUE(files::planCarrying(report(model::makeEmptyProject("Nothing"))).rows.empty());
}

TEST(StandAsks, BondsAndPushAreMeasured) {
    test::Overhang f;
    for (const auto& [measure, expected] : {std::pair{"bond-margin", 0.0}, {"tip-push", 0.0}}) {
        model::Ask ask;
        ask.measure = measure;
        ask.value = expected;
        f.project = must(model::putAsk(f.project, ask));
    }
    const auto made = report(f.project);
    const auto results = verdict::measureAsks(made, f.project.asks);
    ASSERT_EQ(results.size(), 2u);
    EXPECT_NEAR(*results[0].value, 1 / *made.present.standing->equilibrium.lambda, 1e-9);
    const auto& tip = *made.present.tipping;
    EXPECT_NEAR(*results[1].value, stand::calcTipPushN(tip, tip.towardDeg, stand::calcTopMm(made.present.placed)),
                1e-9);
}

TEST(LargeModels, BondsFollowTheOtherVerdicts) {
    const auto layers = must(stand::layBricks(makeGrid(26, 26, 12), {{2, 2}, {1, 2}}));
    const auto project = must(stand::makeStatue("Block", layers, 0));
    ASSERT_GT(project.partCount(), study::kMostPartsLive);
    const auto quick = report(project);
    EXPECT_TRUE(study::lacksBonds(quick));
    const auto count = [](const verdict::Report& r) {
        return std::count_if(r.verdicts.begin(), r.verdicts.end(), [](const auto& v) { return v.check == "bonds"; });
    };
    EXPECT_EQ(count(quick), 0);
    stand::KeptForces kept;
    const auto proven = verdict::addQuickBonds(quick, kept);
    EXPECT_EQ(count(proven), 1);
    EXPECT_TRUE(study::lacksBonds(proven)); // the exact answer is still to come
    ASSERT_TRUE(proven.poses.front().provenUse);
    EXPECT_FALSE(kept.values.empty());
    const auto whole = verdict::addBonds(proven);
    EXPECT_FALSE(study::lacksBonds(whole));
    EXPECT_EQ(count(whole), 1);
    EXPECT_GE(*proven.poses.front().provenUse, *whole.poses.front().standing->equilibrium.lambda * 0.99);
    ASSERT_TRUE(whole.structure);
    const auto structural = std::count_if(whole.verdicts.begin(), whole.verdicts.end(), [](const auto& v) {
        return v.check == "seam" || v.check == "neck" || v.check == "tug" || v.check == "base-flex" ||
               v.check == "friction" || v.check == "showing" || v.check == "core" || v.check == "order";
    });
    EXPECT_EQ(whole.verdicts.size(), quick.verdicts.size() + 1 + static_cast<std::size_t>(structural));
    EXPECT_TRUE(test::findCheck(whole, "order")) << "large models are told about their order as well";
    base::Progress stopped;
    stopped.stop();
    const auto given = verdict::addBonds(quick, &stopped);
    EXPECT_EQ(count(given), 0);
    EXPECT_EQ(given.known, quick.known) << "as it was";
    // A small one has them at once.
    test::Overhang f;
    EXPECT_FALSE(study::lacksBonds(report(f.project)));
}

TEST(LargeModels, AsksOnWhatComesLateAreJudgedWhenItIsThere) {
    // Too many parts for bonds after every edit: what is asked of them is told as soon as they are known, like that of
    // a small model.
    auto project = must(stand::makeStatue("Block", must(stand::layBricks(makeGrid(26, 26, 12), {{2, 2}, {1, 2}})), 0));
    ASSERT_GT(project.partCount(), study::kMostPartsLive);
    for (const char* measure : {"bond-margin", "tug", "shake", "seam"}) {
        model::Ask ask;
        ask.measure = measure;
        ask.comparison = measure == std::string("seam") ? model::Comparison::AtMost : model::Comparison::AtLeast;
        ask.value = measure == std::string("seam") ? 1000 : 1e-6;
        project = must(model::putAsk(project, ask));
    }
    // Two poses, so that there is a move between them.
    for (const char* name : {"One", "Two"})
        project = must(model::addPose(project, name, {}, {model::Stance::Kind::Flat, project.sections.front()->id}));
    model::Ask move;
    move.measure = "move-tip";
    move.value = 1;
    project = must(model::putAsk(project, move));
    const auto passing = [](const verdict::Report& r) {
        return std::count_if(r.verdicts.begin(), r.verdicts.end(),
                             [](const auto& v) { return v.check == "ask" && v.state != verdict::State::Fail; });
    };
    const auto quick = report(project);
    EXPECT_FALSE(quick.known & study::kAtRest);
    EXPECT_LT(passing(quick), 5);
    const auto whole = verdict::addBonds(quick);
    EXPECT_EQ(whole.known, static_cast<unsigned>(study::kAll));
    EXPECT_FALSE(whole.moves.empty());
    EXPECT_EQ(passing(whole), 5);
    EXPECT_EQ(
        std::count_if(whole.verdicts.begin(), whole.verdicts.end(), [](const auto& v) { return v.check == "ask"; }), 5)
        << "each once";
}

TEST(LayBricks, HangingCellsBecomePartOfALongerBrick) {
    // A post with a beam on top that overhangs further than one brick reaches by itself: laid from its far end, what is
    // left over would hang.
    for (int beyond = 1; beyond <= 4; ++beyond) {
        stand::CellGrid grid;
        grid.nx = 12;
        grid.ny = 1;
        grid.nz = 3;
        grid.cellMm = base::kBrickMm;
        grid.filled.assign(36, 0);
        for (int z = 0; z < 2; ++z)
            for (int x = 0; x < 4; ++x) grid.filled[grid.index(x, 0, z)] = 1;
        for (int x = 0; x < 4 + beyond; ++x) grid.filled[grid.index(x, 0, 2)] = 1;
        const auto layers = test::must(stand::layBricks(grid, {{1, 2}, {1, 3}, {1, 4}, {1, 1}}));
        std::size_t cells = 0;
        for (const auto& brick : layers.bricks)
            cells += static_cast<std::size_t>(brick.across) * static_cast<std::size_t>(brick.along);
        // A brick of four reaches three cells beyond the post; what lies further out can only hang.
        const std::size_t out = beyond <= 3 ? 0 : 1;
        EXPECT_EQ(cells, 8 + 4 + static_cast<std::size_t>(beyond) - out) << beyond << " cells beyond the post";
        EXPECT_EQ(layers.hanging, out);
        EXPECT_EQ(layers.dropped.size(), out) << "what is left out is told";
        // No cell twice, none that the grid has not.
        std::set<std::array<int, 3>> seen;
        for (const auto& brick : layers.bricks)
            for (int x = brick.x; x < brick.x + brick.across; ++x)
                for (int y = brick.y; y < brick.y + brick.along; ++y) {
                    EXPECT_TRUE(seen.insert({x, y, brick.z}).second);
                    EXPECT_TRUE(grid.isFilled(x, y, brick.z / 3));
                }
    }
}
