// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/study/module_room.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <map>
#include <set>
#include <tuple>

#include "core/base/at.h"
#include "core/base/units.h"
#include "core/bonds/mates.h"
#include "core/parts/placed_solid.h"

namespace ivrant::study {

using geometry::Bounds;
using geometry::Frame;
using geometry::Vec3;
using model::PartSpot;

namespace {

constexpr double kMostLedMm = 40, kLedStepMm = 0.5;
constexpr double kNearMm = 0.002; ///< how finely room is found
constexpr double kOpposite = -0.999;

Bounds moveBox(Bounds box, const Vec3& by) {
    box.low += by;
    box.high += by;
    return box;
}
Bounds joinBoxes(Bounds box, const Bounds& other) {
    box.include(other);
    return box;
}

/// Solids by the cells of a grid that their boxes touch, so that each is compared with its neighbours alone.
class Neighbours {
public:
    explicit Neighbours(const std::vector<const LyingSolid*>& solids) {
        for (const LyingSolid* solid : solids)
            forCells(solid->bounds, [&](const Cell& cell) { m_cells[cell].push_back(solid); });
    }
    /// Those whose box may be within `slack` of this one, each once, in order.
    [[nodiscard]] std::vector<const LyingSolid*> find(const Bounds& box, double slack) const {
        Bounds wide = box;
        wide.low -= Vec3::Constant(slack);
        wide.high += Vec3::Constant(slack);
        std::vector<const LyingSolid*> found;
        forCells(wide, [&](const Cell& cell) {
            const auto here = m_cells.find(cell);
            if (here != m_cells.end()) found.insert(found.end(), here->second.begin(), here->second.end());
        });
        std::erase_if(found, [&](const LyingSolid* solid) { return !solid->bounds.overlaps(box, slack); });
        std::sort(found.begin(), found.end());
        found.erase(std::unique(found.begin(), found.end()), found.end());
        return found;
    }

private:
    using Cell = std::array<int, 3>;
    static constexpr double kCellMm = 16;
    template <class Visit> static void forCells(const Bounds& box, const Visit& visit) {
        const auto cellOf = [](double mm) { return static_cast<int>(std::floor(mm / kCellMm)); };
        for (int x = cellOf(box.low.x()); x <= cellOf(box.high.x()); ++x)
            for (int y = cellOf(box.low.y()); y <= cellOf(box.high.y()); ++y)
                for (int z = cellOf(box.low.z()); z <= cellOf(box.high.z()); ++z) visit(Cell{x, y, z});
    }
    std::map<Cell, std::vector<const LyingSolid*>> m_cells;
};

/// Room of one solid towards the other along `u`, up to kWallMm; nothing when it passes.
std::optional<double> calcRoom(const LyingSolid& own, const LyingSolid& wall, const Vec3& u, const Vec3& moved) {
    const Bounds begin = moveBox(own.bounds, moved);
    if (!joinBoxes(begin, moveBox(begin, kWallMm * u)).overlaps(wall.bounds, -kNearMm)) return std::nullopt;
    geometry::PlacedSolid solid = own.placed;
    solid.centre += moved;
    // The eroded solid goes kContactToleranceMm farther than the solid itself.
    const auto clear = [&](double mm) { return geometry::isSweepClear(solid, mm * u, wall.placed); };
    double low = 0, high = kWallMm + geometry::kContactToleranceMm;
    if (clear(high)) return std::nullopt;
    if (!clear(0)) return std::nullopt; // it is in it, or lies on it aslant: no wall
    while (high - low > kNearMm) {
        const double middle = (low + high) / 2;
        (clear(middle) ? low : high) = middle;
    }
    return std::max(0.0, low - geometry::kContactToleranceMm);
}

std::array<Vec3, 4> listAcross(const Vec3& way) {
    Vec3 x = Vec3::UnitX();
    if (std::abs(way.x()) > 0.5) x = Vec3::UnitY();
    x = (x - x.dot(way) * way).normalized();
    const Vec3 y = way.cross(x);
    return {x, -x, y, -y};
}

} // namespace

std::vector<LyingSolid> listSolids(const model::Placed& placed, const std::vector<PartSpot>& spots) {
    std::vector<LyingSolid> list;
    for (const PartSpot spot : spots) {
        const parts::Shape& shape = *model::getPart(*placed.project, spot).shape;
        const Frame X = placed.X_WP(spot);
        for (std::size_t k = 0; k < shape.solids.size(); ++k)
            list.push_back({parts::placeSolid(shape.solids[k], X), geometry::calcBounds(shape.solids[k].solid, X), spot,
                            static_cast<int>(k), shape.solids[k].studPort});
    }
    return list;
}

std::vector<SideGap> listSides(const std::vector<LyingSolid>& own, const std::vector<LyingSolid>& others,
                               const Vec3& way, const Vec3& moved) {
    Bounds all;
    for (const LyingSolid& solid : own) all.include(moveBox(solid.bounds, moved));
    std::vector<const LyingSolid*> near;
    for (const LyingSolid& wall : others)
        if (wall.stud < 0 && wall.bounds.overlaps(all, kWallMm)) near.push_back(&wall);
    const Neighbours walls(near);
    const auto across = listAcross(way);
    std::array<std::optional<SideGap>, 4> least;
    for (const LyingSolid& solid : own) {
        if (solid.stud >= 0) continue;
        for (const LyingSolid* wall : walls.find(moveBox(solid.bounds, moved), kWallMm))
            for (std::size_t k = 0; k < across.size(); ++k)
                if (const auto room = calcRoom(solid, *wall, across[k], moved);
                    room && (!least[k] || *room < least[k]->mm))
                    least[k] = SideGap{across[k], *room, wall->spot};
    }
    std::vector<SideGap> sides;
    for (const auto& side : least)
        if (side) sides.push_back(*side);
    return sides;
}

double calcLedMm(const std::vector<LyingSolid>& own, const std::vector<LyingSolid>& others, const Vec3& way) {
    double led = 0;
    for (double mm = kLedStepMm; mm <= kMostLedMm; mm += kLedStepMm) {
        const auto sides = listSides(own, others, way, mm * way);
        const auto isNear = [](const SideGap& side) { return side.mm <= kMostGapMm; };
        const bool between = std::any_of(sides.begin(), sides.end(), [&](const SideGap& l) {
            return isNear(l) && std::any_of(sides.begin(), sides.end(), [&](const SideGap& r) {
                       return isNear(r) && l.towards.dot(r.towards) < kOpposite;
                   });
        });
        if (!between) break;
        led = mm;
    }
    return led;
}

namespace {

struct PlacedPort {
    const parts::Port* port;
    Frame X;
    PartSpot spot;
};

/// What a group looks like: shapes, colours and where they are, to a tenth of a millimetre.
using Looks = std::multiset<std::tuple<std::string, int, std::array<std::int64_t, 6>>>;
Looks describeLooks(const model::Placed& placed, const std::vector<PartSpot>& group, const Frame& move) {
    Looks looks;
    for (const PartSpot spot : group) {
        const model::Part& part = model::getPart(*placed.project, spot);
        Bounds box;
        for (const parts::ShapeSolid& solid : part.shape->solids)
            box.include(geometry::calcBounds(solid.solid, move * placed.X_WP(spot)));
        std::array<std::int64_t, 6> at{};
        for (std::size_t k = 0; k < 3; ++k) {
            at[k] = std::llround(10 * box.low[static_cast<int>(k)]);
            at[k + 3] = std::llround(10 * box.high[static_cast<int>(k)]);
        }
        looks.insert({part.shape->name, part.colour, at});
    }
    return looks;
}

} // namespace

std::vector<std::string> listOtherPlaces(const model::Placed& placed, const WorldMates& mates,
                                         const std::vector<PartSpot>& group, const std::vector<LyingSolid>& own,
                                         const std::vector<LyingSolid>& others, const Vec3& way, bool turns) {
    const std::set<PartSpot> inside(group.begin(), group.end());
    std::vector<PlacedPort> ownPorts;
    Bounds seats;
    for (const auto& [ends, list] : mates) {
        const bool first = inside.count(ends.first) > 0;
        if (first == (inside.count(ends.second) > 0)) continue;
        const PartSpot spot = first ? ends.first : ends.second;
        const parts::Shape& shape = *model::getPart(*placed.project, spot).shape;
        for (const bonds::Mate& mate : list) {
            const parts::Port& port = at(shape.ports, first ? mate.portA : mate.portB);
            ownPorts.push_back({&port, placed.X_WP(spot), spot});
            seats.include(ownPorts.back().X * port.origin);
        }
    }
    if (ownPorts.empty()) return {};
    std::vector<PlacedPort> otherPorts;
    std::set<PartSpot> near;
    for (const LyingSolid& solid : others)
        if (solid.bounds.overlaps(seats, 2 * base::kPitchMm)) near.insert(solid.spot);
    for (const PartSpot spot : near) {
        const parts::Shape& shape = *model::getPart(*placed.project, spot).shape;
        for (const parts::Port& port : shape.ports) otherPorts.push_back({&port, placed.X_WP(spot), spot});
    }
    const Looks looks = describeLooks(placed, group, Frame::Identity());
    std::vector<const LyingSolid*> all;
    all.reserve(others.size());
    for (const LyingSolid& other : others) all.push_back(&other);
    const Neighbours around(all);
    const auto fits = [&](const Frame& move) {
        std::set<std::pair<PartSpot, int>> seated; // solids of the rest that sit in something
        for (const PlacedPort& port : ownPorts) {
            const auto meets = std::find_if(otherPorts.begin(), otherPorts.end(), [&](const PlacedPort& other) {
                return parts::findBondKind(*port.port, *other.port) != parts::BondKind::None &&
                       bonds::isSeated(*port.port, move * port.X, *other.port, other.X);
            });
            if (meets == otherPorts.end()) return false;
            for (const int solid : meets->port->solids) seated.insert({meets->spot, solid});
            for (const int solid : port.port->solids) seated.insert({port.spot, solid});
        }
        for (const LyingSolid& solid : own) {
            geometry::PlacedSolid moved = solid.placed;
            moved.R = move.linear() * solid.placed.R;
            moved.centre = move * solid.placed.centre;
            const double reach = solid.bounds.size().norm() / 2 + 0.1;
            const Vec3 middle = move * solid.bounds.centre();
            for (const LyingSolid* found : around.find({middle, middle}, reach)) {
                const LyingSolid& other = *found;
                if (seated.count({other.spot, other.index}) > 0 && (other.stud >= 0 || solid.stud < 0)) continue;
                if (seated.count({solid.spot, solid.index}) > 0 && solid.stud >= 0) continue;
                if (!geometry::isSweepClear(moved, Vec3::Zero(), other.placed)) return false;
            }
        }
        return describeLooks(placed, group, move) != looks;
    };
    std::vector<std::string> found;
    const Vec3 middle = seats.centre();
    for (const int deg : {90, 180, 270}) {
        if (!turns) break;
        Frame move = Frame::Identity();
        move.linear() = Eigen::AngleAxisd(base::degToRad(deg), way).toRotationMatrix();
        move.translation() = middle - move.linear() * middle;
        if (fits(move)) found.push_back("turned by " + std::to_string(deg) + "°");
    }
    int aside = 0;
    for (const Vec3& u : listAcross(way)) {
        Frame move = Frame::Identity();
        move.translation() = base::kPitchMm * u;
        if (fits(move)) ++aside;
    }
    if (aside > 0) found.emplace_back("a pitch aside");
    return found;
}

} // namespace ivrant::study
