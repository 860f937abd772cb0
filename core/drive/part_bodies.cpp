// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/drive/part_bodies.h"

#include <algorithm>
#include <cmath>
#include <map>
#include <set>
#include <tuple>

#include "core/base/at.h"
#include "core/base/groups.h"
#include "core/bonds/across.h"

namespace ivrant::drive {
namespace {

using model::PartSpot;
using parts::BondKind;
using parts::Port;
using parts::PortKind;

constexpr double kOneLineCos = 0.99996;    ///< half a degree
constexpr std::size_t kMostOnOneBody = 64; ///< holes looked at in pairs; ground itself has more and needs none
constexpr double kSameHoleSteps = 10;      ///< tenths of a mm

bool isPin(const Port& port) { return port.kind == PortKind::PinSmooth || port.kind == PortKind::PinRibbed; }
bool isRod(const Port& port) {
    return port.kind == PortKind::Axle || isPin(port) || port.kind == PortKind::GearedLower ||
           port.kind == PortKind::TurntableLower;
}
bool isHole(const Port& port) {
    return port.kind == PortKind::Hole || port.kind == PortKind::TurningHole || port.kind == PortKind::GearedUpper ||
           port.kind == PortKind::TurntableUpper;
}
bool isUniversal(const Port& port) {
    return port.kind == PortKind::UniversalFork || port.kind == PortKind::UniversalCross;
}
/// Leaves no turn.
bool fixes(const Port& a, const Port& b, BondKind kind) {
    if (kind == BondKind::Stud || kind == BondKind::Fixed || kind == BondKind::Friction) return true;
    return kind == BondKind::Movable && !isUniversal(a) && !(isRod(a) && isHole(b)) && !(isRod(b) && isHole(a));
}

class BodyFinder {
public:
    BodyFinder(const model::Placed& placed, const std::vector<bonds::SectionBondsPtr>& bonds)
        : m_placed(placed), m_project(*placed.project), m_bonds(bonds) {
        m_first.push_back(0);
        for (const auto& section : m_project.sections)
            m_first.push_back(m_first.back() + static_cast<int>(section->parts.size()));
        m_groups = base::Groups(static_cast<std::size_t>(m_first.back()));
    }

    PartBodies run() {
        for (std::size_t s = 0; s < m_project.sections.size(); ++s)
            for (const bonds::Mate& mate : m_bonds[s]->mates) {
                const int section = static_cast<int>(s);
                add({section, mate.partA}, mate.portA, {section, mate.partB}, mate.portB, mate.kind);
            }
        if (m_project.sections.size() > 1)
            for (const bonds::AcrossMate& mate : bonds::findMatesAcross(m_placed))
                add(mate.a, mate.portA, mate.b, mate.portB, mate.kind);
        while (joinSharedLines()) {
        }
        number();
        findGround();
        return std::move(m_out);
    }

private:
    [[nodiscard]] std::size_t node(PartSpot spot) const {
        return static_cast<std::size_t>(at(m_first, spot.section)) + static_cast<std::size_t>(spot.part);
    }
    [[nodiscard]] int groupOf(PartSpot spot) { return static_cast<int>(m_groups.find(node(spot))); }
    [[nodiscard]] const Port& portOf(PartSpot spot, int port) const { return bonds::getPort(m_project, spot, port); }

    void add(PartSpot a, int portA, PartSpot b, int portB, BondKind kind) {
        const Port &p = portOf(a, portA), &q = portOf(b, portB);
        if (fixes(p, q, kind)) {
            // Of two sections only an axle in a cross hole makes one body: they may be held by studs, and open.
            if (a.section == b.section || p.kind == PortKind::Axle || q.kind == PortKind::Axle)
                m_groups.join(node(a), node(b));
            return;
        }
        if (isUniversal(p) && isUniversal(q)) {
            m_out.universals.emplace_back(a, b);
            return;
        }
        if (isRod(p) && isHole(q)) return addCarry(a, b, portB);
        if (isRod(q) && isHole(p)) addCarry(b, a, portA);
    }
    void addCarry(PartSpot rod, PartSpot hole, int port) {
        const Port& of = portOf(hole, port);
        const geometry::Frame X = m_placed.X_WP(hole);
        Carry carry{0, 0, rod, hole, port, X * of.origin, X.linear() * of.axis, of.kind == PortKind::TurningHole};
        const auto key = [&](int k) { return std::llround(carry.at[k] * kSameHoleSteps); };
        if (!m_holes.insert({rod, hole, {key(0), key(1), key(2)}}).second) return; // both ends of one hole
        m_out.carries.push_back(carry);
    }

