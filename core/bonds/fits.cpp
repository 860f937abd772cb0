#include "core/bonds/fits.h"

#include <algorithm>
#include <cmath>
#include <set>

#include "core/base/units.h"

namespace ivrant::bonds {
namespace {

using geometry::Pose;
using geometry::Vec3;
using parts::BondKind;
using parts::Port;

Pose halfTurn() { return geometry::makePose(Eigen::AngleAxisd(base::kPi, Vec3::UnitX()).toRotationMatrix(), Vec3::Zero()); }

Pose quarterTurns(int count) { return geometry::makePose(Eigen::AngleAxisd(count * base::kPi / 2, Vec3::UnitZ()).toRotationMatrix(), Vec3::Zero()); }

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
    return p.kind == PortKind::BallSmall || p.kind == PortKind::BallLarge || p.kind == PortKind::CupSmall || p.kind == PortKind::CupLarge;
}

bool isStudKind(const Port& p) { return p.kind == parts::PortKind::Stud || p.kind == parts::PortKind::Cell || p.kind == parts::PortKind::Tube; }

bool canCarry(const model::SectionTree& tree, int from, int to) {
    if (from == to || tree.carrier[static_cast<std::size_t>(to)] >= 0) return false;
    for (int s = from; s >= 0; s = tree.parent(s))
        if (s == to) return false;
    return true;
}

} // namespace

std::vector<Fit> listFits(const model::Placed& placed, const std::vector<SectionBondsPtr>& bonds, model::PartSpot target, const Vec3& near,
                          const parts::Shape& shape, const geometry::Mat3& wished, std::size_t most) {
    const model::Part& part = model::getPart(*placed.project, target);
    const Pose X_WT = placed.X_WP(target);
    const auto taken = takenPorts(*bonds[static_cast<std::size_t>(target.section)], target.part);
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
                const Pose X = X_WT * there.X_PF() * halfTurn() * quarterTurns(r) * own.X_PF().inverse();
                const double twist = Eigen::AngleAxisd(wished.transpose() * X.linear()).angle();
                // Nearest port first; then the wished attitude; then own ports near the middle of the part.
                const double rank = distance + 30 * twist + 0.05 * (own.origin - shape.bounds.centre()).norm() + (kind == BondKind::Movable ? -6 : 0);
                if (rank < best.rank) best = {{X, target, there.name, own.name, kind}, rank};
            }
            candidates.push_back(std::move(best));
        }
    }
    std::stable_sort(candidates.begin(), candidates.end(), [](const Candidate& l, const Candidate& r) { return l.rank < r.rank; });
    std::vector<Fit> fits;
    for (Candidate& c : candidates) {
        const bool known = std::any_of(fits.begin(), fits.end(), [&](const Fit& f) { return f.X_W.isApprox(c.fit.X_W, 1e-6); });
        if (!known) fits.push_back(std::move(c.fit));
        if (fits.size() == most) break;
    }
    return fits;
}

std::vector<JointOffer> listJointOffers(const model::Placed& placed, const model::SectionTree& tree) {
    struct Spot {
        model::PartSpot part;
        const Port* port;
        Vec3 at;
    };
    std::vector<Spot> spots;
    for (std::size_t s = 0; s < placed.X_WS.size(); ++s)
        for (std::size_t p = 0; p < placed.project->sections[s]->parts.size(); ++p) {
            const model::PartSpot spot{static_cast<int>(s), static_cast<int>(p)};
            const Pose X = placed.X_WP(spot);
            for (const Port& port : model::getPart(*placed.project, spot).shape->ports) spots.push_back({spot, &port, X * port.origin});
        }
    std::sort(spots.begin(), spots.end(), [](const Spot& l, const Spot& r) { return l.at.x() < r.at.x(); });
    std::vector<JointOffer> offers;
    std::map<std::pair<int, int>, int> studPairs;
    for (std::size_t i = 0; i < spots.size(); ++i)
        for (std::size_t j = i + 1; j < spots.size() && spots[j].at.x() <= spots[i].at.x() + kMateDistanceMm; ++j) {
            if (spots[i].part.section == spots[j].part.section || (spots[i].at - spots[j].at).norm() > kMateDistanceMm) continue;
            const auto* kind = parts::findJointKindFor(spots[i].port->kind, spots[j].port->kind);
            if (!kind) continue;
            if (!isBall(*spots[i].port) && !isSeated(*spots[i].port, placed.X_WP(spots[i].part), *spots[j].port, placed.X_WP(spots[j].part))) continue;
            const Spot *from = &spots[i], *to = &spots[j];
            const auto sections = std::minmax(from->part.section, to->part.section);
            if (isStudKind(*from->port)) ++studPairs[{sections.first, sections.second}];
            if (from->part.section > to->part.section) std::swap(from, to);
            if (!canCarry(tree, from->part.section, to->part.section)) std::swap(from, to);
            if (!canCarry(tree, from->part.section, to->part.section)) continue;
            const auto ref = [&](const Spot& s) { return model::PortRef{model::getPart(*placed.project, s.part).id, s.port->name}; };
            offers.push_back({ref(*from), ref(*to), kind, from->part.section, to->part.section});
        }
    std::erase_if(offers, [&](const JointOffer& o) {
        const auto [a, b] = std::minmax(o.fromSection, o.toSection);
        return o.kind->name == "one-stud swivel" && studPairs[{a, b}] > 1;
    });
    return offers;
}

std::optional<JointOffer> findJointBetween(const model::Placed& placed, const model::SectionTree& tree, model::PartSpot from, model::PartSpot to) {
    if (from.section == to.section || !canCarry(tree, from.section, to.section)) return std::nullopt;
    const model::Part &a = model::getPart(*placed.project, from), &b = model::getPart(*placed.project, to);
    std::optional<JointOffer> best;
    double bestRank = 1e30;
    for (const Port& p : a.shape->ports)
        for (const Port& q : b.shape->ports) {
            const auto* kind = parts::findJointKindFor(p.kind, q.kind);
            if (!kind) continue;
            const double rank = (isStudKind(p) ? 1000 : 0) + std::min(900.0, (placed.X_WP(from) * p.origin - placed.X_WP(to) * q.origin).norm());
            if (rank >= bestRank) continue;
            bestRank = rank;
            best = JointOffer{{a.id, p.name}, {b.id, q.name}, kind, from.section, to.section};
        }
    return best;
}

} // namespace ivrant::bonds
