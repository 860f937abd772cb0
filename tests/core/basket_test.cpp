// SPDX-License-Identifier: GPL-3.0-or-later
// Baskets: against enumeration on small markets, by hand for each goal.
#include "core/make/basket.h"

#include <gtest/gtest.h>

#include <functional>
#include <random>

#include "core/make/whole_numbers.h"
#include "tests/support/figures.h"

using namespace ivrant;

TEST(WholeNumbers, FindsTheLeastByHand) {
    // 5x + 4y least with x + y ≥ 3.5, x ≤ 2, whole: y = 4 costs 16; x = 1, y = 3 costs 17.
    make::Programme programme;
    const int x = programme.addColumn(0, 2, 5, true), y = programme.addColumn(0, 10, 4, true);
    programme.addRow(3.5, make::kNoBound, {{x, 1}, {y, 1}});
    const auto result = programme.solve(5);
    ASSERT_TRUE(result.found);
    EXPECT_TRUE(result.proven);
    EXPECT_EQ(result.values, (std::vector<double>{0, 4}));
    EXPECT_DOUBLE_EQ(result.cost, 16);
    programme.addRow(-make::kNoBound, 3, {{x, 1}, {y, 1}});
    EXPECT_FALSE(programme.solve(5).found) << "no such numbers";
    base::Progress stopped;
    stopped.stop();
    EXPECT_TRUE(programme.solve(5, &stopped).stopped);
}

namespace {

/// The least cost by trying all numbers of packs; the fewest missing pieces first.
struct Enumerated {
    int missing = 1 << 20;
    double cost = 1e18;
};
Enumerated enumerate(const make::BasketRequest& request) {
    Enumerated best;
    std::vector<int> packs(request.offers.size(), 0);
    const std::function<void(std::size_t)> go = [&](std::size_t o) {
        if (o < request.offers.size()) {
            const auto& offer = request.offers[o];
            for (packs[o] = 0; packs[o] * offer.pack <= std::min(offer.count, 8); ++packs[o]) go(o + 1);
            packs[o] = 0;
            return;
        }
        int missing = 0;
        for (const auto& wish : request.wishes) {
            int have = 0;
            for (std::size_t k = 0; k < packs.size(); ++k)
                if (request.offers[k].shape == wish.shape) have += packs[k] * request.offers[k].pack;
            missing += std::max(0, wish.count - have);
        }
        double cost = 0;
        for (std::size_t s = 0; s < request.sellers.size(); ++s) {
            double goods = 0;
            for (std::size_t k = 0; k < packs.size(); ++k)
                if (request.offers[k].seller == static_cast<int>(s))
                    goods += packs[k] * request.offers[k].pack * request.offers[k].price;
            if (goods == 0) continue;
            const auto& seller = request.sellers[s];
            if (request.mostDays && seller.days > *request.mostDays) return;
            // Anything else may be bought as well, to come to the least order or to cheaper shipping.
            const double least = std::max(goods, seller.leastOrder);
            std::vector<double> paid{least};
            for (const auto& step : seller.shipping) paid.push_back(std::max(least, step.fromValue));
            double cheapest = 1e18;
            for (const double value : paid) {
                double shipping = 0;
                for (const auto& step : seller.shipping)
                    if (value >= step.fromValue - 0.005) shipping = step.cost;
                cheapest = std::min(cheapest, value + shipping);
            }
            cost += cheapest;
        }
        if (missing < best.missing || (missing == best.missing && cost < best.cost)) best = {missing, cost};
    };
    go(0);
    return best;
}

} // namespace

TEST(Basket, EqualsEnumerationOnSmallMarkets) {
    std::mt19937 random(17);
    const auto between = [&](int low, int high) { return std::uniform_int_distribution<int>(low, high)(random); };
    const char* shapes[]{"plate 2x4", "brick 2x4"};
    int unmet = 0, filled = 0;
    for (int round = 0; round < 60; ++round) {
        make::BasketRequest request;
        for (const char* shape : shapes) request.wishes.push_back({shape, 0, between(1, 6), {}});
        for (int s = 0; s < 3; ++s) {
            model::Seller seller{"S" + std::to_string(s), between(1, 9), between(0, 1) * between(1, 4) * 0.5, {}};
            if (between(0, 2) > 0)
                seller.shipping = {{0, between(0, 20) * 0.1}, {between(1, 3) * 1.0, between(0, 20) * 0.1}};
            request.sellers.push_back(seller);
        }
        for (int o = 0; o < 4; ++o)
            request.offers.push_back(
                {between(0, 2), shapes[o % 2], 0, between(1, 12) * 0.05, between(1, 8), between(1, 3)});
        if (between(0, 2) == 0) request.mostDays = 5;
        const auto expected = enumerate(request);
        const auto basket = test::must(make::findBasket(request));
        int missing = 0;
        for (const auto& line : basket.unmet) missing += line.missing;
        EXPECT_EQ(missing, expected.missing) << "round " << round;
        EXPECT_NEAR(basket.cost, expected.cost, 0.006) << "round " << round;
        EXPECT_TRUE(basket.proven);
        unmet += missing > 0 ? 1 : 0;
        for (const auto& seller : basket.sellers) filled += seller.fill > 0 ? 1 : 0;
    }
    EXPECT_GT(unmet, 5);
    EXPECT_GT(filled, 0) << "least orders are met by something else";
}

