// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/pose/collide.h"

#include <algorithm>

#include "core/base/at.h"
#include "core/pose/seats.h"

namespace ivrant::pose {
namespace {

using geometry::PlacedSolid;

struct Item {
    model::PartSpot spot;
    const BodyPart* body;
    geometry::Vec3 centre;
};

PlacedSolid toWorld(const geometry::Frame& X, const PlacedSolid& s) {
    return {s.solid, s.eroded, X.linear() * s.R, X * s.centre};
}

using Pairs = std::set<std::pair<SolidRef, SolidRef>>;

double worstDepth(const model::Placed& placed, const Bodies& bodies, const Pairs& seated, const Item& a,
                  const Item& b) {
    double worst = 0;
    for (const BodySolid& s : a.body->solids)
        for (const BodySolid& t : b.body->solids) {
            const PlacedSolid p = toWorld(at(placed.X_WS, a.spot.section), s.inSection);
            const PlacedSolid q = toWorld(at(placed.X_WS, b.spot.section), t.inSection);
            if ((p.centre - q.centre).norm() > p.solid->reach + q.solid->reach) continue;
            if (geometry::calcToleratedGap(p, q).distance > 0 || bodies.isExempt({a.spot, s.solid}, {b.spot, t.solid}))
                continue;
            const SolidRef ra{a.spot, s.solid}, rb{b.spot, t.solid};
            if (!seated.empty() && seated.count(ra < rb ? std::pair(ra, rb) : std::pair(rb, ra)) > 0) continue;
            worst = std::max(worst, geometry::calcDepth(p, q));
        }
    return worst;
}

} // namespace

std::vector<Collision> calcCollisions(const model::Placed& placed, const Bodies& bodies, std::size_t most) {
    Pairs seated;
    for (const auto& mate : bonds::findMatesAcross(placed)) addPortSolids(*placed.project, mate, seated);
    std::vector<Item> items;
    for (std::size_t s = 0; s < bodies.sections.size(); ++s)
        for (const auto& part : bodies.sections[s]->parts)
            items.push_back({{static_cast<int>(s), part.part}, &part, placed.X_WS[s] * part.centre});
    std::sort(items.begin(), items.end(), [](const Item& l, const Item& r) {
        return l.centre.x() - l.body->radius < r.centre.x() - r.body->radius;
    });
    std::vector<Collision> found;
    for (std::size_t i = 0; i < items.size(); ++i) {
        const double end = items[i].centre.x() + items[i].body->radius;
        for (std::size_t j = i + 1; j < items.size() && items[j].centre.x() - items[j].body->radius < end; ++j) {
            if (items[i].spot.section == items[j].spot.section) continue;
            if ((items[i].centre - items[j].centre).norm() > items[i].body->radius + items[j].body->radius) continue;
            const double depth = worstDepth(placed, bodies, seated, items[i], items[j]);
            if (depth <= geometry::kContactToleranceMm) continue;
            const auto [first, second] = std::minmax(items[i].spot, items[j].spot);
            found.push_back({first, second, depth});
            if (found.size() >= most) return found;
        }
    }
    std::sort(found.begin(), found.end(),
              [](const Collision& l, const Collision& r) { return std::tie(l.a, l.b) < std::tie(r.a, r.b); });
    return found;
}

} // namespace ivrant::pose
