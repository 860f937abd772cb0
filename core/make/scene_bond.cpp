// SPDX-License-Identifier: GPL-3.0-or-later
// Which way does a bond let go?
#include <algorithm>
#include <array>
#include <cmath>

#include "core/base/at.h"
#include "core/base/units.h"
#include "core/make/scene.h"
#include "core/parts/placed_solid.h"

namespace ivrant::make {
namespace {

using geometry::Frame;
using parts::Port;
using parts::PortKind;

constexpr double kStudLiftMm = 2; ///< a stud is 1.7 mm high

void addWay(std::vector<Vec3>& ways, const Vec3& way) {
    for (const Vec3& known : ways)
        if (known.dot(way) > kSameWay) return;
    ways.push_back(way);
}

bool isFinger(const Port& port) {
    using enum PortKind;
    return port.kind == ForkSmall || port.kind == ForkLarge || port.kind == TongueSmall || port.kind == TongueLarge;
}
bool isShaft(const Port& port) { return port.kind == PortKind::Axle; }
/// Open at both ends.
bool isHole(const Port& port) { return port.kind == PortKind::Hole || port.kind == PortKind::CrossHole; }

/// The way that a finger, a clip or a bar's plate points away from its own part.
Vec3 findOutward(const Port& port, const Frame& X) {
    const bool carrying =
        port.kind == PortKind::ForkSmall || port.kind == PortKind::ForkLarge || port.kind == PortKind::Clip;
    return X.linear() * (carrying ? port.reference : Vec3(-port.reference));
}

/// In which ways the part with port p may leave the one with port q.
std::vector<Vec3> listWays(const Port& p, const Frame& X_p, const Port& q, const Frame& X_q) {
    std::vector<Vec3> ways;
    const Vec3 axisP = X_p.linear() * p.axis, axisQ = X_q.linear() * q.axis;
    if (isFinger(p) || isFinger(q)) {
        addWay(ways, -findOutward(p, X_p));
        addWay(ways, findOutward(q, X_q));
        return ways;
    }
    if (p.kind == PortKind::Clip || q.kind == PortKind::Clip) { // off the bar, or along it
        if (p.kind == PortKind::Clip)
            addWay(ways, -findOutward(p, X_p));
        else
            addWay(ways, findOutward(q, X_q));
        addWay(ways, axisP);
        addWay(ways, -axisP);
        return ways;
    }
    addWay(ways, -axisP);
    addWay(ways, axisQ);
    return ways;
}

bool isSame(const std::vector<Vec3>& l, const std::vector<Vec3>& r) {
    return l.size() == r.size() && std::all_of(l.begin(), l.end(), [&](const Vec3& way) {
               return std::any_of(r.begin(), r.end(), [&](const Vec3& other) { return other.dot(way) > kSameWay; });
           });
}

/// Ports with one line, once.
void addShaftLine(std::vector<SceneShaft>& lines, const Port& port, const Frame& X) {
    const Vec3 at = X * port.origin, axis = X.linear() * port.axis;
    for (const SceneShaft& line : lines)
        if (std::abs(line.axis.dot(axis)) > kSameWay && line.axis.cross(at - line.at).norm() < kOnLineMm &&
            line.solids == port.solids)
            return;
    lines.push_back({at, axis, port.solids});
}

} // namespace

SceneBody makeSceneBody(const parts::Shape& shape, const Frame& X) {
    SceneBody body;
    const bool square = geometry::findTurn(X.linear()).has_value();
    for (const parts::ShapeSolid& from : shape.solids) {
        SceneSolid solid;
        solid.placed = parts::placeSolid(from, X);
        solid.bounds = geometry::calcBounds(from.solid, X);
        solid.eroded = geometry::calcBounds(from.eroded, X);
        solid.boxy = from.solid.kind == geometry::SolidKind::Box && square &&
                     geometry::findTurn(from.solid.X_PS.linear()).has_value();
        if (!shape.rings.empty()) {
            solid.toothed = &shape;
            solid.X = X;
        }
        solid.index = static_cast<int>(body.solids.size());
        if (from.studPort >= 0) solid.studAxis = X.linear() * at(shape.ports, from.studPort).axis;
        body.bounds.include(solid.bounds);
        body.solids.push_back(solid);
    }
    for (const Port& port : shape.ports) {
        if (isShaft(port)) addShaftLine(body.shafts, port, X);
        if (isHole(port)) addShaftLine(body.holes, port, X);
    }
    return body;
}

SceneBond makeSceneBond(int a, const parts::Shape& shapeA, const Frame& X_a, int b, const parts::Shape& shapeB,
                        const Frame& X_b, const std::vector<bonds::Mate>& mates) {
    SceneBond bond;
    bond.a = a;
    bond.b = b;
    struct Line {
        Vec3 at, axis;
        bool through;
        std::vector<Vec3> ways;
    };
    std::vector<Line> lines;
    bool studs = true;
    for (const bonds::Mate& mate : mates) {
        const Port &p = at(shapeA.ports, mate.portA), &q = at(shapeB.ports, mate.portB);
        for (const int k : p.solids)
            for (const int l : q.solids) bond.seats.emplace_back(k, l);
        studs = studs && mate.kind == parts::BondKind::Stud;
        Line line{X_a * p.origin, X_a.linear() * p.axis, (isShaft(p) && isHole(q)) || (isHole(p) && isShaft(q)),
                  listWays(p, X_a, q, X_b)};
        // A hole that is open at both ends has a port for each.
        const auto same = std::find_if(lines.begin(), lines.end(), [&](const Line& known) {
            return known.through && line.through && std::abs(known.axis.dot(line.axis)) > kSameWay &&
                   known.axis.cross(line.at - known.at).norm() < kOnLineMm;
        });
        if (same != lines.end())
            for (const Vec3& way : line.ways) addWay(same->ways, way);
        else
            lines.push_back(std::move(line));
    }
    bond.threaded = !lines.empty() && std::all_of(lines.begin(), lines.end(), [](const Line& line) {
        return line.through && line.ways.size() == 2;
    });
    for (Line& line : lines)
        if (std::none_of(bond.lines.begin(), bond.lines.end(),
                         [&](const auto& known) { return isSame(known, line.ways); }))
            bond.lines.push_back(std::move(line.ways));
    std::sort(bond.seats.begin(), bond.seats.end());
    bond.seats.erase(std::unique(bond.seats.begin(), bond.seats.end()), bond.seats.end());
    if (studs || bond.lines.empty()) {
        bond.depth = kStudLiftMm;
    } else { // until the two are past each other
        geometry::Bounds boxA, boxB;
        for (const auto& [k, l] : bond.seats) {
            boxA.include(geometry::calcBounds(at(shapeA.solids, k).solid, X_a));
            boxB.include(geometry::calcBounds(at(shapeB.solids, l).solid, X_b));
        }
        const Vec3 way = bond.lines.front().front();
        for (int i = 0; i < 3; ++i) {
            if (std::abs(way[i]) < 0.5) continue;
            bond.depth = (way[i] > 0 ? boxB.high[i] - boxA.low[i] : boxA.high[i] - boxB.low[i]) + 0.2;
        }
        bond.depth = std::clamp(bond.depth, kStudLiftMm, 5 * base::kPitchMm);
    }
    return bond;
}

std::string describeWayIn(const Way& way) {
    const auto name = [](const Vec3& v, const std::array<const char*, 6>& names) -> std::string {
        int k = 0;
        v.cwiseAbs().maxCoeff(&k);
        if (std::abs(v[k]) < 0.99 * v.norm()) return {};
        return names[2 * static_cast<std::size_t>(k) + (v[k] > 0 ? 0 : 1)];
    };
    std::string text =
        name(way.off, {"from the right", "from the left", "from behind", "from the front", "from above", "from below"});
    if (text.empty()) text = "aslant, along its joint";
    if (way.lift != Vec3::Zero()) {
        const std::string last = name(way.lift, {"to the left", "to the right", "forward", "back", "down", "up"});
        text += last.empty() ? ", then home" : ", then " + last;
    }
    return text;
}

} // namespace ivrant::make
