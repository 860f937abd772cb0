// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/make/scene.h"

#include <algorithm>
#include <cmath>
#include <limits>
#include <map>
#include <numeric>
#include <optional>
#include <set>

#include "core/base/at.h"
#include "core/base/groups.h"
#include "core/bonds/teeth.h"

namespace ivrant::make {
namespace {

using geometry::Bounds;

constexpr double kGrazeMm = 0.5; ///< what touches at rest is looked at again from here on
constexpr double kTableMm = 0.05;
constexpr std::size_t kMostDirections = 14;

Bounds sweep(Bounds box, const Vec3& along) {
    box.low += along.cwiseMin(0.0);
    box.high += along.cwiseMax(0.0);
    return box;
}
Bounds move(Bounds box, const Vec3& by) {
    box.low += by;
    box.high += by;
    return box;
}
bool meet(const Bounds& a, const Bounds& b) {
    return (a.low.array() < b.high.array()).all() && (b.low.array() < a.high.array()).all();
}
bool isSquare(const Vec3& v) { return (v.array() != 0).count() <= 1; }

/// Boxes about boxes, with how many of the bodies below each are there.
class BoundsTree {
public:
    void make(const std::vector<SceneBody>& bodies) {
        m_items.resize(bodies.size());
        std::iota(m_items.begin(), m_items.end(), 0);
        m_leaf.resize(bodies.size());
        m_nodes.clear();
        if (!bodies.empty()) split(bodies, 0, static_cast<int>(bodies.size()), -1);
    }
    void count(int body, int by) {
        for (int node = at(m_leaf, body); node >= 0; node = at(m_nodes, node).up) at(m_nodes, node).there += by;
    }
    /// visit(body) for bodies whose box may meet it, those first that lie nearest along `way`; true ends.
    template <class Visit> bool forMeeting(const Bounds& box, const Vec3& way, Visit visit) const {
        return !m_nodes.empty() && descend(0, box, way, visit);
    }

private:
    struct Node {
        Bounds box;
        int left = -1, right = -1, up = -1;
        int first = 0, last = 0, there = 0;
    };
    static constexpr int kLeafSize = 4;

    int split(const std::vector<SceneBody>& bodies, int first, int last, int up) {
        const int index = static_cast<int>(m_nodes.size());
        m_nodes.push_back({{}, -1, -1, up, first, last, last - first});
        Bounds box, middles;
        for (int i = first; i < last; ++i) {
            const Bounds& each = at(bodies, at(m_items, i)).bounds;
            box.include(each);
            middles.include(each.centre());
        }
        at(m_nodes, index).box = box;
        if (last - first <= kLeafSize) {
            for (int i = first; i < last; ++i) at(m_leaf, at(m_items, i)) = index;
            return index;
        }
        int k = 0;
        middles.size().maxCoeff(&k);
        const int middle = (first + last) / 2;
        std::nth_element(m_items.begin() + first, m_items.begin() + middle, m_items.begin() + last, [&](int l, int r) {
            return std::pair(at(bodies, l).bounds.centre()[k], l) < std::pair(at(bodies, r).bounds.centre()[k], r);
        });
        const int left = split(bodies, first, middle, index);
        const int right = split(bodies, middle, last, index);
        at(m_nodes, index).left = left;
        at(m_nodes, index).right = right;
        return index;
    }
    template <class Visit> bool descend(int index, const Bounds& box, const Vec3& way, Visit& visit) const {
        const Node& node = at(m_nodes, index);
        if (node.there == 0 || !meet(node.box, box)) return false;
        if (node.left < 0) {
            for (int i = node.first; i < node.last; ++i)
                if (visit(at(m_items, i))) return true;
            return false;
        }
        const auto near = [&](int child) { return at(m_nodes, child).box.centre().dot(way); };
        const bool leftFirst = near(node.left) <= near(node.right);
        return descend(leftFirst ? node.left : node.right, box, way, visit) ||
               descend(leftFirst ? node.right : node.left, box, way, visit);
    }

