// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/bonds/board_overlaps.h"

#include <algorithm>

#include "core/base/at.h"
#include "core/geometry/gap.h"
#include "core/parts/placed_solid.h"

namespace ivrant::bonds {
namespace {

using geometry::Frame;
using geometry::PlacedSolid;
using geometry::Vec3;

constexpr double kOffLineMm = 0.3; ///< a shaft that far off a hole's line still goes in
constexpr double kAlongLine = 0.9999;

bool isHole(parts::PortKind kind) {
    return kind == parts::PortKind::Hole || kind == parts::PortKind::CrossHole || kind == parts::PortKind::TurningHole;
}

class OverlapFinder {
public:
    OverlapFinder(const model::Placed& placed, const std::vector<SectionBondsPtr>& bonds, std::size_t most)
        : m_placed(placed), m_bonds(bonds), m_most(most) {
        for (std::size_t s = 0; s < placed.X_WS.size(); ++s)
            for (std::size_t p = 0; p < placed.project->sections[s]->parts.size(); ++p) {
                const model::PartSpot spot{static_cast<int>(s), static_cast<int>(p)};
                const auto& shape = *model::getPart(*placed.project, spot).shape;
                const Frame X_WP = placed.X_WP(spot);
                m_items.push_back({spot, &shape, X_WP, X_WP * shape.bounds.centre(), shape.bounds.size().norm() / 2});
                m_largest = std::max(m_largest, m_items.back().radius);
            }
        std::sort(m_items.begin(), m_items.end(),
                  [](const Item& l, const Item& r) { return l.centre.x() < r.centre.x(); });
    }

    std::vector<BoardOverlap> run() {
        const auto poses = model::calcBoardFrames(m_placed);
        struct Own {
            int board;
            model::BoardPart part;
            Frame X_WP;
            bool motor;
        };
        std::vector<Own> all;
        for (std::size_t b = 0; b < poses.size(); ++b)
            for (model::BoardPart& part : model::listBoardParts(*m_placed.project->boards[b]).parts) {
                const Frame X_WP = poses[b] * part.X_BP;
                const auto& motors = m_placed.project->boards[b]->motors;
                const bool motor =
                    std::any_of(motors.begin(), motors.end(), [&](const auto& m) { return m.id.text == part.id; });
                all.push_back({static_cast<int>(b), std::move(part), X_WP, motor});
            }
        for (std::size_t i = 0; i < all.size() && m_found.size() < m_most; ++i) {
            check(all[i].board, all[i].part, all[i].X_WP);
            for (std::size_t k = 0; k < all.size() && all[i].motor && m_found.size() < m_most; ++k) {
                if (k == i || (all[k].motor && k < i)) continue;
                const auto& shape = *all[k].part.shape;
                const Item item{
                    {}, &shape, all[k].X_WP, all[k].X_WP * shape.bounds.centre(), shape.bounds.size().norm() / 2};
                if (const double depth = depthBetween(all[i].part, all[i].X_WP, item);
                    depth > geometry::kContactToleranceMm)
                    m_found.push_back(
                        {all[i].board, all[i].part.id, all[i].part.shape->name, {}, all[k].part.id, depth});
            }
        }
        return std::move(m_found);
    }

private:
    struct Item {
        model::PartSpot spot;
        const parts::Shape* shape;
        Frame X_WP;
        Vec3 centre;
        double radius;
    };

    void check(int board, const model::BoardPart& part, const Frame& X_WP) {
        const model::Board& of = *at(m_placed.project->boards, board);
        const int section = of.section.empty() ? -1 : m_placed.project->findSection(of.section);
        const Vec3 centre = X_WP * part.shape->bounds.centre();
        const double radius = part.shape->bounds.size().norm() / 2;
        const double low = centre.x() - radius - m_largest, high = centre.x() + radius + m_largest;
        for (auto item = std::lower_bound(m_items.begin(), m_items.end(), low,
                                          [](const Item&i, double x) { return i.centre.x() < x; });
             item != m_items.end() && item->centre.x() <= high; ++item) {
            if (section >= 0 && item->spot.section != section) continue;
            const double depth = depthBetween(part, X_WP, *item);
            if (depth <= geometry::kContactToleranceMm) continue;
            m_found.push_back({board, part.id, part.shape->name, item->spot, "", depth});
            if (m_found.size() >= m_most) return;
        }
    }

    [[nodiscard]] double depthBetween(const model::BoardPart& part, const Frame& X_WP, const Item& item) const {
        const Vec3 centre = X_WP * part.shape->bounds.centre();
        if ((item.centre - centre).norm() > part.shape->bounds.size().norm() / 2 + item.radius ||
            sharesLine(*part.shape, X_WP, *item.shape, item.X_WP))
            return 0;
        return calcDepth(*part.shape, X_WP, item);
    }
    [[nodiscard]] double calcDepth(const parts::Shape& shape, const Frame& X_WP, const Item& item) const {
        static const std::vector<int> kNone;
        const auto& covered =
            item.spot.section < 0 ? kNone : at(at(m_bonds, item.spot.section)->coveredStuds, item.spot.part);
        double worst = 0;
        for (const auto& s : shape.solids)
            for (const auto& t : item.shape->solids) {
                if (t.studPort >= 0 && std::find(covered.begin(), covered.end(), t.studPort) != covered.end()) continue;
                const PlacedSolid a = parts::placeSolid(s, X_WP), b = parts::placeSolid(t, item.X_WP);
                if ((a.centre - b.centre).norm() > a.solid->reach + b.solid->reach) continue;
                if (geometry::calcToleratedGap(a, b).distance > 0) continue;
                worst = std::max(worst, geometry::calcDepth(a, b));
            }
        return worst;
    }

    const model::Placed& m_placed;
    const std::vector<SectionBondsPtr>& m_bonds;
    std::size_t m_most;
    std::vector<Item> m_items; ///< by x of their centres
    double m_largest = 0;
    std::vector<BoardOverlap> m_found;
};

} // namespace

bool sharesLine(const parts::Shape& shape, const Frame& X_WP, const parts::Shape& brick, const Frame& X_WB) {
    for (const parts::Port& a : shape.ports)
        for (const parts::Port& b : brick.ports) {
            if (isHole(a.kind) == isHole(b.kind)) continue;
            const auto& inserted = isHole(a.kind) ? b.kind : a.kind;
            if (inserted != parts::PortKind::Axle && inserted != parts::PortKind::PinSmooth &&
                inserted != parts::PortKind::PinRibbed)
                continue;
            const Vec3 axis = X_WP.linear() * a.axis, other = X_WB.linear() * b.axis;
            if (std::abs(axis.dot(other)) < kAlongLine) continue;
            const Vec3 away = X_WB * b.origin - X_WP * a.origin;
            if ((away - away.dot(axis) * axis).norm() < kOffLineMm) return true;
        }
    return false;
}

std::vector<BoardOverlap> calcBoardOverlaps(const model::Placed& placed, const std::vector<SectionBondsPtr>& bonds,
                                            std::size_t most) {
    if (placed.project->boards.empty()) return {};
    return OverlapFinder(placed, bonds, most).run();
}

} // namespace ivrant::bonds
