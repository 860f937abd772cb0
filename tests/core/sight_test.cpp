// SPDX-License-Identifier: GPL-3.0-or-later
// What is seen from outside, by rays: walls, windows, pits, labyrinths; colours from inside that show, and what is done
// about them.
#include <cmath>
#include <gtest/gtest.h>
#include <random>
#include <tbb/global_control.h>

#include "core/base/at.h"
#include "core/files/results_stand.h"
#include "core/stand/brick_layers.h"
#include "core/stand/part_depth.h"
#include "core/stand/ray_grid.h"
#include "core/stand/sight.h"
#include "core/verdict/mends.h"
#include "tests/support/reports.h"
#include "tests/support/stacks.h"

using namespace ivrant;
using geometry::Vec3;
using stand::Look;
using test::findCheck;
using test::must;
using test::reportOf;
using test::Stack;

namespace {

std::string at(int x, int y, int z) {
    return " at " + std::to_string(x) + " " + std::to_string(y) + " " + std::to_string(z);
}

/// A closed box of bricks 1x1 of `wide` cells each way and `high` courses with a hollow of one cell less all around;
/// cells of `open` are left out.
struct Box : Stack {
    Box(int wide, int high, const std::set<std::array<int, 3>>& open = {}) {
        for (int z = 0; z < high; ++z)
            for (int y = 0; y < wide; ++y)
                for (int x = 0; x < wide; ++x) {
                    const bool wall = x == 0 || y == 0 || z == 0 || x == wide - 1 || y == wide - 1 || z == high - 1;
                    if (wall && open.count({x, y, z}) == 0) put(0, "brick 1x1 slate" + at(x, y, 3 * z));
                }
    }
    int inside(const std::string& typed) {
        put(0, typed);
        return static_cast<int>(project.sections[0]->parts.size()) - 1;
    }
    [[nodiscard]] Look lookAt(int part) const { return ivrant::at(must(stand::calcSight(placed())).look[0], part); }
};

} // namespace

TEST(Sight, AWallHidesAndAWindowShows) {
    Box closed(5, 5);
    EXPECT_EQ(closed.lookAt(closed.inside("brick 1x1 rust" + at(2, 2, 6))), Look::Never);
    for (int part = 0; part < 10; ++part) EXPECT_EQ(closed.lookAt(part), Look::Openly) << part;
    Box windowed(5, 5, {{2, 0, 2}});
    EXPECT_EQ(windowed.lookAt(windowed.inside("brick 1x1 rust" + at(2, 2, 6))), Look::Glimpse);
}

TEST(Sight, AirThatReachesAPartShowsItOnlyAlongALine) {
    // Air gets in through a window low at one side; a screen stands behind it, and the part lies behind the screen.
    Box maze(7, 5, {{3, 0, 1}});
    for (int z = 1; z < 4; ++z)
        for (int x = 1; x < 5; ++x) maze.put(0, "brick 1x1 slate" + at(x, 2, 3 * z)); // leaves a way round at x = 5
    const int part = maze.inside("brick 1x1 rust" + at(1, 5, 3));
    EXPECT_EQ(ivrant::at(must(stand::calcPartDepths(maze.placed())).depth[0], part), 1) << "air touches it";
    EXPECT_EQ(maze.lookAt(part), Look::Never) << "no line does";
}

TEST(Sight, HowWideAPitIsDecidesWhetherItsGroundIsSeenOpenly) {
    // From the ground of a pit a cells wide and one brick deep the sky is Ω = 4·atan(ab/(d·√(a² + b² + d²))) of 2π, a
    // and b half its sides, d its depth: for one cell 0.12, for four cells 0.66.
    const auto share = [](double half) {
        return 4 * std::atan(half * half / (9.6 * std::sqrt(2 * half * half + 9.6 * 9.6))) / (2 * base::kPi);
    };
    EXPECT_LT(share(4), stand::kOpenShare);
    EXPECT_GT(share(16), stand::kOpenShare);
    for (const int wide : {1, 4}) {
        Stack f;
        f.put(0, "plate 6x6 rust at 0 0 -1");
        for (int y = 0; y < 6; ++y)
            for (int x = 0; x < 6; ++x)
                if (x < 1 || y < 1 || x > wide || y > wide) f.put(0, "brick 1x1 slate" + at(x, y, 0));
        f.put(0, "plate 6x6 slate at 0 0 -2"); // and from below it is covered
        for (int k = -1; k < 7; ++k)
            for (const auto& [x, y] : {std::pair{k, -1}, std::pair{k, 6}, std::pair{-1, k}, std::pair{6, k}})
                f.put(0, "plate 1x1 slate" + at(x, y, -1));
        EXPECT_EQ(must(stand::calcSight(f.placed())).look[0][0], wide == 1 ? Look::Glimpse : Look::Openly) << wide;
    }
}

