// SPDX-License-Identifier: GPL-3.0-or-later
#include <algorithm>
#include <cstdint>
#include <map>
#include <set>

#include "core/base/at.h"
#include "core/make/order_check.h"

namespace ivrant::make {
namespace {

/// A largest matching of a bipartite graph by augmenting paths, and from it a least cover (König).
class Matching {
public:
    explicit Matching(std::vector<std::vector<int>> next, int rights)
        : m_next(std::move(next)), m_ofLeft(m_next.size(), -1), m_ofRight(static_cast<std::size_t>(rights), -1) {
        for (std::size_t left = 0; left < m_next.size(); ++left) {
            m_seen.assign(m_ofRight.size(), false);
            augment(static_cast<int>(left));
        }
    }
    /// Lefts that no alternating path from a free left reaches, and rights that one does.
    void listCover(std::vector<int>& lefts, std::vector<int>& rights) const {
        std::vector<bool> left(m_next.size(), false), right(m_ofRight.size(), false);
        std::vector<int> open;
        for (std::size_t i = 0; i < m_next.size(); ++i)
            if (m_ofLeft[i] < 0) {
                left[i] = true;
                open.push_back(static_cast<int>(i));
            }
        while (!open.empty()) {
            const int i = open.back();
            open.pop_back();
            for (const int r : at(m_next, i)) {
                if (right[static_cast<std::size_t>(r)]) continue;
                right[static_cast<std::size_t>(r)] = true;
                const int back = at(m_ofRight, r);
                if (back >= 0 && !left[static_cast<std::size_t>(back)]) {
                    left[static_cast<std::size_t>(back)] = true;
                    open.push_back(back);
                }
            }
        }
        for (std::size_t i = 0; i < left.size(); ++i)
            if (!left[i]) lefts.push_back(static_cast<int>(i));
        for (std::size_t r = 0; r < right.size(); ++r)
            if (right[r]) rights.push_back(static_cast<int>(r));
    }

private:
    bool augment(int left) {
        for (const int r : at(m_next, left)) {
            if (m_seen[static_cast<std::size_t>(r)]) continue;
            m_seen[static_cast<std::size_t>(r)] = true;
            if (at(m_ofRight, r) < 0 || augment(at(m_ofRight, r))) {
                at(m_ofRight, r) = left;
                at(m_ofLeft, left) = r;
                return true;
            }
        }
        return false;
    }

