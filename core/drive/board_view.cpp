// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/drive/board_view.h"

#include <algorithm>
#include <cmath>

#include "core/base/at.h"
#include "core/base/units.h"
#include "core/drive/plane_parts.h"

namespace ivrant::drive {
namespace {

constexpr double kAlong = 0.9999;

class Viewer {
public:
    Viewer(const model::Project& project, model::Board board, const DriveModel& machine, const geometry::Frame& X_CB)
        : m_machine(machine), m_X_BC(X_CB.inverse(Eigen::Isometry)), m_seen(std::move(board)) {
        if (m_seen.section.empty()) return;
        m_bare = listPlaneParts(project, m_seen);
        for (const model::Part& part : at(project.sections, project.findSection(m_seen.section))->parts)
            m_own.insert({part.id.text, &part});
        // Turntables stand on it with their upper half, which is the section that they carry.
        const model::PartIndex index(project);
        for (const model::Joint& joint : project.joints) {
            const model::PartSpot from = index.find(joint.from.part), to = index.find(joint.to.part);
            const model::Part& carried = model::getPart(project, to);
            if (m_own.count(model::getPart(project, from).id.text) > 0 && !carried.shape->rings.empty() &&
                carried.shape->rings.front().kind == model::GearKind::Turntable)
                m_own.insert({carried.id.text, &carried});
        }
    }

    model::Board run() {
        for (const Rotor& rotor : m_machine.rotors)
            if (rotor.kind == Rotor::Kind::Shaft && m_own.count(rotor.id) > 0) addShaft(rotor);
        for (const Ring& ring : m_machine.rings)
            if (m_own.count(ring.id) > 0) addGear(ring);
        // Axles that drive nothing yet: they can be chosen, and something put on them.
        for (const model::Shaft& shaft : m_bare.shafts)
            if (m_machine.findRotor(shaft.id.text) < 0) m_seen.shafts.push_back(shaft);
        for (const PartMotor& motor : m_machine.motors)
            if (motor.rotor >= 0 && m_own.count(motor.id) > 0) addMotor(motor);
        return std::move(m_seen);
    }

private:
    struct Way {
        model::BoardAxis axis = model::BoardAxis::Out;
        bool against = false; ///< the rotor's own axis goes the other way
    };
    [[nodiscard]] std::optional<Way> findWay(const Vec3& axis) const {
        const Vec3 seen = m_X_BC.linear() * axis;
        for (int k = 0; k < 3; ++k)
            if (std::abs(seen[k]) > kAlong) return Way{static_cast<model::BoardAxis>(k), seen[k] < 0};
        return std::nullopt;
    }
    static std::array<std::int64_t, 3> toUm(const Vec3& mm) {
        return {base::mmToUm(mm.x()), base::mmToUm(mm.y()), base::mmToUm(mm.z())};
    }
    [[nodiscard]] const model::Shaft* findShaft(const std::string& id) const {
        const auto found = std::find_if(m_seen.shafts.begin(), m_seen.shafts.end(),
                                        [&](const model::Shaft& shaft) { return shaft.id.text == id; });
        return found == m_seen.shafts.end() ? nullptr : &*found;
    }

    void addShaft(const Rotor& rotor) {
        const auto way = findWay(rotor.axis);
        if (!way) return;
        model::Shaft shaft;
        shaft.id.text = rotor.id;
        shaft.name = rotor.name;
        shaft.axis = way->axis;
        shaft.lengthUm = base::mmToUm(rotor.lengthMm);
        shaft.atUm = toUm(m_X_BC * Vec3(rotor.origin + (way->against ? rotor.lengthMm : 0) * rotor.axis));
        const int index = m_machine.findRotor(rotor.id);
        for (const Bearing& bearing : m_machine.bearings)
            if (bearing.rotor == index && bearing.by == Bearing::By::Brick)
                shaft.bearingsUm.push_back(
                    base::mmToUm(way->against ? rotor.lengthMm - bearing.alongMm : bearing.alongMm));
        std::sort(shaft.bearingsUm.begin(), shaft.bearingsUm.end());
        m_seen.shafts.push_back(std::move(shaft));
    }
    void addGear(const Ring& ring) {
        model::Gear gear;
        gear.id.text = ring.id;
        gear.kind = ring.kind;
        gear.teeth = ring.teeth;
        gear.loose = ring.loose;
        gear.leftHand = ring.leftHand;
        const Vec3 centre = m_X_BC * ring.centre;
        if (ring.kind == model::GearKind::Rack) {
            const auto way = findWay(ring.axis);
            if (!way) return;
            gear.axis = way->axis;
            Vec3 start = centre;
            start[static_cast<int>(way->axis)] -= ring.halfWidthMm;
            gear.atUm = toUm(start);
        } else {
            const model::Shaft* shaft = ring.shaft < 0 ? nullptr : findShaft(at(m_machine.rotors, ring.shaft).id);
            if (!shaft) shaft = addMiddle(ring);
            if (!shaft) return;
            gear.shaft = shaft->id;
            const int k = static_cast<int>(shaft->axis);
            gear.alongUm = base::mmToUm(centre[k]) - at(shaft->atUm, k);
            if (ring.kind == model::GearKind::Actuator) gear.alongUm -= base::mmToUm(ring.halfWidthMm);
            if (ring.other >= 0) gear.other.text = at(m_machine.rotors, ring.other).id;
        }
        m_seen.gears.push_back(std::move(gear));
    }
    /// Turntables and wheels on pins: where they turn, under their own id.
    const model::Shaft* addMiddle(const Ring& ring) {
        const auto way = findWay(ring.axis);
        if (!way) return nullptr;
        model::Shaft shaft;
        shaft.id.text = ring.id;
        shaft.name = m_machine.nameOf(ring);
        shaft.axis = way->axis;
        shaft.lengthUm = base::mmToUm(2 * ring.halfWidthMm);
        Vec3 start = m_X_BC * ring.centre;
        start[static_cast<int>(way->axis)] -= ring.halfWidthMm;
        shaft.atUm = toUm(start);
        m_seen.shafts.push_back(std::move(shaft));
        return &m_seen.shafts.back();
    }
    void addMotor(const PartMotor& part) {
        const model::Shaft* shaft = findShaft(at(m_machine.rotors, part.rotor).id);
        if (!shaft) return;
        model::DriveMotor motor;
        motor.id.text = part.id;
        motor.name = part.name;
        motor.line = part.line;
        motor.shaft = shaft->id;
        // Beyond the end whose half its body is nearer to.
        const model::Part& body = *m_own.at(part.id);
        const Vec3 middle = m_seen.place.frame().inverse(Eigen::Isometry) * (body.place.frame() * body.shape->centre);
        const int k = static_cast<int>(shaft->axis);
        motor.atEnd = middle[k] > base::umToMm(at(shaft->atUm, k)) + base::umToMm(shaft->lengthUm) / 2;
        m_seen.motors.push_back(std::move(motor));
    }