    struct Line {
        Vec3 at, axis;
    };
    /// Bodies of one section that share two lines become one. True when any did.
    bool joinSharedLines() {
        std::map<int, std::vector<std::size_t>> of;
        for (std::size_t c = 0; c < m_out.carries.size(); ++c) {
            const Carry& carry = m_out.carries[c];
            if (carry.rodPart.section != carry.holePart.section) continue;
            const int rod = groupOf(carry.rodPart), hole = groupOf(carry.holePart);
            if (rod == hole) continue;
            of[rod].push_back(c);
            of[hole].push_back(c);
        }
        std::map<std::pair<int, int>, std::vector<Line>> shared;
        const auto share = [&](int a, int b, const Carry& on) {
            if (a == b) return;
            auto& lines = shared[{std::min(a, b), std::max(a, b)}];
            const bool known = std::any_of(lines.begin(), lines.end(), [&](const Line& line) {
                return isOneLine(line.at, line.axis, on.at, on.axis);
            });
            if (!known) lines.push_back({on.at, on.axis});
        };
        const auto otherOf = [&](std::size_t c, int body) {
            const int rod = groupOf(m_out.carries[c].rodPart);
            return rod != body ? rod : groupOf(m_out.carries[c].holePart);
        };
        for (const auto& [body, list] : of) {
            for (const std::size_t c : list) share(body, otherOf(c, body), m_out.carries[c]);
            if (list.size() > kMostOnOneBody) continue;
            for (std::size_t i = 0; i < list.size(); ++i)
                for (std::size_t k = i + 1; k < list.size(); ++k) {
                    const Carry &one = m_out.carries[list[i]], &two = m_out.carries[list[k]];
                    if (isOneLine(one.at, one.axis, two.at, two.axis))
                        share(otherOf(list[i], body), otherOf(list[k], body), one);
                }
        }
        bool any = false;
        for (const auto& [ends, lines] : shared) {
            const auto a = static_cast<std::size_t>(ends.first), b = static_cast<std::size_t>(ends.second);
            if (lines.size() < 2 || m_groups.find(a) == m_groups.find(b)) continue;
            m_groups.join(a, b);
            any = true;
        }
        return any;
    }

    void number() {
        std::map<int, int> numbers;
        for (std::size_t s = 0; s < m_project.sections.size(); ++s) {
            m_out.of.emplace_back();
            for (std::size_t p = 0; p < m_project.sections[s]->parts.size(); ++p) {
                const PartSpot spot{static_cast<int>(s), static_cast<int>(p)};
                const auto [found, fresh] = numbers.try_emplace(groupOf(spot), static_cast<int>(numbers.size()));
                if (fresh) m_out.parts.emplace_back();
                m_out.of[s].push_back(found->second);
                at(m_out.parts, found->second).push_back(spot);
            }
        }
        m_out.carriesOf.resize(m_out.parts.size());
        for (const Carry& carry : m_out.carries)
            if (carry.turning && m_out.bodyOf(carry.rodPart) == m_out.bodyOf(carry.holePart))
                m_out.locked.push_back(carry.holePart);
        std::erase_if(m_out.carries,
                      [&](const Carry& carry) { return m_out.bodyOf(carry.rodPart) == m_out.bodyOf(carry.holePart); });
        for (std::size_t c = 0; c < m_out.carries.size(); ++c) {
            Carry& carry = m_out.carries[c];
            carry.rod = m_out.bodyOf(carry.rodPart);
            carry.hole = m_out.bodyOf(carry.holePart);
            at(m_out.carriesOf, carry.rod).push_back(static_cast<int>(c));
            at(m_out.carriesOf, carry.hole).push_back(static_cast<int>(c));
        }
    }

