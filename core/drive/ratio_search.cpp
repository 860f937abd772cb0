// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/drive/ratio_search.h"

#include <algorithm>
#include <cmath>
#include <map>
#include <numeric>

namespace ivrant::drive {
namespace {

constexpr int kMostWorms = 2;
constexpr std::size_t kMostCounted = 100000; ///< combinations that are looked at one by one
constexpr double kRounding = 1e-12;          ///< a wish is a double: 1/105 is met as near as it can be told

struct Kind { ///< all pairs of one ratio
    double value = 0;
    std::vector<Stage> pairs; ///< shortest first
    bool worm = false;
};

double distanceMm(const Stage& stage) {
    return stage.worm ? (kWormDiameterMm + stage.driven) / 2 : calcOutsideMm(stage.driver, stage.driven);
}

std::optional<FitOffset> findPlainest(double distance, GridStep coarsest) {
    for (const FitOffset& fit : listFits(distance))
        if (fit.step <= coarsest) return fit;
    return std::nullopt;
}

std::vector<Kind> listKinds(const RatioWish& wish) {
    std::map<int, int> stock(wish.stock.begin(), wish.stock.end());
    if (wish.stock.empty())
        for (int teeth : getSpurTeeth()) stock[teeth] = wish.mostStages * 2;
    std::map<double, std::optional<FitOffset>> fits; // by distance: listing takes longest
    const auto fitAt = [&](double distance) {
        const auto [found, fresh] = fits.try_emplace(distance);
        if (fresh) found->second = findPlainest(distance, wish.coarsest);
        return found->second;
    };
    std::map<std::pair<bool, double>, Kind> kinds; // small fractions: equal ones are equal as doubles
    const auto add = [&](Stage stage) {
        const auto fit = fitAt(distanceMm(stage));
        if (!fit) return;
        stage.offset = *fit;
        Kind& kind = kinds[{stage.worm, static_cast<double>(stage.driver) / stage.driven}];
        kind.value = static_cast<double>(stage.driver) / stage.driven;
        kind.worm = stage.worm;
        kind.pairs.push_back(stage);
    };
    for (const auto& [a, countA] : stock)
        for (const auto& [b, countB] : stock)
            if (countA > 0 && countB > (a == b ? 1 : 0)) add({a, b, false, {}});
    if (wish.holds != false && (wish.stock.empty() || wish.worms > 0))
        for (const auto& [z, count] : stock)
            if (count > 0) add({1, z, true, {}});
    std::vector<Kind> list;
    for (auto& entry : kinds) {
        std::stable_sort(entry.second.pairs.begin(), entry.second.pairs.end(),
                         [](const Stage& a, const Stage& b) { return distanceMm(a) < distanceMm(b); });
        list.push_back(std::move(entry.second));
    }
    return list;
}

class Search {
public:
    explicit Search(const RatioWish& wish)
        : m_wish(wish), m_kinds(listKinds(wish)), m_stock(wish.stock.begin(), wish.stock.end()) {}

