// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/stand/bond_net.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <map>
#include <set>

#include "core/base/at.h"
#include "core/base/groups.h"
#include "core/base/units.h"
#include "core/bonds/across.h"
#include "core/geometry/corners.h"
#include "core/geometry/hull.h"
#include "core/model/board_parts.h"
#include "core/stand/posts.h"
#include "core/stand/rests.h"

namespace ivrant::stand {
namespace {

using base::kPitchMm;
using geometry::Frame;
using model::PartSpot;
using parts::BondKind;

constexpr double kHalf = kPitchMm / 2;
constexpr double kOneLevelMm = 0.05; ///< studs of one contact lie in one plane
constexpr std::size_t kMostGroundCorners = 8;

class NetMaker {
public:
    NetMaker(const model::Placed& placed, const std::vector<bonds::SectionBondsPtr>& bonds, const BondLimits& limits,
             const NetRequest& request)
        : m_placed(placed), m_project(*placed.project), m_bonds(bonds), m_limits(limits), m_request(request) {}

    BondNet run() {
        addBodies();
        for (std::size_t s = 0; s < m_bonds.size(); ++s) addMates(s);
        addJoints();
        addAcross();
        for (auto& [key, studs] : m_studs) addStuds(key, studs);
        addRests();
        if (m_request.ground) addGround();
        for (const Prop& prop : m_request.props) addProp(prop);
        if (m_request.ground)
            for (const Post& post : placePosts(m_placed))
                if (post.state == PostState::Touches) addProp({post.part, post.top});
        for (const Vec3& hand : m_request.hands) addHand(hand);
        if (m_request.held)
            for (const int b : ivrant::at(m_bodyOf, *m_request.held))
                if (b >= 0) addHold(b);
        findFloating();
        return std::move(m_net);
    }

private:
    struct StudKey {
        int a, b;           ///< the body with the studs, the one with the cells
        std::int64_t level; ///< along the normal, and its direction: one contact for each plane
        int way;
        auto operator<=>(const StudKey&) const = default;
    };
    struct StudAt {
        Vec3 at, normal, across;
        int joint; ///< −1: none
    };

    void addBodies() {
        m_bodyOf.resize(m_project.sections.size());
        for (std::size_t s = 0; s < m_project.sections.size(); ++s) {
            const auto& section = *m_project.sections[s];
            m_bodyOf[s].assign(section.parts.size(), -1);
            for (std::size_t p = 0; p < section.parts.size(); ++p) {
                const PartSpot spot{static_cast<int>(s), static_cast<int>(p)};
                if (m_request.built && !m_request.built(spot)) continue;
                const model::Part& part = section.parts[p];
                m_bodyOf[s][p] = static_cast<int>(m_net.bodies.size());
                m_net.bodies.push_back(
                    {spot, m_placed.X_WS[s] * (part.place.frame() * part.shape->centre), part.massG(), {}});
            }
            for (const model::Ballast& b : section.ballast)
                hang(s, b.massG,
                     m_placed.X_WS[s] *
                         Vec3(base::umToMm(b.atUm[0]), base::umToMm(b.atUm[1]), base::umToMm(b.atUm[2])));
        }
        const auto boardFrames = m_project.boards.empty() ? std::vector<Frame>{} : model::calcBoardFrames(m_placed);
        for (std::size_t b = 0; b < boardFrames.size(); ++b) {
            const model::Board& board = *m_project.boards[b];
            if (board.section.empty()) continue; // nothing carries it
            const auto s = static_cast<std::size_t>(m_project.findSection(board.section));
            const Frame& X_WB = boardFrames[b];
            const model::BoardParts listed = model::listBoardParts(board);
            for (const auto& part : listed.parts) hang(s, part.shape->massG, X_WB * (part.X_BP * part.shape->centre));
            for (const auto& extra : listed.extras) hang(s, extra.shape->massG * extra.count, X_WB * extra.at);
        }
    }
    /// On the nearest part of the section.
    void hang(std::size_t section, double gram, const Vec3& at) {
        int nearest = -1;
        for (const int b : m_bodyOf[section])
            if (b >= 0 &&
                (nearest < 0 || (body(b).centre - at).squaredNorm() < (body(nearest).centre - at).squaredNorm()))
                nearest = b;
        if (nearest >= 0) ivrant::at(m_net.bodies, nearest).hung.emplace_back(gram, at);
    }
    [[nodiscard]] const Body& body(int index) const { return ivrant::at(m_net.bodies, index); }
    [[nodiscard]] const model::Part& partOf(int index) const { return model::getPart(m_project, body(index).spot); }

