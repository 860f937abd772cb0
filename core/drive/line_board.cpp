// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/drive/line_board.h"

#include <algorithm>
#include <cmath>

#include "core/base/at.h"
#include "core/base/units.h"
#include "core/bonds/fits.h"
#include "core/drive/drive_model.h"
#include "core/model/board_parts.h"
#include "core/model/wheel_size.h"
#include "core/parts/family.h"

namespace ivrant::drive {
namespace {

using base::Error;
using base::kPitchMm;
using model::BoardAxis;
using model::GearKind;

constexpr double kSlackMm = 0.3; ///< solids are set in a little

bool hasOwnThings(const model::Board& board) { return !board.shafts.empty() || !board.gears.empty(); }
int findPort(const parts::Shape& shape, parts::PortKind kind) {
    for (std::size_t p = 0; p < shape.ports.size(); ++p)
        if (shape.ports[p].kind == kind) return static_cast<int>(p);
    return -1;
}

} // namespace

LineBoard::LineBoard(model::Project project, model::BoardId board, bool parts)
    : m_project(std::move(project)), m_board(std::move(board)), m_parts(parts) {
    look();
}

base::Result<LineBoard> LineBoard::make(const model::Project& project, const model::BoardId& board, bool ownThings) {
    const int index = project.findBoard(board);
    if (index < 0) return Error{"edit.missing", "there is no board to put it on", board.text};
    return LineBoard(project, board, !ownThings && !hasOwnThings(*at(project.boards, index)));
}

const model::Board& LineBoard::board() const { return *at(m_project.boards, m_project.findBoard(m_board)); }
const std::vector<model::Shaft>& LineBoard::shafts() const { return m_parts ? m_seen.shafts : board().shafts; }
const std::vector<model::Gear>& LineBoard::gears() const { return m_parts ? m_seen.gears : board().gears; }
const model::Shaft* LineBoard::findShaft(const std::string& id) const {
    for (const model::Shaft& shaft : shafts())
        if (shaft.id.text == id) return &shaft;
    return nullptr;
}
std::string LineBoard::shaftName(const model::ShaftId& id) const {
    const model::Shaft* shaft = findShaft(id.text);
    return shaft && !shaft->name.empty() ? shaft->name : id.text;
}

void LineBoard::look() {
    if (m_parts) m_seen = listPlaneParts(m_project, board());
}
base::Status LineBoard::take(model::EditResult result) {
    if (!result) return result.error();
    m_project = std::move(result).value();
    look();
    return {};
}

const model::Section& LineBoard::section() const {
    return *at(m_project.sections, m_project.findSection(board().section));
}
int LineBoard::findPart(const std::string& id) const {
    if (board().section.empty()) return -1;
    const auto& parts = section().parts;
    const auto found =
        std::find_if(parts.begin(), parts.end(), [&](const model::Part& part) { return part.id.text == id; });
    return found == parts.end() ? -1 : static_cast<int>(found - parts.begin());
}

/// A lone board's place in the world is its place in the new section, which is where the world is. The first section of
/// a model that has nothing yet is taken.
base::Status LineBoard::needSection() {
    if (!board().section.empty()) return {};
    model::SectionId target;
    const bool nothing = m_project.sections.size() == 1 && m_project.sections.front()->parts.empty();
    if (nothing) {
        target = m_project.sections.front()->id;
    } else {
        if (auto st = take(model::addSection(m_project, board().name)); !st) return st;
        target = m_project.sections.back()->id;
    }
    return take(model::placeBoard(m_project, m_board, target, board().place));
}

base::Status LineBoard::addParts(const std::vector<model::NewPart>& parts, std::vector<model::PartId>* newIds) {
    if (auto st = needSection(); !st) return st;
    return take(model::addParts(m_project, board().section, parts, newIds));
}
base::Status LineBoard::putPart(const base::Result<model::NewPart>& part, std::string* newId) {
    if (!part) return part.error();
    std::vector<model::PartId> ids;
    if (auto st = addParts({*part}, &ids); !st) return st;
    if (newId) *newId = ids.front().text;
    return {};
}

base::Status LineBoard::putShaft(model::Shaft shaft, model::ShaftId* newId) {
    if (!m_parts) return take(model::putShaft(m_project, m_board, std::move(shaft), newId));
    return putPart(makeAxlePart(board(), shaft), newId ? &newId->text : nullptr);
}

base::Result<std::int64_t> LineBoard::findRoom(const model::Shaft& shaft, std::int64_t alongUm, double halfMm) const {
    constexpr std::int64_t kStep = base::kPitchUm / 2;
    const model::Part& part = at(section().parts, findPart(shaft.id.text));
    // What is taken is told along the part's own way.
    const geometry::Vec3 own = board().place.frame().linear().transpose() * part.place.frame().linear().col(0);
    const bool against = own[static_cast<int>(shaft.axis)] < 0;
    const double length = base::umToMm(shaft.lengthUm);
    const auto taken = listTaken(section(), findPart(shaft.id.text));
    const auto isFree = [&](std::int64_t along) {
        const double middle = against ? length - base::umToMm(along) : base::umToMm(along);
        if (middle < halfMm - kSlackMm || middle > length - halfMm + kSlackMm) return false;
        return std::none_of(taken.begin(), taken.end(), [&](const Taken& t) {
            return t.lowMm < middle + halfMm - kSlackMm && t.highMm > middle - halfMm + kSlackMm;
        });
    };
    const std::int64_t first = std::llround(static_cast<double>(alongUm) / kStep) * kStep;
    for (std::int64_t off = 0; off <= shaft.lengthUm; off += kStep)
        for (const std::int64_t along : {first + off, first - off})
            if (isFree(along)) return along;
    return Error{"line.room", "no room for it is left on " + shaftName(shaft.id) + ": type a longer shaft first",
                 shaft.id.text};
}

base::Status LineBoard::putGear(model::Gear gear, bool anywhere, model::GearId* newId) {
    if (!m_parts) return take(model::putGear(m_project, m_board, std::move(gear), newId));
    std::string* id = newId ? &newId->text : nullptr;
    if (gear.kind == GearKind::Rack) {
        // Its teeth look to the nearest wheel.
        const int across = gear.axis == BoardAxis::Up ? 0 : 1;
        std::int64_t nearest = 0;
        for (const model::Shaft& shaft : shafts())
            if (const std::int64_t off = at(shaft.atUm, across) - at(gear.atUm, across);
                nearest == 0 || std::abs(off) < std::abs(nearest))
                nearest = off;
        return putPart(makeRackPart(board(), gear, nearest < 0), id);
    }
    const model::Shaft* shaft = findShaft(gear.shaft.text);
    if (!shaft) return Error{"edit.missing", "there is no such shaft in the plane of the board", gear.shaft.text};
    if (gear.kind == GearKind::Actuator) { // its foot takes the shaft's end, as a motor's face does
        const auto name = model::getWheelShape(gear);
        if (!parts::makeShape(name))
            return Error{"gear.teeth", "there is no such part: " + describeWheel(gear.kind, gear.teeth, false), ""};
        return putMotor(name, shaft->id, true);
    }
    if (anywhere) {
        const auto room = findRoom(*shaft, gear.alongUm, model::calcWheelSize(gear.kind, gear.teeth).halfWidthMm);
        if (!room) return room.error();
        gear.alongUm = *room;
    }
    return putPart(makeWheelPart(board(), *shaft, gear), id);
}

base::Status LineBoard::lengthen(const model::ShaftId& shaft, int pitches, bool atEnd) {
    const model::Part& part = at(section().parts, findPart(shaft.text));
    const double length = base::umToMm(findShaft(shaft.text)->lengthUm);
    const auto longer =
        parts::makeShape("axle " + std::to_string(static_cast<int>(std::lround(length / kPitchMm)) + pitches));
    if (!longer)
        return Error{"line.axle", "no axle is long enough for this wall and the motor beside it: couple two", ""};
    const std::vector<model::PartId> ids{part.id};
    const geometry::Vec3 back = atEnd ? geometry::Vec3(geometry::Vec3::Zero())
                                      : geometry::Vec3(-pitches * kPitchMm * part.place.frame().linear().col(0));
    if (auto st = take(model::exchangeShape(m_project, ids, *longer)); !st) return st;
    return take(model::moveParts(m_project, ids, geometry::makeFrame(geometry::Mat3::Identity(), back)));
}

base::Status LineBoard::putMotor(const std::string& line, const model::ShaftId& shaft, bool atEnd) {
    if (!m_parts || line == "hand crank") {
        const std::string name = "M" + std::to_string(board().motors.size() + 1);
        return take(model::putMotor(m_project, m_board, {{}, name, line, shaft, atEnd, {}}));
    }
    const auto shape = parts::makeShape(line);
    const int drive = shape ? (*shape)->findPort("drive") : -1;
    if (drive < 0) return Error{"line.part", "there is no motor body called " + line, ""};
    const model::Shaft* seen = findShaft(shaft.text);
    if (!seen) return Error{"edit.missing", "there is no such shaft in the plane of the board", shaft.text};
    // Its face comes a pitch behind the axle's end; between it and the next wheel stands a wall, or will.
    const double length = base::umToMm(seen->lengthUm);
    double room = length;
    bool wall = false;
    const geometry::Vec3 own = board().place.frame().linear().transpose() *
                               at(section().parts, findPart(shaft.text)).place.frame().linear().col(0);
    const bool ownEnd = atEnd == (own[static_cast<int>(seen->axis)] > 0); // at the end of the part's own way
    for (const Taken& t : listTaken(section(), findPart(shaft.text))) {
        const double here = ownEnd ? length - t.highMm : t.lowMm;
        if (here >= room) continue;
        room = here;
        wall = t.wall;
    }
    const double wanted = kPitchMm + (wall ? 0 : kPitchMm);
    if (const int more = static_cast<int>(std::ceil((wanted - room) / kPitchMm - 0.1)); more > 0)
        if (auto st = lengthen(shaft, more, ownEnd); !st) return st;
    const model::Part& axle = at(section().parts, findPart(shaft.text));
    const auto& ports = axle.shape->ports; // each place along it opens both ways, in their order
    const parts::Port& end = ownEnd ? ports[ports.size() - 2] : ports[1];
    const geometry::Vec3 up = geometry::Vec3::UnitZ();
    geometry::Frame best;
    double most = -2;
    for (int quarters = 0; quarters < 4; ++quarters) {
        const geometry::Frame X = bonds::calcMatedFrame(axle.place.frame(), end, at((*shape)->ports, drive), quarters);
        if (X.linear().col(2).dot(up) <= most + 1e-9) continue;
        most = X.linear().col(2).dot(up);
        best = X;
    }
    model::NewPart part;
    part.shape = *shape;
    part.colour = chooseColour(board(), **shape);
    part.place = model::makePlace(best);
    part.step = axle.step;
    std::string id;
    if (auto st = putPart(part, &id); !st) return st;
    if (!line.starts_with("motor")) return {};
    int count = 0;
    for (const auto& each : m_project.sections)
        for (const model::Part& other : each->parts) count += other.shape->family.starts_with("motor") ? 1 : 0;
    return take(model::namePart(m_project, {id}, "M" + std::to_string(count)));
}

base::Status LineBoard::couple(const model::ShaftId& a, const model::ShaftId& b) {
    if (!m_parts) return take(model::putCoupling(m_project, m_board, {{}, a, b, true, {}}));
    const model::Shaft *first = findShaft(a.text), *second = findShaft(b.text);
    if (!first || !second) return Error{"line.choose", "choose the two shafts that are coupled", ""};
    const int k = static_cast<int>(first->axis);
    if (at(first->atUm, k) > at(second->atUm, k)) std::swap(first, second);
    std::array<std::int64_t, 3> end = first->atUm;
    at(end, k) += first->lengthUm;
    const std::int64_t gap = at(second->atUm, k) - at(end, k);
    if (!isEndToEnd(*first, *second))
        return Error{"line.couple",
                     "a connector joins two shafts in one line whose ends meet within half a pitch; for shafts at an "
                     "angle put universal joint forks and a cross in Shape",
                     first->id.text};
    at(end, k) += gap / 2;
    const auto shape = parts::makeShape("straight connector");
    model::NewPart part;
    part.shape = *shape;
    part.colour = chooseColour(board(), **shape);
    part.place =
        model::makePlace(board().place.frame() *
                         alongAxis(first->axis, {base::umToMm(end[0]), base::umToMm(end[1]), base::umToMm(end[2])}));
    return addParts({part});
}

base::Status LineBoard::putTurntable(int teeth, const std::array<std::int64_t, 3>& atUm, model::BoardAxis axis,
                                     std::string& wheel) {
    model::Gear gear;
    gear.kind = GearKind::Turntable;
    gear.teeth = teeth;
    const std::string name = model::getWheelShape(gear);
    if (name.empty())
        return Error{"gear.teeth", "there is no turntable of " + std::to_string(teeth) + " teeth: type turntable 56",
                     ""};
    if (auto st = needSection(); !st) return st;
    const auto upper = parts::makeShape(name), lower = parts::makeShape("large geared turntable lower");
    const geometry::Vec3 at(base::umToMm(atUm[0]), base::umToMm(atUm[1]), base::umToMm(atUm[2]));
    const geometry::Frame upright =
        board().place.frame() * alongAxis(axis, at) *
        geometry::makeFrame(Eigen::AngleAxisd(base::kPi / 2, geometry::Vec3::UnitY()).toRotationMatrix(),
                            geometry::Vec3::Zero());
    const auto lowered = [&](double mm) {
        return model::makePlace(upright * geometry::makeFrame(geometry::Mat3::Identity(), {0, 0, -mm}));
    };
    model::NewPart below, above;
    below.shape = *lower;
    above.shape = *upper;
    below.colour = above.colour = chooseColour(board(), **upper);
    below.place = lowered(kPitchMm * 3 / 2);
    above.place = lowered(kPitchMm / 2);
    std::vector<model::PartId> lowerId, upperId;
    if (auto st = addParts({below}, &lowerId); !st) return st;
    const model::Place where = section().place;
    if (auto st = take(model::addSection(m_project, "On the turntable", where)); !st) return st;
    const model::SectionId carried = m_project.sections.back()->id;
    if (auto st = take(model::addParts(m_project, carried, {&above, 1}, &upperId)); !st) return st;
    const auto port = [](const parts::Shape& shape, parts::PortKind kind) {
        const int index = findPort(shape, kind);
        return index < 0 ? std::string() : ivrant::at(shape.ports, index).name;
    };
    model::Joint joint;
    joint.name = "Turntable";
    joint.kind = parts::findJointKind("large geared turntable");
    joint.from = {lowerId.front(), port(**lower, parts::PortKind::GearedLower)};
    joint.to = {upperId.front(), port(**upper, parts::PortKind::GearedUpper)};
    joint.value = {0};
    wheel = upperId.front().text;
    return take(model::addJoint(m_project, std::move(joint)));
}

base::Status LineBoard::putDrivingRings(const std::vector<model::GearId>& wheels) {
    if (!m_parts) return {};
    constexpr double kHalfMm = kPitchMm / 2, kReachMm = kPitchMm + 0.5;
    const auto shape = parts::makeShape("driving ring");
    for (const model::GearId& wheel : wheels) {
        const model::Gear* gear = m_seen.findGear(wheel.text);
        const model::Shaft* shaft = gear ? findShaft(gear->shaft.text) : nullptr;
        if (!shaft) continue;
        const geometry::Frame X_SB = board().place.frame();
        geometry::Vec3 middle(base::umToMm(shaft->atUm[0]), base::umToMm(shaft->atUm[1]), base::umToMm(shaft->atUm[2]));
        const int k = static_cast<int>(shaft->axis);
        middle[k] += base::umToMm(gear->alongUm);
        const auto& parts = section().parts;
        const bool there = std::any_of(parts.begin(), parts.end(), [&](const model::Part& part) {
            return part.shape->family == "driving ring" &&
                   (part.place.frame().translation() - X_SB * middle).norm() < kReachMm;
        });
        if (there) continue;
        // Between it and its neighbour first: one ring can serve both.
        std::int64_t along = gear->alongUm + base::kPitchUm;
        for (const model::Gear& other : gears())
            if (other.shaft == gear->shaft && other.loose &&
                std::abs(other.alongUm - gear->alongUm) == 2 * base::kPitchUm)
                along = (other.alongUm + gear->alongUm) / 2;
        const auto room = findRoom(*shaft, along, kHalfMm);
        if (!room || std::abs(*room - gear->alongUm) > base::kPitchUm)
            return Error{"line.room",
                         "a driving ring has no room beside the clutch wheel on " + shaftName(shaft->id) +
                             ": leave a pitch free there",
                         gear->id.text};
        middle[k] += base::umToMm(*room - gear->alongUm);
        model::NewPart ring;
        ring.shape = *shape;
        ring.colour = chooseColour(board(), **shape);
        ring.place = model::makePlace(X_SB * alongAxis(shaft->axis, middle));
        if (auto st = addParts({ring}); !st) return st;
    }
    return {};
}

} // namespace ivrant::drive
