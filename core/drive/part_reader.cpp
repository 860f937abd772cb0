// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/drive/part_reader.h"

#include <algorithm>
#include <cmath>
#include <limits>
#include <map>
#include <set>

#include "core/base/at.h"
#include "core/base/units.h"
#include "core/drive/part_bodies.h"
#include "core/model/wheel_size.h"

namespace ivrant::drive {
namespace {

using model::PartSpot;
using parts::GearKind;
using parts::PortKind;

constexpr double kOneHoleMm = 0.5;
constexpr double kAxleHalfMm = 4; ///< of a pitch, to either side of a place on an axle

struct Line {
    Vec3 at = Vec3::Zero(), axis = Vec3::UnitX();
};
bool isOneLine(const Line& a, const Line& b) { return drive::isOneLine(a.at, a.axis, b.at, b.axis); }
bool isMotor(const parts::Shape& shape) { return shape.family.starts_with("motor"); }
bool isActuator(const parts::Shape& shape) {
    return !shape.rings.empty() && shape.rings.front().kind == GearKind::Actuator;
}
bool hasAxle(const parts::Shape& shape) {
    return std::any_of(shape.ports.begin(), shape.ports.end(),
                       [](const parts::Port& port) { return port.kind == PortKind::Axle; });
}

class PartReader {
public:
    PartReader(const model::Placed& placed, const model::SectionTree& tree,
               const std::vector<bonds::SectionBondsPtr>& bonds, const std::vector<std::string>& named,
               DriveModel& into)
        : m_placed(placed), m_project(*placed.project), m_tree(tree), m_named(named.begin(), named.end()),
          m_model(into), m_bodies(findPartBodies(placed, bonds)) {}

    void run() {
        collect();
        findWanted();
        findCarriers();
        for (const int section : m_tree.order) findTurningGround(section);
        for (std::size_t b = 0; b < m_own.size(); ++b)
            if (m_own[b].wanted) addRotor(static_cast<int>(b));
        for (std::size_t b = 0; b < m_own.size(); ++b)
            for (const PartSpot spot : m_own[b].rings) addRing(static_cast<int>(b), spot);
        for (const Own& of : m_own)
            for (const PartSpot spot : of.actuators) addActuator(spot);
        for (std::size_t b = 0; b < m_own.size(); ++b) setCarrier(static_cast<int>(b), 0);
        followWheels();
        addBearings();
        addLinks();
        addMotors();
    }

private:
    /// What a body is to a drive.
    struct Own {
        std::vector<PartSpot> axles, rings, actuators;
        bool wanted = false;
        bool named = false;   ///< by a function or a crank: it is told even if it stands
        int ground = -1;      ///< the section whose ground it is
        bool turning = false; ///< as a ground, about its section's joint
        bool carrier = false; ///< of others, without an axle or teeth
        Line joint;           ///< the line of either
        int rotor = -1;
        bool carried = false; ///< its carrier is set
    };
    [[nodiscard]] Own& own(int body) { return at(m_own, body); }
    [[nodiscard]] const model::Part& part(PartSpot spot) const { return model::getPart(m_project, spot); }
    [[nodiscard]] const parts::Shape& shape(PartSpot spot) const { return *part(spot).shape; }
    /// A ground that does not turn.
    [[nodiscard]] bool stands(int body) const {
        const Own& of = at(m_own, body);
        return of.ground >= 0 && !of.turning;
    }

    void collect() {
        m_own.resize(m_bodies.parts.size());
        for (std::size_t b = 0; b < m_own.size(); ++b)
            for (const PartSpot spot : m_bodies.parts[b]) {
                if (hasAxle(shape(spot))) m_own[b].axles.push_back(spot);
                if (isActuator(shape(spot)))
                    m_own[b].actuators.push_back(spot);
                else if (!shape(spot).rings.empty())
                    m_own[b].rings.push_back(spot);
            }
        m_frameBody.resize(m_project.sections.size(), -1);
    }

