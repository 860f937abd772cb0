// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/drive/board_reader.h"

#include <algorithm>
#include <cmath>

#include "core/base/at.h"
#include "core/base/units.h"
#include "core/drive/brick_bearings.h"
#include "core/drive/mesh_fit.h"
#include "core/drive/part_reader.h"
#include "core/model/board_parts.h"

namespace ivrant::drive {
namespace {

using model::GearKind;

constexpr double kTouchMm = 0.05;
constexpr double kSameHoleMm = 4; ///< a typed wall and the brick that it stands for

class BoardReader {
public:
    BoardReader(const model::Project& project, const std::vector<geometry::Frame>& X_CB, DriveModel& into)
        : m_project(project), m_X_CB(X_CB), m_bricks(project), m_model(into) {}

    void addThings() {
        for (int b = 0; b < count(); ++b)
            for (const model::Shaft& shaft : board(b).shafts) addShaft(shaft, b);
        for (int b = 0; b < count(); ++b)
            for (const model::Gear& gear : board(b).gears) addGear(gear, b);
        setCarriers();
        for (int b = 0; b < count(); ++b)
            for (const model::Shaft& shaft : board(b).shafts) addBearings(shaft, b);
    }
    /// When everything that they name is there.
    void addAllLinks() {
        for (int b = 0; b < count(); ++b) addLinks(board(b));
    }

private:
    [[nodiscard]] int count() const { return static_cast<int>(m_project.boards.size()); }
    [[nodiscard]] const model::Board& board(int index) const { return *at(m_project.boards, index); }
    [[nodiscard]] Vec3 direction(int board, model::BoardAxis axis) const {
        return at(m_X_CB, board).linear().col(static_cast<int>(axis));
    }
    [[nodiscard]] Vec3 point(int board, const std::array<std::int64_t, 3>& um) const {
        return at(m_X_CB, board) * Vec3(base::umToMm(um[0]), base::umToMm(um[1]), base::umToMm(um[2]));
    }
    int addRotor(Rotor rotor) {
        const int index = static_cast<int>(m_model.rotors.size());
        m_model.rotorOf.emplace(rotor.id, index);
        m_model.rotors.push_back(std::move(rotor));
        return index;
    }
    [[nodiscard]] int rotorOf(const std::string& id) const { return m_model.findRotor(id); }
    [[nodiscard]] int ringOf(const std::string& id) const { return m_model.findRing(id); }

    void addShaft(const model::Shaft& shaft, int board) {
        Rotor rotor;
        rotor.id = shaft.id.text;
        rotor.name = shaft.name.empty() ? "shaft " + shaft.id.text : shaft.name;
        rotor.board = board;
        rotor.origin = point(board, shaft.atUm);
        rotor.axis = direction(board, shaft.axis);
        rotor.lengthMm = base::umToMm(shaft.lengthUm);
        addRotor(std::move(rotor));
    }

    void addGear(const model::Gear& gear, int board) {
        const model::WheelSize size = model::calcWheelSize(gear.kind, gear.teeth);
        Ring ring;
        ring.id = gear.id.text;
        ring.kind = gear.kind;
        ring.teeth = gear.teeth;
        ring.loose = gear.loose;
        ring.leftHand = gear.leftHand;
        ring.board = board;
        ring.pitchRadiusMm = size.pitchRadiusMm;
        ring.tipRadiusMm = size.tipRadiusMm;
        ring.halfWidthMm = size.halfWidthMm;
        ring.holeRadiusMm = size.holeRadiusMm;
        if (gear.kind == GearKind::Rack) {
            ring.axis = direction(board, gear.axis);
            ring.centre = point(board, gear.atUm) + ring.axis * size.halfWidthMm;
            ring.rotor = addOwnRotor(ring, Rotor::Kind::Rack);
        } else {
            ring.shaft = rotorOf(gear.shaft.text);
            ring.other = gear.other.empty() ? -1 : rotorOf(gear.other.text);
            ring.alongMm = base::umToMm(gear.alongUm);
            const Rotor& on = at(m_model.rotors, ring.shaft);
            ring.axis = on.axis;
            const bool actuator = gear.kind == GearKind::Actuator; // told by where its case begins
            ring.centre = on.origin + ring.axis * (ring.alongMm + (actuator ? size.halfWidthMm : 0));
            ring.rotor =
                gear.isFixed() ? ring.shaft : addOwnRotor(ring, actuator ? Rotor::Kind::Screw : Rotor::Kind::Wheel);
            if (gear.isFixed()) m_model.rotorOf.emplace(gear.id.text, ring.shaft);
        }
        m_model.ringOf.emplace(ring.id, static_cast<int>(m_model.rings.size()));
        m_model.rings.push_back(std::move(ring));
    }
    int addOwnRotor(const Ring& ring, Rotor::Kind kind) {
        Rotor rotor;
        rotor.kind = kind;
        rotor.id = ring.id;
        rotor.name = m_model.nameOf(ring);
        rotor.board = ring.board;
        rotor.origin = ring.centre;
        rotor.axis = ring.axis;
        return addRotor(std::move(rotor));
    }

    /// What is on a shaft goes round with what carries the shaft.
    void setCarriers() {
        std::unordered_map<std::string, const model::Shaft*> shafts;
        for (const auto& board : m_project.boards)
            for (const model::Shaft& shaft : board->shafts) shafts.emplace(shaft.id.text, &shaft);
        for (Rotor& rotor : m_model.rotors) {
            std::string onShaft = rotor.id;
            if (rotor.kind == Rotor::Kind::Wheel || rotor.kind == Rotor::Kind::Screw)
                onShaft = at(m_model.rotors, at(m_model.rings, ringOf(rotor.id)).shaft).id;
            model::GearId carrier = board(rotor.board).carrier;
            if (const auto shaft = shafts.find(onShaft); shaft != shafts.end()) {
                carrier = board(at(m_model.rotors, rotorOf(onShaft)).board).carrier;
                if (!shaft->second->carrier.empty()) carrier = shaft->second->carrier;
            }
            if (!carrier.empty()) rotor.carrier = rotorOf(carrier.text);
        }
    }

