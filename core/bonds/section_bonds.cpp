// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/bonds/section_bonds.h"

#include <algorithm>
#include <list>
#include <mutex>
#include <numeric>
#include <set>

#include "core/base/at.h"
#include "core/bonds/teeth.h"
#include "core/geometry/gap.h"
#include "core/parts/placed_solid.h"

namespace ivrant::bonds {
namespace {

using geometry::Frame;
using geometry::PlacedSolid;
using parts::BondKind;

class UnionFind {
public:
    explicit UnionFind(std::size_t n) : m_parent(n) { std::iota(m_parent.begin(), m_parent.end(), 0); }
    int find(int i) {
        auto& up = at(m_parent, i);
        return up == i ? i : up = find(up);
    }
    bool join(int a, int b) {
        a = find(a);
        b = find(b);
        if (a == b) return false;
        at(m_parent, std::max(a, b)) = std::min(a, b);
        return true;
    }

private:
    std::vector<int> m_parent;
};

struct PairBonds {
    std::vector<int> mates;
};
using PairMap = std::map<std::pair<int, int>, PairBonds>;

geometry::Vec3 axisPoint(const model::Section& section, const Mate& mate) {
    const auto& part = at(section.parts, mate.partA);
    return part.place.frame() * at(part.shape->ports, mate.portA).origin;
}
geometry::Vec3 axisDirection(const model::Section& section, const Mate& mate) {
    const auto& part = at(section.parts, mate.partA);
    return part.place.frame().linear() * at(part.shape->ports, mate.portA).axis;
}

/// Two turning bonds hold rigidly when they are not on one axis.
bool onOneAxis(const model::Section& section, const Mate& a, const Mate& b) {
    const geometry::Vec3 direction = axisDirection(section, a);
    if (direction.cross(axisDirection(section, b)).norm() > 0.02) return false;
    return direction.cross(axisPoint(section, b) - axisPoint(section, a)).norm() < 0.1;
}

bool isRigidPair(const model::Section& section, const std::vector<Mate>& mates, const PairBonds& pair) {
    for (int m : pair.mates) {
        const BondKind kind = at(mates, m).kind;
        if (kind == BondKind::Fixed || kind == BondKind::Movable) return true;
        for (int n : pair.mates)
            if (n != m && !onOneAxis(section, at(mates, m), at(mates, n))) return true;
    }
    return false;
}

/// Weak edges between rigid groups; those whose removal parts the graph are found with Tarjan's low-link numbers.
struct WeakGraph {
    struct Edge {
        int a, b, mate;
    };
    int nodes = 0;
    std::vector<Edge> edges;