TEST(Sight, TurnedModelsAndAnyNumberOfThreadsLookTheSame) {
    Box box(5, 5, {{2, 0, 2}, {0, 3, 3}});
    for (int z = 1; z < 4; ++z) box.put(0, "brick 1x2 rust" + at(2, 2, 3 * z));
    const auto first = must(stand::calcSight(box.placed()));
    {
        const tbb::global_control one(tbb::global_control::max_allowed_parallelism, 1);
        const auto again = must(stand::calcSight(box.placed()));
        EXPECT_EQ(again.look, first.look);
        EXPECT_EQ(again.rays, first.rays);
    }
    auto turned = box.placed();
    turned.X_WS[0] =
        geometry::makeFrame(Eigen::AngleAxisd(0.7, Vec3(1, 2, 3).normalized()).toRotationMatrix(), {40, -9, 300});
    EXPECT_EQ(must(stand::calcSight(turned)).look, first.look);
}

TEST(Sight, StopsWhenAskedAndSkipsWhatIsKnown) {
    Box box(5, 4);
    base::Progress progress;
    progress.stop();
    EXPECT_EQ(stand::calcSight(box.placed(), {}, &progress).error().code, "stopped");
    const auto first = must(stand::calcSight(box.placed()));
    const auto again = must(stand::calcSight(box.placed(), first.look));
    EXPECT_EQ(again.look, first.look);
    EXPECT_EQ(again.rays, 0U);
    EXPECT_TRUE(must(stand::calcSight(Stack().placed())).peeks.empty()) << "nothing is there";
}

TEST(RayGrid, MeetsWhatBruteForceMeets) {
    std::mt19937 random(11);
    std::uniform_real_distribution<double> place(0, 90), unit(-1, 1);
    std::vector<geometry::Solid> solids;
    std::vector<geometry::Frame> poses;
    solids.reserve(60);
    for (int i = 0; i < 60; ++i) {
        if (i % 3 == 0) solids.push_back(geometry::makeBox({-4, -3, -6}, {4, 3, 6}));
        if (i % 3 == 1) solids.push_back(geometry::makeCylinder({0, 0, -5}, {0, 0, 5}, 3));
        if (i % 3 == 2) solids.push_back(geometry::makeSphere({0, 0, 0}, 4));
        const Vec3 axis = Vec3(unit(random), unit(random), unit(random)).normalized();
        poses.push_back(geometry::makeFrame(Eigen::AngleAxisd(3 * unit(random), axis).toRotationMatrix(),
                                            {place(random), place(random), place(random)}));
    }
    stand::RayGrid grid;
    for (std::size_t i = 0; i < solids.size(); ++i) grid.add(solids[i], poses[i], static_cast<int>(i));
    grid.finish();
    int met = 0;
    for (int ray = 0; ray < 3000; ++ray) {
        const Vec3 from(place(random), place(random), place(random));
        const Vec3 way = ray % 10 == 0 ? Vec3(Vec3::Unit(ray % 3))
                                       : Vec3(Vec3(unit(random), unit(random), unit(random)).normalized());
        const int skip = ray % 60;
        std::set<int> hit;
        for (std::size_t i = 0; i < solids.size(); ++i)
            if (static_cast<int>(i) != skip &&
                geometry::calcRayHit(solids[i], poses[i].inverse() * from, poses[i].linear().transpose() * way) >= 0)
                hit.insert(static_cast<int>(i));
        const auto found = grid.findBlocker(from, way, skip);
        ASSERT_EQ(found.has_value(), !hit.empty()) << ray;
        if (!found) continue;
        ++met;
        EXPECT_EQ(hit.count(*found), 1U);
    }
    EXPECT_GT(met, 500);
}