    void addBearings(const model::Shaft& shaft, int index) {
        std::vector<Bearing> found;
        const int rotor = rotorOf(shaft.id.text);
        for (const std::int64_t along : shaft.bearingsUm)
            found.push_back({Bearing::By::Said, rotor, base::umToMm(along)});
        const bool inHole = shaft.axis == model::BoardAxis::Out &&
                            findGridStep(std::abs(shaft.atUm[0]), std::abs(shaft.atUm[1])).has_value();
        if (inHole)
            for (const std::int64_t wall : board(index).wallsUm)
                if (const double along = base::umToMm(wall - shaft.atUm[2]);
                    along >= -kTouchMm && along <= base::umToMm(shaft.lengthUm) + kTouchMm)
                    found.push_back({Bearing::By::Wall, rotor, along});
        for (const double along : m_bricks.listAlong(index, shaft)) {
            const auto isNear = [&](const Bearing& bearing) { return std::abs(bearing.alongMm - along) < kSameHoleMm; };
            if (std::none_of(found.begin(), found.end(), isNear)) found.push_back({Bearing::By::Brick, rotor, along});
        }
        std::sort(found.begin(), found.end(), [](const Bearing& l, const Bearing& r) { return l.alongMm < r.alongMm; });
        m_model.bearings.insert(m_model.bearings.end(), found.begin(), found.end());
    }

    void addLinks(const model::Board& board) {
        for (const model::Gear& gear : board.gears) {
            Link link;
            link.ring = ringOf(gear.id.text);
            link.a = rotorOf(gear.shaft.text);
            if (gear.kind == GearKind::Differential) {
                link.kind = Link::Kind::Differential;
                link.b = rotorOf(gear.other.text);
                m_model.links.push_back(link);
            }
            if (gear.kind == GearKind::Actuator) {
                link.kind = Link::Kind::Actuator;
                link.b = rotorOf(gear.id.text);
                m_model.links.push_back(link);
            }
            if (gear.loose) {
                link.kind = Link::Kind::Clutch;
                m_model.links.push_back(link);
            }
        }
        for (const model::Loop& loop : board.loops) {
            Link link;
            link.kind = Link::Kind::Loop;
            link.id = loop.id.text;
            link.belt = loop.belt;
            link.crossed = loop.crossed;
            for (const model::GearId& id : loop.gears) link.rings.push_back(ringOf(id.text));
            m_model.links.push_back(std::move(link));
        }
        for (const model::Coupling& coupling : board.couplings) {
            Link link;
            link.kind = coupling.universal ? Link::Kind::Universal : Link::Kind::Coupling;
            link.id = coupling.id.text;
            link.a = rotorOf(coupling.a.text);
            link.b = rotorOf(coupling.b.text);
            m_model.links.push_back(std::move(link));
        }
        for (const model::Shaft& shaft : board.shafts) {
            if (!shaft.held) continue;
            Link link;
            link.kind = Link::Kind::Held;
            link.a = rotorOf(shaft.id.text);
            m_model.links.push_back(std::move(link));
        }
    }

    const model::Project& m_project;
    const std::vector<geometry::Frame>& m_X_CB;
    BrickBearings m_bricks;
    DriveModel& m_model;
};

} // namespace

DriveModel readBoards(const model::Project& project, const std::vector<geometry::Frame>& X_CB) {
    DriveModel machine;
    BoardReader reader(project, X_CB, machine);
    reader.addThings();
    reader.addAllLinks();
    return machine;
}

namespace {

/// Parts that the records of boards name: they are judged, whatever else they do.
std::vector<std::string> listNamed(const model::Project& project, const DriveModel& onBoards) {
    std::vector<std::string> named;
    const auto add = [&](const std::string& id) {
        if (onBoards.findRotor(id) < 0) named.push_back(id);
    };
    for (const auto& board : project.boards) {
        for (const model::DriveFunction& function : board->functions) add(function.moved());
        for (const model::DriveMotor& motor : board->motors) add(motor.shaft.text);
    }
    return named;
}

} // namespace

DriveModel readDrive(const model::Placed& placed, const model::SectionTree& tree,
                     const std::vector<bonds::SectionBondsPtr>& bonds) {
    DriveModel machine;
    const auto X_CB = model::calcBoardFrames(placed);
    BoardReader reader(*placed.project, X_CB, machine);
    reader.addThings();
    const auto named = listNamed(*placed.project, machine);
    if (!named.empty() || hasDriveParts(*placed.project)) addParts(placed, tree, bonds, named, machine);
    reader.addAllLinks();
    return machine;
}

Setting makePresentSetting(const model::Project& project) {
    Setting setting;
    for (const auto& board : project.boards)
        for (const model::Selector& selector : board->selectors) {
            setting.selectors.push_back(&selector);
            setting.at.push_back(selector.at);
        }
    return setting;
}

std::vector<std::string> listEngaged(const Setting& setting) {
    std::vector<std::string> engaged;
    for (std::size_t s = 0; s < setting.selectors.size(); ++s)
        for (const model::GearId& wheel : at(setting.selectors[s]->positions, setting.at[s]).engaged)
            engaged.push_back(wheel.text);
    return engaged;
}

std::vector<std::string> listEngaged(const model::Project& project) { return listEngaged(makePresentSetting(project)); }

} // namespace ivrant::drive