    RatioResult run() {
        for (std::size_t k = 0; k < m_kinds.size(); ++k) (m_kinds[k].worm ? m_worms : m_spurs).push_back(k);
        std::sort(m_spurs.begin(), m_spurs.end(),
                  [&](std::size_t a, std::size_t b) { return m_kinds[a].value < m_kinds[b].value; });
        for (int stages = 1; stages <= m_wish.mostStages; ++stages)
            for (int worms = m_wish.holds == true ? 1 : 0; worms <= std::min(stages, countWorms()); ++worms) {
                if (m_wish.reversed && worms == 0 && (stages % 2 == 1) != *m_wish.reversed) continue;
                chooseWorms(worms, 0, stages - worms, 1.0);
            }
        return collect();
    }

private:
    [[nodiscard]] int countWorms() const {
        if (m_worms.empty() || m_wish.holds == false) return 0;
        return m_stock.empty() ? kMostWorms : std::min(kMostWorms, m_wish.worms);
    }
    void chooseWorms(int worms, std::size_t from, int spurs, double product) {
        if (worms == 0) return choose(spurs, 0, product);
        for (std::size_t i = from; i < m_worms.size(); ++i) {
            m_chosen.push_back(m_worms[i]);
            chooseWorms(worms - 1, i, spurs, product * m_kinds[m_worms[i]].value);
            m_chosen.pop_back();
        }
    }
    /// `left` more spur stages of kinds from place `from` of the sorted list; the last is found by halving.
    void choose(int left, std::size_t from, double product) {
        if (left == 0) {
            consider(product);
            return;
        }
        if (left > 1) {
            for (std::size_t i = from; i < m_spurs.size(); ++i) {
                m_chosen.push_back(m_spurs[i]);
                choose(left - 1, i, product * m_kinds[m_spurs[i]].value);
                m_chosen.pop_back();
            }
            return;
        }
        const auto first = m_spurs.begin() + static_cast<std::ptrdiff_t>(from);
        const double low = m_wish.ratio * (1 - m_wish.tolerance) * (1 - 1e-12),
                     high = m_wish.ratio * (1 + m_wish.tolerance) * (1 + 1e-12);
        const auto below = [&](std::size_t kind, double wanted) { return product * m_kinds[kind].value < wanted; };
        auto at = std::lower_bound(first, m_spurs.end(), low, below);
        // Also the neighbour below, for the nearest when nothing is within.
        if (at != first) take(*(at - 1), product);
        for (; at != m_spurs.end(); ++at) {
            take(*at, product);
            if (product * m_kinds[*at].value > high) break;
        }
    }
    void take(std::size_t kind, double product) {
        m_chosen.push_back(kind);
        consider(product * m_kinds[kind].value);
        m_chosen.pop_back();
    }
    void consider(double value) {
        const double error = value / m_wish.ratio - 1;
        if (std::abs(error) <= m_wish.tolerance * (1 + 1e-12) + 1e-15) {
            m_hits[fractionOf(m_chosen)].push_back(m_chosen);
        } else if (std::abs(error) < m_nearestError && !pick(m_chosen).stages.empty()) {
            m_nearestError = std::abs(error);
            m_nearest = m_chosen;
        }
    }
    using Fraction = std::pair<std::int64_t, std::int64_t>;
    /// In lowest terms; at most 200⁴ either side.
    [[nodiscard]] Fraction fractionOf(const std::vector<std::size_t>& kinds) const {
        Fraction product{1, 1};
        for (std::size_t k : kinds) {
            product.first *= m_kinds[k].pairs.front().driver;
            product.second *= m_kinds[k].pairs.front().driven;
        }
        const std::int64_t common = std::gcd(product.first, product.second);
        return {product.first / common, product.second / common};
    }

