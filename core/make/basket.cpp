// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/make/basket.h"

#include <algorithm>
#include <cmath>
#include <map>
#include <set>

#include "core/base/at.h"
#include "core/base/dates.h"
#include "core/make/whole_numbers.h"

namespace ivrant::make {
namespace {

constexpr double kSmallestMoney = 0.01; ///< a span of values ends that much below the next

using ItemKey = std::pair<std::string, int>; ///< shape, colour

int ceilDiv(int a, int b) { return (a + b - 1) / b; }

/// The columns of the programme and what they stand for.
class BasketProgramme {
public:
    BasketProgramme(const BasketRequest& request, int mostDays) : m_request(request) {
        m_allowed.resize(request.sellers.size());
        for (std::size_t s = 0; s < request.sellers.size(); ++s) m_allowed[s] = request.sellers[s].days <= mostDays;
        for (std::size_t w = 0; w < request.wishes.size(); ++w) {
            const Wish& wish = request.wishes[w];
            m_items[{wish.shape, wish.colour}].wishes.push_back(static_cast<int>(w));
            m_items[{wish.shape, wish.colour}].most += wish.count;
            for (const StandIn& other : wish.standIns)
                m_items[{other.shape, other.colour}].most += other.count * ceilDiv(wish.count, other.of);
        }
        addGoods();
        addBalances();
    }

    /// Sellers and shipping: not needed to tell what there is at all.
    void addSellers() {
        const auto& sellers = m_request.sellers;
        m_sellerUsed.assign(sellers.size(), -1);
        m_fill.assign(sellers.size(), -1);
        m_steps.resize(sellers.size());
        for (std::size_t s = 0; s < sellers.size(); ++s) {
            if (!m_allowed[s]) continue;
            const double leastOrder = sellers[s].leastOrder;
            // Anything else may be bought as well, to come to the least order or to cheaper shipping.
            const double mostFill =
                std::max(leastOrder, sellers[s].shipping.empty() ? 0.0 : sellers[s].shipping.back().fromValue);
            double most = mostFill;
            for (const Good& good : m_goods)
                if (static_cast<std::size_t>(offerOf(good).seller) == s)
                    most += offerOf(good).price * offerOf(good).pack * good.mostPacks;
            const int used = m_sellerUsed[s] = m_programme.addColumn(0, 1, 0, true);
            const int fill = m_fill[s] = m_programme.addColumn(0, mostFill, 1, false);
            std::vector<std::pair<int, double>> value{{fill, 1.0}};
            for (const Good& good : m_goods) {
                if (static_cast<std::size_t>(offerOf(good).seller) != s) continue;
                value.emplace_back(good.column, offerOf(good).price * offerOf(good).pack);
                m_programme.addRow(-kNoBound, 0, {{good.column, 1}, {used, -static_cast<double>(good.mostPacks)}});
            }
            if (leastOrder > 0) {
                auto least = value;
                least.emplace_back(used, -leastOrder);
                m_programme.addRow(0, kNoBound, std::move(least));
            }
            m_programme.addRow(-kNoBound, 0, {{fill, 1}, {used, -mostFill}});
            addShipping(s, std::move(value), most);
        }
    }

    [[nodiscard]] std::vector<double> costUnmet() const {
        std::vector<double> costs(m_programme.columnCount(), 0.0);
        for (const int column : m_unmet) at(costs, column) = 1;
        return costs;
    }
    [[nodiscard]] std::vector<double> costSellers() const {
        std::vector<double> costs(m_programme.columnCount(), 0.0);
        for (const int column : m_sellerUsed)
            if (column >= 0) at(costs, column) = 1;
        return costs;
    }
    [[nodiscard]] std::vector<double> costMoney() const {
        std::vector<double> costs(m_programme.columnCount(), 0.0);
        for (const Good& good : m_goods) at(costs, good.column) = offerOf(good).price * offerOf(good).pack;
        for (const int column : m_fill)
            if (column >= 0) at(costs, column) = 1;
        for (std::size_t s = 0; s < m_steps.size(); ++s)
            for (std::size_t b = 0; b < m_steps[s].size(); ++b)
                at(costs, m_steps[s][b]) = m_request.sellers[s].shipping[b].cost;
        return costs;
    }
    /// Holds Σ of these costs at or below that.
    void hold(const std::vector<double>& costs, double most) {
        std::vector<std::pair<int, double>> entries;
        for (std::size_t c = 0; c < costs.size(); ++c)
            if (costs[c] != 0) entries.emplace_back(static_cast<int>(c), costs[c]);
        if (!entries.empty()) m_programme.addRow(-kNoBound, most, std::move(entries));
    }
    ProgrammeResult solve(std::vector<double> costs, double seconds, const base::Progress* progress) {
        m_programme.setCosts(std::move(costs));
        return m_programme.solve(seconds, progress);
    }

