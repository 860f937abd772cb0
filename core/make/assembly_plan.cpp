// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/make/assembly_plan.h"

#include <algorithm>
#include <cmath>
#include <map>
#include <queue>
#include <set>

#include "core/base/at.h"
#include "core/make/leaving_groups.h"

namespace ivrant::make {
namespace {

using geometry::Bounds;

constexpr double kBandMm = 40;
constexpr double kLayerMm = 0.1; ///< heights closer than this are one layer
constexpr double kTwinShare = 2.0 / 3;

long tenth(double mm) { return std::lround(mm * 10); }

/// The plane x = c or y = c about which most bodies have a twin; k −1: there is none.
struct Mirror {
    int k = -1;
    double at = 0;
};
Mirror findMirror(const Scene& scene) {
    Mirror best;
    double share = kTwinShare;
    Bounds all;
    for (int b = 0; b < scene.count(); ++b) all.include(scene.body(b).bounds);
    if (scene.count() < 4) return best;
    for (const int k : {0, 1}) {
        const double plane = all.centre()[k];
        std::set<std::array<long, 6>> boxes;
        const auto key = [&](const Bounds& box) {
            std::array<long, 6> six{};
            for (int i = 0; i < 3; ++i) {
                six[static_cast<std::size_t>(i)] = tenth(box.low[i]);
                six[static_cast<std::size_t>(i) + 3] = tenth(box.high[i]);
            }
            return six;
        };
        for (int b = 0; b < scene.count(); ++b) boxes.insert(key(scene.body(b).bounds));
        int twins = 0;
        for (int b = 0; b < scene.count(); ++b) {
            Bounds box = scene.body(b).bounds;
            const double low = 2 * plane - box.high[k], high = 2 * plane - box.low[k];
            box.low[k] = low;
            box.high[k] = high;
            if (boxes.count(key(box)) > 0) ++twins;
        }
        if (const double found = static_cast<double>(twins) / scene.count(); found >= share) {
            share = found + 1e-9;
            best = {k, plane};
        }
    }
    return best;
}

/// The model would have to be turned over for it.
bool isFromBelow(const Way& way) {
    constexpr double kDown = -0.5;
    return way.off.z() < kDown || way.lift.z() < kDown;
}

class Planner {
public:
    Planner(Scene& scene, const std::vector<BuildKey>& keys, base::Progress* progress)
        : m_scene(scene), m_keys(keys), m_progress(progress), m_state(static_cast<std::size_t>(scene.count())),
          m_watchers(static_cast<std::size_t>(scene.count())) {}

    AssemblyPlan run() {
        std::vector<int> there;
        for (int b = 0; b < m_scene.count(); ++b)
            if (m_scene.isThere(b)) there.push_back(b);
        m_total = there.size();
        takeApart(there, -1);
        for (const int b : there) m_scene.putBack(b);
        std::reverse(m_plan.order.begin(), m_plan.order.end());
        return std::move(m_plan);
    }

private:
    struct State {
        std::vector<int> witness; ///< by way; −1: not asked, or the witness has gone
        bool hangs = false;       ///< something would fall off without it
    };
    /// Last to build first.
    struct Later {
        const std::vector<BuildKey>* keys;
        bool operator()(int l, int r) const { // is l asked after r?
            return std::pair(at(*keys, l), l) < std::pair(at(*keys, r), r);
        }
    };
    using Queue = std::priority_queue<int, std::vector<int>, Later>;

    [[nodiscard]] bool isStopped() { return m_progress && m_progress->stopped(); }

