// SPDX-License-Identifier: GPL-3.0-or-later
// What meshes where on the grid, by brute force; trains found for a ratio against plain enumeration.
#include <cmath>
#include <gtest/gtest.h>
#include <set>

#include "core/drive/ratio_search.h"

using namespace ivrant::drive;

namespace {

TEST(MeshFit, LimitsAsStated) {
    EXPECT_EQ(judgeFit(-0.101), Fit::Binds);
    EXPECT_EQ(judgeFit(-0.10), Fit::Meshes);
    EXPECT_EQ(judgeFit(0.25), Fit::Meshes);
    EXPECT_EQ(judgeFit(0.26), Fit::Skips);
    EXPECT_EQ(judgeFit(2.0), Fit::Apart);
}

TEST(MeshFit, TwelveAndTwentyInHoles) {
    // (12 + 20)/2 = 16 mm: two holes apart.
    const auto fits = listFits(calcOutsideMm(12, 20));
    ASSERT_FALSE(fits.empty());
    EXPECT_EQ(fits[0].step, GridStep::Holes);
    EXPECT_EQ(fits[0].dxUm + fits[0].dyUm, 16000);
    EXPECT_EQ(fits[0].errorMm, 0);
}

TEST(MeshFit, TwentyFourAndTwentyFindNoHoles) {
    // 22 mm: the nearest in holes are 8·√(2² + 2²) = 22.63 (skips) and 8·√(2² + 1²) = 17.89 (binds).
    for (const auto& fit : listFits(22)) EXPECT_NE(fit.step, GridStep::Holes);
}

TEST(MeshFit, EveryPairAndOffsetByBruteForce) {
    for (int a : getSpurTeeth())
        for (int b : getSpurTeeth()) {
            const double right = (a + b) / 2.0;
            std::set<std::pair<long, long>> wanted;
            for (long x = 0; x <= 70000; x += 400) // common step of 4.0 and 3.2 mm is 0.8; half of it is on neither
                for (long y = 0; y <= 70000; y += 400) {
                    const bool halves = x % 4000 == 0 && y % 4000 == 0, plates = x % 4000 == 0 && y % 3200 == 0;
                    const double error = std::sqrt(static_cast<double>(x) * static_cast<double>(x) +
                                                   static_cast<double>(y) * static_cast<double>(y)) /
                                             1000 -
                                         right;
                    if ((halves || plates) && error > -0.1000001 && error < 0.2500001) wanted.insert({x, y});
                }
            std::set<std::pair<long, long>> found;
            for (const auto& fit : listFits(right)) {
                found.insert({fit.dxUm, fit.dyUm});
                EXPECT_EQ(findGridStep(fit.dxUm, fit.dyUm), fit.step);
            }
            EXPECT_EQ(found, wanted) << a << " and " << b;
        }
}

TEST(MeshFit, PairsForAnOffsetAreTheReverse) {
    for (const auto& pair : listPairs(24000, 0, getSpurTeeth())) EXPECT_NEAR((pair.a + pair.b) / 2.0, 24, 0.25);
    const auto pairs = listPairs(24000, 0, getSpurTeeth());
    EXPECT_EQ(pairs.size(), 4U); // 8+40, 12+36, 20+28, 24+24
    for (const auto& fit : listFits(calcOutsideMm(16, 28))) {
        const auto back = listPairs(fit.dxUm, fit.dyUm, getSpurTeeth());
        EXPECT_TRUE(std::any_of(back.begin(), back.end(), [](const ToothPair& p) { return p.a == 16 && p.b == 28; }));
    }
    EXPECT_TRUE(listPairs(1000, 0, getSpurTeeth()).empty());
}

TEST(MeshFit, NearestKeepsTheSide) {
    const auto fits = listNearestFits(16, -15000, 500, 3);
    ASSERT_EQ(fits.size(), 2U); // (16, 0) and (0, 16)
    EXPECT_EQ(fits[0].dxUm, -16000);
    EXPECT_EQ(fits[0].dyUm, 0);
    EXPECT_TRUE(listFits(-1).empty());
    EXPECT_TRUE(listFits(1e9).empty());
}

RatioResult search(const RatioWish& wish) { return searchRatios(wish).value(); }

TEST(RatioSearch, FindsOneToFifteenAndHundredAndFive) {
    RatioWish wish;
    wish.ratio = 1.0 / 15;
    wish.tolerance = 0;
    const auto found = search(wish);
    ASSERT_EQ(found.groups.size(), 1U);
    EXPECT_EQ(found.groups[0].ratio, makeRational(1, 15));
    EXPECT_EQ(found.groups[0].error, 0);
    for (const auto& train : found.groups[0].trains) {
        Rational product = 1;
        for (const auto& stage : train.stages) product *= makeRational(stage.driver, stage.driven);
        EXPECT_EQ(product, makeRational(1, 15));
    }
}

TEST(RatioSearch, AgainstPlainEnumerationOfTwoStages) {
    // All ordered pairs that mesh in whole holes, two stages, 5 %.
    std::vector<std::pair<int, int>> pairs;
    for (int a : getSpurTeeth())
        for (int b : getSpurTeeth()) {
            bool holes = false;
            for (const auto& fit : listFits((a + b) / 2.0)) holes |= fit.step == GridStep::Holes;
            if (holes) pairs.emplace_back(a, b);
        }
    const double wanted = 0.19;
    std::set<std::string> ratios;
    for (const auto& p : pairs)
        for (const auto& second : pairs) {
            const Rational ratio = makeRational(p.first, p.second) * makeRational(second.first, second.second);
            if (std::abs(ratio.get_d() / wanted - 1) <= 0.05) ratios.insert(formatRatio(ratio));
        }
    RatioWish wish;
    wish.ratio = wanted;
    wish.tolerance = 0.05;
    wish.mostStages = 2;
    wish.reversed = false; // two spur stages only
    wish.holds = false;
    wish.coarsest = GridStep::Holes;
    wish.most = 1000;
    std::set<std::string> found;
    double last = 0;
    for (const auto& group : search(wish).groups) {
        found.insert(formatRatio(group.ratio));
        EXPECT_GE(std::abs(group.error), last);
        last = std::abs(group.error);
        for (const auto& stage : group.trains.front().stages) EXPECT_EQ(stage.offset.step, GridStep::Holes);
    }
    EXPECT_EQ(found, ratios);
    EXPECT_GT(ratios.size(), 2U);
}

TEST(RatioSearch, SenseFollowsTheCountOfSpurStages) {
    RatioWish wish;
    wish.ratio = 1.0 / 9;
    wish.tolerance = 0.01;
    for (bool reversed : {false, true}) {
        wish.reversed = reversed;
        for (const auto& group : search(wish).groups)
            for (const auto& train : group.trains) {
                const auto spurs =
                    std::count_if(train.stages.begin(), train.stages.end(), [](const Stage& s) { return !s.worm; });
                if (static_cast<std::size_t>(spurs) == train.stages.size()) {
                    EXPECT_EQ(spurs % 2 == 1, reversed);
                }
            }
    }
}

TEST(RatioSearch, HoldingNeedsAWormAndStockIsKept) {
    RatioWish wish;
    wish.ratio = 1.0 / 40;
    wish.tolerance = 0.0;
    wish.holds = true;
    wish.stock = {{8, 1}, {24, 1}, {40, 1}, {12, 2}, {20, 1}};
    const auto found = search(wish);
    ASSERT_FALSE(found.groups.empty());
    for (const auto& train : found.groups[0].trains) {
        std::map<int, int> used;
        int worms = 0;
        for (const auto& stage : train.stages) {
            worms += stage.worm;
            if (!stage.worm) ++used[stage.driver];
            ++used[stage.driven];
        }
        EXPECT_EQ(worms, 1);
        for (const auto& [teeth, count] : wish.stock) EXPECT_LE(used[teeth], count);
    }
    wish.worms = 0;
    EXPECT_TRUE(search(wish).groups.empty());
}

TEST(RatioSearch, SaysTheNearestWhenNothingReaches) {
    // 11 and 13 are in no tooth count: 11:13 exactly is out of reach.
    RatioWish wish;
    wish.ratio = 11.0 / 13;
    wish.tolerance = 0;
    const auto found = search(wish);
    EXPECT_TRUE(found.groups.empty());
    ASSERT_FALSE(found.nearest.trains.empty());
    EXPECT_LT(std::abs(found.nearest.error), 0.01);
    EXPECT_GT(std::abs(found.nearest.error), 0);
}

TEST(RatioSearch, BadWishesAreNamed) {
    RatioWish wish;
    wish.ratio = 0;
    EXPECT_EQ(searchRatios(wish).error().code, "ratio.wish");
    wish.ratio = NAN;
    EXPECT_FALSE(searchRatios(wish).ok());
    wish.ratio = 1;
    wish.mostStages = 7;
    EXPECT_FALSE(searchRatios(wish).ok());
    wish.mostStages = 2;
    wish.stock = {{0, 3}};
    EXPECT_FALSE(searchRatios(wish).ok());
}

} // namespace