    const DriveModel& m_machine;
    geometry::Frame m_X_BC;
    model::Board m_seen;
    PlaneParts m_bare;
    std::unordered_map<std::string, const model::Part*> m_own;
};

} // namespace

model::Board makeSeenBoard(const model::Project& project, int board, const DriveModel& machine,
                           const geometry::Frame& X_CB) {
    return Viewer(project, *at(project.boards, board), machine, X_CB).run();
}

Elevation getElevation(const model::Board& board) {
    const double up = board.place.frame().linear()(2, 2); // of its way out
    Elevation elevation;
    elevation.outSign = up > 0.5 ? 1 : -1;
    elevation.name = std::abs(up) > 0.5 ? "from the front" : "from above";
    const Vec3 out = elevation.outSign * Vec3::UnitZ();
    geometry::Mat3 r;
    r << Vec3::UnitX(), out, Vec3::UnitX().cross(out);
    elevation.X_BE = geometry::makeFrame(r, Vec3::Zero());
    return elevation;
}

model::Board makeSeenElevation(const model::Project& project, int board, const DriveModel& machine,
                               const geometry::Frame& X_CB) {
    const model::Board& own = *at(project.boards, board);
    const geometry::Frame X_BE = getElevation(own).X_BE;
    model::Board head;
    head.id = own.id;
    head.section = own.section;
    head.place = model::makePlace(own.place.frame() * X_BE);
    head.loops = own.loops;
    head.functions = own.functions;
    return Viewer(project, std::move(head), machine, X_CB * X_BE).run();
}

std::vector<SeenBody> listSeenBodies(const model::Project& project, const model::Board& board) {
    const int section = board.section.empty() ? -1 : project.findSection(board.section);
    if (section < 0) return {};
    const geometry::Frame X_BS = board.place.frame().inverse(Eigen::Isometry);
    const PlaneParts seen = listPlaneParts(project, board);
    const auto carries = [&](const Vec3& p, const Vec3& axis) {
        return std::any_of(seen.shafts.begin(), seen.shafts.end(), [&](const model::Shaft& shaft) {
            const int k = static_cast<int>(shaft.axis);
            const Vec3 from(base::umToMm(shaft.atUm[0]), base::umToMm(shaft.atUm[1]), base::umToMm(shaft.atUm[2]));
            const double along = p[k] - from[k];
            return std::abs(axis[k]) > kAlong && along > 0 && along < base::umToMm(shaft.lengthUm) &&
                   (p - from - along * Vec3::Unit(k)).norm() < 0.2;
        });
    };
    std::vector<SeenBody> bodies;
    for (const model::Part& part : at(project.sections, section)->parts) {
        const geometry::Frame X = X_BS * part.place.frame();
        const bool motor = part.shape->family.starts_with("motor");
        const bool wall =
            !motor && part.shape->rings.empty() &&
            std::any_of(part.shape->ports.begin(), part.shape->ports.end(), [&](const parts::Port& port) {
                return port.kind == parts::PortKind::Hole && carries(X * port.origin, X.linear() * port.axis);
            });
        if (!motor && !wall) continue;
        SeenBody body{part.id.text, {}, motor};
        for (const auto& solid : part.shape->solids) body.box.include(geometry::calcBounds(solid.solid, X));
        bodies.push_back(std::move(body));
    }
    return bodies;
}

std::vector<std::string> listWithParts(const DriveModel& machine, const std::vector<std::string>& ids) {
    std::vector<std::string> all;
    for (const std::string& id : ids) {
        const int rotor = machine.findRotor(id);
        if (rotor < 0 || at(machine.rotors, rotor).board >= 0) {
            all.push_back(id);
            continue;
        }
        for (const std::string& part : at(machine.rotors, rotor).parts) all.push_back(part);
    }
    std::sort(all.begin(), all.end());
    all.erase(std::unique(all.begin(), all.end()), all.end());
    return all;
}

} // namespace ivrant::drive