    void findWanted() {
        const auto want = [&](int body) { own(body).wanted |= !own(body).axles.empty(); };
        for (std::size_t b = 0; b < m_own.size(); ++b) {
            m_own[b].wanted = !m_own[b].rings.empty();
            for (const PartSpot spot : m_bodies.parts[b])
                if (m_named.count(part(spot).id.text) > 0) m_own[b].named = true;
            m_own[b].wanted |= m_own[b].named && !m_own[b].axles.empty();
        }
        for (const Carry& carry : m_bodies.carries) {
            if (carry.turning) want(carry.rod);
            // What a loose wheel runs on.
            if (!own(carry.hole).rings.empty() && own(carry.hole).axles.empty()) want(carry.rod);
        }
        for (bool grew = true; grew;) {
            grew = false;
            for (const auto& [a, b] : m_bodies.universals) {
                Own &one = own(m_bodies.bodyOf(a)), &other = own(m_bodies.bodyOf(b));
                if (one.wanted == other.wanted || one.axles.empty() || other.axles.empty()) continue;
                one.wanted = other.wanted = grew = true;
            }
        }
    }

    [[nodiscard]] int otherOf(const Carry& carry, int body) const { return carry.rod == body ? carry.hole : carry.rod; }
    /// Without an axle or teeth of its own it still turns when others have their bearings in it, and it has its own on
    /// another line: a planet carrier.
    void findCarriers() {
        for (std::size_t b = 0; b < m_own.size(); ++b) {
            const int body = static_cast<int>(b);
            if (m_own[b].wanted || !m_own[b].axles.empty() || m_bodies.isGround(body)) continue;
            std::vector<Line> lines;
            bool carries = false;
            for (const int c : m_bodies.carriesOf[b]) {
                const Carry& carry = at(m_bodies.carries, c);
                carries |= carry.hole == body && !carry.turning && own(carry.rod).wanted;
                const Line line{carry.at, carry.axis};
                if (std::none_of(lines.begin(), lines.end(), [&](const Line& l) { return isOneLine(l, line); }))
                    lines.push_back(line);
            }
            if (!carries || lines.size() < 2) continue;
            m_own[b].wanted = m_own[b].carrier = true;
            m_own[b].joint = lines.front();
            for (const int c : m_bodies.carriesOf[b]) { // it turns about the line that leads on to the frame
                const Carry& carry = at(m_bodies.carries, c);
                if (leadsToGround(otherOf(carry, body), body)) m_own[b].joint = {carry.at, carry.axis};
            }
            for (const int c : m_bodies.carriesOf[b]) // the way of the axle that it runs on
                if (const Carry& carry = at(m_bodies.carries, c);
                    hasAxle(shape(carry.rodPart)) && isOneLine(m_own[b].joint, {carry.at, carry.axis}))
                    m_own[b].joint.axis = lineOf(carry.rodPart).axis;
        }
    }
    [[nodiscard]] bool leadsToGround(int body, int from) const {
        if (m_bodies.isGround(body)) return true;
        const auto& list = at(m_bodies.carriesOf, body);
        return std::any_of(list.begin(), list.end(), [&](int c) {
            const int next = otherOf(at(m_bodies.carries, c), body);
            return next != from && m_bodies.isGround(next);
        });
    }

    /// Sections in the order of the tree: does its ground turn about its joint?
    void findTurningGround(int section) {
        const int joint = at(m_tree.carrier, section), ground = at(m_bodies.ground, section);
        if (ground < 0) return;
        const bool fresh = own(ground).ground < 0;
        if (fresh) own(ground).ground = section;
        if (joint < 0) return;
        const PartSpot from = at(m_tree.from, joint), to = at(m_tree.to, joint);
        const int parent = from.section, carrying = m_bodies.bodyOf(from);
        // It goes with what it hangs on: the parent's ground, or what turns there.
        at(m_frameBody, section) = own(carrying).wanted && !stands(carrying) ? carrying : at(m_frameBody, parent);
        if (!fresh) { // fixed to the ground of an earlier one
            at(m_frameBody, section) = at(m_frameBody, own(ground).ground);
            return;
        }
        const auto& of = shape(from);
        const int port = of.findPort(at(m_project.joints, joint).from.port);
        const geometry::Frame X = m_placed.X_WP(from);
        const Line line{X * at(of.ports, port).origin, X.linear() * at(of.ports, port).axis};
        Own& body = own(ground);
        if (!body.wanted || at(m_project.joints, joint).kind->motion != parts::JointMotion::Turn) return;
        const bool byAxle = std::any_of(body.axles.begin(), body.axles.end(), [&](PartSpot axle) {
            return isOneLine(lineOf(axle), line) && (axle.section != section || axle == to);
        });
        const bool byTeeth = std::any_of(body.rings.begin(), body.rings.end(), [&](PartSpot spot) {
            const parts::ToothRing& ring = shape(spot).rings.front();
            const geometry::Frame at = m_placed.X_WP(spot);
            return isOneLine({at * ring.centre, at.linear() * ring.axis}, line);
        });
        if (!byAxle && !byTeeth) return;
        body.turning = true;
        body.joint = line;
        at(m_frameBody, section) = ground;
    }