    void addMates(std::size_t s) {
        for (const bonds::Mate& mate : m_bonds[s]->mates) {
            const int a = ivrant::at(m_bodyOf[s], mate.partA), b = ivrant::at(m_bodyOf[s], mate.partB);
            if (a < 0 || b < 0) continue;
            const auto& shapeA = *partOf(a).shape;
            const auto& shapeB = *partOf(b).shape;
            addMate(a, ivrant::at(shapeA.ports, mate.portA), b, ivrant::at(shapeB.ports, mate.portB), mate.kind, -1);
        }
    }
    void addJoints() {
        const model::PartIndex index(m_project);
        for (std::size_t j = 0; j < m_project.joints.size(); ++j) {
            const model::Joint& joint = m_project.joints[j];
            const PartSpot from = index.find(joint.from.part), to = index.find(joint.to.part);
            const int a = ivrant::at(ivrant::at(m_bodyOf, from.section), from.part);
            const int b = ivrant::at(ivrant::at(m_bodyOf, to.section), to.part);
            if (a < 0 || b < 0) continue;
            const auto port = [&](int of, const std::string& name) -> const parts::Port& {
                const auto& shape = *partOf(of).shape;
                return ivrant::at(shape.ports, shape.findPort(name));
            };
            addMate(a, port(a, joint.from.port), b, port(b, joint.to.port), BondKind::Movable, static_cast<int>(j));
            if (j < m_limits.drivenNmm.size() && m_limits.drivenNmm[j] > 0)
                addDriven(a, port(a, joint.from.port), b, static_cast<int>(j));
        }
    }
    /// What holds two sections besides the ports that their joint names: further bearings, and seats.
    void addAcross() {
        for (const bonds::AcrossMate& mate : bonds::findMatesAcross(m_placed)) {
            const auto bodyOf = [&](PartSpot spot) {
                return ivrant::at(ivrant::at(m_bodyOf, spot.section), spot.part);
            };
            const int a = bodyOf(mate.a), b = bodyOf(mate.b);
            if (a < 0 || b < 0) continue;
            const auto &portA = bonds::getPort(m_project, mate.a, mate.portA),
                       &portB = bonds::getPort(m_project, mate.b, mate.portB);
            const auto names = [&](const model::Joint& joint) {
                const auto is = [&](const model::PortRef& ref, PartSpot spot, const parts::Port& port) {
                    return ref.port == port.name && ref.part == model::getPart(m_project, spot).id;
                };
                return (is(joint.from, mate.a, portA) && is(joint.to, mate.b, portB)) ||
                       (is(joint.from, mate.b, portB) && is(joint.to, mate.a, portA));
            };
            if (std::none_of(m_project.joints.begin(), m_project.joints.end(), names))
                addMate(a, portA, b, portB, mate.kind, -1);
        }
    }
    /// What lies on something presses on it, with friction, and is held by nothing.
    void addRests() {
        std::set<std::pair<int, int>> held;
        for (const Contact& contact : m_net.contacts)
            if (contact.a >= 0) held.insert({std::min(contact.a, contact.b), std::max(contact.a, contact.b)});
        std::vector<PartSpot> spots;
        for (const Body& b : m_net.bodies) spots.push_back(b.spot);
        for (const Rest& rest : findRests(m_placed, spots, [&](int l, int r) {
                 return held.count(std::pair(std::min(l, r), std::max(l, r))) > 0;
             })) {
            Contact contact;
            contact.kind = ContactKind::Rest;
            contact.a = rest.below;
            contact.b = rest.above;
            contact.normal = rest.normal;
            const Vec3 x = rest.normal.unitOrthogonal(), y = rest.normal.cross(x);
            for (const Vec3& corner : rest.corners) {
                contact.corners.push_back(corner);
                for (const Vec3& side : {x, Vec3(-x), y, Vec3(-y)})
                    contact.columns.push_back(
                        makeForce(corner, rest.normal + kGroundFriction * side, 0, kUnlimited, ColumnRole::Press));
            }
            m_net.contacts.push_back(std::move(contact));
        }
    }
    /// The train holds the carried side against the heaviest part of the section that carries it, past the joint's own
    /// pin.
    void addDriven(int a, const parts::Port& port, int b, int joint) {
        const int section = body(a).spot.section;
        int heaviest = a;
        for (const int other : ivrant::at(m_bodyOf, section))
            if (other >= 0 && body(other).massG > body(heaviest).massG) heaviest = other;
        const Frame X = poseOf(a);
        Contact contact;
        contact.kind = ContactKind::Joint;
        contact.a = heaviest;
        contact.b = b;
        contact.joint = joint;
        contact.normal = X.linear() * port.axis;
        contact.corners = {X * port.origin};
        contact.columns.push_back(
            makeMoment(contact.corners[0], contact.normal, ivrant::at(m_limits.drivenNmm, joint), ColumnRole::Twist));
        m_net.contacts.push_back(std::move(contact));
    }
    void addMate(int a, const parts::Port& portA, int b, const parts::Port& portB, BondKind kind, int joint) {
        const bool studA = portA.kind == parts::PortKind::Stud, studB = portB.kind == parts::PortKind::Stud;
        const auto isCell = [](const parts::Port& p) {
            return p.kind == parts::PortKind::Cell || p.kind == parts::PortKind::Tube;
        };
        if ((studA && isCell(portB)) || (studB && isCell(portA))) {
            if (studA)
                noteStud(a, portA, b, joint);
            else
                noteStud(b, portB, a, joint);
            return;
        }
        addPort(a, portA, b, portB, kind, joint);
    }
    [[nodiscard]] Frame poseOf(int index) const { return m_placed.X_WP(body(index).spot); }