    /// Takes these out, as far as it goes; they are what is there. What is in a group stays out of the plan's order
    /// until the group's turn.
    void takeApart(const std::vector<int>& bodies, int sub) {
        for (const int b : bodies) {
            at(m_state, b) = {};
            at(m_watchers, b).clear();
        }
        Queue queue(Later{&m_keys});
        for (const int b : bodies) queue.push(b);
        std::vector<bool> queued(static_cast<std::size_t>(m_scene.count()), false);
        for (const int b : bodies) queued[static_cast<std::size_t>(b)] = true;
        const auto ask = [&](int b) {
            if (m_scene.isThere(b) && !queued[static_cast<std::size_t>(b)]) {
                queued[static_cast<std::size_t>(b)] = true;
                queue.push(b);
            }
        };
        const auto leave = [&](int b) {
            m_scene.take(b);
            for (const auto& [p, way] : at(m_watchers, b)) {
                at(at(m_state, p).witness, way) = -1;
                ask(p);
            }
            at(m_watchers, b).clear();
            for (const int q : m_scene.bonded(b))
                if (at(m_state, q).hangs) ask(q);
        };
        const auto goOut = [&](int b, const Way& way) {
            m_plan.order.push_back({b, way, sub});
            leave(b);
        };
        while (true) {
            while (!queue.empty()) {
                if (isStopped()) {
                    m_plan.complete = false;
                    return;
                }
                const int b = queue.top();
                queue.pop();
                queued[static_cast<std::size_t>(b)] = false;
                if (!m_scene.isThere(b)) continue;
                if (const Way* way = findWay(b, false)) goOut(b, *way);
                if (m_progress)
                    m_progress->report(static_cast<double>(m_plan.order.size()) /
                                       static_cast<double>(std::max<std::size_t>(1, m_total)));
            }
            std::vector<int> left;
            for (const int b : bodies)
                if (m_scene.isThere(b)) left.push_back(b);
            if (left.empty()) return;
            if (const auto drawn = drawShaft(left, sub); !drawn.empty()) {
                for (const int b : drawn) leave(b);
                continue;
            }
            SubAssembly group = findHanging(left);
            if (group.bodies.empty()) group = findGroup(left, false);
            if (group.bodies.empty()) { // nothing comes from above or aside: what is built from below
                std::sort(left.begin(), left.end(), Later{&m_keys});
                const auto last = std::find_if(left.rbegin(), left.rend(), [&](int b) { return findWay(b, true); });
                if (last != left.rend()) {
                    goOut(*last, *findWay(*last, true));
                    continue;
                }
                std::sort(left.begin(), left.end());
                group = findGroup(left, true);
            }
            if (group.bodies.empty()) {
                m_plan.stuck.insert(m_plan.stuck.end(), left.begin(), left.end());
                for (const int b : left) m_scene.take(b); // of what is inside a group, what is around goes on
                return;
            }
            group.within = sub;
            const int index = static_cast<int>(m_plan.subs.size());
            m_plan.subs.push_back(group);
            // Inside by itself: nothing else is there.
            std::vector<int> others;
            for (const int b : left)
                if (!std::binary_search(group.bodies.begin(), group.bodies.end(), b)) others.push_back(b);
            std::vector<std::vector<std::pair<int, int>>> watchers; // of the group; nobody else's change inside
            for (const int b : group.bodies) watchers.push_back(at(m_watchers, b));
            for (const int b : others) m_scene.take(b);
            takeApart(group.bodies, index);
            for (const int b : others) m_scene.putBack(b);
            for (std::size_t i = 0; i < group.bodies.size(); ++i)
                at(m_watchers, group.bodies[i]) = std::move(watchers[i]);
            if (!m_plan.complete) return;
            for (const int b : group.bodies) leave(b);
        }
    }

    /// A way that it may go; null: none now, and it is asked again when that may have changed.
    const Way* findWay(int b, bool fromBelow) {
        State& state = at(m_state, b);
        const auto& ways = m_scene.ways(b);
        state.witness.resize(ways.size(), -1);
        const Way* free = nullptr;
        for (std::size_t w = 0; w < ways.size() && !free; ++w) {
            if (!fromBelow && isFromBelow(ways[w])) continue;
            int& witness = state.witness[w];
            if (witness >= 0 && m_scene.isThere(witness)) continue;
            witness = m_scene.findBlocker(b, ways[w]);
            if (witness < 0)
                free = &ways[w];
            else
                at(m_watchers, witness).emplace_back(b, static_cast<int>(w));
        }
        if (!free) return nullptr;
        state.hangs = !m_scene.mayLeave(b);
        return state.hangs ? nullptr : free;
    }

    /// A shaft that leaves what it runs through in the air, when all of that then comes out as well: what has gone.
    std::vector<int> drawShaft(const std::vector<int>& left, int sub) {
        for (const int shaft : left) {
            if (!at(m_state, shaft).hangs || m_scene.body(shaft).shafts.empty()) continue;
            const Way* way = nullptr;
            for (const Way& each : m_scene.ways(shaft))
                if (!way && m_scene.findBlocker(shaft, each) < 0) way = &each;
            const auto wheels = m_scene.listCutOff({shaft});
            if (!way || wheels.empty() ||
                !std::all_of(wheels.begin(), wheels.end(), [&](int b) { return m_scene.isThreaded(shaft, b); }))
                continue;
            m_scene.take(shaft);
            std::vector<int> gone{shaft};
            std::vector<Way> ways{*way};
            for (bool more = true; more;) {
                more = false;
                for (const int b : wheels) {
                    if (!m_scene.isThere(b)) continue;
                    for (const Way& each : m_scene.ways(b)) {
                        if (m_scene.findBlocker(b, each) >= 0) continue;
                        m_scene.take(b);
                        gone.push_back(b);
                        ways.push_back(each);
                        more = true;
                        break;
                    }
                }
            }
            for (const int b : gone) m_scene.putBack(b);
            if (gone.size() != wheels.size() + 1) continue;
            SubAssembly together;
            together.kind = SubAssembly::Kind::Threaded;
            together.bodies = gone;
            std::sort(together.bodies.begin(), together.bodies.end());
            together.way = *way;
            together.within = sub;
            m_plan.subs.push_back(std::move(together));
            for (std::size_t i = 0; i < gone.size(); ++i)
                m_plan.order.push_back({gone[i], ways[i], static_cast<int>(m_plan.subs.size()) - 1});
            return gone;
        }
        return {};
    }