    [[nodiscard]] Line lineOf(PartSpot axle) const {
        const geometry::Frame X = m_placed.X_WP(axle);
        for (const parts::Port& port : shape(axle).ports)
            if (port.kind == PortKind::Axle) return {X * port.origin, X.linear() * port.axis};
        return {};
    }
    [[nodiscard]] Line lineOfRing(PartSpot spot) const {
        const parts::ToothRing& ring = shape(spot).rings.front();
        const geometry::Frame X = m_placed.X_WP(spot);
        return {X * ring.centre, X.linear() * ring.axis};
    }
    /// About which it turns: its joint's, that of its teeth, or that of the axle with most holes on it.
    [[nodiscard]] Line findLine(int body) {
        const Own& of = own(body);
        if (of.turning || of.carrier) return of.joint;
        for (const PartSpot spot : of.rings)
            if (shape(spot).rings.front().kind != GearKind::Rack) return lineOfRing(spot);
        if (of.axles.empty()) return lineOfRing(of.rings.front());
        Line best = lineOf(of.axles.front());
        int most = -1;
        for (const PartSpot axle : of.axles) {
            const Line line = lineOf(axle);
            int holes = 0;
            for (const int c : at(m_bodies.carriesOf, body)) {
                const Carry& carry = at(m_bodies.carries, c);
                holes += carry.rod == body && isOneLine(line, {carry.at, carry.axis}) ? 1 : 0;
            }
            if (holes <= most) continue;
            most = holes;
            best = line;
        }
        return best;
    }

    void addRotor(int body) {
        Own& of = own(body);
        if (stands(body) && of.rings.empty() && !of.named) return; // an axle that is part of the frame
        const Line line = findLine(body);
        Rotor rotor;
        rotor.board = -1;
        rotor.kind = Rotor::Kind::Wheel;
        rotor.origin = line.at;
        rotor.axis = line.axis;
        double low = std::numeric_limits<double>::max(), high = -low;
        PartSpot told = of.axles.empty() ? (of.rings.empty() ? m_bodies.parts[static_cast<std::size_t>(body)].front()
                                                             : of.rings.front())
                                         : PartSpot{};
        for (const PartSpot axle : of.axles) {
            if (!isOneLine(lineOf(axle), line)) continue;
            if (told.section < 0) { // its own way along counts
                rotor.axis = lineOf(axle).axis;
                told = axle;
            }
            if (part(told).name.empty() && !part(axle).name.empty()) told = axle;
            const geometry::Frame X = m_placed.X_WP(axle);
            for (const parts::Port& port : shape(axle).ports)
                if (port.kind == PortKind::Axle) {
                    const double along = (X * port.origin - line.at).dot(rotor.axis);
                    low = std::min(low, along - kAxleHalfMm);
                    high = std::max(high, along + kAxleHalfMm);
                }
        }
        if (told.section < 0) told = of.axles.front();
        if (low < high) {
            rotor.kind = Rotor::Kind::Shaft;
            rotor.origin = line.at + low * rotor.axis;
            rotor.lengthMm = high - low;
        } else if (!of.rings.empty() && shape(of.rings.front()).rings.front().kind == GearKind::Rack) {
            rotor.kind = Rotor::Kind::Rack;
        }
        rotor.id = part(told).id.text;
        rotor.name = nameOf(told);
        if (of.turning) rotor.joint = at(m_project.joints, at(m_tree.carrier, of.ground)).id.text;
        of.rotor = static_cast<int>(m_model.rotors.size());
        for (const PartSpot spot : m_bodies.parts[static_cast<std::size_t>(body)]) {
            if (of.ground < 0 || hasAxle(shape(spot)) || !shape(spot).rings.empty()) // of a section its drive alone
                rotor.parts.push_back(part(spot).id.text);
            m_model.rotorOf.emplace(part(spot).id.text, of.rotor);
        }
        m_model.rotors.push_back(std::move(rotor));
        if (stands(body)) addHeld(of.rotor);
    }
    void addHeld(int rotor) {
        Link link;
        link.kind = Link::Kind::Held;
        link.a = rotor;
        m_model.links.push_back(std::move(link));
    }
    [[nodiscard]] std::string nameOf(PartSpot spot) const {
        return part(spot).name.empty() ? shape(spot).name + " (" + part(spot).id.text + ")" : part(spot).name;
    }

