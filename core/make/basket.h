// SPDX-License-Identifier: GPL-3.0-or-later
// From whom should what is missing be bought, so that it costs least and comes in time?
//
// A mixed-integer programme (COIN-OR Cbc). For every offer x whole packs are bought, for every seller y says whether
// anything is, and one step t of its shipping holds: pieces of a wish and of what may stand in for it cover the wish;
// x ≤ packs·y; goods of a seller lie in the step's span of values; what is short of its least order is bought of
// anything else. Money: Σ price + Σ shipping. Of what nobody has enough, as much as there is; that is told. Money in
// the person's currency.
#pragma once

#include <algorithm>
#include <optional>

#include "core/base/progress.h"
#include "core/base/result.h"
#include "core/model/making.h"

namespace ivrant::make {

/// `count` pieces of another shape or colour do what one piece of the wish does.
struct StandIn {
    std::string shape;
    int colour = 0;
    int count = 1; ///< for each `of` pieces of the wish
    int of = 1;
};
struct Wish {
    std::string shape;
    int colour = 0;
    int count = 0;
    std::vector<StandIn> standIns; ///< that were tried on the model
};

enum class BasketGoal {
    Money,   ///< goods and shipping
    Sellers, ///< as few as possible, then money
    Soonest  ///< the last arrival as early as possible, then money
};

struct BasketRequest {
    std::vector<Wish> wishes;
    std::vector<model::Seller> sellers;
    std::vector<model::Offer> offers;
    BasketGoal goal = BasketGoal::Money;
    std::optional<int> mostDays; ///< what comes later is no use
    double mostSeconds = 10;     ///< then the best that is known, with what is still open
};

struct BasketLine {
    int offer = 0; ///< index in the request
    int pieces = 0;
};
struct BasketSeller {
    int seller = 0;
    double goods = 0, shipping = 0;
    double fill = 0;               ///< to be bought of anything else, to come to its least order
    std::vector<BasketLine> lines; ///< by offer
};
struct Unmet {
    int wish = 0;
    int missing = 0; ///< pieces that no seller has in time
};
/// A wish met by what stands in for it: `times` × StandIn::of pieces of the wish.
struct Replaced {
    int wish = 0, standIn = 0, times = 0;
};
struct Basket {
    std::vector<BasketSeller> sellers; ///< by cost, dearest first
    std::vector<Unmet> unmet;
    std::vector<Replaced> replaced;
    double cost = 0;
    double bound = 0;   ///< no basket that meets as much costs less
    bool proven = true; ///< it is the best there is; else the best known when time was up
    int days = 0;       ///< until the last arrival
    /// 0 when proven: how much of the cost could still be saved at most.
    [[nodiscard]] double gap() const { return cost > 0 ? std::max(0.0, (cost - bound) / cost) : 0; }
};

/// All offers of the lists in one; sellers of the same name in several lists are one only if they agree.
struct Market {
    std::vector<model::Seller> sellers;
    std::vector<model::Offer> offers;
};
[[nodiscard]] Market joinPriceLists(const std::vector<model::PriceListPtr>& lists);

/// Error "basket.failed" when the solver gives up without any basket; "stopped" when stopped.
base::Result<Basket> findBasket(const BasketRequest& request, base::Progress* progress = nullptr);

/// The basket as orders, one for each seller; `placedOn` a day, arrival that many days later.
[[nodiscard]] std::vector<model::Order> makeOrders(const BasketRequest& request, const Basket& basket,
                                                   const std::string& placedOn);

} // namespace ivrant::make
