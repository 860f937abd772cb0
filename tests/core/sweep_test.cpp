// SPDX-License-Identifier: GPL-3.0-or-later
// The sweep against brute force, and its invariants: what is free is free, what stops really touches.
#include "core/pose/sweep.h"

#include <cmath>
#include <random>

#include "core/base/units.h"
#include "core/pose/collide.h"
#include "tests/support/figures.h"
#include "tests/support/near.h"

using namespace ivrant;
using test::Figure;
using test::kRangeDeg;

namespace {

const char* const kBlocks[] = {"brick 1x1",       "brick 2x2", "plate 2x3",      "slope 2x2",
                               "round brick 2x2", "tile 1x4",  "bracket up 1x1", "inverted slope 1x2"};

/// Two loaded halves of a turntable: everything may run into everything, all round.
Figure makeCarousel(std::mt19937& random) {
    const auto pick = [&](int low, int high) { return std::uniform_int_distribution<int>(low, high)(random); };
    Figure f;
    const auto lower = f.put(0, "small turntable lower at 0 0 0"), upper = f.put(1, "small turntable upper at 0 0 0");
    for (int i = 0; i < 3; ++i) {
        f.put(0, std::string(kBlocks[pick(0, 7)]) + " at " + std::to_string(pick(3, 7)) + " " +
                     std::to_string(pick(-6, 6)) + " " + std::to_string(pick(0, 3)) + " turn " +
                     std::to_string(pick(0, 3)));
        f.put(1, std::string(kBlocks[pick(0, 7)]) + " at " + std::to_string(pick(-8, -3)) + " " +
                     std::to_string(pick(-3, 3)) + " " + std::to_string(pick(0, 3)) + " turn " +
                     std::to_string(pick(0, 3)));
    }
    f.join("small turntable", lower, "lower", upper, "upper");
    return f;
}

bool collidesAt(const Figure& f, const pose::Bodies& bodies, double degrees) {
    return !pose::calcCollisions(pose::calcPlaced(f.project, f.tree(), {{degrees}}), bodies, 1).empty();
}

} // namespace

TEST(Sweep, NothingIsInTheWayInsideAndSomethingIsJustOutside) {
    std::mt19937 random(77);
    int contacts = 0;
    for (int i = 0; i < 40; ++i) {
        const Figure f = makeCarousel(random);
        const auto bodies = pose::makeBodies(f.project, f.tree(), bonds::calcBonds(f.project));
        const auto range = f.range();
        if (range.collides) continue;
        if (range.endless) {
            for (double a = -180; a < 180; a += 3) EXPECT_FALSE(collidesAt(f, bodies, a)) << i << " at " << a;
            continue;
        }
        for (double t = 0; t <= 1.0001; t += 0.05) {
            const double a = range.free.low + t * (range.free.high - range.free.low);
            EXPECT_FALSE(collidesAt(f, bodies, a))
                << i << " at " << a << " of " << range.free.low << ".." << range.free.high;
        }
        // Beyond a stop the contact becomes deeper than the tolerance within a few degrees: at 20 mm, 0.05 mm are
        // 0.14°, but round edges that graze deepen slowly.
        bool deeper = false;
        for (double beyond = 0.05; beyond < 8 && !deeper; beyond += 0.05)
            deeper = collidesAt(f, bodies, range.free.high + beyond);
        EXPECT_TRUE(deeper) << i;
        contacts += range.high.by == pose::StopBy::Contact ? 1 : 0;
    }
    EXPECT_GT(contacts, 10) << "the cases must really stop";
}

TEST(Sweep, TheNamedPartsAreTheOnesThatTouch) {
    std::mt19937 random(5);
    int checked = 0;
    for (int i = 0; i < 40; ++i) {
        const Figure f = makeCarousel(random);
        const auto range = f.range();
        if (range.collides || range.high.by != pose::StopBy::Contact) continue;
        const auto placed = pose::calcPlaced(f.project, f.tree(), {{range.free.high}});
        EXPECT_LT(pose::calcPartDistance(placed, range.high.moving.spot, range.high.fixed.spot), 0.01) << i;
        EXPECT_EQ(range.high.moving.spot.section, 1);
        EXPECT_EQ(range.high.fixed.spot.section, 0);
        const auto present = f.placed();
        EXPECT_NEAR(*range.high.clearanceMm,
                    pose::calcPartDistance(present, range.high.moving.spot, range.high.fixed.spot), 1e-9);
        ++checked;
    }
    EXPECT_GT(checked, 10);
}

TEST(Sweep, FromAnyValueWithinTheSameLimits) {
    std::mt19937 random(19);
    for (int i = 0; i < 15; ++i) {
        Figure f = makeCarousel(random);
        const auto range = f.range();
        if (range.collides || range.endless) continue;
        const double elsewhere = 0.7 * range.free.low + 0.3 * range.free.high;
        f.project = test::must(model::setJointValue(f.project, f.project.joints[0].id, {elsewhere}));
        const auto again = f.range();
        EXPECT_NEAR(again.free.low, range.free.low, kRangeDeg) << i;
        EXPECT_NEAR(again.free.high, range.free.high, kRangeDeg) << i;
    }
}