    /// The pairs to build a choice with, within the stock; no stages: not possible.
    [[nodiscard]] FoundTrain pick(const std::vector<std::size_t>& kinds) const {
        FoundTrain best;
        FoundTrain now;
        std::map<int, int> left = m_stock;
        pickFrom(kinds, 0, left, now, best);
        return best;
    }
    bool pickFrom(const std::vector<std::size_t>& kinds, std::size_t at, std::map<int, int>& left, FoundTrain& now,
                  FoundTrain& best) const {
        if (at == kinds.size()) {
            best = now;
            return true; // pairs are tried shortest first
        }
        for (const Stage& stage : m_kinds[kinds[at]].pairs) {
            if (!m_stock.empty()) {
                if (!stage.worm) --left[stage.driver];
                --left[stage.driven];
            }
            const bool enough = m_stock.empty() || (left[stage.driven] >= 0 && (stage.worm || left[stage.driver] >= 0));
            bool done = false;
            if (enough) {
                now.stages.push_back(stage);
                now.lengthMm += distanceMm(stage);
                done = pickFrom(kinds, at + 1, left, now, best);
                now.stages.pop_back();
                now.lengthMm -= distanceMm(stage);
            }
            if (!m_stock.empty()) {
                if (!stage.worm) ++left[stage.driver];
                ++left[stage.driven];
            }
            if (done) return true;
        }
        return false;
    }
    /// Pair combinations of a choice that the stock allows.
    [[nodiscard]] std::size_t countWays(const std::vector<std::size_t>& kinds) const {
        std::size_t ways = 1;
        for (std::size_t k : kinds) ways *= m_kinds[k].pairs.size();
        if (m_stock.empty() || ways > kMostCounted) return ways;
        std::map<int, int> left = m_stock;
        return countFrom(kinds, 0, left);
    }
    std::size_t countFrom(const std::vector<std::size_t>& kinds, std::size_t at, std::map<int, int>& left) const {
        if (at == kinds.size()) return 1;
        std::size_t sum = 0;
        for (const Stage& stage : m_kinds[kinds[at]].pairs) {
            const auto take = [&](int change) {
                if (!stage.worm) left[stage.driver] += change;
                left[stage.driven] += change;
            };
            take(-1);
            if (left[stage.driven] >= 0 && (stage.worm || left[stage.driver] >= 0))
                sum += countFrom(kinds, at + 1, left);
            take(1);
        }
        return sum;
    }
    [[nodiscard]] RatioGroup makeGroup(const std::vector<std::vector<std::size_t>>& choices) const {
        RatioGroup group;
        const Fraction ratio = fractionOf(choices.front());
        group.ratio = makeRational(ratio.first, ratio.second);
        group.error = group.ratio.get_d() / m_wish.ratio - 1;
        if (std::abs(group.error) < kRounding) group.error = 0;
        for (const auto& kinds : choices) { // fewest stages come first
            FoundTrain train = pick(kinds);
            if (train.stages.empty()) continue;
            group.count += countWays(kinds);
            group.trains.push_back(std::move(train));
        }
        std::stable_sort(group.trains.begin(), group.trains.end(), [](const FoundTrain& a, const FoundTrain& b) {
            return a.stages.size() != b.stages.size() ? a.stages.size() < b.stages.size() : a.lengthMm < b.lengthMm;
        });
        if (group.trains.size() > kMostTrains) group.trains.resize(kMostTrains);
        return group;
    }
    RatioResult collect() {
        RatioResult result;
        std::vector<std::pair<double, Fraction>> order;
        for (const auto& entry : m_hits)
            order.emplace_back(std::abs(static_cast<double>(entry.first.first) /
                                            static_cast<double>(entry.first.second) / m_wish.ratio -
                                        1),
                               entry.first);
        std::sort(order.begin(), order.end());
        for (const auto& entry : order) {
            if (result.groups.size() >= m_wish.most) break;
            RatioGroup group = makeGroup(m_hits.at(entry.second));
            if (!group.trains.empty()) result.groups.push_back(std::move(group));
        }
        if (result.groups.empty() && !m_nearest.empty()) result.nearest = makeGroup({m_nearest});
        return result;
    }

    const RatioWish& m_wish;
    std::vector<Kind> m_kinds;
    std::map<int, int> m_stock;
    std::vector<std::size_t> m_spurs, m_worms, m_chosen, m_nearest;
    double m_nearestError = 1e300;
    std::map<Fraction, std::vector<std::vector<std::size_t>>> m_hits;
};

} // namespace

base::Result<RatioResult> searchRatios(const RatioWish& wish) {
    const auto bad = [](const std::string& what) { return base::Error{"ratio.wish", what, ""}; };
    if (!(wish.ratio > 0) || !std::isfinite(wish.ratio)) return bad("the wanted ratio must be above zero");
    if (!(wish.tolerance >= 0 && wish.tolerance <= 1)) return bad("the tolerance must be between 0 and 100 %");
    if (wish.mostStages < 1 || wish.mostStages > 4) return bad("one to four stages can be searched");
    for (const auto& [teeth, count] : wish.stock)
        if (teeth < 4 || teeth > 200 || count < 0)
            return bad("a wheel of " + std::to_string(teeth) + " teeth cannot be searched with");
    return Search(wish).run();
}

} // namespace ivrant::drive
