// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/study/shaft_slip.h"

#include <algorithm>
#include <set>

#include "core/base/at.h"
#include "core/drive/part_bodies.h"
#include "core/geometry/gap.h"
#include "core/parts/placed_solid.h"

namespace ivrant::study {
namespace {

using geometry::Frame;
using geometry::Vec3;
using model::PartSpot;

constexpr double kStepsMm[] = {0.6, 1, 2, 3, 4, 6, 8, 10, kMostSlipMm};

class SlipFinder {
public:
    explicit SlipFinder(const Facts& facts) : m_facts(facts), m_net(facts.drive->net) {}

    std::vector<ShaftSlip> run() {
        for (std::size_t r = 0; r < m_net.rotors.size(); ++r)
            if (isFree(static_cast<int>(r))) look(static_cast<int>(r));
        return std::move(m_slips);
    }

private:
    /// A shaft of parts that only round holes hold.
    [[nodiscard]] bool isFree(int index) const {
        const drive::Rotor& rotor = at(m_net.rotors, index);
        if (rotor.board >= 0 || rotor.kind != drive::Rotor::Kind::Shaft || rotor.parts.size() < 2) return false;
        const bool held = std::any_of(m_net.links.begin(), m_net.links.end(), [&](const drive::Link& link) {
            using Kind = drive::Link::Kind;
            return (link.kind == Kind::Held || link.kind == Kind::Universal) && (link.a == index || link.b == index);
        });
        int holes = 0;
        for (const drive::Bearing& bearing : m_net.bearings) {
            if (bearing.rotor != index) continue;
            if (bearing.by == drive::Bearing::By::Coupled) return false;
            ++holes;
        }
        return !held && holes > 0;
    }

    struct Placed {
        PartSpot spot;
        Frame X;
        geometry::Bounds bounds;
    };
    [[nodiscard]] Placed placeAt(PartSpot spot, const Vec3& by) const {
        Frame X = m_facts.present.placed.X_WP(spot);
        X.translation() += by;
        const geometry::Bounds& own = model::getPart(*m_facts.project, spot).shape->bounds;
        const Vec3 middle = X * own.centre(), half = 0.5 * (X.linear().cwiseAbs() * own.size());
        geometry::Bounds bounds;
        bounds.include(middle - half);
        bounds.include(middle + half);
        return {spot, X, bounds};
    }
    [[nodiscard]] const parts::Shape& shapeOf(PartSpot spot) const {
        return *model::getPart(*m_facts.project, spot).shape;
    }

    void look(int index) {
        const drive::Rotor& rotor = at(m_net.rotors, index);
        // With all that is fixed to it, in other sections too.
        std::set<PartSpot> own;
        for (std::size_t s = 0; s < m_facts.project->sections.size(); ++s)
            for (std::size_t p = 0; p < m_facts.project->sections[s]->parts.size(); ++p)
                if (m_net.findRotor(m_facts.project->sections[s]->parts[p].id.text) == index)
                    own.insert({static_cast<int>(s), static_cast<int>(p)});
        for (const double sign : {1.0, -1.0}) {
            const Vec3 way = sign * rotor.axis;
            const auto others = listNear(own, way);
            const bool stopped = std::any_of(std::begin(kStepsMm), std::end(kStepsMm), [&](double by) {
                return std::any_of(own.begin(), own.end(), [&](PartSpot spot) {
                    const Placed moved = placeAt(spot, by * way);
                    return std::any_of(others.begin(), others.end(),
                                       [&](const Placed& other) { return meets(rotor, moved, other); });
                });
            });
            if (!stopped) m_slips.push_back({index, way});
        }
    }
    /// Parts that the way of these leads near to.
    [[nodiscard]] std::vector<Placed> listNear(const std::set<PartSpot>& own, const Vec3& way) const {
        geometry::Bounds swept;
        for (const PartSpot spot : own)
            for (const double by : {0.0, kMostSlipMm}) {
                const Placed placed = placeAt(spot, by * way);
                swept.include(placed.bounds.low);
                swept.include(placed.bounds.high);
            }
        std::vector<Placed> near;
        for (std::size_t s = 0; s < m_facts.project->sections.size(); ++s)
            for (std::size_t p = 0; p < m_facts.project->sections[s]->parts.size(); ++p) {
                const PartSpot spot{static_cast<int>(s), static_cast<int>(p)};
                if (own.count(spot) > 0) continue;
                Placed placed = placeAt(spot, Vec3::Zero());
                if (placed.bounds.overlaps(swept, 0)) near.push_back(std::move(placed));
            }
        return near;
    }
    [[nodiscard]] bool meets(const drive::Rotor& rotor, const Placed& moved, const Placed& other) const {
        if (!moved.bounds.overlaps(other.bounds, 0)) return false;
        const parts::Shape &a = shapeOf(moved.spot), &b = shapeOf(other.spot);
        if (!a.rings.empty() && !b.rings.empty()) return false; // teeth slide past each other
        const bool axle = std::any_of(a.ports.begin(), a.ports.end(),
                                      [](const parts::Port& port) { return port.kind == parts::PortKind::Axle; });
        if (axle && hasHoleOn(rotor, other)) return false; // it goes through
        for (const auto& one : a.solids)
            for (const auto& two : b.solids)
                if (geometry::calcToleratedGap(parts::placeSolid(one, moved.X), parts::placeSolid(two, other.X))
                        .distance <= 0)
                    return true;
        return false;
    }
    [[nodiscard]] bool hasHoleOn(const drive::Rotor& rotor, const Placed& other) const {
        const auto& ports = shapeOf(other.spot).ports;
        return std::any_of(ports.begin(), ports.end(), [&](const parts::Port& port) {
            return port.kind == parts::PortKind::Hole &&
                   drive::isOneLine(rotor.origin, rotor.axis, other.X * port.origin, other.X.linear() * port.axis);
        });
    }

    const Facts& m_facts;
    const drive::DriveNet& m_net;
    std::vector<ShaftSlip> m_slips;
};

} // namespace

std::vector<ShaftSlip> findShaftSlips(const Facts& facts) {
    return facts.drive ? SlipFinder(facts).run() : std::vector<ShaftSlip>{};
}

} // namespace ivrant::study