TEST(Showing, AColourFromInsideIsToldAndPaintedOver) {
    Box box(5, 5, {{2, 0, 2}});
    const int part = box.inside("brick 1x1 rust" + at(2, 2, 6));
    const auto report = reportOf(box.project);
    ASSERT_TRUE(report.hidden);
    ASSERT_EQ(report.hidden->showing.size(), 1U);
    EXPECT_EQ(report.hidden->showing[0].part.part, part);
    EXPECT_EQ(report.hidden->showing[0].colour, parts::findColour("slate"));
    const auto* told = findCheck(report, "showing");
    ASSERT_NE(told, nullptr);
    EXPECT_EQ(told->state, verdict::State::Thin);
    EXPECT_NE(told->detail.find("rust"), std::string::npos) << told->detail;
    const auto json = files::makeHiddenJson(report, *report.hidden);
    EXPECT_EQ(json["showing_through"][0]["around"], "slate");
    EXPECT_GT(json["rays"].get<int>(), 100);
    const auto mends = verdict::listMends(report, *told);
    ASSERT_EQ(mends.size(), 1U);
    const auto painted = reportOf(must(mends[0].apply(box.project)));
    EXPECT_EQ(findCheck(painted, "showing") == nullptr || findCheck(painted, "showing")->state == verdict::State::Good,
              true);
    EXPECT_TRUE(painted.hidden->showing.empty());
}

TEST(Showing, PartsOfJointsLieInGapsAndAreNotTold) {
    Stack f;
    const auto lower = f.put(0, "small turntable lower rust at 0 0 0");
    f.put(0, "plate 6x6 slate at -2 -2 -1");
    const auto upper = f.put(1, "small turntable upper slate at 0 0 0");
    f.put(1, "plate 6x6 slate at -2 -2 1");
    f.join("small turntable", lower, "lower", upper, "upper");
    EXPECT_TRUE(reportOf(f.project).hidden->showing.empty());
}

TEST(Showing, FewerColoursAreAskedAndTheCoreTakesTheShells) {
    Box box(5, 5);
    box.inside("brick 1x1 rust" + at(2, 2, 6));
    box.inside("brick 1x1 gorse" + at(2, 2, 3));
    model::Ask ask;
    ask.measure = "colours";
    ask.comparison = model::Comparison::AtMost;
    ask.value = 1;
    const auto project = must(model::putAsk(box.project, ask));
    const auto report = reportOf(project);
    const auto* told = findCheck(report, "ask");
    ASSERT_NE(told, nullptr);
    EXPECT_EQ(told->state, verdict::State::Fail);
    const auto mends = verdict::listMends(report, *told);
    ASSERT_EQ(mends.size(), 1U);
    EXPECT_NE(mends[0].text.find("2 colours less"), std::string::npos) << mends[0].text;
    EXPECT_EQ(findCheck(reportOf(must(mends[0].apply(project))), "ask")->state, verdict::State::Good);
}

TEST(Hidden, AColourBehindANarrowGapShowsThrough) {
    // A wall of two leaves: the outer one has a slot half a pitch deep and one cell wide, behind it the core in another
    // colour.
    for (const bool sameColour : {false, true}) {
        Stack f;
        f.put(0, "brick 1x8 chalk at 0 0 0");
        f.put(0, std::string("brick 1x8 ") + (sameColour ? "chalk" : "soot") + " at 0 0 3");
        f.put(0, "brick 1x8 chalk at 0 0 6");
        f.put(0, "brick 1x8 chalk at -1 0 0");
        f.put(0, "brick 1x4 chalk at -1 0 3"); // leaves cell 4 open …
        f.put(0, "brick 1x3 chalk at -1 5 3");
        f.put(0, "brick 1x8 chalk at -1 0 6");
        f.put(0, "brick 1x8 chalk at 1 0 0");
        f.put(0, "brick 1x8 chalk at 1 0 3");
        f.put(0, "brick 1x8 chalk at 1 0 6");
        for (const char* end : {"brick 1x1 chalk at 0 -1 3", "brick 1x1 chalk at 0 8 3"})
            f.put(0, end); // … and close the core's ends
        const auto hidden =
            must(study::calcHidden(verdict::calcReport(std::make_shared<const model::Project>(f.project))));
        EXPECT_EQ(hidden.showing.size(), sameColour ? 0U : 1U);
        if (!sameColour) {
            ASSERT_FALSE(hidden.showing.empty());
            EXPECT_EQ(hidden.showing[0].part.part, 1);
        }
    }
}