TEST(Basket, GoalsDifferAsTheyShould) {
    make::BasketRequest request;
    request.wishes = {{"plate 2x4", 0, 10, {}}, {"brick 2x4", 0, 10, {}}};
    request.sellers = {{"Cheap plates", 9, 0, {{0, 1}}},
                       {"Cheap bricks", 9, 0, {{0, 1}}},
                       {"Both", 7, 0, {{0, 1}}},
                       {"Quick", 2, 0, {{0, 9}}}};
    const int many = 100;
    request.offers = {{0, "plate 2x4", 0, 0.1, many, 1}, {1, "brick 2x4", 0, 0.1, many, 1},
                      {2, "plate 2x4", 0, 0.3, many, 1}, {2, "brick 2x4", 0, 0.3, many, 1},
                      {3, "plate 2x4", 0, 0.5, many, 1}, {3, "brick 2x4", 0, 0.5, many, 1}};
    const auto money = test::must(make::findBasket(request));
    EXPECT_NEAR(money.cost, 1 + 1 + 1 + 1, 1e-6); // two parcels, 10 × 0.10 in each
    EXPECT_EQ(money.sellers.size(), 2U);
    request.goal = make::BasketGoal::Sellers;
    const auto fewest = test::must(make::findBasket(request));
    EXPECT_EQ(fewest.sellers.size(), 1U);
    EXPECT_NEAR(fewest.cost, 6 + 1, 1e-6);
    request.goal = make::BasketGoal::Soonest;
    const auto soon = test::must(make::findBasket(request));
    EXPECT_EQ(soon.days, 2);
    EXPECT_NEAR(soon.cost, 10 + 9, 1e-6);
    request.goal = make::BasketGoal::Money;
    request.mostDays = 8;
    EXPECT_NEAR(test::must(make::findBasket(request)).cost, 7, 1e-6);
    request.mostDays = 1;
    const auto none = test::must(make::findBasket(request));
    EXPECT_EQ(none.unmet.size(), 2U) << "nobody is that quick: told, not refused";
    EXPECT_DOUBLE_EQ(none.cost, 0);
}

TEST(Basket, StandInsShareWhatTheyNeedWithOthers) {
    // Two bricks wanted, none for sale; three plates do for each. Two plates are wanted as plates; eight are for sale.
    make::BasketRequest request;
    request.wishes = {{"brick 2x4", 0, 2, {{"plate 2x4", 0, 3, 1}}}, {"plate 2x4", 0, 2, {}}};
    request.sellers = {{"Harbour", 1, 0, {}}};
    request.offers = {{0, "plate 2x4", 0, 0.1, 8, 1}};
    const auto all = test::must(make::findBasket(request));
    EXPECT_TRUE(all.unmet.empty());
    ASSERT_EQ(all.replaced.size(), 1U);
    EXPECT_EQ(all.replaced[0].times, 2);
    EXPECT_NEAR(all.cost, 0.8, 1e-9);
    request.offers[0].count = 7; // one brick and two plates: 5 of 7, the sixth and seventh stand for nothing
    const auto some = test::must(make::findBasket(request));
    ASSERT_EQ(some.unmet.size(), 1U);
    EXPECT_EQ(some.unmet[0].missing, 1);
    EXPECT_NEAR(some.cost, 0.5, 1e-9) << "what serves nothing is not bought";
}

TEST(Basket, BecomesOrdersThatArriveInTime) {
    make::BasketRequest request;
    request.wishes = {{"plate 2x4", 0, 10, {}}};
    request.sellers = {{"Harbour", 5, 0, {{0, 2}}}};
    request.offers = {{0, "plate 2x4", 0, 0.25, 100, 4}};
    const auto basket = test::must(make::findBasket(request));
    const auto orders = make::makeOrders(request, basket, "2026-12-29");
    ASSERT_EQ(orders.size(), 1U);
    EXPECT_EQ(orders[0].dueOn, "2027-01-03");
    EXPECT_EQ(orders[0].lines.at(0).count, 12) << "whole packs";
    EXPECT_NEAR(model::calcCost(orders[0]), 12 * 0.25 + 2, 1e-9);
}