    void noteStud(int a, const parts::Port& stud, int b, int joint) {
        const Frame X = poseOf(a);
        const Vec3 at = X * stud.origin, normal = X.linear() * stud.axis, across = X.linear() * stud.reference;
        int way = 0;
        for (int k = 0; k < 3; ++k)
            if (std::abs(normal[k]) > std::abs(normal[way])) way = k;
        if (normal[way] < 0) way += 3;
        m_studs[{a, b, std::llround(at.dot(normal) / kOneLevelMm), way}].push_back({at, normal, across, joint});
    }
    static ForceColumn makeForce(const Vec3& at, const Vec3& force, double low, double high, ColumnRole role,
                                 int stud = -1) {
        return {at, force, Vec3::Zero(), low, high, role, stud};
    }
    static ForceColumn makeMoment(const Vec3& at, const Vec3& moment, double limit, ColumnRole role) {
        return {at, Vec3::Zero(), moment, -limit, limit, role, -1};
    }

    void addStuds(const StudKey& key, const std::vector<StudAt>& studs) {
        Contact contact;
        contact.a = key.a;
        contact.b = key.b;
        contact.joint = studs.front().joint;
        contact.normal = studs.front().normal;
        const Vec3 x = studs.front().across, y = contact.normal.cross(x), origin = studs.front().at;
        std::vector<Eigen::Vector2d> area;
        for (const StudAt& stud : studs) {
            const Vec3 d = stud.at - origin;
            for (const double sx : {-kHalf, kHalf})
                for (const double sy : {-kHalf, kHalf}) area.emplace_back(d.dot(x) + sx, d.dot(y) + sy);
            contact.studs.push_back(stud.at);
        }
        for (const auto& corner : geometry::calcHull2(std::move(area)))
            contact.corners.push_back(origin + corner.x() * x + corner.y() * y);
        for (const Vec3& corner : contact.corners)
            contact.columns.push_back(makeForce(corner, contact.normal, 0, kUnlimited, ColumnRole::Press));
        Vec3 middle = Vec3::Zero();
        for (std::size_t i = 0; i < contact.studs.size(); ++i) {
            const Vec3& at = contact.studs[i];
            const int stud = static_cast<int>(i);
            const double shear = m_limits.studShear.value;
            contact.columns.push_back(
                makeForce(at, -contact.normal, 0, m_limits.studPull.value, ColumnRole::Pull, stud));
            contact.columns.push_back(makeForce(at, x, -shear, shear, ColumnRole::Shear, stud));
            contact.columns.push_back(makeForce(at, y, -shear, shear, ColumnRole::Shear, stud));
            middle += at / static_cast<double>(contact.studs.size());
        }
        double twist = kTwistShare * m_limits.studShear.value * kPitchMm * static_cast<double>(contact.studs.size());
        if (contact.joint >= 0) {
            contact.kind = ContactKind::Joint;
            twist = std::max(1e-3, ivrant::at(m_limits.joints, contact.joint).holding.value);
        }
        contact.columns.push_back(makeMoment(middle, contact.normal, twist, ColumnRole::Twist));
        m_net.contacts.push_back(std::move(contact));
    }

