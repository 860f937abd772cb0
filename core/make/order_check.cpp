// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/make/order_check.h"

#include <algorithm>
#include <deque>
#include <map>
#include <set>
#include <tuple>

#include "core/base/at.h"
#include "core/base/groups.h"
#include "core/make/leaving_groups.h"

namespace ivrant::make {
namespace {

class OrderChecker {
public:
    OrderChecker(Scene& scene, const std::vector<int>& steps, base::Progress* progress)
        : m_scene(scene), m_steps(steps), m_progress(progress), m_watchers(steps.size()), m_witness(steps.size()) {
        m_out.ways.resize(steps.size());
        for (std::size_t b = 0; b < steps.size(); ++b) m_byStep[steps[b]].push_back(static_cast<int>(b));
    }

    OrderCheck run() {
        for (auto step = m_byStep.rbegin(); step != m_byStep.rend(); ++step) takeOut(step->second);
        for (std::size_t b = 0; b < m_steps.size(); ++b) m_scene.putBack(static_cast<int>(b));
        findHanging();
        std::sort(m_out.faults.begin(), m_out.faults.end(), [&](const OrderFault& l, const OrderFault& r) {
            return std::pair(at(m_steps, l.body), l.body) < std::pair(at(m_steps, r.body), r.body);
        });
        return std::move(m_out);
    }

private:
    [[nodiscard]] bool isStopped() { return m_progress && m_progress->stopped(); }

    void takeOut(const std::vector<int>& bodies) {
        std::deque<int> open(bodies.rbegin(), bodies.rend());
        const auto leave = [&](int b) {
            m_scene.take(b);
            for (const auto& [p, way] : at(m_watchers, b)) {
                at(at(m_witness, p), way) = -1;
                if (at(m_steps, p) == at(m_steps, b)) open.push_back(p);
            }
            at(m_watchers, b).clear();
        };
        while (!open.empty()) {
            if (isStopped()) {
                m_out.complete = false;
                break;
            }
            const int b = open.front();
            open.pop_front();
            if (m_scene.isThere(b) && goesOut(b)) leave(b);
        }
        std::vector<int> left;
        const auto listLeft = [&] {
            left.clear();
            for (const int b : bodies)
                if (m_scene.isThere(b)) left.push_back(b);
        };
        listLeft();
        while (!left.empty()) {
            if (!m_out.complete) {
                for (const int b : left) leave(b);
                return;
            }
            const LeavingGroup group = findGroup(left);
            if (!group.blockers.empty())
                tell(group);
            else if (group.bodies.size() > 1)
                m_out.groups.push_back({group.bodies, group.way});
            for (const int b : group.bodies) {
                at(m_out.ways, b) = group.way;
                leave(b);
            }
            while (!open.empty()) {
                const int b = open.front();
                open.pop_front();
                if (m_scene.isThere(b) && goesOut(b)) leave(b);
            }
            listLeft();
        }
    }

    bool goesOut(int b) {
        const auto& ways = m_scene.ways(b);
        auto& witness = at(m_witness, b);
        witness.resize(ways.size(), -1);
        for (std::size_t w = 0; w < ways.size(); ++w) {
            if (witness[w] >= 0 && m_scene.isThere(witness[w])) continue;
            witness[w] = m_scene.findBlocker(b, ways[w]);
            if (witness[w] < 0) {
                at(m_out.ways, b) = ways[w];
                return true;
            }
            at(m_watchers, witness[w]).emplace_back(b, static_cast<int>(w));
        }
        return false;
    }

    /// Some of these, joined to each other before they go in, that have a way; else those that have least in it.
    LeavingGroup findGroup(const std::vector<int>& left) {
        LeavingGroup best;
        const auto offer = [&](LeavingGroup group) {
            const auto cost = [](const LeavingGroup& g) {
                return std::tuple(g.blockers.size(), g.way.lift != Vec3::Zero(), g.bodies.size());
            };
            if (best.bodies.empty() || cost(group) < cost(best)) best = std::move(group);
        };
        for (LeavingGroup& group : listLeavingGroups(m_scene, left)) offer(std::move(group));
        for (const int b : left) // by ways that are no axes
            for (const Way& way : m_scene.ways(b)) {
                auto blockers = m_scene.listBlockers(b, way);
                if (std::none_of(blockers.begin(), blockers.end(),
                                 [&](int q) { return std::binary_search(left.begin(), left.end(), q); }))
                    offer({{b}, way, {b}, std::move(blockers)});
            }
        return best;
    }

    void tell(const LeavingGroup& group) {
        for (const int b : group.blocked) {
            OrderFault fault;
            fault.body = b;
            fault.way = group.way;
            for (const int q : group.bodies)
                if (q != b) fault.with.push_back(q);
            std::vector<bool> with(m_steps.size(), false);
            for (const int q : group.bodies) with[static_cast<std::size_t>(q)] = true;
            fault.others = m_scene.listBlockers(b, group.way, &with);
            m_out.faults.push_back(std::move(fault));
        }
    }

    /// What hangs on nothing when its step is done, and will later.
    void findHanging() {
        const std::size_t n = m_steps.size(), table = n;
        const auto touches = [&](int b) { return m_scene.body(b).onTable; };
        base::Groups whole(n + 1);
        for (std::size_t b = 0; b < n; ++b) {
            if (touches(static_cast<int>(b))) whole.join(b, table);
            for (const int q : m_scene.bonded(static_cast<int>(b))) whole.join(b, static_cast<std::size_t>(q));
        }
        base::Groups groups(n + 1);
        std::vector<bool> placed(n, false), told(n, false);
        bool tableThere = false;
        std::size_t first = n;
        std::vector<int> apart; // placed, and not yet with the rest
        for (const auto& [number, bodies] : m_byStep) {
            for (const int b : bodies) {
                const auto i = static_cast<std::size_t>(b);
                placed[i] = true;
                if (first == n) first = i;
                if (touches(b)) {
                    groups.join(i, table);
                    tableThere = true;
                }
                for (const int q : m_scene.bonded(b))
                    if (placed[static_cast<std::size_t>(q)]) groups.join(i, static_cast<std::size_t>(q));
                apart.push_back(b);
            }
            const std::size_t main = groups.find(tableThere ? table : first);
            std::erase_if(apart, [&](int b) { return groups.find(static_cast<std::size_t>(b)) == main; });
            for (const int b : apart) {
                const auto i = static_cast<std::size_t>(b);
                if (told[i] || whole.find(i) != whole.find(tableThere ? table : first)) continue; // loose for good
                told[i] = true;
                OrderFault fault;
                fault.kind = OrderFault::Kind::NothingToHold;
                fault.body = b;
                for (const int q : m_scene.bonded(b))
                    if (!placed[static_cast<std::size_t>(q)]) fault.others.push_back(q);
                m_out.faults.push_back(std::move(fault));
            }
        }
    }

    Scene& m_scene;
    const std::vector<int>& m_steps;
    base::Progress* m_progress;
    std::map<int, std::vector<int>> m_byStep;
    std::vector<std::vector<std::pair<int, int>>> m_watchers;
    std::vector<std::vector<int>> m_witness; ///< by body and way
    OrderCheck m_out;
};

} // namespace

OrderCheck checkOrder(Scene& scene, const std::vector<int>& steps, base::Progress* progress) {
    return OrderChecker(scene, steps, progress).run();
}

} // namespace ivrant::make