    std::vector<int> m_items, m_leaf;
    std::vector<Node> m_nodes;
};

} // namespace

struct Scene::Impl {
    std::vector<SceneBody> bodies;
    std::vector<SceneBond> bonds;
    std::vector<std::vector<int>> bonded;      ///< by body: neighbours
    std::vector<std::vector<int>> bondOf;      ///< by body: bonds, as bonded
    std::set<std::pair<int, int>> overlapping; ///< smaller first
    mutable std::vector<std::optional<std::vector<Way>>> ways;
    std::vector<bool> there;
    int thereCount = 0;
    BoundsTree tree;
    double farMm = 0; ///< beyond everything

    void finish() {
        bonded.resize(bodies.size());
        bondOf.resize(bodies.size());
        for (std::size_t k = 0; k < bonds.size(); ++k)
            for (const auto& [own, other] : {std::pair(bonds[k].a, bonds[k].b), std::pair(bonds[k].b, bonds[k].a)}) {
                at(bonded, own).push_back(other);
                at(bondOf, own).push_back(static_cast<int>(k));
            }
        ways.resize(bodies.size());
        there.assign(bodies.size(), true);
        thereCount = static_cast<int>(bodies.size());
        Bounds all;
        for (const SceneBody& body : bodies) all.include(body.bounds);
        for (SceneBody& body : bodies) body.onTable = body.bounds.low.z() < all.low.z() + kTableMm;
        farMm = all.empty() ? 0 : 2 * all.size().norm() + 10;
        tree.make(bodies);
    }

    /// May `body` leave the other one of the bond along the way?
    [[nodiscard]] bool lets(const SceneBond& bond, int body, const Vec3& way) const {
        const double sign = bond.a == body ? 1 : -1;
        return std::all_of(bond.lines.begin(), bond.lines.end(), [&](const std::vector<Vec3>& line) {
            return std::any_of(line.begin(), line.end(), [&](const Vec3& v) { return sign * v.dot(way) > kSameWay; });
        });
    }
    [[nodiscard]] const SceneBond* findBond(int a, int b) const {
        const auto& list = at(bonded, a);
        for (std::size_t k = 0; k < list.size(); ++k)
            if (list[k] == b) return &at(bonds, at(bondOf, a)[k]);
        return nullptr;
    }

    /// Do they slide through each other: a shaft on the line of a hole, along it?
    [[nodiscard]] static bool passes(const SceneBody& a, int k, const SceneBody& b, int l, const Vec3& way) {
        const auto has = [](const SceneShaft& line, int solid) {
            return std::find(line.solids.begin(), line.solids.end(), solid) != line.solids.end();
        };
        const auto find = [&](const std::vector<SceneShaft>& shafts, int shaftSolid,
                              const std::vector<SceneShaft>& holes, int holeSolid) {
            for (const SceneShaft& shaft : shafts) {
                if (!has(shaft, shaftSolid) || std::abs(shaft.axis.dot(way)) < kSameWay) continue;
                for (const SceneShaft& hole : holes)
                    if (has(hole, holeSolid) && std::abs(hole.axis.dot(shaft.axis)) > kSameWay &&
                        shaft.axis.cross(hole.at - shaft.at).norm() < kOnLineMm)
                        return true;
            }
            return false;
        };
        return find(a.shafts, k, b.holes, l) || find(b.shafts, l, a.holes, k);
    }

    [[nodiscard]] static bool runTogether(const SceneSolid& a, const SceneSolid& b) {
        return a.toothed && b.toothed && bonds::calcTeethRoomMm(*a.toothed, a.X, a.index, *b.toothed, b.X, b.index) > 0;
    }

