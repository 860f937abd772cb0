// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/bonds/across.h"

#include <algorithm>
#include <functional>
#include <tuple>

#include "core/base/at.h"

namespace ivrant::bonds {
namespace {

using geometry::Frame;
using geometry::Vec3;

struct PlacedPort {
    model::PartSpot spot;
    int port;
    const parts::Port* of;
    Vec3 at;
};

/// A box in its own frame, as a box along the world's axes that holds it.
geometry::Bounds toWorld(const geometry::Bounds& own, const Frame& X) {
    geometry::Bounds bounds;
    if (own.empty()) return bounds;
    const Vec3 middle = X * own.centre(), half = X.linear().cwiseAbs() * own.size() / 2;
    bounds.include(middle - half);
    bounds.include(middle + half);
    return bounds;
}

/// Ports of a section within a region, by x.
std::vector<PlacedPort> listPortsByX(const model::Placed& placed, int section, const geometry::Bounds& region) {
    std::vector<PlacedPort> ports;
    const auto& parts = ivrant::at(placed.project->sections, section)->parts;
    for (std::size_t p = 0; p < parts.size(); ++p) {
        const model::PartSpot spot{section, static_cast<int>(p)};
        const Frame X = placed.X_WP(spot);
        for (std::size_t k = 0; k < parts[p].shape->ports.size(); ++k) {
            const auto& port = parts[p].shape->ports[k];
            geometry::Bounds reach;
            reach.include(X * port.origin);
            if (reach.overlaps(region, std::max(port.depth, kAxleReachMm) + kMateDistanceMm))
                ports.push_back({spot, static_cast<int>(k), &port, X * port.origin});
        }
    }
    std::sort(ports.begin(), ports.end(), [](const PlacedPort& l, const PlacedPort& r) { return l.at.x() < r.at.x(); });
    return ports;
}

void addBetween(const model::Placed& placed, int s, int t, const geometry::Bounds& boundsS,
                const geometry::Bounds& boundsT, std::vector<AcrossMate>& mates) {
    const auto one = listPortsByX(placed, s, boundsT), other = listPortsByX(placed, t, boundsS);
    double deepest = 0;
    for (const auto& b : other) deepest = std::max(deepest, b.of->depth);
    for (const auto& a : one) {
        const double reach = std::max(a.of->depth + deepest, kAxleReachMm) + kMateDistanceMm;
        auto b = std::lower_bound(other.begin(), other.end(), a.at.x() - reach,
                                  [](const PlacedPort& p, double x) { return p.at.x() < x; });
        for (; b != other.end() && b->at.x() <= a.at.x() + reach; ++b) {
            if ((b->at - a.at).norm() > reach) continue;
            const auto kind = parts::findBondKind(*a.of, *b->of);
            if (kind == parts::BondKind::None || !isSeated(*a.of, placed.X_WP(a.spot), *b->of, placed.X_WP(b->spot)))
                continue;
            mates.push_back({a.spot, b->spot, a.port, b->port, kind});
        }
    }
}

std::vector<AcrossMate> find(const model::Placed& placed, const std::vector<geometry::Bounds>& own,
                             const std::function<bool(int, int)>& looksAt) {
    const auto count = static_cast<int>(placed.X_WS.size());
    std::vector<geometry::Bounds> bounds;
    bounds.reserve(placed.X_WS.size());
    for (std::size_t s = 0; s < placed.X_WS.size(); ++s) bounds.push_back(toWorld(own[s], placed.X_WS[s]));
    const auto boundsOf = [&](int s) -> const geometry::Bounds& { return ivrant::at(bounds, s); };
    std::vector<AcrossMate> mates;
    for (int s = 0; s < count; ++s)
        for (int t = s + 1; t < count; ++t)
            if (looksAt(s, t) && boundsOf(s).overlaps(boundsOf(t), kMateDistanceMm))
                addBetween(placed, s, t, boundsOf(s), boundsOf(t), mates);
    std::sort(mates.begin(), mates.end(), [](const AcrossMate& l, const AcrossMate& r) {
        return std::tie(l.a, l.b, l.portA, l.portB) < std::tie(r.a, r.b, r.portA, r.portB);
    });
    return mates;
}

} // namespace

const parts::Port& getPort(const model::Project& project, model::PartSpot spot, int port) {
    return ivrant::at(model::getPart(project, spot).shape->ports, port);
}

std::vector<geometry::Bounds> boundPorts(const model::Project& project) {
    std::vector<geometry::Bounds> all;
    for (const auto& section : project.sections) {
        geometry::Bounds bounds;
        for (const model::Part& part : section->parts) {
            const Frame X = part.place.frame();
            for (const auto& port : part.shape->ports) {
                const Vec3 at = X * port.origin, reach = Vec3::Constant(port.depth);
                bounds.include(at - reach);
                bounds.include(at + reach);
            }
        }
        all.push_back(bounds);
    }
    return all;
}

std::vector<AcrossMate> findMatesAcross(const model::Placed& placed) {
    return find(placed, boundPorts(*placed.project), [](int, int) { return true; });
}

std::vector<AcrossMate> findMatesAcross(const model::Placed& placed, const std::vector<geometry::Bounds>& ports,
                                        const std::vector<int>& some, const std::vector<int>& others) {
    const auto isIn = [](const std::vector<int>& list, int s) {
        return std::find(list.begin(), list.end(), s) != list.end();
    };
    return find(placed, ports,
                [&](int s, int t) { return (isIn(some, s) && isIn(others, t)) || (isIn(some, t) && isIn(others, s)); });
}

} // namespace ivrant::bonds