    [[nodiscard]] Basket read(const ProgrammeResult& result) const {
        Basket basket;
        std::map<int, BasketSeller> sellers;
        for (const Good& good : m_goods) {
            const int packs = static_cast<int>(at(result.values, good.column));
            if (packs == 0) continue;
            const model::Offer& offer = offerOf(good);
            BasketSeller& seller = sellers[offer.seller];
            seller.lines.push_back({good.offer, packs * offer.pack});
            seller.goods += offer.price * offer.pack * packs;
        }
        for (auto& [index, seller] : sellers) {
            const model::Seller& terms = at(m_request.sellers, index);
            seller.seller = index;
            const double fill = at(result.values, at(m_fill, index));
            seller.fill = fill < kSmallestMoney / 2 ? 0 : fill;
            for (const model::ShippingStep& step : terms.shipping)
                if (seller.goods + seller.fill >= step.fromValue - kSmallestMoney / 2) seller.shipping = step.cost;
            basket.cost += seller.goods + seller.fill + seller.shipping;
            basket.days = std::max(basket.days, terms.days);
            basket.sellers.push_back(std::move(seller));
        }
        std::stable_sort(basket.sellers.begin(), basket.sellers.end(), [](const auto& l, const auto& r) {
            return l.goods + l.fill + l.shipping > r.goods + r.fill + r.shipping;
        });
        for (std::size_t w = 0; w < m_unmet.size(); ++w)
            if (const int missing = static_cast<int>(at(result.values, m_unmet[w])); missing > 0)
                basket.unmet.push_back({static_cast<int>(w), missing});
        for (const Replacing& replacing : m_replacing)
            if (const int times = static_cast<int>(at(result.values, replacing.column)); times > 0)
                basket.replaced.push_back({replacing.wish, replacing.standIn, times});
        basket.proven = result.proven;
        basket.bound = std::min(basket.cost, result.bound);
        return basket;
    }

private:
    struct Item {
        std::vector<int> wishes;
        int most = 0; ///< pieces that can be of use
        std::vector<std::pair<int, double>> balance;
    };
    struct Good {
        int offer, column, mostPacks;
    };
    struct Replacing {
        int wish, standIn, column;
    };

    [[nodiscard]] const model::Offer& offerOf(const Good& good) const { return at(m_request.offers, good.offer); }

    void addGoods() {
        for (std::size_t o = 0; o < m_request.offers.size(); ++o) {
            const model::Offer& offer = m_request.offers[o];
            const auto item = m_items.find({offer.shape, offer.colour});
            if (item == m_items.end() || !m_allowed[static_cast<std::size_t>(offer.seller)]) continue;
            const int packs = std::min(offer.count / offer.pack, ceilDiv(item->second.most, offer.pack));
            if (packs == 0) continue;
            const int column = m_programme.addColumn(0, packs, 0, true);
            m_goods.push_back({static_cast<int>(o), column, packs});
            item->second.balance.emplace_back(column, offer.pack);
        }
    }

    /// Pieces bought, what is left unmet and what others stand in for cover the wishes and what stands in elsewhere.
    void addBalances() {
        for (std::size_t w = 0; w < m_request.wishes.size(); ++w) {
            const Wish& wish = m_request.wishes[w];
            m_unmet.push_back(m_programme.addColumn(0, wish.count, 0, true));
            Item& own = m_items.at({wish.shape, wish.colour});
            own.balance.emplace_back(m_unmet.back(), 1);
            for (std::size_t k = 0; k < wish.standIns.size(); ++k) {
                const StandIn& other = wish.standIns[k];
                const int most = wish.count / other.of;
                const int column = m_programme.addColumn(0, most, 0, true);
                m_replacing.push_back({static_cast<int>(w), static_cast<int>(k), column});
                own.balance.emplace_back(column, other.of);
                m_items.at({other.shape, other.colour}).balance.emplace_back(column, -other.count);
            }
        }
        for (auto& [key, item] : m_items) {
            int demand = 0;
            for (const int w : item.wishes) demand += at(m_request.wishes, w).count;
            if (!item.balance.empty()) m_programme.addRow(demand, kNoBound, item.balance);
        }
    }

    /// One step of shipping holds, and the value of goods lies in its span.
    void addShipping(std::size_t s, std::vector<std::pair<int, double>> value, double most) {
        const auto& steps = m_request.sellers[s].shipping;
        if (steps.empty()) return;
        std::vector<std::pair<int, double>> one{{m_sellerUsed[s], -1.0}};
        for (std::size_t b = 0; b < steps.size(); ++b) {
            const int holds = m_programme.addColumn(0, 1, 0, true), part = m_programme.addColumn(0, kNoBound, 0, false);
            m_steps[s].push_back(holds);
            one.emplace_back(holds, 1.0);
            value.emplace_back(part, -1.0);
            const double high =
                b + 1 < steps.size() ? steps[b + 1].fromValue - kSmallestMoney : std::max(most, steps[b].fromValue);
            m_programme.addRow(0, kNoBound, {{part, 1}, {holds, -steps[b].fromValue}});
            m_programme.addRow(-kNoBound, 0, {{part, 1}, {holds, -high}});
        }
        m_programme.addRow(0, 0, std::move(one));
        m_programme.addRow(0, 0, std::move(value));
    }

