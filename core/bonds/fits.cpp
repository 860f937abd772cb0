// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/bonds/fits.h"

#include <algorithm>
#include <cmath>
#include <set>

#include "core/base/at.h"
#include "core/base/units.h"

namespace ivrant::bonds {
namespace {

using geometry::Frame;
using geometry::Vec3;
using parts::BondKind;
using parts::Port;

Frame halfTurn() {
    return geometry::makeFrame(Eigen::AngleAxisd(base::kPi, Vec3::UnitX()).toRotationMatrix(), Vec3::Zero());
}

Frame quarterTurns(int count) {
    return geometry::makeFrame(Eigen::AngleAxisd(count * base::kPi / 2, Vec3::UnitZ()).toRotationMatrix(),
                               Vec3::Zero());
}

std::set<int> takenPorts(const SectionBonds& bonds, int part) {
    std::set<int> taken;
    for (const Mate& mate : bonds.mates) {
        if (mate.partA == part) taken.insert(mate.portA);
        if (mate.partB == part) taken.insert(mate.portB);
    }
    return taken;
}

struct Candidate {
    Fit fit;
    double rank = 0;
};

bool isBall(const Port& p) {
    using parts::PortKind;
    return p.kind == PortKind::BallSmall || p.kind == PortKind::BallLarge || p.kind == PortKind::CupSmall ||
           p.kind == PortKind::CupLarge;
}

bool isStudKind(const Port& p) {
    return p.kind == parts::PortKind::Stud || p.kind == parts::PortKind::Cell || p.kind == parts::PortKind::Tube;
}

bool canCarry(const model::SectionTree& tree, int from, int to) {
    if (from == to || ivrant::at(tree.carrier, to) >= 0) return false;
    for (int s = from; s >= 0; s = tree.parent(s))
        if (s == to) return false;
    return true;
}

/// A second tie between two sections that hang together already, but not directly: it closes a ring.
bool canClose(const model::SectionTree& tree, int from, int to) {
    if (from == to || tree.rootOf(from) != tree.rootOf(to)) return false;
    for (std::size_t j = 0; j < tree.from.size(); ++j)
        if (std::minmax(tree.from[j].section, tree.to[j].section) == std::minmax(from, to)) return false;
    return true;
}

struct PortSpot {
    model::PartSpot part;
    const Port* port;
    Vec3 at; ///< world
};

geometry::Bounds calcSectionBounds(const model::Placed& placed, int section) {
    geometry::Bounds bounds;
    for (const auto& part : ivrant::at(placed.project->sections, section)->parts) {
        const Frame X = ivrant::at(placed.X_WS, section) * part.place.frame();
        const Vec3 middle = X * part.shape->bounds.centre();
        const Vec3 half = 0.5 * (X.linear().cwiseAbs() * part.shape->bounds.size());
        bounds.include(middle - half);
        bounds.include(middle + half);
        for (const Port& port : part.shape->ports) bounds.include(X * port.origin); // some lie outside: cups, clips
    }
    return bounds;
}

/// Ports of a section that lie within `region`, sorted along x.
std::vector<PortSpot> listPorts(const model::Placed& placed, int section, const geometry::Bounds& region) {
    std::vector<PortSpot> spots;
    const auto& parts = ivrant::at(placed.project->sections, section)->parts;
    for (std::size_t p = 0; p < parts.size(); ++p) {
        const model::PartSpot spot{section, static_cast<int>(p)};
        const Frame X = placed.X_WP(spot);
        for (const Port& port : parts[p].shape->ports) {
            geometry::Bounds point;
            point.include(X * port.origin);
            if (point.overlaps(region, kMateDistanceMm)) spots.push_back({spot, &port, point.low});
        }
    }
    std::sort(spots.begin(), spots.end(), [](const PortSpot& l, const PortSpot& r) { return l.at.x() < r.at.x(); });
    return spots;
}

/// Adds the joints that `from` could carry `to` by. Cost: ports in the common region, and pairs of them within the
/// mating distance along x.
void addOffers(const model::Placed& placed, int from, int to, const geometry::Bounds& fromBounds,
               const geometry::Bounds& toBounds, std::vector<JointOffer>& offers) {
    const auto carrying = listPorts(placed, from, toBounds), carried = listPorts(placed, to, fromBounds);
    const auto ref = [&](const PortSpot& s) {
        return model::PortRef{model::getPart(*placed.project, s.part).id, s.port->name};
    };
    std::vector<JointOffer> found;
    int studs = 0;
    for (const PortSpot& a : carrying) {
        auto b = std::lower_bound(carried.begin(), carried.end(), a.at.x() - kMateDistanceMm,
                                  [](const PortSpot& s, double x) { return s.at.x() < x; });
        for (; b != carried.end() && b->at.x() <= a.at.x() + kMateDistanceMm; ++b) {
            if ((a.at - b->at).norm() > kMateDistanceMm) continue;
            const auto* kind = parts::findJointKindFor(a.port->kind, b->port->kind);
            if (!kind) continue;
            if (!isBall(*a.port) && !isSeated(*a.port, placed.X_WP(a.part), *b->port, placed.X_WP(b->part))) continue;
            if (isStudKind(*a.port)) ++studs;
            found.push_back({ref(a), ref(*b), kind, from, to});
        }
    }
    // One stud can turn; two or more hold rigidly and are no joint.
    std::erase_if(found, [&](const JointOffer& o) { return studs > 1 && o.kind->name == "one-stud swivel"; });
    offers.insert(offers.end(), found.begin(), found.end());
}

} // namespace

Frame calcMatedFrame(const Frame& X, const Port& there, const Port& own, int quarters) {
    return X * there.X_PF() * halfTurn() * quarterTurns(quarters) * own.X_PF().inverse();
}

std::vector<Fit> listFits(const model::Placed& placed, const std::vector<SectionBondsPtr>& bonds,
                          model::PartSpot target, const Vec3& near, const parts::Shape& shape,
                          const geometry::Mat3& wished, std::size_t most) {
    const model::Part& part = model::getPart(*placed.project, target);
    const Frame X_WT = placed.X_WP(target);
    const auto taken = takenPorts(*ivrant::at(bonds, target.section), target.part);
    std::vector<Candidate> candidates;
    for (std::size_t t = 0; t < part.shape->ports.size(); ++t) {
        const Port& there = part.shape->ports[t];
        if (taken.count(static_cast<int>(t)) > 0 && there.depth <= 0) continue;
        const double distance = (X_WT * there.origin - near).norm();
        for (const Port& own : shape.ports) {
            const BondKind kind = parts::findBondKind(there, own);
            if (kind == BondKind::None) continue;
            const bool turnsFreely = kind != BondKind::Movable;
            Candidate best;
            best.rank = 1e30;
            for (int r = 0; r < (turnsFreely ? 4 : 1); ++r) {
                const Frame X = calcMatedFrame(X_WT, there, own, r);
                const double twist = Eigen::AngleAxisd(wished.transpose() * X.linear()).angle();
                // Nearest port first; then the wished attitude; then own ports near the middle of the part.
                const double rank = distance + 30 * twist + 0.05 * (own.origin - shape.bounds.centre()).norm() +
                                    (kind == BondKind::Movable ? -6 : 0);
                if (rank < best.rank) best = {{X, target, there.name, own.name, kind}, rank};
            }
            candidates.push_back(std::move(best));
        }
    }
    std::stable_sort(candidates.begin(), candidates.end(),
                     [](const Candidate& l, const Candidate& r) { return l.rank < r.rank; });
    std::vector<Fit> fits;
    for (Candidate& c : candidates) {
        const bool known =
            std::any_of(fits.begin(), fits.end(), [&](const Fit& f) { return f.X_W.isApprox(c.fit.X_W, 1e-6); });
        if (!known) fits.push_back(std::move(c.fit));
        if (fits.size() == most) break;
    }
    return fits;
}

std::vector<JointOffer> listJointOffers(const model::Placed& placed, const model::SectionTree& tree) {
    const auto count = static_cast<int>(placed.X_WS.size());
    std::vector<geometry::Bounds> bounds;
    bounds.reserve(placed.X_WS.size());
    for (int s = 0; s < count; ++s) bounds.push_back(calcSectionBounds(placed, s));
    std::vector<JointOffer> offers;
    for (int to = 0; to < count; ++to) {
        if (ivrant::at(tree.carrier, to) >= 0) continue;
        for (int from = 0; from < count; ++from) {
            // Of two roots that could carry each other, the first carries.
            if (!canCarry(tree, from, to) || (from > to && canCarry(tree, to, from))) continue;
            if (!ivrant::at(bounds, from).overlaps(ivrant::at(bounds, to), kMateDistanceMm)) continue;
            addOffers(placed, from, to, ivrant::at(bounds, from), ivrant::at(bounds, to), offers);
        }
    }
    std::vector<JointOffer> closing; // last: the figure hangs together without them
    for (int from = 0; from < count; ++from)
        for (int to = from + 1; to < count; ++to)
            if (ivrant::at(bounds, from).overlaps(ivrant::at(bounds, to), kMateDistanceMm) && canClose(tree, from, to))
                addOffers(placed, from, to, ivrant::at(bounds, from), ivrant::at(bounds, to), closing);
    std::erase_if(closing, [](const JointOffer& o) {
        return o.kind->name == "one-stud swivel";
    }); // studs meet cells wherever a figure is folded
    offers.insert(offers.end(), closing.begin(), closing.end());
    return offers;
}

std::optional<JointOffer> findJointBetween(const model::Placed& placed, const model::SectionTree& tree,
                                           model::PartSpot from, model::PartSpot to) {
    if (!canCarry(tree, from.section, to.section) && !canClose(tree, from.section, to.section)) return std::nullopt;
    const model::Part &a = model::getPart(*placed.project, from), &b = model::getPart(*placed.project, to);
    std::optional<JointOffer> best;
    double bestRank = 1e30;
    for (const Port& p : a.shape->ports)
        for (const Port& q : b.shape->ports) {
            const auto* kind = parts::findJointKindFor(p.kind, q.kind);
            if (!kind) continue;
            const double rank = (isStudKind(p) ? 1000 : 0) +
                                std::min(900.0, (placed.X_WP(from) * p.origin - placed.X_WP(to) * q.origin).norm());
            if (rank >= bestRank) continue;
            bestRank = rank;
            best = JointOffer{{a.id, p.name}, {b.id, q.name}, kind, from.section, to.section};
        }
    return best;
}

} // namespace ivrant::bonds