    void findGround() {
        const model::PartIndex index(m_project);
        std::map<std::pair<int, int>, int> joints; // section, body
        std::set<int> joined;
        for (const model::Joint& joint : m_project.joints)
            for (const auto* end : {&joint.from, &joint.to}) {
                const PartSpot spot = index.find(end->part);
                const parts::Shape& shape = *model::getPart(m_project, spot).shape;
                joined.insert(spot.section);
                // An axle may turn, and so may a pin in its hole.
                if (at(shape.ports, shape.findPort(end->port)).kind == PortKind::Axle || isPin(shape)) continue;
                ++joints[{spot.section, m_out.bodyOf(spot)}];
            }
        for (std::size_t s = 0; s < m_project.sections.size(); ++s) {
            std::map<int, double> masses;
            std::set<int> frames; // bodies with more in them than what turns
            for (std::size_t p = 0; p < m_out.of[s].size(); ++p) {
                const model::Part& part = m_project.sections[s]->parts[p];
                masses[m_out.of[s][p]] += isDead(*part.shape) ? 1e-6 : part.massG();
                if (!isDead(*part.shape) && !isOnAxles(*part.shape)) frames.insert(m_out.of[s][p]);
            }
            if (joined.count(static_cast<int>(s)) == 0) // gearing that no brick carries yet: nothing in it stands
                std::erase_if(masses, [&](const auto& body) { return frames.count(body.first) == 0; });
            int best = -1;
            std::pair<int, double> most{-1, -1};
            for (const auto& [body, mass] : masses) {
                const auto found = joints.find({static_cast<int>(s), body});
                const std::pair<int, double> rank{found == joints.end() ? 0 : found->second, mass};
                if (rank <= most) continue;
                most = rank;
                best = body;
            }
            m_out.ground.push_back(best);
        }
    }
    /// Heavy, but built into something else.
    static bool isDead(const parts::Shape& shape) {
        return shape.family.starts_with("motor") || shape.family == "battery box";
    }

    static bool isPin(const parts::Shape& shape) {
        return shape.family == "pin smooth" || shape.family == "pin ribbed";
    }

    /// Axles, and what is made to sit on them.
    static bool isOnAxles(const parts::Shape& shape) {
        if (!shape.rings.empty()) { // rings, racks, turntables and actuators are fixed to what stands
            using parts::GearKind;
            const GearKind kind = shape.rings.front().kind;
            return kind != GearKind::Ring && kind != GearKind::Rack && kind != GearKind::Turntable &&
                   kind != GearKind::Actuator;
        }
        return shape.family == "bush" || shape.family == "driving ring" || shape.family == "straight connector" ||
               std::all_of(shape.ports.begin(), shape.ports.end(),
                           [](const Port& port) { return port.kind == PortKind::Axle; });
    }

    using HoleKey = std::tuple<PartSpot, PartSpot, std::array<long long, 3>>;
    const model::Placed& m_placed;
    const model::Project& m_project;
    const std::vector<bonds::SectionBondsPtr>& m_bonds;
    std::vector<int> m_first;
    base::Groups m_groups;
    std::set<HoleKey> m_holes;
    PartBodies m_out;
};

} // namespace

int PartBodies::bodyOf(PartSpot spot) const { return at(at(of, spot.section), spot.part); }

bool PartBodies::isGround(int body) const { return std::find(ground.begin(), ground.end(), body) != ground.end(); }

bool isOneLine(const Vec3& p, const Vec3& a, const Vec3& q, const Vec3& b, double mm) {
    const Vec3 offset = q - p;
    return std::abs(a.dot(b)) > kOneLineCos && (offset - offset.dot(a) * a).norm() <= mm;
}

PartBodies findPartBodies(const model::Placed& placed, const std::vector<bonds::SectionBondsPtr>& bonds) {
    return BodyFinder(placed, bonds).run();
}

} // namespace ivrant::drive