    const BasketRequest& m_request;
    Programme m_programme;
    std::vector<bool> m_allowed; ///< by seller
    std::map<ItemKey, Item> m_items;
    std::vector<Good> m_goods;
    std::vector<int> m_unmet; ///< by wish
    std::vector<Replacing> m_replacing;
    std::vector<int> m_sellerUsed, m_fill; ///< by seller; −1: comes too late
    std::vector<std::vector<int>> m_steps; ///< by seller and step
};

const base::Error kStopped{"stopped", "stopped before a basket was found", ""};

/// The least that must stay unmet when everything up to that many days is waited for.
base::Result<double> findUnmet(const BasketRequest& request, int mostDays, double seconds, base::Progress* progress) {
    BasketProgramme programme(request, mostDays);
    const auto result = programme.solve(programme.costUnmet(), seconds, progress);
    if (result.found) return result.cost;
    if (result.stopped) return kStopped;
    return base::Error{"basket.failed", "the solver found no basket at all", ""};
}

} // namespace

Market joinPriceLists(const std::vector<model::PriceListPtr>& lists) {
    Market market;
    for (const auto& list : lists) {
        std::vector<int> indices;
        for (const model::Seller& seller : list->sellers) {
            const auto same =
                std::find_if(market.sellers.begin(), market.sellers.end(), [&](const model::Seller& other) {
                    return other.name == seller.name && other.days == seller.days &&
                           other.leastOrder == seller.leastOrder && other.shipping == seller.shipping;
                });
            indices.push_back(static_cast<int>(same - market.sellers.begin()));
            if (same == market.sellers.end()) market.sellers.push_back(seller);
        }
        for (model::Offer offer : list->offers) {
            offer.seller = at(indices, offer.seller);
            market.offers.push_back(std::move(offer));
        }
    }
    return market;
}

base::Result<Basket> findBasket(const BasketRequest& request, base::Progress* progress) {
    const auto report = [&](double fraction) {
        if (progress) progress->report(fraction);
    };
    std::set<int> days;
    for (const model::Seller& seller : request.sellers)
        if (!request.mostDays || seller.days <= *request.mostDays) days.insert(seller.days);
    int most = days.empty() ? -1 : *days.rbegin();
    const double share = request.mostSeconds / 4;
    const auto unmet = findUnmet(request, most, share, progress);
    if (!unmet) return unmet.error();
    if (request.goal == BasketGoal::Soonest)
        for (const int d : days) {
            const auto then = findUnmet(request, d, share, progress);
            if (!then) return then.error();
            if (*then > *unmet + 0.5) continue;
            most = d;
            break;
        }
    report(0.3);
    BasketProgramme programme(request, most);
    programme.addSellers();
    programme.hold(programme.costUnmet(), *unmet + 0.1);
    bool proven = true;
    if (request.goal == BasketGoal::Sellers) {
        const auto fewest = programme.solve(programme.costSellers(), share, progress);
        if (!fewest.found) return fewest.stopped ? kStopped : base::Error{"basket.failed", "no basket was found", ""};
        programme.hold(programme.costSellers(), fewest.cost + 0.1);
        proven = fewest.proven;
        report(0.6);
    }
    const auto cheapest = programme.solve(programme.costMoney(), request.mostSeconds - share, progress);
    if (!cheapest.found)
        return cheapest.stopped ? kStopped
                                : base::Error{"basket.failed",
                                              "no basket was found within " + std::to_string(request.mostSeconds) +
                                                  " s: allow more time",
                                              ""};
    report(1);
    Basket basket = programme.read(cheapest);
    basket.proven = basket.proven && proven;
    return basket;
}

std::vector<model::Order> makeOrders(const BasketRequest& request, const Basket& basket, const std::string& placedOn) {
    std::vector<model::Order> orders;
    const auto placed = base::parseDay(placedOn);
    for (const BasketSeller& from : basket.sellers) {
        const model::Seller& seller = at(request.sellers, from.seller);
        model::Order order;
        order.seller = seller.name;
        order.placedOn = placedOn;
        if (placed) order.dueOn = base::formatDay(*placed + std::chrono::days(seller.days));
        order.shipping = from.shipping;
        for (const BasketLine& line : from.lines) {
            const model::Offer& offer = at(request.offers, line.offer);
            order.lines.push_back({offer.shape, offer.colour, line.pieces, 0, offer.price});
        }
        orders.push_back(std::move(order));
    }
    return orders;
}

} // namespace ivrant::make