    [[nodiscard]] Ring makeRing(PartSpot spot) const {
        const parts::ToothRing& teeth = shape(spot).rings.front();
        const model::WheelSize size = model::calcWheelSize(teeth.kind, teeth.teeth);
        const geometry::Frame X = m_placed.X_WP(spot);
        Ring ring;
        ring.id = part(spot).id.text;
        ring.kind = teeth.kind;
        ring.teeth = teeth.teeth;
        ring.board = -1;
        ring.centre = X * teeth.centre;
        ring.axis = X.linear() * teeth.axis;
        ring.face = X.linear() * teeth.face;
        ring.pitchRadiusMm = size.pitchRadiusMm;
        ring.tipRadiusMm = size.tipRadiusMm;
        ring.halfWidthMm = teeth.halfLengthMm > 0 ? teeth.halfLengthMm : size.halfWidthMm;
        ring.holeRadiusMm = size.holeRadiusMm;
        return ring;
    }
    void addRing(int body, PartSpot spot) {
        const parts::ToothRing& teeth = shape(spot).rings.front();
        Ring ring = makeRing(spot);
        ring.rotor = own(body).rotor;
        const Line line{ring.centre, ring.axis};
        Rotor& turned = at(m_model.rotors, ring.rotor);
        if (teeth.kind == GearKind::Differential) {
            ring.shaft = findInserted(spot, "side-");
            ring.other = findInserted(spot, "side+");
            if (ring.shaft >= 0) turned.axis = at(m_model.rotors, ring.shaft).axis;
        } else if (own(body).axles.empty()) {
            for (const int c : at(m_bodies.carriesOf, body)) {
                const Carry& carry = at(m_bodies.carries, c);
                if (carry.holePart != spot || !isOneLine(line, {carry.at, carry.axis})) continue;
                ring.loose = true;
                if (own(carry.rod).rotor < 0 || stands(carry.rod)) continue;
                ring.shaft = own(carry.rod).rotor;
                turned.axis = at(m_model.rotors, ring.shaft).axis;
            }
        } else if (turned.kind == Rotor::Kind::Shaft && teeth.kind != GearKind::Rack) {
            ring.shaft = ring.rotor;
        }
        // Told about the way of what it turns with; a crown's way is that of its teeth.
        if (teeth.kind != GearKind::Crown && ring.axis.dot(turned.axis) < 0) ring.axis = -ring.axis;
        if (ring.shaft >= 0) {
            const Rotor& shaft = at(m_model.rotors, ring.shaft);
            ring.alongMm = (ring.centre - shaft.origin).dot(shaft.axis);
        }
        if (turned.id == ring.id && part(spot).name.empty()) turned.name = m_model.nameOf(ring); // by its teeth
        m_model.ringOf.emplace(ring.id, static_cast<int>(m_model.rings.size()));
        m_model.rings.push_back(std::move(ring));
    }
    /// Its rod is a rotor of its own; the case is where it is fixed.
    void addActuator(PartSpot spot) {
        Ring ring = makeRing(spot);
        ring.shaft = findInserted(spot, "drive");
        Rotor rod;
        rod.kind = Rotor::Kind::Screw;
        rod.id = ring.id;
        rod.name = nameOf(spot);
        rod.board = -1;
        rod.parts = {ring.id};
        rod.origin = ring.centre;
        rod.axis = ring.axis;
        ring.rotor = static_cast<int>(m_model.rotors.size());
        m_model.rotorOf[ring.id] = ring.rotor;
        m_model.rotors.push_back(std::move(rod));
        m_model.ringOf.emplace(ring.id, static_cast<int>(m_model.rings.size()));
        m_model.rings.push_back(std::move(ring));
    }
    /// Rotor of the axle in a turning hole of a part; −1: none.
    [[nodiscard]] int findInserted(PartSpot spot, const char* port) {
        const int wanted = shape(spot).findPort(port);
        for (const Carry& carry : m_bodies.carries)
            if (carry.holePart == spot && carry.holePort == wanted) return own(carry.rod).rotor;
        return -1;
    }