    [[nodiscard]] std::vector<int> findBridges() const {
        std::vector<std::vector<std::pair<int, int>>> next(static_cast<std::size_t>(nodes));
        for (std::size_t e = 0; e < edges.size(); ++e) {
            at(next, edges[e].a).emplace_back(edges[e].b, static_cast<int>(e));
            at(next, edges[e].b).emplace_back(edges[e].a, static_cast<int>(e));
        }
        std::vector<int> number(static_cast<std::size_t>(nodes), -1), low(static_cast<std::size_t>(nodes), 0), bridges;
        struct Visit {
            int node, viaEdge;
            std::size_t child;
        };
        int counter = 0;
        for (int root = 0; root < nodes; ++root) {
            if (at(number, root) >= 0) continue;
            std::vector<Visit> stack{{root, -1, 0}};
            at(number, root) = at(low, root) = counter++;
            while (!stack.empty()) {
                Visit& f = stack.back();
                const auto fn = static_cast<std::size_t>(f.node);
                if (f.child < next[fn].size()) {
                    const auto [to, edge] = next[fn][f.child++];
                    const auto tn = static_cast<std::size_t>(to);
                    if (edge == f.viaEdge) continue;
                    if (number[tn] >= 0) {
                        low[fn] = std::min(low[fn], number[tn]);
                    } else {
                        number[tn] = low[tn] = counter++;
                        stack.push_back({to, edge, 0});
                    }
                } else {
                    const Visit done = f;
                    stack.pop_back();
                    if (stack.empty()) continue;
                    const auto up = static_cast<std::size_t>(stack.back().node),
                               dn = static_cast<std::size_t>(done.node);
                    low[up] = std::min(low[up], low[dn]);
                    if (low[dn] > number[up]) bridges.push_back(done.viaEdge);
                }
            }
        }
        std::sort(bridges.begin(), bridges.end());
        return bridges;
    }
};

void findGroups(const model::Section& section, SectionBonds& out, UnionFind& held) {
    PairMap pairs;
    for (std::size_t m = 0; m < out.mates.size(); ++m)
        pairs[{out.mates[m].partA, out.mates[m].partB}].mates.push_back(static_cast<int>(m));
    UnionFind rigid(section.parts.size());
    for (const auto& [ends, pair] : pairs) {
        held.join(ends.first, ends.second);
        if (isRigidPair(section, out.mates, pair)) rigid.join(ends.first, ends.second);
    }
    bool grew = true;
    while (grew) { // two groups that share two weak bonds off one axis are rigid together
        grew = false;
        std::map<std::pair<int, int>, int> first;
        for (const auto& [ends, pair] : pairs) {
            const int a = rigid.find(ends.first), b = rigid.find(ends.second);
            if (a == b) continue;
            const auto [known, fresh] = first.try_emplace({std::min(a, b), std::max(a, b)}, pair.mates.front());
            if (!fresh && !onOneAxis(section, at(out.mates, known->second), at(out.mates, pair.mates.front())))
                grew = rigid.join(a, b) || grew;
        }
    }
    std::map<int, int> numbers;
    out.group.resize(section.parts.size());
    for (std::size_t p = 0; p < section.parts.size(); ++p)
        out.group[p] =
            numbers.try_emplace(rigid.find(static_cast<int>(p)), static_cast<int>(numbers.size())).first->second;
    out.groupCount = static_cast<int>(numbers.size());

    WeakGraph graph;
    graph.nodes = out.groupCount;
    for (const auto& [ends, pair] : pairs) {
        const int a = at(out.group, ends.first), b = at(out.group, ends.second);
        if (a != b) graph.edges.push_back({a, b, pair.mates.front()});
    }
    const auto bridges = graph.findBridges();
    for (int bridge : bridges) {
        const auto& edge = at(graph.edges, bridge);
        UnionFind without(static_cast<std::size_t>(graph.nodes));
        for (std::size_t e = 0; e < graph.edges.size(); ++e)
            if (static_cast<int>(e) != bridge) without.join(graph.edges[e].a, graph.edges[e].b);
        SingleBond sides[2];
        for (std::size_t p = 0; p < section.parts.size(); ++p) {
            const int root = without.find(out.group[p]);
            for (int side = 0; side < 2; ++side)
                if (root == without.find(side == 0 ? edge.a : edge.b)) {
                    sides[side].held.push_back(static_cast<int>(p));
                    sides[side].heldG += section.parts[p].massG();
                }
        }
        SingleBond& lighter = sides[0].heldG < sides[1].heldG ? sides[0] : sides[1];
        lighter.mate = edge.mate;
        out.singles.push_back(std::move(lighter));
    }
}

void findLoose(const model::Section& section, const std::vector<int>& anchored, SectionBonds& out, UnionFind& held) {
    if (section.parts.size() < 2) return;
    std::map<int, int> sizes;
    for (std::size_t p = 0; p < section.parts.size(); ++p) ++sizes[held.find(static_cast<int>(p))];
    std::set<int> kept;
    for (int a : anchored) kept.insert(held.find(a));
    if (kept.empty()) {
        const auto largest = std::max_element(sizes.begin(), sizes.end(),
                                              [](const auto& l, const auto& r) { return l.second < r.second; });
        kept.insert(largest->first);
    } else if (kept.size() > 1) { // several joints: they must hang on one piece, the largest
        const int largest =
            *std::max_element(kept.begin(), kept.end(), [&](int l, int r) { return sizes[l] < sizes[r]; });
        kept = {largest};
    }
    for (std::size_t p = 0; p < section.parts.size(); ++p)
        if (kept.count(held.find(static_cast<int>(p))) == 0) out.loose.push_back(static_cast<int>(p));
}

bool isMatedPair(const SectionBonds& bonds, const model::Section& section, const std::vector<std::vector<int>>& matesOf,
                 int a, int solidA, int b, int solidB) {
    for (int m : at(matesOf, a)) {
        const Mate& mate = at(bonds.mates, m);
        if (mate.partA != a || mate.partB != b) continue;
        const auto& sa = at(at(section.parts, a).shape->ports, mate.portA).solids;
        const auto& sb = at(at(section.parts, b).shape->ports, mate.portB).solids;
        if (std::find(sa.begin(), sa.end(), solidA) != sa.end() && std::find(sb.begin(), sb.end(), solidB) != sb.end())
            return true;
    }
    return false;
}

void findOverlaps(const model::Section& section, SectionBonds& out) {
    std::vector<std::vector<int>> matesOf(section.parts.size());
    for (std::size_t m = 0; m < out.mates.size(); ++m) at(matesOf, out.mates[m].partA).push_back(static_cast<int>(m));
    struct Item {
        int part;
        geometry::Bounds bounds;
        Frame X;
        std::vector<geometry::Bounds> solids; ///< made when first needed
    };
    std::vector<Item> items;
    for (std::size_t p = 0; p < section.parts.size(); ++p) {
        Item item{static_cast<int>(p), {}, section.parts[p].place.frame(), {}};
        const auto& b = section.parts[p].shape->bounds;
        for (int corner = 0; corner < 8; ++corner)
            item.bounds.include(item.X * geometry::Vec3(corner & 1 ? b.high.x() : b.low.x(),
                                                        corner & 2 ? b.high.y() : b.low.y(),
                                                        corner & 4 ? b.high.z() : b.low.z()));
        items.push_back(item);
    }
    std::sort(items.begin(), items.end(),
              [](const Item& l, const Item& r) { return l.bounds.low.x() < r.bounds.low.x(); });
    const double tolerance = geometry::kContactToleranceMm;
    const auto boundSolids = [&](Item& item) {
        if (!item.solids.empty()) return;
        for (const auto& s : at(section.parts, item.part).shape->solids)
            item.solids.push_back(geometry::calcBounds(s.solid, item.X));
    };
    for (std::size_t i = 0; i < items.size(); ++i)
        for (std::size_t j = i + 1; j < items.size() && items[j].bounds.low.x() < items[i].bounds.high.x() - tolerance;
             ++j) {
            if (!items[i].bounds.overlaps(items[j].bounds, -tolerance)) continue;
            boundSolids(items[i]);
            boundSolids(items[j]);
            const Item& first = items[i].part < items[j].part ? items[i] : items[j];
            const Item& second = items[i].part < items[j].part ? items[j] : items[i];
            const auto& sa = at(section.parts, first.part).shape->solids;
            const auto& sb = at(section.parts, second.part).shape->solids;
            Overlap worst{first.part, second.part, 0, false};
            for (std::size_t k = 0; k < sa.size(); ++k)
                for (std::size_t l = 0; l < sb.size(); ++l) {
                    if (!first.solids[k].overlaps(second.solids[l], -tolerance)) continue;
                    if (isMatedPair(out, section, matesOf, first.part, static_cast<int>(k), second.part,
                                    static_cast<int>(l)))
                        continue;
                    const PlacedSolid a = parts::placeSolid(sa[k], first.X), b = parts::placeSolid(sb[l], second.X);
                    if (geometry::calcToleratedGap(a, b).distance > 0) continue;
                    const double depth = geometry::calcDepth(a, b);
                    if (depth <= tolerance || depth <= worst.depthMm) continue;
                    if (depth <= calcTeethRoomMm(*at(section.parts, first.part).shape, first.X, static_cast<int>(k),
                                                 *at(section.parts, second.part).shape, second.X, static_cast<int>(l)))
                        continue;
                    worst.depthMm = depth;
                    worst.studInBody = (sa[k].studPort >= 0) != (sb[l].studPort >= 0);
                }
            if (worst.depthMm > 0) out.overlaps.push_back(worst);
        }
    std::sort(out.overlaps.begin(), out.overlaps.end(), [](const Overlap& l, const Overlap& r) {
        return std::tie(l.partA, l.partB) < std::tie(r.partA, r.partB);
    });
}

} // namespace

bool coversStud(const Mate& mate, const parts::Port& port) {
    return (mate.kind == BondKind::Stud || mate.kind == BondKind::Fixed) && port.kind == parts::PortKind::Stud;
}

SectionBonds calcSectionBonds(const model::Section& section, const std::vector<int>& anchored) {
    SectionBonds out;
    out.mates = findMates(section);
    UnionFind held(section.parts.size());
    findGroups(section, out, held);
    findLoose(section, anchored, out, held);
    findOverlaps(section, out);
    out.coveredStuds.resize(section.parts.size());
    for (const Mate& mate : out.mates) {
        const auto cover = [&](int part, int port) {
            if (coversStud(mate, at(at(section.parts, part).shape->ports, port)))
                at(out.coveredStuds, part).push_back(port);
        };
        cover(mate.partA, mate.portA);
        cover(mate.partB, mate.portB);
    }
    return out;
}

std::vector<SectionBondsPtr> calcBonds(const model::Project& project) {
    struct Known {
        std::weak_ptr<const model::Section> section;
        std::vector<int> anchored;
        SectionBondsPtr bonds;
    };
    static std::mutex mutex;
    static std::list<Known> known;
    constexpr std::size_t kMostKnown = 256;

    const model::PartIndex index(project);
    std::vector<std::vector<int>> anchored(project.sections.size());
    for (const auto& joint : project.joints)
        for (const auto* end : {&joint.from, &joint.to}) {
            const auto spot = index.find(end->part);
            at(anchored, spot.section).push_back(spot.part);
        }
    std::vector<SectionBondsPtr> all;
    for (std::size_t s = 0; s < project.sections.size(); ++s) {
        SectionBondsPtr bonds;
        {
            const std::lock_guard lock(mutex);
            for (const Known& k : known)
                if (k.section.lock() == project.sections[s] && k.anchored == anchored[s]) bonds = k.bonds;
        }
        if (!bonds) {
            bonds = std::make_shared<const SectionBonds>(calcSectionBonds(*project.sections[s], anchored[s]));
            const std::lock_guard lock(mutex);
            known.push_front({project.sections[s], anchored[s], bonds});
            known.remove_if([](const Known& k) { return k.section.expired(); }); // sections of snapshots that are gone
            if (known.size() > kMostKnown) known.pop_back();
        }
        all.push_back(std::move(bonds));
    }
    return all;
}

} // namespace ivrant::bonds