    struct PortLimits {
        double pull, press, across, turn, bend;
    };
    [[nodiscard]] PortLimits limitsOf(const parts::Port& a, const parts::Port& b, BondKind kind, int joint) const {
        const auto is = [&](parts::PortKind wanted) { return a.kind == wanted || b.kind == wanted; };
        if (kind == BondKind::Friction) return {kBarInStudN, kUnlimited, kAcrossN, kBarTurnNmm, kSeatNmm};
        if (kind == BondKind::Fixed && is(parts::PortKind::Stud))
            return {m_limits.studPull.value, kUnlimited, m_limits.studShear.value * 2,
                    kTwistShare * m_limits.studShear.value * kPitchMm, kSeatNmm / 10};
        if (kind == BondKind::Fixed) return {kCrossHoleN, kCrossHoleN, kAcrossN, kAxleTurnNmm, kSeatNmm};
        const parts::JointKind* of =
            joint >= 0 ? ivrant::at(m_project.joints, joint).kind : parts::findJointKindFor(a.kind, b.kind);
        PortLimits limits{kCrossHoleN, kUnlimited, kAcrossN, 1, kSeatNmm};
        if (!of) return limits;
        limits.turn = of->holdingNmm;
        limits.pull = of->pullOutN.value_or(kCrossHoleN);
        if (joint >= 0) {
            const model::JointStrength& strength = ivrant::at(m_limits.joints, joint);
            limits.turn = strength.holding.value;
            if (strength.pull) limits.pull = std::max(strength.pull->value, 1e-3);
        }
        limits.turn = std::max(limits.turn, 1e-3);
        if (of->motion == parts::JointMotion::Ball) limits.bend = limits.turn;
        if (of->motion == parts::JointMotion::Universal) std::swap(limits.turn, limits.bend);
        if (is(parts::PortKind::Hole) || is(parts::PortKind::Clip))
            limits.press = limits.pull; // goes through: it slides both ways
        return limits;
    }
    void addPort(int a, const parts::Port& portA, int b, const parts::Port& portB, BondKind kind, int joint) {
        const Frame X = poseOf(a);
        if (portA.depth > 0 || portB.depth > 0) { // a hole and a shaft have a port for each end: one bearing
            const Vec3 at = portA.depth > portB.depth ? X * portA.origin : poseOf(b) * portB.origin;
            std::array<std::int64_t, 5> key{std::min(a, b), std::max(a, b)};
            for (int k = 0; k < 3; ++k) key[static_cast<std::size_t>(k) + 2] = std::llround(at[k] / kOneLevelMm / 4);
            if (!m_bearings.insert(key).second) return;
        }
        Contact contact;
        contact.a = a;
        contact.b = b;
        contact.joint = joint;
        contact.kind = joint >= 0 || kind == BondKind::Movable ? ContactKind::Joint
                       : kind == BondKind::Pin                 ? ContactKind::Pin
                       : kind == BondKind::Fixed               ? ContactKind::Fixed
                                                               : ContactKind::Friction;
        // Pressed together the second body is pushed along the axis of the first one's port.
        contact.normal = X.linear() * portA.axis;
        const Vec3 at = X * portA.origin, x = X.linear() * portA.reference, y = contact.normal.cross(x);
        contact.corners = {at};
        const PortLimits limits = limitsOf(portA, portB, kind, joint);
        contact.columns.push_back(makeForce(at, contact.normal, 0, limits.press, ColumnRole::Press));
        contact.columns.push_back(makeForce(at, -contact.normal, 0, limits.pull, ColumnRole::Pull));
        for (const Vec3& way : {x, y})
            contact.columns.push_back(makeForce(at, way, -limits.across, limits.across, ColumnRole::Shear));
        contact.columns.push_back(makeMoment(at, contact.normal, limits.turn, ColumnRole::Twist));
        for (const Vec3& way : {x, y})
            contact.columns.push_back(makeMoment(at, way, std::max(limits.bend, 1e-3), ColumnRole::Bend));
        m_net.contacts.push_back(std::move(contact));
    }

