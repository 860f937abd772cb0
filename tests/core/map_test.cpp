// SPDX-License-Identifier: GPL-3.0-or-later
// The map's cells against single sweeps and against plain collision tests; the checker against the same.
#include "core/pose/map.h"

#include <random>

#include "core/base/at.h"
#include "core/pose/checker.h"
#include "core/pose/collide.h"
#include "tests/support/figures.h"
#include "tests/support/near.h"

using namespace ivrant;
using test::HingeRun;
using test::must;

namespace {

/// Two hinges with bricks on all pieces, so that much is blocked.
HingeRun makeBulky() {
    HingeRun run(2, "brick 1x2 at 0 0 2");
    run.put(0, "brick 1x2 at 0 0 1");
    run.put(1, "plate 1x2 at 0 0 2");
    return run;
}

pose::TwoJointMap makeMap(const HingeRun& run, int first, int second, int steps = 36) {
    pose::MapRequest request;
    request.first = {first, 0};
    request.second = {second, 0};
    request.firstRange = request.secondRange = {-90, 90};
    request.steps = steps;
    return must(pose::calcMap(run.context(), run.values(), request));
}

} // namespace

TEST(Map, EveryCellAgreesWithAPlainCollisionTest) {
    const HingeRun run = makeBulky();
    const auto context = run.context();
    for (const auto& [first, second] : {std::pair(0, 1), std::pair(1, 0)}) {
        const auto map = makeMap(run, first, second);
        int blocked = 0;
        for (int i = 0; i < map.request.steps; ++i)
            for (int k = 0; k < map.request.steps; ++k) {
                pose::JointValues values = run.values();
                at(values, first)[0] = map.firstValue(i);
                at(values, second)[0] = map.secondValue(k);
                const bool collides =
                    !pose::calcCollisions(pose::calcPlaced(run.project, context.tree, values), context.bodies).empty();
                EXPECT_EQ(map.at(i, k) == pose::Cell::Blocked, collides)
                    << map.firstValue(i) << ", " << map.secondValue(k);
                blocked += collides ? 1 : 0;
            }
        EXPECT_GT(blocked, 20); // the case says something
        EXPECT_NEAR(map.freeShare, 1 - blocked / 1296.0, test::kRounding);
    }
}

TEST(Map, TheBorderIsWhereSingleSweepsStop) {
    const HingeRun run = makeBulky();
    const auto context = run.context();
    const auto map = makeMap(run, 0, 1, 72);
    for (int i = 0; i < 72; i += 5) {
        pose::JointValues values = run.values();
        values[0][0] = map.firstValue(i);
        const auto range = pose::calcRange(context, values, 1, 0);
        if (range.collides || pose::calcRange(context, values, 0, 0).collides)
            continue; // the first joint alone is blocked there
        for (int k = 0; k < 72; ++k) {
            const double v = map.secondValue(k);
            // Sweeps stop where parts first touch, cells are blocked when they are deeper than 0.05 mm: half a degree
            // between.
            if (v > range.free.low && v < range.free.high) {
                EXPECT_EQ(map.at(i, k), pose::Cell::Free) << values[0][0] << ", " << v;
            } else if (v > range.free.high + 0.6 && v < range.free.high + 3) {
                EXPECT_NE(map.at(i, k), pose::Cell::Free) << values[0][0] << ", " << v;
            }
        }
    }
}

TEST(Map, SwappingTheJointsTransposes) {
    const HingeRun run = makeBulky();
    const auto ab = makeMap(run, 0, 1), ba = makeMap(run, 1, 0);
    for (int i = 0; i < 36; ++i)
        for (int k = 0; k < 36; ++k) EXPECT_EQ(ab.at(i, k), ba.at(k, i));
}

TEST(Map, BeyondTheConeAndReachable) {
    test::Figure f;
    const auto ball = f.put(0, "ball plate small 1x2 at 0 0 0");
    f.join("small ball and cup", ball, "ball", f.put(1, "cup plate small 1x2 at 0 0 0"), "cup");
    pose::MapRequest request;
    request.first = {0, 0};
    request.second = {0, 1};
    request.firstRange = request.secondRange = {-50, 50};
    request.steps = 50;
    const auto map = must(pose::calcMap(f.context(), f.values(), request));
    for (int i = 0; i < 50; ++i)
        for (int k = 0; k < 50; ++k)
            EXPECT_EQ(map.at(i, k) == pose::Cell::Beyond,
                      std::hypot(map.firstValue(i), map.secondValue(k)) > 45 + 1e-9);
    const auto reached = map.findReachable(0, 0);
    ASSERT_FALSE(reached.empty());
    EXPECT_TRUE(at(reached, 25 * 50 + 25));
    EXPECT_TRUE(map.findReachable(49, 49).empty()); // begins beyond
}

TEST(Map, BadRequestsAreNamed) {
    const HingeRun run(2);
    pose::MapRequest request;
    request.first = request.second = {0, 0};
    EXPECT_EQ(pose::calcMap(run.context(), run.values(), request).error().code, "map.same");
    request.second = {1, 0};
    request.firstRange = {90, -90};
    EXPECT_EQ(pose::calcMap(run.context(), run.values(), request).error().code, "map.range");
    request.firstRange = {-90, 90};
    request.steps = 0;
    EXPECT_EQ(pose::calcMap(run.context(), run.values(), request).error().code, "map.range");
}

TEST(Checker, AgreesWithThePlainTestOnRandomPoses) {
    HingeRun run(6, "brick 2x4 at 0 0 2");
    run.put(0, "brick 2x4 at 0 0 1");
    run.put(3, "plate 2x4 at 0 0 2");
    const auto context = run.context();
    const pose::PoseChecker checker(context, run.values());
    std::mt19937 random(3);
    std::uniform_real_distribution<double> angle(-88, 88);
    int blocked = 0;
    for (int i = 0; i < 400; ++i) {
        pose::JointValues values = run.values();
        for (auto& v : values) v[0] = angle(random);
        const auto collisions =
            pose::calcCollisions(pose::calcPlaced(run.project, context.tree, values), context.bodies);
        blocked += collisions.empty() ? 0 : 1;
        if (!collisions.empty()) {
            EXPECT_FALSE(checker.isFree(values)) << i;
        } else if (!checker.isFree(values)) { // neighbours stop where they first touch, up to 0.05 mm earlier
            double most = 0;
            for (const auto& v : values) most = std::max(most, std::abs(v[0]));
            EXPECT_GT(most, 40) << i;
        }
    }
    EXPECT_GT(blocked, 30);
}
