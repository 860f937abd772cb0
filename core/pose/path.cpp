// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/pose/path.h"

#include <algorithm>
#include <cmath>
#include <random>

#include "core/base/at.h"

namespace ivrant::pose {
namespace {

constexpr double kReachDeg = 12;    ///< how far a tree grows at once, root of the sum of squares
constexpr double kTreeScanMm = 1.0; ///< while growing; the way found is tested again with kPathScanMm
constexpr int kCuts = 120;
constexpr double kMarginDeg = 30; ///< random poses may leave the box of both ends by so much

struct Node {
    JointValues values;
    int parent = -1;
};

double distance(const JointValues& a, const JointValues& b) {
    double squares = 0;
    for (std::size_t j = 0; j < a.size(); ++j)
        for (std::size_t k = 0; k < a[j].size(); ++k) squares += (a[j][k] - b[j][k]) * (a[j][k] - b[j][k]);
    return std::sqrt(squares);
}

class Trees {
public:
    Trees(const PoseChecker& checker, const JointValues& from, const JointValues& to) : m_checker(checker) {
        m_trees[0].push_back({from, -1});
        m_trees[1].push_back({to, -1});
        for (std::size_t j = 0; j < from.size(); ++j)
            for (std::size_t k = 0; k < from[j].size(); ++k) {
                if (from[j][k] == to[j][k] && !isNearMoving(from, to, j)) continue;
                const model::Range free = checker.freeRange({static_cast<int>(j), static_cast<int>(k)});
                const auto [low, high] = std::minmax(from[j][k], to[j][k]);
                m_box.push_back({j, k, std::max(free.low, low - kMarginDeg), std::min(free.high, high + kMarginDeg)});
            }
    }

    std::optional<std::vector<JointValues>> grow(int most, int& tried, const base::Progress* progress) {
        std::mt19937 random(4711);
        for (tried = 0; tried < most; ++tried) {
            if (progress && progress->stopped()) return std::nullopt;
            const int grows = tried % 2;
            JointValues target = m_trees[0].front().values;
            for (const Bounds& b : m_box)
                target[b.joint][b.freedom] = b.low + (b.high - b.low) * static_cast<double>(random()) / 4294967295.0;
            const int added = extend(grows, target);
            if (added < 0) continue;
            const JointValues reached = ivrant::at(m_trees[grows], added).values;
            int other = -1;
            while ((other = extend(1 - grows, reached)) >= 0)
                if (distance(ivrant::at(m_trees[1 - grows], other).values, reached) < 1e-9)
                    return joinAt(grows, added, other);
        }
        return std::nullopt;
    }

private:
    struct Bounds {
        std::size_t joint, freedom;
        double low, high;
    };

    /// Joints that carry, or are carried by, one that changes may help to get out of the way.
    [[nodiscard]] bool isNearMoving(const JointValues& from, const JointValues& to, std::size_t joint) const {
        const auto& tree = m_checker.kinematics().tree();
        for (std::size_t k = 0; k < from.size(); ++k) {
            if (from[k] == to[k]) continue;
            const bool above = ivrant::at(tree.carrier, tree.from[k].section) == static_cast<int>(joint);
            const bool below = ivrant::at(tree.carrier, tree.from[joint].section) == static_cast<int>(k);
            if (above || below || k == joint) return true;
        }
        return false;
    }

    /// Grows a tree from its nearest node towards a target by at most kReachDeg; −1 when it is blocked at once.
    int extend(int which, const JointValues& target) {
        auto& tree = m_trees[which];
        std::size_t nearest = 0;
        for (std::size_t i = 1; i < tree.size(); ++i)
            if (distance(tree[i].values, target) < distance(tree[nearest].values, target)) nearest = i;
        const double way = distance(tree[nearest].values, target);
        if (way < 1e-12) return static_cast<int>(nearest);
        const JointValues next = way <= kReachDeg ? target : calcBetween(tree[nearest].values, target, kReachDeg / way);
        if (calcFreeShare(m_checker, tree[nearest].values, next, kTreeScanMm) < 1) return -1;
        tree.push_back({next, static_cast<int>(nearest)});
        return static_cast<int>(tree.size()) - 1;
    }

    [[nodiscard]] std::vector<JointValues> joinAt(int grows, int a, int b) const {
        const auto back = [&](int which, int node) {
            std::vector<JointValues> way;
            for (; node >= 0; node = ivrant::at(m_trees[which], node).parent)
                way.push_back(ivrant::at(m_trees[which], node).values);
            return way;
        };
        std::vector<JointValues> first = back(0, grows == 0 ? a : b), second = back(1, grows == 0 ? b : a);
        std::reverse(first.begin(), first.end());
        first.insert(first.end(), second.begin() + 1, second.end()); // both end in the pose where they met
        return first;
    }