    void addGround() {
        for (std::size_t i = 0; i < m_net.bodies.size(); ++i) {
            const auto& shape = *partOf(static_cast<int>(i)).shape;
            const Frame X = poseOf(static_cast<int>(i));
            std::vector<Vec3> corners;
            for (const auto& solid : shape.solids)
                if (geometry::calcBounds(solid.solid, X).low.z() <= model::kGroundContactMm)
                    geometry::appendCorners(corners, solid.solid, X);
            std::vector<Eigen::Vector2d> touching;
            for (const Vec3& corner : corners)
                if (corner.z() <= model::kGroundContactMm) touching.emplace_back(corner.x(), corner.y());
            if (touching.empty()) continue;
            auto outline = geometry::calcHull2(std::move(touching));
            Contact contact;
            contact.kind = ContactKind::Ground;
            contact.b = static_cast<int>(i);
            // Round feet: fewer corners, all within the true outline.
            const std::size_t stride = (outline.size() + kMostGroundCorners - 1) / kMostGroundCorners;
            for (std::size_t k = 0; k < outline.size(); k += stride) {
                addFooting(contact, {outline[k].x(), outline[k].y(), 0});
            }
            m_net.contacts.push_back(std::move(contact));
            if (m_request.strapped) addHold(static_cast<int>(i));
        }
    }
    void addProp(const Prop& prop) {
        const int index = ivrant::at(ivrant::at(m_bodyOf, prop.part.section), prop.part.part);
        if (index < 0) return;
        Contact contact;
        contact.kind = ContactKind::Ground;
        contact.b = index;
        for (const double dx : {-kHalf, kHalf})
            for (const double dy : {-kHalf, kHalf}) addFooting(contact, prop.at + Vec3(dx, dy, 0));
        m_net.contacts.push_back(std::move(contact));
    }
    /// Presses on a corner, with friction.
    static void addFooting(Contact& contact, const Vec3& at) {
        contact.corners.push_back(at);
        for (const Vec3& side : {Vec3(1, 0, 0), Vec3(-1, 0, 0), Vec3(0, 1, 0), Vec3(0, -1, 0)})
            contact.columns.push_back(
                makeForce(at, Vec3::UnitZ() + kGroundFriction * side, 0, kUnlimited, ColumnRole::Press));
    }
    /// The parts near the place; when none is, the nearest.
    void addHand(const Vec3& at) {
        std::vector<int> held;
        int nearest = -1;
        for (std::size_t i = 0; i < m_net.bodies.size(); ++i) {
            const double distance = (m_net.bodies[i].centre - at).norm();
            if (distance <= kHandMm) held.push_back(static_cast<int>(i));
            if (nearest < 0 || distance < (body(nearest).centre - at).norm()) nearest = static_cast<int>(i);
        }
        if (held.empty() && nearest >= 0) held.push_back(nearest);
        for (const int index : held) {
            addHold(index);
        }
    }
    void addHold(int index) {
        Contact contact;
        contact.kind = ContactKind::Hand;
        contact.b = index;
        contact.corners = {body(index).centre};
        m_net.contacts.push_back(std::move(contact));
    }

    void findFloating() {
        const std::size_t earth = m_net.bodies.size();
        base::Groups groups(earth + 1);
        for (const Contact& contact : m_net.contacts)
            groups.join(contact.a < 0 ? earth : static_cast<std::size_t>(contact.a),
                        static_cast<std::size_t>(contact.b));
        for (std::size_t i = 0; i < earth; ++i)
            if (groups.find(i) != groups.find(earth)) m_net.floating.push_back(static_cast<int>(i));
    }

    static constexpr double kUnlimited = std::numeric_limits<double>::infinity();
    const model::Placed& m_placed;
    const model::Project& m_project;
    const std::vector<bonds::SectionBondsPtr>& m_bonds;
    const BondLimits& m_limits;
    const NetRequest& m_request;
    BondNet m_net;
    std::vector<std::vector<int>> m_bodyOf; ///< by section and part; −1: not built yet
    std::map<StudKey, std::vector<StudAt>> m_studs;
    std::set<std::array<std::int64_t, 5>> m_bearings; ///< bodies, and where
};

} // namespace

BondNet makeBondNet(const model::Placed& placed, const std::vector<bonds::SectionBondsPtr>& bonds,
                    const BondLimits& limits, const NetRequest& request) {
    return NetMaker(placed, bonds, limits, request).run();
}

} // namespace ivrant::stand