    /// Of the hole of a part in which `findInserted` finds an axle.
    [[nodiscard]] Vec3 findPlace(PartSpot spot, const char* port) {
        const int wanted = shape(spot).findPort(port);
        for (const Carry& carry : m_bodies.carries)
            if (carry.holePart == spot && carry.holePort == wanted) return carry.at;
        return Vec3::Zero();
    }

    /// The rotor that the frame of a section is; −1: it stands.
    [[nodiscard]] int frameOf(int section) const {
        const int body = at(m_frameBody, section);
        return body < 0 ? -1 : at(m_own, body).rotor;
    }
    void setCarrier(int body, int depth) {
        constexpr int kDeepest = 16;
        Own& of = own(body);
        if (of.rotor < 0 || of.carried || depth > kDeepest) return;
        of.carried = true;
        Rotor& rotor = at(m_model.rotors, of.rotor);
        if (of.ground >= 0) {
            const int joint = at(m_tree.carrier, of.ground);
            rotor.carrier = of.turning && joint >= 0 ? frameOf(at(m_tree.from, joint).section) : frameOf(of.ground);
            return;
        }
        const Line line{rotor.origin, rotor.axis};
        int standing = -2, going = -2; // −2: none found
        const auto look = [&](int other) {
            if (own(other).ground >= 0) {
                if (standing == -2) standing = frameOf(own(other).ground);
                return true;
            }
            return false;
        };
        for (const int c : at(m_bodies.carriesOf, body)) {
            const Carry& carry = at(m_bodies.carries, c);
            if (!isOneLine(line, {carry.at, carry.axis})) continue;
            const int other = carry.rod == body ? carry.hole : carry.rod;
            // A shaft that turns a section is the ground of that one; what runs loose on it goes with its bearings.
            const bool onShaft = own(other).ground >= 0 && own(other).turning && carry.hole == body;
            if (!onShaft && look(other)) continue;
            if (const int k = own(other).rotor; k >= 0) {
                const Rotor& on = at(m_model.rotors, k);
                if (!isOneLine(line, {on.origin, on.axis})) {
                    going = k;
                } else if (going == -2) { // it sits on that, or that on it: both go with what carries them
                    setCarrier(other, depth + 1);
                    if (own(other).carried && at(m_model.rotors, k).carrier >= 0) going = at(m_model.rotors, k).carrier;
                }
                continue;
            }
            for (const int next : at(m_bodies.carriesOf, other)) { // a pin: what it is in
                const Carry& far = at(m_bodies.carries, next);
                const int beyond = far.rod == other ? far.hole : far.rod;
                if (beyond == body || look(beyond)) continue;
                if (const int k = own(beyond).rotor; k >= 0) going = k;
            }
        }
        rotor.carrier = standing != -2 ? standing
                        : going != -2  ? going
                                       : frameOf(m_bodies.parts[static_cast<std::size_t>(body)].front().section);
    }
    /// Rods of actuators go with their cases.
    void followWheels() {
        for (const Ring& ring : m_model.rings) {
            if (ring.board >= 0 || ring.kind != GearKind::Actuator) continue;
            if (ring.shaft >= 0) at(m_model.rotors, ring.rotor).carrier = at(m_model.rotors, ring.shaft).carrier;
        }
    }