    const PoseChecker& m_checker;
    std::vector<Node> m_trees[2];
    std::vector<Bounds> m_box;
};

void shorten(const PoseChecker& checker, std::vector<JointValues>& way) {
    std::mt19937 random(99);
    for (int i = 0; i < kCuts && way.size() > 2; ++i) {
        const std::size_t a = random() % (way.size() - 2), b = a + 2 + random() % (way.size() - a - 2);
        if (calcFreeShare(checker, way[a], way[b], kPathScanMm) >= 1)
            way.erase(way.begin() + static_cast<std::ptrdiff_t>(a) + 1, way.begin() + static_cast<std::ptrdiff_t>(b));
    }
}

} // namespace

namespace {

PathCheck checkStraight(const PoseChecker& checker, const JointValues& from, const JointValues& to) {
    PathCheck check;
    check.to = to;
    const auto name = [&](const JointValues& at) {
        const auto block = checker.findBlock(at);
        check.blockedBy = block.pair;
        check.limitOf = block.limitOf;
    };
    if (!checker.isFree(from)) {
        name(from);
        return check;
    }
    check.freeShare = calcFreeShare(checker, from, to, kPathScanMm);
    check.free = check.freeShare >= 1;
    // What blocks is met a little further on; how much further depends on how long the way is.
    for (double beyond = 0.002; !check.free && !check.blockedBy && !check.limitOf && beyond < 1; beyond *= 2)
        name(calcBetween(from, to, std::min(1.0, check.freeShare + beyond)));
    return check;
}

constexpr std::size_t kMostOtherWays = 4; ///< joints of which both ways are tried

} // namespace

PathCheck calcPath(const PoseChecker& checker, const JointValues& from, const JointValues& to) {
    PathCheck best = checkStraight(checker, from, to);
    if (best.free || best.freeShare == 0) return best;
    // Joints that could go the other way round: endless ones that move, those that turn furthest first.
    std::vector<std::pair<std::size_t, std::size_t>> endless;
    const auto& project = checker.kinematics().project();
    for (std::size_t j = 0; j < from.size(); ++j) {
        const auto& kind = *project.joints[j].kind;
        const auto f = static_cast<std::size_t>(kind.axisFreedom());
        if (kind.freedomUnit(static_cast<int>(f)) == "deg" && !calcOwnRange(kind, from[j], static_cast<int>(f)) &&
            from[j][f] != to[j][f])
            endless.emplace_back(j, f);
    }
    std::stable_sort(endless.begin(), endless.end(), [&](const auto& l, const auto& r) {
        return std::abs(to[l.first][l.second] - from[l.first][l.second]) >
               std::abs(to[r.first][r.second] - from[r.first][r.second]);
    });
    if (endless.size() > kMostOtherWays) endless.resize(kMostOtherWays);
    for (std::size_t choice = 1; choice < (std::size_t{1} << endless.size()); ++choice) {
        JointValues other = to;
        std::vector<int> turned;
        for (std::size_t k = 0; k < endless.size(); ++k) {
            if ((choice >> k & 1) == 0) continue;
            const auto [j, f] = endless[k];
            const double way = std::remainder(to[j][f] - from[j][f], 360.0); // the short way, from −180 to 180
            const double asked = to[j][f] - from[j][f];
            const double round = std::abs(asked - way) < 1e-9 ? way - std::copysign(360.0, way) : way;
            other[j][f] = from[j][f] + round;
            turned.push_back(static_cast<int>(j));
        }
        PathCheck check = checkStraight(checker, from, other);
        if (!check.free) continue;
        check.otherWay = std::move(turned);
        return check;
    }
    return best;
}

base::Result<Detour> calcDetour(const PoseChecker& checker, const JointValues& from, const JointValues& to, int most,
                                const base::Progress* progress) {
    std::vector<int> moved;
    for (std::size_t j = 0; j < from.size(); ++j)
        if (from[j] != to[j]) moved.push_back(static_cast<int>(j));
    const auto& kinematics = checker.kinematics();
    if (auto st = checkOutsideRings(kinematics.project(), kinematics.tree(), moved, "path.ring", "a detour"); !st)
        return st.error();
    if (!checker.isFree(from)) return base::Error{"path.end", "parts are in each other where the way begins", ""};
    if (!checker.isFree(to)) return base::Error{"path.end", "parts are in each other where the way ends", ""};
    Detour detour;
    Trees trees(checker, from, to);
    auto way = trees.grow(most, detour.tried, progress);
    if (progress && progress->stopped()) return base::Error{"path.stopped", "stopped before a way was found", ""};
    if (!way) return base::Error{"path.none", "no way found among " + std::to_string(detour.tried) + " poses", ""};
    shorten(checker, *way);
    for (std::size_t i = 0; i + 1 < way->size(); ++i)
        if (calcFreeShare(checker, (*way)[i], (*way)[i + 1], kPathScanMm) < 1)
            return base::Error{"path.none", "the way found grazes something when looked at finely", ""};
    detour.through = std::move(*way);
    return detour;
}

} // namespace ivrant::pose