    /// Does p, moved by `from` and then along `along`, meet q? `seated`: they begin where their bond holds them.
    [[nodiscard]] bool collides(int p, int q, const Vec3& from, const Vec3& along, const SceneBond* seated) const {
        const SceneBody &a = at(bodies, p), &b = at(bodies, q);
        const bool square = isSquare(along);
        const Vec3 way = along.normalized();
        for (std::size_t k = 0; k < a.solids.size(); ++k) {
            const SceneSolid& s = a.solids[k];
            if (s.studAxis.dot(way) > kSameWay) continue;
            const Bounds swept = sweep(move(s.eroded, from), along);
            if (!meet(swept, b.bounds)) continue;
            for (std::size_t l = 0; l < b.solids.size(); ++l) {
                const SceneSolid& t = b.solids[l];
                if (!meet(swept, t.bounds)) continue;
                const auto clear = [&](const Vec3& start, const Vec3& go) {
                    if (s.boxy && t.boxy && square) return !meet(sweep(move(s.eroded, start), go), t.bounds);
                    geometry::PlacedSolid moved = s.placed;
                    moved.centre += start;
                    return geometry::isSweepClear(moved, go, t.placed);
                };
                if (clear(from, along)) continue;
                const int own = static_cast<int>(k), other = static_cast<int>(l);
                if (seated && isSeat(*seated, p, own, other)) continue;
                if (passes(a, own, b, other, way)) continue;
                if (from == Vec3::Zero() && !clear(from, Vec3::Zero())) { // they touch as they lie
                    if (runTogether(s, t)) continue;
                    const Vec3 start = std::min(kGrazeMm, along.norm()) * way;
                    if (clear(start, along - start)) continue;
                }
                return true;
            }
        }
        return false;
    }
    [[nodiscard]] static bool isSeat(const SceneBond& bond, int p, int own, int other) {
        const auto pair = bond.a == p ? std::pair(own, other) : std::pair(other, own);
        return std::binary_search(bond.seats.begin(), bond.seats.end(), pair);
    }

    /// visit(q) for all in the way, nearest first by and large; true ends. True when ended.
    template <class Visit> bool forBlockers(int p, const Way& way, const std::vector<bool>* with, Visit visit) const {
        const bool straight = way.lift == Vec3::Zero();
        const Vec3 first = straight ? way.off : Vec3(way.lift.normalized());
        const auto counts = [&](int q) { return q != p && at(there, q) && !(with && at(*with, q)); };
        const auto& neighbours = at(bonded, p);
        for (std::size_t k = 0; k < neighbours.size(); ++k)
            if (counts(neighbours[k]) && !lets(at(bonds, at(bondOf, p)[k]), p, first) && visit(neighbours[k]))
                return true;
        const auto stage = [&](const Vec3& from, const Vec3& along, bool atRest) {
            const Bounds box = sweep(move(at(bodies, p).bounds, from), along);
            return tree.forMeeting(box, along, [&](int q) {
                if (!counts(q) || !meet(box, at(bodies, q).bounds)) return false;
                if (overlapping.count(std::minmax(p, q)) > 0) return false;
                const SceneBond* bond = findBond(p, q);
                if (bond && !lets(*bond, p, first)) return false; // told above
                return collides(p, q, from, along, atRest ? bond : nullptr) && visit(q);
            });
        };
        if (straight) return stage(Vec3::Zero(), farMm * way.off, true);
        return stage(Vec3::Zero(), way.lift, true) || stage(way.lift, farMm * way.off, false);
    }