    /// Of these the last to build that leaves as a whole with what hangs on it.
    [[nodiscard]] SubAssembly findHanging(std::vector<int> left) {
        const std::size_t all = left.size();
        std::erase_if(left, [&](int b) { return !at(m_state, b).hangs; });
        std::sort(left.begin(), left.end(), Later{&m_keys});
        for (auto b = left.rbegin(); b != left.rend(); ++b)
            for (const Way& way : m_scene.ways(*b)) {
                if (isFromBelow(way) || m_scene.findBlocker(*b, way) >= 0) continue;
                SubAssembly group;
                group.bodies = m_scene.listCutOff({*b});
                group.bodies.push_back(*b);
                std::sort(group.bodies.begin(), group.bodies.end());
                group.way = way;
                if (group.bodies.size() < all && leavesAsWhole(group.bodies, way)) return group;
            }
        return {};
    }

    /// The smallest group of these, with what hangs on it, that leaves as a whole without anything falling off.
    [[nodiscard]] SubAssembly findGroup(const std::vector<int>& left, bool fromBelow) {
        SubAssembly best;
        BuildKey bestKey{};
        for (LeavingGroup& leaving : listLeavingGroups(m_scene, left)) {
            auto& group = leaving.bodies;
            const Way& way = leaving.way;
            if (!fromBelow && isFromBelow(way)) continue;
            const auto hanging = m_scene.listCutOff(group);
            group.insert(group.end(), hanging.begin(), hanging.end());
            if (group.size() >= left.size() || group.size() < 2) continue;
            std::sort(group.begin(), group.end());
            BuildKey key{-1e300};
            for (const int b : group) key = std::max(key, at(m_keys, b));
            const bool better = best.bodies.empty() || group.size() < best.bodies.size() ||
                                (group.size() == best.bodies.size() && key > bestKey);
            if (!better || !m_scene.mayLeave(group)) continue;
            if (!hanging.empty() && !leavesAsWhole(group, way)) continue;
            best.bodies = std::move(group);
            best.way = way;
            bestKey = key;
        }
        return best;
    }

    [[nodiscard]] bool leavesAsWhole(const std::vector<int>& bodies, const Way& way) const {
        std::vector<bool> with(static_cast<std::size_t>(m_scene.count()), false);
        for (const int b : bodies) with[static_cast<std::size_t>(b)] = true;
        return std::none_of(bodies.begin(), bodies.end(),
                            [&](int b) { return m_scene.findBlocker(b, way, &with) >= 0; });
    }

    Scene& m_scene;
    const std::vector<BuildKey>& m_keys;
    base::Progress* m_progress;
    std::vector<State> m_state;
    std::vector<std::vector<std::pair<int, int>>> m_watchers; ///< by body: who waits for it, for which way
    AssemblyPlan m_plan;
    std::size_t m_total = 0;
};

} // namespace

std::vector<BuildKey> calcBuildKeys(const Scene& scene) {
    const auto n = static_cast<std::size_t>(scene.count());
    std::vector<double> layer(n, std::numeric_limits<double>::infinity());
    // What sits on something, or on the table, has its own height; the rest waits for its lowest carrier.
    std::vector<int> waiting;
    for (int b = 0; b < scene.count(); ++b) {
        const auto& near = scene.bonded(b);
        const bool sits = scene.body(b).onTable || near.empty() ||
                          std::any_of(near.begin(), near.end(), [&](int q) { return scene.sitsOn(b, q); });
        if (sits)
            at(layer, b) = kLayerMm * std::round(scene.body(b).bounds.low.z() / kLayerMm);
        else
            waiting.push_back(b);
    }
    for (bool grew = true; grew && !waiting.empty();) {
        grew = false;
        std::vector<int> later;
        std::vector<std::pair<int, double>> found;
        for (const int b : waiting) {
            double lowest = std::numeric_limits<double>::infinity();
            for (const int q : scene.bonded(b)) lowest = std::min(lowest, at(layer, q));
            if (std::isfinite(lowest))
                found.emplace_back(b, lowest);
            else
                later.push_back(b);
        }
        for (const auto& [b, height] : found) at(layer, b) = height;
        grew = !found.empty();
        waiting = std::move(later);
    }
    const Mirror mirror = findMirror(scene);
    std::vector<BuildKey> keys(n);
    for (int b = 0; b < scene.count(); ++b) {
        const Vec3 middle = scene.body(b).bounds.centre();
        double across = middle.x(), along = middle.y();
        if (mirror.k == 1) std::swap(across, along);
        if (mirror.k >= 0) across = 0.1 * std::round(10 * std::abs(across - mirror.at));
        const double band = std::floor(along / kBandMm);
        const bool back = static_cast<long>(band) % 2 != 0;
        const double height = std::isfinite(at(layer, b)) ? at(layer, b) : scene.body(b).bounds.low.z();
        at(keys, b) = mirror.k >= 0 ? BuildKey{height, band, across, along}
                                    : BuildKey{height, band, back ? -across : across, along};
    }
    return keys;
}

AssemblyPlan planAssembly(Scene& scene, const std::vector<BuildKey>& keys, base::Progress* progress) {
    return Planner(scene, keys, progress).run();
}

} // namespace ivrant::make