    void addBearings() {
        for (std::size_t b = 0; b < m_own.size(); ++b) {
            const int index = m_own[b].rotor;
            if (index < 0 || stands(static_cast<int>(b))) continue;
            const Rotor& rotor = at(m_model.rotors, index);
            if (rotor.kind != Rotor::Kind::Shaft) continue;
            std::vector<Bearing> found;
            for (const int c : m_bodies.carriesOf[b]) {
                const Carry& carry = at(m_bodies.carries, c);
                if (carry.rod != static_cast<int>(b) || !isOneLine({rotor.origin, rotor.axis}, {carry.at, carry.axis}))
                    continue;
                const Own& other = own(carry.hole);
                if (!carry.turning && other.ground < 0 && !other.rings.empty() && other.axles.empty())
                    continue; // a wheel that runs on it
                found.push_back({carry.turning ? Bearing::By::Coupled : Bearing::By::Brick, index,
                                 (carry.at - rotor.origin).dot(rotor.axis)});
            }
            std::sort(found.begin(), found.end(),
                      [](const Bearing& l, const Bearing& r) { return l.alongMm < r.alongMm; });
            const auto isSame = [](const Bearing& l, const Bearing& r) { return r.alongMm - l.alongMm < kOneHoleMm; };
            found.erase(std::unique(found.begin(), found.end(), isSame), found.end());
            m_model.bearings.insert(m_model.bearings.end(), found.begin(), found.end());
        }
    }

    void addLinks() {
        for (std::size_t g = 0; g < m_model.rings.size(); ++g) {
            const Ring& ring = m_model.rings[g];
            if (ring.board >= 0) continue;
            Link link;
            link.ring = static_cast<int>(g);
            link.a = ring.shaft;
            if (ring.loose && ring.shaft >= 0) {
                link.kind = Link::Kind::Clutch;
                m_model.links.push_back(link);
            }
            if (ring.kind == GearKind::Actuator && ring.shaft >= 0) {
                link.kind = Link::Kind::Actuator;
                link.b = ring.rotor;
                m_model.links.push_back(link);
            }
            if (ring.kind != GearKind::Differential) continue;
            link.kind = Link::Kind::Differential;
            link.b = ring.other;
            if (link.a >= 0 && link.b >= 0)
                m_model.links.push_back(link);
            else
                m_model.notes.push_back("The differential " + ring.id +
                                        " has an axle on one side only, or none: it shares nothing");
        }
        for (const auto& [a, b] : m_bodies.universals) {
            Link link;
            link.kind = Link::Kind::Universal;
            link.id = part(a).id.text;
            link.a = own(m_bodies.bodyOf(a)).rotor;
            link.b = own(m_bodies.bodyOf(b)).rotor;
            if (link.a >= 0 && link.b >= 0 && link.a != link.b) m_model.links.push_back(std::move(link));
        }
    }

    void addMotors() {
        for (std::size_t s = 0; s < m_project.sections.size(); ++s)
            for (std::size_t p = 0; p < m_project.sections[s]->parts.size(); ++p) {
                const PartSpot spot{static_cast<int>(s), static_cast<int>(p)};
                if (!isMotor(shape(spot))) continue;
                const int body = m_bodies.bodyOf(spot);
                PartMotor motor;
                motor.id = part(spot).id.text;
                motor.name = nameOf(spot);
                motor.line = shape(spot).name;
                motor.rotor = findInserted(spot, "drive");
                if (motor.rotor >= 0) {
                    const Rotor& rotor = at(m_model.rotors, motor.rotor);
                    motor.alongMm = (findPlace(spot, "drive") - rotor.origin).dot(rotor.axis);
                }
                const bool frame = own(body).ground >= 0;
                if (std::count(m_bodies.locked.begin(), m_bodies.locked.end(), spot) > 0)
                    motor.seat = PartMotor::Seat::OnOwn;
                else if (!frame && own(body).rotor < 0)
                    motor.seat = PartMotor::Seat::Hangs;
                m_model.motors.push_back(std::move(motor));
            }
    }

    const model::Placed& m_placed;
    const model::Project& m_project;
    const model::SectionTree& m_tree;
    std::set<std::string> m_named;
    DriveModel& m_model;
    PartBodies m_bodies;
    std::vector<Own> m_own;
    std::vector<int> m_frameBody; ///< by section: the body that its frame goes with; −1: it stands
};

} // namespace

bool hasDriveParts(const model::Project& project) {
    for (const auto& section : project.sections)
        for (const model::Part& part : section->parts)
            if (!part.shape->rings.empty() || isMotor(*part.shape)) return true;
    return false;
}

void addParts(const model::Placed& placed, const model::SectionTree& tree,
              const std::vector<bonds::SectionBondsPtr>& bonds, const std::vector<std::string>& named,
              DriveModel& into) {
    PartReader(placed, tree, bonds, named, into).run();
}

} // namespace ivrant::drive
