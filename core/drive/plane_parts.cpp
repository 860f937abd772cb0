// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/drive/plane_parts.h"

#include <algorithm>
#include <cmath>

#include "core/base/at.h"
#include "core/base/units.h"
#include "core/drive/drive_model.h"
#include "core/drive/part_bodies.h"
#include "core/model/board_parts.h"
#include "core/parts/family.h"
#include "core/parts/palette.h"

namespace ivrant::drive {
namespace {

using base::Error;
using base::kPitchMm;
using model::BoardAxis;
using model::GearKind;
using parts::PortKind;

constexpr double kAlong = 0.9999;
constexpr double kEndMm = 0.05;
constexpr int kShortestAxle = 2, kLongestAxle = 16; // pitches

/// Whole pitches; 0: it is no axle.
int countPitches(const parts::Shape& shape) {
    return static_cast<int>(std::count_if(shape.ports.begin(), shape.ports.end(),
                                          [](const parts::Port& port) { return port.kind == PortKind::Axle; })) /
           2; // each place along it opens both ways
}
bool isPlainAxle(const parts::Shape& shape) {
    return countPitches(shape) > 0 && shape.rings.empty() &&
           std::all_of(shape.ports.begin(), shape.ports.end(),
                       [](const parts::Port& port) { return port.kind == PortKind::Axle; });
}
/// Turns on what goes through it.
bool isLoose(const parts::Shape& shape) {
    return std::none_of(shape.ports.begin(), shape.ports.end(),
                        [](const parts::Port& port) { return port.kind == PortKind::CrossHole; });
}

std::array<std::int64_t, 3> toUm(const Vec3& mm) {
    return {base::mmToUm(mm.x()), base::mmToUm(mm.y()), base::mmToUm(mm.z())};
}
Vec3 toMm(const std::array<std::int64_t, 3>& um) {
    return {base::umToMm(um[0]), base::umToMm(um[1]), base::umToMm(um[2])};
}

std::optional<BoardAxis> findWay(const Vec3& axis) {
    for (int k = 0; k < 3; ++k)
        if (std::abs(axis[k]) > kAlong) return static_cast<BoardAxis>(k);
    return std::nullopt;
}

class Looker {
public:
    Looker(const model::Section& section, const model::Board& board)
        : m_section(section), m_X_BS(board.place.frame().inverse(Eigen::Isometry)) {}

    PlaneParts run() {
        for (const model::Part& part : m_section.parts)
            if (isPlainAxle(*part.shape)) addShaft(part);
        for (const model::Part& part : m_section.parts)
            if (!part.shape->rings.empty()) addGear(part);
        return std::move(m_seen);
    }

private:
    void addShaft(const model::Part& part) {
        const geometry::Frame X = m_X_BS * part.place.frame();
        const Vec3 axis = X.linear().col(0);
        const auto way = findWay(axis);
        if (!way) return;
        const double length = kPitchMm * countPitches(*part.shape);
        const bool against = axis[static_cast<int>(*way)] < 0;
        model::Shaft shaft;
        shaft.id.text = part.id.text;
        shaft.name = part.name;
        shaft.axis = *way;
        shaft.lengthUm = base::mmToUm(length);
        shaft.atUm = toUm(Vec3(X.translation() + (against ? length : 0) * axis));
        m_seen.shafts.push_back(std::move(shaft));
    }
    void addGear(const model::Part& part) {
        const parts::ToothRing& ring = part.shape->rings.front();
        const geometry::Frame X = m_X_BS * part.place.frame();
        const Vec3 centre = X * ring.centre, axis = X.linear() * ring.axis;
        const auto way = findWay(axis);
        if (!way) return;
        model::Gear gear;
        gear.id.text = part.id.text;
        gear.kind = ring.kind;
        gear.teeth = ring.teeth;
        gear.loose = isLoose(*part.shape);
        const int k = static_cast<int>(*way);
        if (ring.kind == GearKind::Rack) {
            gear.loose = false;
            gear.axis = *way;
            Vec3 start = centre;
            start[k] -= ring.halfLengthMm;
            gear.atUm = toUm(start);
            m_seen.gears.push_back(std::move(gear));
            return;
        }
        // Where its shaft is met: an actuator's at its foot, a differential's two beside its middle.
        Vec3 met = centre;
        if (ring.kind == GearKind::Actuator)
            if (const int drive = part.shape->findPort("drive"); drive >= 0)
                met = X * at(part.shape->ports, drive).origin;
        const double reach = ring.kind == GearKind::Differential ? kPitchMm + kEndMm : 2 * kEndMm;
        for (const model::Shaft& shaft : m_seen.shafts) {
            const Vec3 start = toMm(shaft.atUm);
            const double along = met[k] - start[k];
            if (shaft.axis != *way || along < -reach || along > base::umToMm(shaft.lengthUm) + reach ||
                !isOneLine(start, Vec3::Unit(k), met, Vec3::Unit(k)))
                continue;
            if (!gear.shaft.empty()) {
                gear.other = shaft.id;
                break;
            }
            gear.shaft = shaft.id;
            gear.alongUm = base::mmToUm(along);
            if (ring.kind != GearKind::Differential) break;
        }
        if (!gear.shaft.empty()) m_seen.gears.push_back(std::move(gear));
    }