    std::vector<std::vector<int>> m_next;
    std::vector<int> m_ofLeft, m_ofRight;
    std::vector<bool> m_seen;
};

/// Of covers alike one of those that come too early: these are told, and move later.
std::vector<int> findCover(const std::vector<MustPrecede>& broken) {
    std::map<int, int> lefts, rights; // then, first
    std::vector<int> leftIds, rightIds;
    std::vector<std::vector<int>> next;
    for (const MustPrecede& pair : broken) {
        const auto [left, freshLeft] = lefts.try_emplace(pair.then, static_cast<int>(leftIds.size()));
        if (freshLeft) {
            leftIds.push_back(pair.then);
            next.emplace_back();
        }
        const auto [right, freshRight] = rights.try_emplace(pair.first, static_cast<int>(rightIds.size()));
        if (freshRight) rightIds.push_back(pair.first);
        at(next, left->second).push_back(right->second);
    }
    std::vector<int> fromLeft, fromRight;
    Matching(next, static_cast<int>(rightIds.size())).listCover(fromLeft, fromRight);
    std::set<int> cover;
    for (const int l : fromLeft) cover.insert(at(leftIds, l));
    for (const int r : fromRight) cover.insert(at(rightIds, r));
    return {cover.begin(), cover.end()};
}

constexpr std::size_t kMostNodes = 12'000, kMostBroken = 500'000; ///< above them the plan is offered alone

/// Of all pairs, also those that follow from others, the ones that `isBroken`.
template <class Broken>
std::vector<MustPrecede> listBroken(const AssemblyPlan& plan, const std::vector<int>& node,
                                    const std::map<int, std::vector<int>>& before, Broken isBroken) {
    std::map<int, std::size_t> rank; // of a node, by its first body in the plan
    std::vector<int> order;
    for (const PlannedBody& planned : plan.order)
        if (rank.try_emplace(at(node, planned.body), order.size()).second) order.push_back(at(node, planned.body));
    std::vector<MustPrecede> broken;
    constexpr std::size_t kBits = 64;
    const std::size_t words = (order.size() + kBits - 1) / kBits;
    std::vector<std::vector<std::uint64_t>> earlier(order.size(), std::vector<std::uint64_t>(words, 0));
    // A node's own place is that of its first body, so what comes before it may be ranked later: until nothing changes.
    for (bool grew = true; grew;) {
        grew = false;
        for (std::size_t i = 0; i < order.size(); ++i) {
            const auto found = before.find(order[i]);
            if (found == before.end()) continue;
            for (const int first : found->second) {
                const std::size_t k = rank.at(first);
                const auto take = [&](std::uint64_t& into, std::uint64_t bits) {
                    if ((bits & ~into) == 0) return;
                    into |= bits;
                    grew = true;
                };
                take(earlier[i][k / kBits], std::uint64_t{1} << (k % kBits));
                for (std::size_t w = 0; w < words; ++w) take(earlier[i][w], earlier[k][w]);
            }
        }
    }
    for (std::size_t i = 0; i < order.size() && broken.size() < kMostBroken; ++i)
        for (std::size_t k = 0; k < order.size(); ++k)
            if (k != i && (earlier[i][k / kBits] >> (k % kBits) & 1) != 0 && isBroken(order[k], order[i]))
                broken.push_back({order[k], order[i]});
    return broken;
}

} // namespace

std::vector<MustPrecede> listMustPrecede(const Scene& scene, const AssemblyPlan& plan, const std::vector<int>& steps) {
    std::map<int, std::size_t> place;
    for (std::size_t i = 0; i < plan.order.size(); ++i) place[plan.order[i].body] = i;
    std::set<std::pair<int, int>> pairs;
    const auto outermost = [&](int sub) {
        while (sub >= 0 && at(plan.subs, sub).within >= 0) sub = at(plan.subs, sub).within;
        return sub;
    };
    const auto add = [&](int body, const Way& way, const std::vector<int>* inside) {
        std::vector<bool> with;
        if (inside) {
            with.assign(static_cast<std::size_t>(scene.count()), false);
            for (const int b : *inside) with[static_cast<std::size_t>(b)] = true;
        }
        for (const int q : scene.listBlockers(body, way, inside ? &with : nullptr))
            if (place.count(q) > 0) pairs.emplace(body, q);
    };
    for (const PlannedBody& planned : plan.order) {
        const int sub = outermost(planned.sub);
        if (sub < 0)
            add(planned.body, planned.way, nullptr);
        else // inside, a sub-assembly is one step
            add(planned.body,
                at(plan.subs, sub).kind == SubAssembly::Kind::Whole ? at(plan.subs, sub).way : planned.way,
                &at(plan.subs, sub).bodies);
        const std::size_t own = place[planned.body];
        int holder = -1;
        bool stands = scene.body(planned.body).onTable;
        for (const int q : scene.bonded(planned.body)) {
            const auto found = place.find(q);
            if (found == place.end()) stands = true; // stuck: there from the start
            if (found == place.end() || found->second > own) continue;
            if (holder < 0 || std::pair(at(steps, q), q) < std::pair(at(steps, holder), holder)) holder = q;
        }
        if (!stands && holder >= 0) pairs.emplace(holder, planned.body);
    }
    std::vector<MustPrecede> list;
    list.reserve(pairs.size());
    for (const auto& [first, then] : pairs) list.push_back({first, then});
    return list;
}

OrderMend mendOrder(Scene& scene, const AssemblyPlan& plan, const std::vector<int>& steps) {
    // What goes in together moves together: one node each, named by one of its bodies.
    std::vector<int> node(steps.size());
    for (std::size_t b = 0; b < node.size(); ++b) node[b] = static_cast<int>(b);
    std::map<int, std::vector<int>> members;
    for (const SubAssembly& sub : plan.subs)
        if (sub.within < 0)
            for (const int b : sub.bodies) at(node, b) = sub.bodies.front();
    for (const PlannedBody& planned : plan.order) members[at(node, planned.body)].push_back(planned.body);
    std::set<std::pair<int, int>> pairs;
    for (const MustPrecede& pair : listMustPrecede(scene, plan, steps))
        if (at(node, pair.first) != at(node, pair.then)) pairs.emplace(at(node, pair.first), at(node, pair.then));
    std::vector<int> from = steps, to = steps; // of what goes in together
    for (const auto& [n, bodies] : members)
        for (const int b : bodies) {
            at(from, n) = std::min(at(from, n), at(steps, b));
            at(to, n) = std::max(at(to, n), at(steps, b));
        }
    const auto earliest = [&](int n) { return at(from, n); };
    const auto latest = [&](int n) { return at(to, n); };
    if (members.size() > kMostNodes) return {};
    std::map<int, std::vector<int>> before, after;
    for (const auto& [a, b] : pairs) {
        before[b].push_back(a);
        after[a].push_back(b);
    }
    const auto broken =
        listBroken(plan, node, before, [&](int first, int then) { return latest(first) > earliest(then); });
    if (broken.size() >= kMostBroken) return {};
    std::set<int> moved;
    for (const int n : findCover(broken)) moved.insert(n);
    for (const auto& [n, bodies] : members)
        if (earliest(n) != latest(n)) moved.insert(n);
    if (moved.empty()) return {};
    const auto isMoved = [&](int n) { return moved.count(n) > 0; };
    // Each as near to where it was as what comes before and after it allows.
    constexpr int kFar = 1 << 29;
    std::map<int, int> high;
    std::set<int> seen;
    for (auto planned = plan.order.rbegin(); planned != plan.order.rend(); ++planned) {
        const int n = at(node, planned->body);
        if (!isMoved(n) || !seen.insert(n).second) continue;
        int most = kFar;
        for (const int q : after[n]) most = std::min(most, isMoved(q) ? high[q] : earliest(q));
        high[n] = most;
    }
    OrderMend mend;
    mend.steps = steps;
    seen.clear();
    std::map<int, int> now;
    for (const PlannedBody& planned : plan.order) {
        const int n = at(node, planned.body);
        if (!isMoved(n) || !seen.insert(n).second) continue;
        int low = 1;
        for (const int q : before[n]) low = std::max(low, isMoved(q) ? now[q] : latest(q));
        const int step = std::max(low, std::min(high[n], latest(n)));
        now[n] = step;
        for (const int b : members[n]) {
            if (step != at(steps, b)) mend.moves.emplace_back(b, step);
            at(mend.steps, b) = step;
        }
    }
    if (checkOrder(scene, mend.steps).faults.size() > plan.stuck.size()) return {};
    return mend;
}

std::vector<int> makeSteps(const AssemblyPlan& plan, const std::vector<BuildKey>& keys, int most) {
    std::vector<int> steps(keys.size(), 1);
    const auto outermost = [&](int index) {
        while (index >= 0 && at(plan.subs, index).within >= 0) index = at(plan.subs, index).within;
        return index;
    };
    constexpr int kFewToClose = 3;
    int step = 1, count = static_cast<int>(plan.stuck.size());
    double layer = 0;
    for (std::size_t i = 0; i < plan.order.size();) {
        const int sub = outermost(plan.order[i].sub);
        std::size_t end = i + 1;
        while (sub >= 0 && end < plan.order.size() && outermost(plan.order[end].sub) == sub) ++end;
        double height = at(keys, plan.order[i].body)[0];
        for (std::size_t k = i; k < end; ++k) height = std::max(height, at(keys, plan.order[k].body)[0]);
        const int size = static_cast<int>(end - i);
        if (count > 0 && (count + size > most || (height != layer && count >= kFewToClose))) {
            ++step;
            count = 0;
        }
        for (std::size_t k = i; k < end; ++k) at(steps, plan.order[k].body) = step;
        count += size;
        layer = height;
        i = end;
    }
    return steps;
}

} // namespace ivrant::make
