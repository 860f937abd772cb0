// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/drive/board_view.h"

#include <algorithm>
#include <cmath>

#include "core/base/at.h"
#include "core/base/units.h"

namespace ivrant::drive {
namespace {

constexpr double kAlong = 0.9999;

class Viewer {
public:
    Viewer(const model::Project& project, int board, const DriveModel& machine, const geometry::Frame& X_CB)
        : m_machine(machine), m_X_BC(X_CB.inverse(Eigen::Isometry)), m_seen(*at(project.boards, board)) {
        if (m_seen.section.empty()) return;
        for (const model::Part& part : at(project.sections, project.findSection(m_seen.section))->parts)
            m_own.insert({part.id.text, &part});
    }

    model::Board run() {
        for (const Rotor& rotor : m_machine.rotors)
            if (rotor.kind == Rotor::Kind::Shaft && m_own.count(rotor.id) > 0) addShaft(rotor);
        for (const Ring& ring : m_machine.rings)
            if (m_own.count(ring.id) > 0) addGear(ring);
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
            if (!shaft) return;
            gear.shaft = shaft->id;
            const int k = static_cast<int>(shaft->axis);
            gear.alongUm = base::mmToUm(centre[k]) - at(shaft->atUm, k);
            if (ring.kind == model::GearKind::Actuator) gear.alongUm -= base::mmToUm(ring.halfWidthMm);
            if (ring.other >= 0) gear.other.text = at(m_machine.rotors, ring.other).id;
        }
        m_seen.gears.push_back(std::move(gear));
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
    std::unordered_map<std::string, const model::Part*> m_own;
};

} // namespace

model::Board makeSeenBoard(const model::Project& project, int board, const DriveModel& machine,
                           const geometry::Frame& X_CB) {
    return Viewer(project, board, machine, X_CB).run();
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