    const model::Section& m_section;
    geometry::Frame m_X_BS;
    PlaneParts m_seen;
};

base::Result<model::NewPart> makePart(const model::Board& board, const std::string& name, const geometry::Frame& X_BP,
                                      const Error& missing) {
    const auto shape = name.empty() ? base::Result<parts::ShapePtr>(missing) : parts::makeShape(name);
    if (!shape) return missing;
    model::NewPart part;
    part.shape = *shape;
    part.colour = chooseColour(board, **shape);
    part.place = model::makePlace(board.place.frame() * X_BP);
    if (board.step > 0) part.step = board.step;
    return part;
}

} // namespace

int chooseColour(const model::Board& board, const parts::Shape& shape) {
    if (board.colour != 0) return board.colour;
    const std::string& family = shape.family;
    const char* name = "fog"; // walls
    if (isPlainAxle(shape) || family == "driving ring" || family == "straight connector") name = "soot";
    if (family == "plate") name = "driftwood";
    if (family.starts_with("motor")) name = "slate";
    if (!shape.rings.empty()) name = isLoose(shape) ? "rust" : "gorse";
    return std::max(0, parts::findColour(name));
}

geometry::Frame alongAxis(BoardAxis axis, const Vec3& at) {
    geometry::Mat3 r = geometry::Mat3::Identity();
    if (axis == BoardAxis::Up) r = Eigen::AngleAxisd(base::kPi / 2, Vec3::UnitZ()).toRotationMatrix();
    if (axis == BoardAxis::Out) r = Eigen::AngleAxisd(-base::kPi / 2, Vec3::UnitY()).toRotationMatrix();
    return geometry::makeFrame(r, at);
}

const model::Shaft* PlaneParts::findShaft(const std::string& id) const {
    const auto found =
        std::find_if(shafts.begin(), shafts.end(), [&](const model::Shaft& shaft) { return shaft.id.text == id; });
    return found == shafts.end() ? nullptr : &*found;
}
const model::Gear* PlaneParts::findGear(const std::string& id) const {
    const auto found =
        std::find_if(gears.begin(), gears.end(), [&](const model::Gear& gear) { return gear.id.text == id; });
    return found == gears.end() ? nullptr : &*found;
}

PlaneParts listPlaneParts(const model::Project& project, const model::Board& board) {
    const int section = board.section.empty() ? -1 : project.findSection(board.section);
    if (section < 0) return {};
    return Looker(*at(project.sections, section), board).run();
}

std::vector<Taken> listTaken(const model::Section& section, int axle) {
    const model::Part& rod = at(section.parts, axle);
    const geometry::Frame X_AS = rod.place.frame().inverse(Eigen::Isometry);
    const double length = kPitchMm * countPitches(*rod.shape);
    std::vector<Taken> taken;
    for (std::size_t p = 0; p < section.parts.size(); ++p) {
        const model::Part& part = section.parts[p];
        if (part.id == rod.id || isPlainAxle(*part.shape)) continue;
        const geometry::Frame X = X_AS * part.place.frame();
        const auto on = std::find_if(part.shape->ports.begin(), part.shape->ports.end(), [&](const parts::Port& port) {
            if (port.kind != PortKind::CrossHole && port.kind != PortKind::Hole && port.kind != PortKind::TurningHole)
                return false;
            const Vec3 at = X * port.origin;
            return isOneLine(Vec3::Zero(), Vec3::UnitX(), at, X.linear() * port.axis) && at.x() > -kEndMm &&
                   at.x() < length + kEndMm;
        });
        if (on == part.shape->ports.end()) continue;
        geometry::Bounds box;
        for (const auto& solid : part.shape->solids) box.include(geometry::calcBounds(solid.solid, X));
        taken.push_back(
            {box.low.x(), box.high.x(), on->kind == PortKind::Hole && part.shape->rings.empty(), static_cast<int>(p)});
    }
    std::sort(taken.begin(), taken.end(), [](const Taken& a, const Taken& b) { return a.lowMm < b.lowMm; });
    return taken;
}

bool isDrivePart(const parts::Shape& shape) {
    return isPlainAxle(shape) || !shape.rings.empty() || shape.family.starts_with("motor") || shape.family == "bush" ||
           shape.family == "driving ring" || shape.family == "straight connector";
}

bool isEndToEnd(const model::Shaft& a, const model::Shaft& b) {
    constexpr std::int64_t kSlackUm = 100, kMostGapUm = base::kPitchUm / 2;
    if (a.axis != b.axis) return false;
    const int k = static_cast<int>(a.axis);
    const bool turned = at(a.atUm, k) > at(b.atUm, k);
    const model::Shaft &first = turned ? b : a, &second = turned ? a : b;
    const std::int64_t gap = at(second.atUm, k) - at(first.atUm, k) - first.lengthUm;
    bool inLine = true;
    for (int other = 0; other < 3; ++other)
        inLine &= other == k || std::abs(at(a.atUm, other) - at(b.atUm, other)) < kSlackUm;
    return inLine && gap > -kSlackUm && gap <= kMostGapUm;
}

base::Result<model::NewPart> makeAxlePart(const model::Board& board, const model::Shaft& shaft) {
    const int pitches =
        std::max(kShortestAxle, static_cast<int>(std::ceil(base::umToMm(shaft.lengthUm) / kPitchMm - 1e-9)));
    if (pitches > kLongestAxle)
        return Error{"line.axle",
                     "the longest axle is " + std::to_string(kLongestAxle) + " pitches long: couple two of them", ""};
    return makePart(board, "axle " + std::to_string(pitches), alongAxis(shaft.axis, toMm(shaft.atUm)),
                    {"line.axle", "there is no axle of " + std::to_string(pitches) + " pitches", ""});
}

base::Result<model::NewPart> makeWheelPart(const model::Board& board, const model::Shaft& shaft,
                                           const model::Gear& gear) {
    Vec3 centre = toMm(shaft.atUm);
    centre[static_cast<int>(shaft.axis)] += base::umToMm(gear.alongUm);
    return makePart(board, model::getWheelShape(gear), alongAxis(shaft.axis, centre),
                    {"gear.teeth",
                     "there is no such part: " + describeWheel(gear.kind, gear.teeth, gear.loose) +
                         (gear.leftHand ? ", left hand" : ""),
                     ""});
}

base::Result<model::NewPart> makeRackPart(const model::Board& board, const model::Gear& rack, bool down) {
    const std::string name = model::getWheelShape(rack);
    const Error missing{"gear.teeth", "there is no rack of " + std::to_string(rack.teeth) + " teeth", ""};
    const auto shape = parts::makeShape(name);
    if (!shape) return missing;
    const parts::ToothRing& ring = (*shape)->rings.front();
    const int k = static_cast<int>(rack.axis);
    // Its own way along x (or y, z) of the board, its teeth up in the plane, or to the right where it runs up.
    const Vec3 way = Vec3::Unit(k);
    const Vec3 face = (down ? -1 : 1) * (rack.axis == BoardAxis::Up ? Vec3::UnitX() : Vec3::UnitY());
    geometry::Mat3 own, wanted;
    own << ring.axis, ring.face, ring.axis.cross(ring.face);
    wanted << way, face, way.cross(face);
    const geometry::Mat3 R = wanted * own.transpose();
    Vec3 middle = toMm(rack.atUm);
    middle[k] += ring.halfLengthMm;
    return makePart(board, name, geometry::makeFrame(R, middle - R * ring.centre), missing);
}

} // namespace ivrant::drive