    std::vector<Way> findWays(int body) const {
        std::vector<Vec3> directions{Vec3::UnitZ()}, along; // along: ways that bonds leave
        const auto add = [&](std::vector<Vec3>& list, const Vec3& v) {
            if (list.size() < kMostDirections &&
                std::none_of(list.begin(), list.end(), [&](const Vec3& known) { return known.dot(v) > kSameWay; }))
                list.push_back(v);
        };
        double depth = 2;
        for (const int k : at(bondOf, body)) {
            const SceneBond& bond = at(bonds, k);
            const double sign = bond.a == body ? 1 : -1;
            for (const auto& line : bond.lines)
                for (const Vec3& v : line) add(along, sign * v);
            depth = std::max(depth, bond.depth);
        }
        for (const Vec3& v : along) add(directions, v);
        for (const int k : {0, 1, 2})
            for (const int sign : {-1, 1}) add(directions, sign * Vec3::Unit(k));
        std::vector<Way> list;
        list.reserve(directions.size());
        for (const Vec3& v : directions) list.push_back({v, Vec3::Zero()});
        if (along.empty()) add(along, Vec3::UnitZ());
        for (const Vec3& lift : along)
            for (const Vec3& v : directions)
                if (std::abs(lift.dot(v)) < 0.5) list.push_back({v, depth * lift});
        return list;
    }

    /// Do these still hang together, directly or by the table, without what is gone? Searches go on side by side, so
    /// that what is cut off is found in as many steps as it has parts. `off`: takes up what is cut off; else the first
    /// piece found ends the search.
    bool hangTogether(const std::vector<int>& starts, bool table, std::vector<int>* off = nullptr) const {
        const std::size_t searches = starts.size() + (table ? 1 : 0);
        if (searches < 2) return true;
        constexpr int kNobody = -1;
        thread_local std::vector<int> owner, touched;
        owner.resize(std::max(owner.size(), bodies.size()), kNobody);
        base::Groups groups(searches);
        std::vector<std::vector<int>> open(searches); // the table's own search, the last, stays where it is
        std::vector<bool> dead(searches, false);      // by group: a piece that is cut off
        std::size_t separate = searches, onTable = searches - 1;
        bool tableMet = table, whole = true;
        const auto join = [&](std::size_t l, std::size_t r) {
            if (groups.find(l) == groups.find(r)) return;
            groups.join(l, r);
            --separate;
        };
        const auto reach = [&](std::size_t search, int body) {
            if (int& of = at(owner, body); of != kNobody) {
                join(static_cast<std::size_t>(of), search);
            } else {
                of = static_cast<int>(search);
                touched.push_back(body);
                open[search].push_back(body);
            }
            if (!at(bodies, body).onTable) return;
            if (!tableMet) { // the first to get there stands for it
                tableMet = true;
                onTable = search;
            } else {
                join(onTable, search);
            }
        };
        for (std::size_t s = 0; s < starts.size(); ++s) reach(s, starts[s]);
        std::vector<std::size_t> next(searches, 0);
        std::vector<bool> goesOn(searches);
        while (separate > 1) {
            for (std::size_t s = 0; s < starts.size() && separate > 1; ++s) {
                if (next[s] >= open[s].size()) continue;
                const int body = open[s][next[s]++];
                for (const int q : at(bonded, body))
                    if (at(there, q)) reach(s, q);
            }
            // A group that has nothing more to look at, and is not the table's, is cut off.
            std::fill(goesOn.begin(), goesOn.end(), false);
            for (std::size_t s = 0; s < searches; ++s)
                if (next[s] < open[s].size()) goesOn[groups.find(s)] = true;
            for (std::size_t s = 0; s < searches && separate > 1; ++s) {
                if (groups.find(s) != s || goesOn[s] || dead[s]) continue;
                if (tableMet && s == groups.find(onTable)) continue;
                dead[s] = true;
                whole = false;
                --separate;
            }
            if (!whole && !off) break;
        }
        if (off)
            for (const int body : touched)
                if (dead[groups.find(static_cast<std::size_t>(at(owner, body)))]) off->push_back(body);
        for (const int body : touched) at(owner, body) = kNobody;
        touched.clear();
        return whole;
    }