TEST(Hidden, NoRayFromOutsideMeetsWhatIsNeverSeen) {
    // The second way: rays cast at a ragged block from all around, bricks as boxes edge to edge.
    std::mt19937 random(7);
    stand::CellGrid grid{9, 9, 7, {}, {}, base::kBrickMm};
    grid.filled.assign(9 * 9 * 7, 1);
    std::uniform_int_distribution<int> chance(0, 9);
    for (int z = 0; z < 7; ++z)
        for (int y = 0; y < 9; ++y)
            for (int x = 0; x < 9; ++x)
                if ((x < 2 || y < 2 || x > 6 || y > 6 || z > 4) && chance(random) == 0)
                    grid.filled[grid.index(x, y, z)] = 0;
    Stack f;
    f.project = must(stand::makeStatue("Block", must(stand::layBricks(grid, {{1, 2}, {2, 2}})), 0));
    const auto report = verdict::calcReport(std::make_shared<const model::Project>(f.project));
    const auto hidden = must(study::calcHidden(report));
    ASSERT_GT(hidden.parts.size(), 10U);
    std::set<int> never;
    for (const auto spot : hidden.parts) never.insert(spot.part);
    std::vector<geometry::Bounds> boxes;
    for (const auto& part : f.project.sections[0]->parts) {
        geometry::Bounds box;
        for (const auto& solid : part.shape->solids)
            if (solid.studPort < 0) box.include(geometry::calcBounds(solid.solid, part.place.frame()));
        box.low -= Vec3(0.11, 0.11, 0.01); // sides are inset by 0.1 mm
        box.high += Vec3(0.11, 0.11, 0.01);
        boxes.push_back(box);
    }
    std::uniform_real_distribution<double> unit(-1, 1);
    std::set<int> met;
    for (int ray = 0; ray < 20'000; ++ray) {
        const Vec3 way = Vec3(unit(random), unit(random), unit(random)).normalized();
        const Vec3 through(32 + 40 * unit(random), 32 + 40 * unit(random), 34 + 40 * unit(random)),
            from = through - 300 * way;
        int first = -1;
        double nearest = 1e9;
        for (std::size_t i = 0; i < boxes.size(); ++i) {
            double enter = 0, leave = 1e9;
            for (int k = 0; k < 3; ++k) { // slabs
                const double a = (boxes[i].low[k] - from[k]) / way[k], b = (boxes[i].high[k] - from[k]) / way[k];
                enter = std::max(enter, std::min(a, b));
                leave = std::min(leave, std::max(a, b));
            }
            if (enter < leave && enter < nearest) {
                nearest = enter;
                first = static_cast<int>(i);
            }
        }
        if (first < 0) continue;
        met.insert(first);
        EXPECT_EQ(never.count(first), 0U) << "a ray meets part " << first;
    }
    EXPECT_GT(met.size(), boxes.size() / 4);
}

TEST(Core, AModelOfWhichMuchIsNeverSeenIsToldAndHollowed) {
    const auto block = [](int side, int courses) {
        stand::CellGrid grid{side, side, courses, {}, {}, base::kBrickMm};
        grid.filled.assign(static_cast<std::size_t>(side * side * courses), 1);
        return must(stand::makeStatue("Block", must(stand::layBricks(grid, {{1, 2}, {2, 2}})), 0));
    };
    const auto solid = block(16, 12);
    const auto report = reportOf(solid);
    const auto* told = findCheck(report, "core");
    ASSERT_NE(told, nullptr);
    EXPECT_EQ(told->state, verdict::State::Thin);
    EXPECT_NEAR(told->value,
                100.0 * static_cast<double>(report.hidden->parts.size()) / static_cast<double>(solid.partCount()),
                1e-9);
    const auto mends = verdict::listMends(report, *told);
    ASSERT_EQ(mends.size(), 1U);
    const auto hollow = must(mends[0].apply(solid));
    EXPECT_LT(hollow.partCount(), solid.partCount());
    EXPECT_EQ(hollow.variants.size(), 2U) << "the solid one stays beside it";
    const auto after = reportOf(hollow);
    EXPECT_LT(after.hidden->parts.size(), report.hidden->parts.size());
    const auto* left = findCheck(after, "core"); // none where nothing is hidden any more
    EXPECT_LT(left ? left->value : 0, told->value);
    EXPECT_TRUE(after.poses.front().standing->equilibrium.stands);
    // A small one is not bothered with it.
    EXPECT_EQ(findCheck(reportOf(block(4, 4)), "core"), nullptr);
}