TEST(Sweep, AMirroredFigureHasMirroredLimits) {
    // Mirrored at x = 4 mm (the turntable's middle) a left turn becomes a right one.
    std::mt19937 random(23);
    int compared = 0;
    for (int i = 0; i < 15; ++i) {
        const Figure f = makeCarousel(random);
        Figure g = f;
        std::vector<model::PartId> ids;
        for (const auto& section : f.project.sections)
            for (const auto& part : section->parts)
                if (part.shape->family.find("turntable") == std::string::npos) ids.push_back(part.id);
        auto mirrored = model::mirrorParts(f.project, ids, 4, false);
        if (!mirrored) continue;
        g.project = *mirrored;
        const auto a = f.range(), b = g.range();
        EXPECT_EQ(a.endless, b.endless);
        if (a.endless || a.collides) continue;
        EXPECT_NEAR(a.free.high, -b.free.low, kRangeDeg) << i;
        EXPECT_NEAR(a.free.low, -b.free.high, kRangeDeg) << i;
        ++compared;
    }
    EXPECT_GT(compared, 4);
}

TEST(Sweep, MorePartsNeverFreeAnything) {
    std::mt19937 random(31);
    for (int i = 0; i < 10; ++i) {
        Figure f = makeCarousel(random);
        const auto before = f.range();
        f.put(0, "brick 2x2 at -9 5 0");
        const auto after = f.range();
        if (before.endless || before.collides || after.collides) continue;
        EXPECT_LE(after.free.high, before.free.high + 1e-6);
        EXPECT_GE(after.free.low, before.free.low - 1e-6);
    }
}

TEST(Sweep, ThinObstaclesFarOutAreNotMissed) {
    // A stud-sized post 400 mm out: 4.8 mm are 0.69° there. The arm is a row of bricks 1x16; the post's near side is
    // met at its angle less asin((3.9 + 3.9) / 400), both being bricks' half widths when the arm comes from the side.
    for (int k = 1; k <= 5; ++k) {
        Figure f;
        const auto lower = f.put(0, "small turntable lower at 0 0 0"),
                   upper = f.put(1, "small turntable upper at 0 0 0");
        for (int i = 0; i < 4; ++i) f.put(1, "tile 16x1 at " + std::to_string(16 * i) + " 0 1");
        f.put(0, "round brick 1x1 at 0.5 " + std::to_string(40 + k) + " 1"); // straight ahead of the middle, (4, …)
        f.join("small turntable", lower, "lower", upper, "upper");
        const auto range = f.range();
        // From the middle (4, 4): the arm's row is centred 4 mm below the middle's line, its leading side 0.1 mm below
        // it (half a cell of 3.9 − 4). The post's centre is 8·(40 + k) − 4 ahead, radius 3.9.
        const double ahead = 8.0 * (40 + k) - 4;
        const double expected = 90 - base::radToDeg(std::asin((3.9 - 0.1) / ahead));
        EXPECT_NEAR(range.free.high, expected, kRangeDeg) << k;
        EXPECT_EQ(range.high.by, pose::StopBy::Contact);
    }
}

TEST(Sweep, StoppedWorkEndsEarly) {
    std::mt19937 random(1);
    const Figure f = makeCarousel(random);
    base::Progress progress;
    progress.stop();
    const auto context = pose::makeRangeContext(f.project, f.tree(), bonds::calcBonds(f.project));
    const auto range = pose::calcRange(context, pose::getValues(f.project, nullptr), 0, 0, &progress);
    EXPECT_EQ(range.high.by, pose::StopBy::Nothing) << "no contact is claimed that was not looked for";
}

TEST(Sweep, ATiltedBallStaysClear) {
    // Loaded ball joint: sample the reported free tilt densely.
    std::mt19937 random(9);
    const auto pick = [&](int low, int high) { return std::uniform_int_distribution<int>(low, high)(random); };
    int contacts = 0;
    for (int i = 0; i < 40; ++i) {
        Figure f;
        const auto ball = f.put(0, "ball plate large 1x2 at 0 0 0");
        f.put(0, std::string(kBlocks[pick(0, 7)]) + " at " + std::to_string(pick(-1, 1)) + " 1 " +
                     std::to_string(pick(1, 5)));
        const auto cup = f.put(1, "cup plate large 1x2 at 0 0 0");
        f.put(1, std::string(kBlocks[pick(0, 7)]) + " at " + std::to_string(pick(-1, 1)) + " 0 " +
                     std::to_string(pick(1, 5)));
        f.join("large ball and cup", ball, "ball", cup, "cup", {8, 0, 0});
        const auto bodies = pose::makeBodies(f.project, f.tree(), bonds::calcBonds(f.project));
        const auto range = f.range(0, 1);
        if (range.collides) continue;
        for (double t = 0; t <= 1.0001; t += 0.05) {
            const double s2 = range.free.low + t * (range.free.high - range.free.low);
            EXPECT_TRUE(pose::calcCollisions(pose::calcPlaced(f.project, f.tree(), {{8, s2, 0}}), bodies, 1).empty())
                << i << " at " << s2;
        }
        contacts += (range.high.by == pose::StopBy::Contact) + (range.low.by == pose::StopBy::Contact);
    }
    EXPECT_GT(contacts, 3);
}