    /// Asks hangTogether as if these had gone.
    bool askWithout(const std::vector<int>& leaving, std::vector<int>* off) {
        std::set<int> starts;
        bool table = false;
        for (const int body : leaving) {
            table = table || at(bodies, body).onTable;
            there[static_cast<std::size_t>(body)] = false;
        }
        for (const int body : leaving)
            for (const int q : at(bonded, body))
                if (at(there, q)) starts.insert(q);
        const bool whole = hangTogether({starts.begin(), starts.end()}, table, off);
        for (const int body : leaving) there[static_cast<std::size_t>(body)] = true;
        return whole;
    }
};

Scene::Scene(const model::Section& section, const bonds::SectionBonds& found) : m(std::make_unique<Impl>()) {
    std::vector<geometry::Frame> X;
    for (const model::Part& part : section.parts) {
        X.push_back(part.place.frame());
        m->bodies.push_back(makeSceneBody(*part.shape, X.back()));
    }
    std::map<std::pair<int, int>, std::vector<bonds::Mate>> pairs;
    for (const bonds::Mate& mate : found.mates) pairs[{mate.partA, mate.partB}].push_back(mate);
    for (const auto& [ends, mates] : pairs)
        m->bonds.push_back(makeSceneBond(ends.first, *at(section.parts, ends.first).shape, at(X, ends.first),
                                         ends.second, *at(section.parts, ends.second).shape, at(X, ends.second),
                                         mates));
    for (const bonds::Overlap& overlap : found.overlaps)
        m->overlapping.insert(std::minmax(overlap.partA, overlap.partB));
    m->finish();
}

Scene::Scene(std::vector<SceneBody> bodies, std::vector<SceneBond> bonds) : m(std::make_unique<Impl>()) {
    m->bodies = std::move(bodies);
    m->bonds = std::move(bonds);
    m->finish();
}

Scene::~Scene() = default;
Scene::Scene(Scene&&) noexcept = default;
Scene& Scene::operator=(Scene&&) noexcept = default;

int Scene::count() const { return static_cast<int>(m->bodies.size()); }
const SceneBody& Scene::body(int index) const { return at(m->bodies, index); }
const std::vector<int>& Scene::bonded(int body) const { return at(m->bonded, body); }

bool Scene::sitsOn(int body, int other) const {
    const SceneBond* bond = m->findBond(body, other);
    return bond && m->lets(*bond, body, Vec3::UnitZ());
}

bool Scene::isThreaded(int body, int other) const {
    const SceneBond* bond = m->findBond(body, other);
    return bond && bond->threaded;
}

const std::vector<Way>& Scene::ways(int body) const {
    auto& list = at(m->ways, body);
    if (!list) list = m->findWays(body);
    return *list;
}

bool Scene::isThere(int body) const { return at(m->there, body); }
int Scene::thereCount() const { return m->thereCount; }
void Scene::take(int body) {
    if (!isThere(body)) return;
    m->there[static_cast<std::size_t>(body)] = false;
    m->tree.count(body, -1);
    --m->thereCount;
}
void Scene::putBack(int body) {
    if (isThere(body)) return;
    m->there[static_cast<std::size_t>(body)] = true;
    m->tree.count(body, 1);
    ++m->thereCount;
}

int Scene::findBlocker(int body, const Way& way, const std::vector<bool>* with) const {
    int found = -1;
    m->forBlockers(body, way, with, [&](int q) {
        found = q;
        return true;
    });
    return found;
}

std::vector<int> Scene::listBlockers(int body, const Way& way, const std::vector<bool>* with) const {
    std::set<int> all;
    m->forBlockers(body, way, with, [&](int q) {
        all.insert(q);
        return false;
    });
    return {all.begin(), all.end()};
}

bool Scene::mayLeave(int body) const { return mayLeave(std::vector<int>{body}); }

bool Scene::mayLeave(const std::vector<int>& leaving) const { return m->askWithout(leaving, nullptr); }

std::vector<int> Scene::listCutOff(const std::vector<int>& leaving) const {
    std::vector<int> off;
    m->askWithout(leaving, &off);
    std::sort(off.begin(), off.end());
    return off;
}

} // namespace ivrant::make
