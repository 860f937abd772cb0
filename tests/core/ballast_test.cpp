// SPDX-License-Identifier: GPL-3.0-or-later
// The least weight that keeps a model from tipping, exact.
#include <cmath>
#include <gtest/gtest.h>
#include <random>

#include "core/files/project_file.h"
#include "core/pose/stance.h"
#include "core/stand/ballast.h"
#include "core/stand/counterweight.h"
#include "core/study/asked_tip.h"
#include "core/verdict/mends.h"
#include "tests/support/repo.h"
#include "tests/support/reports.h"
#include "tests/support/stacks.h"

using namespace ivrant;
using geometry::Vec3;
using test::findVerdict;
using test::must;
using test::reportOf;

TEST(Ballast, LeastWeightIsWhereTryingGramByGramFindsIt) {
    std::mt19937 random(3);
    std::uniform_int_distribution<int> cell(0, 5), wish(1, 15);
    int found = 0;
    for (int trial = 0; trial < 40; ++trial) {
        test::Stack f;
        f.put(0, "plate 4x4 at 0 0 0");
        int z = 1;
        for (int k = 0; k < 4; ++k, z += 3)
            f.put(0, "brick 2x2 at " + std::to_string(cell(random)) + " " + std::to_string(cell(random)) + " " +
                         std::to_string(z));
        const auto placed = f.placed();
        const std::array standings{stand::Standing{placed, *stand::calcTipping(placed, pose::listCorners(placed))}};
        const Vec3 at(4.0 * cell(random), 4.0 * cell(random), 3);
        const double asked = wish(random);
        const auto range = stand::calcWeights(standings, std::array{at}, asked);
        std::optional<double> first;
        for (double gram = 0; gram < 400 && !first; gram += 0.25)
            if (stand::calcTippingWith(standings[0].tipping, gram, at).angleDeg >= asked) first = gram;
        if (!range || range->low > 399) {
            EXPECT_FALSE(first && range) << trial;
            continue;
        }
        ASSERT_TRUE(first) << trial;
        EXPECT_NEAR(range->low, *first, 0.26) << trial;
        ++found;
        if (std::isfinite(range->high)) {
            EXPECT_GE(stand::calcTippingWith(standings[0].tipping, range->high - 0.01, at).angleDeg, asked - 1e-6);
            EXPECT_LT(stand::calcTippingWith(standings[0].tipping, range->high + 0.01, at).angleDeg, asked + 1e-6);
        }
    }
    EXPECT_GT(found, 5);
}

TEST(Ballast, OnALineOrWithTooLittleThereIsNone) {
    test::Stack f;
    f.put(0, "plate 4x4 at 0 0 0");
    f.put(0, "plate 2x8 at 3 0 1");
    const auto placed = f.placed();
    stand::Standing standing{placed, *stand::calcTipping(placed, pose::listCorners(placed))};
    EXPECT_FALSE(stand::calcBallast({}, 0, 8, 1000));
    EXPECT_FALSE(stand::calcBallast(std::array{standing}, 0, 89, 1000)) << "no weight does that";
    standing.tipping.support.resize(2);
    EXPECT_FALSE(stand::calcBallast(std::array{standing}, 0, 8, 1000));
}

TEST(Ballast, GoesIntoTheTailOfTheSpanOfTheDemo) {
    const auto bare = must(files::loadProject(test::repo("/data/demo/bridge-span.ivrant")));
    const auto report = reportOf(bare);
    const auto move =
        std::find_if(report.moves.begin(), report.moves.end(), [](const auto& m) { return m.name == "Slew"; });
    ASSERT_NE(move, report.moves.end()) << "a function of its gear board turns it";
    ASSERT_TRUE(move->joint);
    const auto* told = findVerdict(report, "tip-move/" + move->key);
    ASSERT_NE(told, nullptr);
    EXPECT_EQ(told->state, verdict::State::Fail);
    const auto mends = verdict::listMends(report, *told);
    const auto inSpan = std::find_if(mends.begin(), mends.end(), [](const auto& mend) {
        return mend.text.find(" g in Span, at ") != std::string::npos;
    });
    ASSERT_NE(inSpan, mends.end());
    const auto changed = must(inSpan->apply(bare));
    ASSERT_EQ(changed.sections[1]->ballast.size(), 1U);
    const auto& ballast = changed.sections[1]->ballast[0];
    EXPECT_LT(ballast.atUm[1], 0) << "behind the turntable, away from the long arm";
    const auto after = reportOf(changed);
    for (const auto& m : after.moves) EXPECT_GE(m.leastDeg, study::kUsualTipDeg - 1e-9) << m.name;
    const auto inPier = std::find_if(mends.begin(), mends.end(), [](const auto& mend) {
        return mend.text.find(" g in Pier, at ") != std::string::npos;
    });
    ASSERT_NE(inPier, mends.end()) << "a heavy pier does as well";
    EXPECT_LT(std::stod(inPier->text.substr(4)), ballast.massG) << "it lies lower: the least comes first";
    EXPECT_LT(inPier, inSpan);
    // A gram less is not enough anywhere in the span.
    const auto standings = study::listStandings(report, *move);
    EXPECT_EQ(standings.size(), static_cast<std::size_t>(study::kMoveSteps) + 1);
    for (const auto& part : bare.sections[1]->parts) {
        std::vector<Vec3> at;
        for (const auto& standing : standings)
            at.push_back(standing.placed.X_WS[1] * (part.place.frame() * part.shape->centre));
        if (const auto range = stand::calcWeights(standings, at, study::kUsualTipDeg)) {
            EXPECT_GT(range->low, ballast.massG - 1);
        }
    }
}
