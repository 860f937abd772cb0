// SPDX-License-Identifier: GPL-3.0-or-later
// Links of figures and frames: bent and frame beams, connectors, axle-pin, bush, limb bones and their covers, hinge
// plates, the large turntable, a holder with a magnet.
#include <array>
#include <cmath>

#include "core/base/units.h"
#include "core/parts/family_table.h"
#include "core/parts/shape_builder.h"

namespace ivrant::parts::detail {
namespace {

using base::kPitchMm;
using base::kPlateMm;
using geometry::Vec3;

constexpr double kSide = kHalf - kSideInsetMm;

/// A hole open at both ends along y: "hole k" opens to +y, "hole k back" to −y.
void addHoleY(ShapeBuilder& b, PortKind kind, const std::string& name, const Vec3& at, const std::vector<int>& bodies) {
    b.addPort(kind, name, at, Vec3::UnitY(), Vec3::UnitX(), bodies).depth = kHalf;
    b.addPort(kind, name + " back", at, -Vec3::UnitY(), Vec3::UnitX(), bodies).depth = kHalf;
}

/// Straight run of beam between two points in the plane y = 0, with round ends. Returns its solids.
std::vector<int> addBeamRun(ShapeBuilder& b, const Vec3& from, const Vec3& to) {
    const Vec3 along = (to - from).normalized();
    const Vec3 across(-along.z(), 0, along.x());
    const std::vector<Eigen::Vector2d> corners{
        {from.x() - kBeamHalfMm * across.x(), from.z() - kBeamHalfMm * across.z()},
        {to.x() - kBeamHalfMm * across.x(), to.z() - kBeamHalfMm * across.z()},
        {to.x() + kBeamHalfMm * across.x(), to.z() + kBeamHalfMm * across.z()},
        {from.x() + kBeamHalfMm * across.x(), from.z() + kBeamHalfMm * across.z()}};
    return {b.addElevation(corners, -kSide, kSide),
            b.addCylinder(from + Vec3(0, -kSide, 0), from + Vec3(0, kSide, 0), kBeamHalfMm),
            b.addCylinder(to + Vec3(0, -kSide, 0), to + Vec3(0, kSide, 0), kBeamHalfMm)};
}

/// A holes along x, then B more from the last one upwards at 90°.
Shape makeAngleBeam(const Family& family, Size size) {
    ShapeBuilder b(family.name, makeName(family, size), family.fillFactor);
    const double corner = (size.a - 1) * kPitchMm, top = (size.b - 1) * kPitchMm;
    auto bodies = addBeamRun(b, Vec3::Zero(), {corner, 0, 0});
    const auto upright = addBeamRun(b, {corner, 0, 0}, {corner, 0, top});
    bodies.insert(bodies.end(), upright.begin(), upright.end());
    int k = 0;
    for (int i = 0; i < size.a; ++i)
        addHoleY(b, PortKind::Hole, "hole " + std::to_string(k++), {i * kPitchMm, 0, 0}, bodies);
    for (int i = 1; i < size.b; ++i)
        addHoleY(b, PortKind::Hole, "hole " + std::to_string(k++), {corner, 0, i * kPitchMm}, bodies);
    return std::move(b).build();
}

/// A holes along x, then B more from the last one at 53.13° upwards: every fifth pitch falls on the grid again (3-4-5).
Shape makeBentBeam(const Family& family, Size size) {
    ShapeBuilder b(family.name, makeName(family, size), family.fillFactor);
    const double corner = (size.a - 1) * kPitchMm, run = (size.b - 1) * kPitchMm;
    const Vec3 way(0.6, 0, 0.8);
    auto bodies = addBeamRun(b, Vec3::Zero(), {corner, 0, 0});
    const auto upright = addBeamRun(b, {corner, 0, 0}, Vec3(corner, 0, 0) + run * way);
    bodies.insert(bodies.end(), upright.begin(), upright.end());
    int k = 0;
    for (int i = 0; i < size.a; ++i)
        addHoleY(b, PortKind::Hole, "hole " + std::to_string(k++), {i * kPitchMm, 0, 0}, bodies);
    for (int i = 1; i < size.b; ++i)
        addHoleY(b, PortKind::Hole, "hole " + std::to_string(k++), Vec3(corner, 0, 0) + i * kPitchMm * way, bodies);
    return std::move(b).build();
}

/// Rectangle of AxB holes round an open middle, in the plane of x and z.
Shape makeFrameBeam(const Family& family, Size size) {
    ShapeBuilder b(family.name, makeName(family, size), family.fillFactor);
    const double wide = (size.a - 1) * kPitchMm, tall = (size.b - 1) * kPitchMm;
    std::vector<int> bodies;
    for (const auto& [from, to] :
         {std::pair(Vec3(0, 0, 0), Vec3(wide, 0, 0)), std::pair(Vec3(wide, 0, 0), Vec3(wide, 0, tall)),
          std::pair(Vec3(wide, 0, tall), Vec3(0, 0, tall)), std::pair(Vec3(0, 0, tall), Vec3(0, 0, 0))}) {
        const auto run = addBeamRun(b, from, to);
        bodies.insert(bodies.end(), run.begin(), run.end());
    }
    for (int i = 0; i < size.a; ++i)
        for (int k = 0; k < size.b; ++k)
            if (i == 0 || k == 0 || i == size.a - 1 || k == size.b - 1)
                addHoleY(b, PortKind::Hole, gridName("hole", i, k), {i * kPitchMm, 0, k * kPitchMm}, bodies);
    return std::move(b).build();
}

void addCross(ShapeBuilder& b, const std::string& name, const Vec3& at, const Vec3& axis,
              const std::vector<int>& bodies) {
    const Vec3 reference = std::abs(axis.z()) > 0.5 ? Vec3::UnitX() : Vec3::UnitZ();
    b.addPort(PortKind::CrossHole, name, at, axis, reference, bodies).depth = kHalf;
}

/// Sleeve two pitches long that joins two axles end to end.
Shape makeStraightConnector(const Family& family, Size size) {
    ShapeBuilder b(family.name, makeName(family, size), family.fillFactor);
    const int body = b.addCylinder({-kPitchMm, 0, 0}, {kPitchMm, 0, 0}, kBeamHalfMm);
    addCross(b, "cross+", {kHalf, 0, 0}, Vec3::UnitX(), {body});
    addCross(b, "cross-", {-kHalf, 0, 0}, -Vec3::UnitX(), {body});
    return std::move(b).build();
}

/// Two sleeves whose axes meet at N degrees, with a pin hole across where they meet.
Shape makeAngleConnector(const Family& family, Size size) {
    ShapeBuilder b(family.name, makeName(family, size), family.fillFactor);
    const double bend = base::degToRad(180.0 - size.a);
    const Vec3 way(std::cos(bend), 0, std::sin(bend));
    const int hub = b.addCylinder({0, -kSide, 0}, {0, kSide, 0}, kBeamHalfMm);
    const int one = b.addCylinder(Vec3::Zero(), {-1.5 * kPitchMm, 0, 0}, kBeamHalfMm),
              two = b.addCylinder(Vec3::Zero(), 1.5 * kPitchMm * way, kBeamHalfMm);
    const std::vector<int> bodies{hub, one, two};
    addHoleY(b, PortKind::Hole, "hole 0", Vec3::Zero(), bodies);
    b.addPort(PortKind::CrossHole, "cross-", {-kPitchMm, 0, 0}, -Vec3::UnitX(), Vec3::UnitZ(), bodies).depth = kHalf;
    b.addPort(PortKind::CrossHole, "cross+", kPitchMm * way, way, Vec3(-way.z(), 0, way.x()), bodies).depth = kHalf;
    return std::move(b).build();
}

/// A cross hole along x and a pin hole along y, one pitch apart, axes at right angles.
Shape makePerpendicularConnector(const Family& family, Size size) {
    ShapeBuilder b(family.name, makeName(family, size), family.fillFactor);
    const int sleeve = b.addCylinder({-kSide, 0, 0}, {kSide, 0, 0}, kBeamHalfMm);
    const int eye = b.addCylinder({0, -kSide, kPitchMm}, {0, kSide, kPitchMm}, kBeamHalfMm);
    const int web = b.addBox({-2.5, -2.5, 0}, {2.5, 2.5, kPitchMm});
    const std::vector<int> bodies{sleeve, eye, web};
    addCross(b, "cross+", Vec3::Zero(), Vec3::UnitX(), bodies);
    addCross(b, "cross-", Vec3::Zero(), -Vec3::UnitX(), bodies);
    addHoleY(b, PortKind::Hole, "hole 0", {0, 0, kPitchMm}, bodies);
    return std::move(b).build();
}

/// Half pin, half axle, on one line.
Shape makeAxlePin(const Family& family, Size size) {
    ShapeBuilder b(family.name, makeName(family, size), family.fillFactor);
    const int pin = b.addCylinder({-kPitchMm, 0, 0}, {0, 0, 0}, kHoleRadiusMm - 0.05),
              axle = b.addCylinder({0, 0, 0}, {kPitchMm, 0, 0}, kHoleRadiusMm - 0.05);
    b.addPort(PortKind::PinRibbed, "end-", {-kHalf, 0, 0}, -Vec3::UnitX(), Vec3::UnitZ(), {pin});
    b.addPort(PortKind::Axle, "at 0", {kHalf, 0, 0}, Vec3::UnitX(), Vec3::UnitZ(), {axle}).depth = 0.5 * kHalf;
    b.addPort(PortKind::Axle, "at 0 back", {kHalf, 0, 0}, -Vec3::UnitX(), Vec3::UnitZ(), {axle}).depth = 0.5 * kHalf;
    return std::move(b).build();
}

/// Ring that keeps things in place on an axle; A tenths of a pitch long (5 or 10).
Shape makeBush(const Family& family, Size size) {
    ShapeBuilder b(family.name, makeName(family, size), family.fillFactor);
    const double half = 0.05 * size.a * kPitchMm - 0.05;
    const int ring = b.addCylinder({-half, 0, 0}, {half, 0, 0}, kBeamHalfMm);
    addCross(b, "hub", Vec3::Zero(), Vec3::UnitX(), {ring});
    addCross(b, "hub back", Vec3::Zero(), -Vec3::UnitX(), {ring});
    return std::move(b).build();
}

constexpr double kBoneBallMm = 3.95, kBoneShaftMm = 2.4, kBoneCupMm = 6.5;

/// Limb bone along y: a large cup at −y, a shaft, a large ball N pitches on.
Shape makeBone(const Family& family, Size size) {
    ShapeBuilder b(family.name, makeName(family, size), family.fillFactor);
    const double length = size.a * kPitchMm;
    const int cup = b.addCylinder({0, 0.2, 0}, {0, -kHalf, 0}, kBoneCupMm);
    const int shaft = b.addCylinder({0, -kHalf, 0}, {0, -length, 0}, kBoneShaftMm);
    const int ball = b.addSphere({0, -length, 0}, kBoneBallMm);
    b.addPort(PortKind::CupLarge, "cup", Vec3::Zero(), Vec3::UnitY(), Vec3::UnitZ(), {cup, shaft});
    b.addPort(PortKind::BallLarge, "ball", {0, -length, 0}, -Vec3::UnitY(), Vec3::UnitZ(), {ball, shaft});
    const int grip = b.addBox({-kHalf + kSideInsetMm, -0.5 * length - kHalf, -kPlateMm},
                              {kHalf - kSideInsetMm, -0.5 * length + kHalf, kPlateMm});
    b.addStud("stud 0,0", {0, -0.5 * length, kPlateMm}, Vec3::UnitZ());
    (void)grip;
    return std::move(b).build();
}

/// Shell over a bone of the same length: sits on its stud.
Shape makeBoneCover(const Family& family, Size size) {
    ShapeBuilder b(family.name, makeName(family, size), family.fillFactor);
    const double half = 0.5 * size.a * kPitchMm - kPitchMm;
    const int roof = b.addBody({-kPitchMm, -half, 0}, {kPitchMm, half, kPlateMm});
    b.addBody({-kPitchMm, -half, -kPitchMm}, {-kPitchMm + 1.6, half, 0});
    b.addBody({kPitchMm - 1.6, -half, -kPitchMm}, {kPitchMm, half, 0});
    b.addCell("cell 0,0", Vec3::Zero(), {roof});
    return std::move(b).build();
}

constexpr int kKnuckleSides = 8;

/// Half of a hinge plate pair: plate 2x1; the hinge axis along x beyond its +y (lower) or −y (upper) edge, level with
/// the underside. At 0° the undersides lie on each other, at 180° the plates lie in line.
Shape makeHingePlate(const Family& family, Size size, bool lower) {
    ShapeBuilder b(family.name, makeName(family, size), family.fillFactor);
    const int body = b.addBody({-kHalf, -kHalf, 0}, {kPitchMm + kHalf, kHalf, kPlateMm});
    const double away = lower ? 1.0 : -1.0;
    const Vec3 centre(kHalf, away * (kHalf + 1.6), 0);
    const double from = lower ? -kHalf + 0.2 : 0.1, to = lower ? -0.1 : kPitchMm - 0.1;
    std::vector<int> knuckles;
    const auto knuckle = [&](double x0, double x1) {
        std::vector<Eigen::Vector2d> half; // nothing reaches below the plate
        for (int i = 0; i <= kKnuckleSides; ++i) {
            const double angle = base::kPi * i / kKnuckleSides;
            half.emplace_back(centre.y() + 1.6 * std::cos(angle), 1.6 * std::sin(angle));
        }
        knuckles.push_back(b.addProfile(half, x0 - kSideInsetMm, x1 + kSideInsetMm));
        const double y0 = centre.y(), y1 = away * (kHalf - 0.5);
        knuckles.push_back(b.addBox({x0, std::min(y0, y1), 0}, {x1, std::max(y0, y1), 1.5}));
    };
    knuckle(from, to);
    if (lower) knuckle(kPitchMm + 0.1, kPitchMm + kHalf - 0.2);
    b.addPort(lower ? PortKind::HingePlateLower : PortKind::HingePlateUpper, "hinge", centre, Vec3::UnitX() * away,
              Vec3::UnitY() * away, knuckles);
    b.addStudGrid(2, 1, kPlateMm);
    b.addUnderside(2, 1, {body});
    return std::move(b).build();
}
Shape makeHingePlateLower(const Family& f, Size s) { return makeHingePlate(f, s, true); }
Shape makeHingePlateUpper(const Family& f, Size s) { return makeHingePlate(f, s, false); }

constexpr double kGearedRadiusMm = 28;

/// Half of the large geared turntable: a ring 56 mm across with an open middle; four pin holes stand around it.
Shape makeGeared(const Family& family, Size size, bool lower) {
    ShapeBuilder b(family.name, makeName(family, size), family.fillFactor);
    std::vector<int> ring; // eight boxes round the open middle
    for (int i = 0; i < 8; ++i) {
        const double a0 = base::kPi * (i - 0.5) / 4, a1 = base::kPi * (i + 0.5) / 4,
                     outer = kGearedRadiusMm / std::cos(base::kPi / 8) * 0.96, inner = 14;
        ring.push_back(b.addPlan({{inner * std::cos(a0), inner * std::sin(a0)},
                                  {outer * std::cos(a0), outer * std::sin(a0)},
                                  {outer * std::cos(a1), outer * std::sin(a1)},
                                  {inner * std::cos(a1), inner * std::sin(a1)}},
                                 0, kPitchMm - 0.2));
    }
    for (int i = 0; i < 4; ++i) {
        const double angle = base::kPi * i / 2;
        const Vec3 at(std::round(std::cos(angle)) * 2.5 * kPitchMm, std::round(std::sin(angle)) * 2.5 * kPitchMm,
                      0.5 * kPitchMm);
        b.addPort(PortKind::Hole, "hole " + std::to_string(i), at, Vec3::UnitZ() * (lower ? -1.0 : 1.0), Vec3::UnitX(),
                  ring)
            .depth = kHalf;
    }
    if (lower)
        b.addPort(PortKind::GearedLower, "lower", {0, 0, kPitchMm}, Vec3::UnitZ(), Vec3::UnitX(), ring);
    else
        b.addPort(PortKind::GearedUpper, "upper", {0, 0, 0}, -Vec3::UnitZ(), Vec3::UnitX(), ring);
    if (!lower) { // the upper half carries the teeth
        ToothRing& teeth = b.addRing(GearKind::Turntable, 56, ring);
        teeth.centre = {0, 0, 0.5 * kPitchMm};
        teeth.axis = Vec3::UnitZ();
    }
    return std::move(b).build();
}
Shape makeGearedLower(const Family& f, Size s) { return makeGeared(f, s, true); }
Shape makeGearedUpper(const Family& f, Size s) { return makeGeared(f, s, false); }

/// Plate 1x1 with a curved claw beyond its +y edge.
Shape makeClawPlate(const Family& family, Size size) {
    ShapeBuilder b(family.name, makeName(family, size), family.fillFactor);
    const int body = b.addBody({-kHalf, -kHalf, 0}, {kHalf, kHalf, kPlateMm});
    b.addProfile({{kHalf - 0.2, 0.6}, {kHalf + 4.5, -0.8}, {kHalf + 4.5, 1.4}, {kHalf - 0.2, kPlateMm}}, -1.6, 1.6);
    b.addProfile({{kHalf + 4.3, -0.8}, {kHalf + 8.0, -4.2}, {kHalf + 4.3, 1.4}}, -1.2, 1.2);
    b.addStudGrid(1, 1, kPlateMm);
    b.addUnderside(1, 1, {body});
    return std::move(b).build();
}

/// Brick 2x2 with a magnet behind its +y face: the magnet is enclosed.
Shape makeEyePlate(const Family& family, Size size) {
    ShapeBuilder b(family.name, makeName(family, size), family.fillFactor);
    const int body = b.addBody({-kHalf, -kHalf, 0}, {kHalf, kHalf, kPlateMm});
    b.addUnderside(1, 1, {body});
    constexpr double kThick = 1.2, kOuter = 2.6, kTop = 7.2;
    const int right = b.addBox({-kThick, -kOuter, kPlateMm}, {kThick, -kOuter + kThick, kTop}),
              left = b.addBox({-kThick, kOuter - kThick, kPlateMm}, {kThick, kOuter, kTop}),
              top = b.addBox({-kThick, -kOuter, kTop - kThick}, {kThick, kOuter, kTop});
    b.addPort(PortKind::Eye, "eye", {0, 0, (kPlateMm + kTop - kThick) / 2}, Vec3::UnitX(), Vec3::UnitZ(),
              {right, left, top});
    return std::move(b).build();
}
Shape makeMagnetHolder(const Family& family, Size size) {
    ShapeBuilder b(family.name, makeName(family, size), family.fillFactor);
    const int body = b.addBody({-kHalf, -kHalf, 0}, {3 * kHalf, 3 * kHalf, base::kBrickMm});
    b.addStudGrid(2, 2, base::kBrickMm);
    b.addUnderside(2, 2, {body});
    return std::move(b).build();
}

/// Half of a universal joint: a sleeve for an axle and a fork of two arms; the two forks stand across each other in the
/// middle.
Shape makeUniversal(const Family& family, Size size, bool carrying) {
    ShapeBuilder b(family.name, makeName(family, size), family.fillFactor);
    const double way = carrying ? -1 : 1; // the sleeve lies on this side of the centre
    const int sleeve = b.addCylinder({way * kHalf, 0, 0}, {way * 1.5 * kPitchMm, 0, 0}, 3.5);
    std::vector<int> arms;
    for (const double side : {-1.0, 1.0}) {
        const double in = side * 1.9, out = side * 3.4, y0 = std::min(in, out), y1 = std::max(in, out),
                     x0 = std::min(way * kHalf, -way * 1.5), x1 = std::max(way * kHalf, -way * 1.5);
        arms.push_back(carrying ? b.addBox({x0, y0, -1.5}, {x1, y1, 1.5}) : b.addBox({x0, -1.5, y0}, {x1, 1.5, y1}));
    }
    b.addPort(carrying ? PortKind::UniversalFork : PortKind::UniversalCross, "fork", Vec3::Zero(), Vec3::UnitX() * -way,
              Vec3::UnitY(), arms);
    addCross(b, "cross", {way * kPitchMm, 0, 0}, Vec3::UnitX() * way, {sleeve});
    return std::move(b).build();
}
Shape makeUniversalFork(const Family& f, Size s) { return makeUniversal(f, s, true); }
Shape makeUniversalCross(const Family& f, Size s) { return makeUniversal(f, s, false); }

bool isConnectorAngle(Size s) { return s.a == 90 || s.a == 112 || s.a == 135 || s.a == 157; }
bool isBushLength(Size s) { return s.a == 5 || s.a == 10; }
bool isFrameSize(Size s) { return s.a >= 3 && s.b >= 3; }

} // namespace

std::span<const Family> getLinkFamilies() {
    static const std::array<Family, 20> families{
        paired("angle beam", "beam angle/L beam", Size{2, 2}, Size{7, 7}, Size{4, 2}, 0.6, makeAngleBeam,
               "Beam of A holes along x and B upwards from the last one, sharing the corner hole.", "A and B 2 to 7"),
        paired("bent beam", "beam bent", Size{2, 2}, Size{7, 7}, Size{4, 4}, 0.6, makeBentBeam,
               "Beam of A holes along x and B onwards from the last one, bent up by 53.13°: its holes meet the grid "
               "again after five pitches.",
               "A and B 2 to 7"),
        paired("frame beam", "beam frame", Size{3, 3}, Size{11, 7}, Size{5, 7}, 0.6, makeFrameBeam,
               "Rectangle of AxB holes round an open middle.", "A 3 to 11, B 3 to 7", isFrameSize),
        single("straight connector", "connector straight/axle connector", 0.6, makeStraightConnector,
               "Sleeve that joins two axles end to end."),
        counted("angled connector", "connector angled", 90, 157, 135, 0.6, makeAngleConnector,
                "Two axle sleeves whose axes meet at N degrees, with a pin hole across where they meet.",
                "N 90, 112, 135 or 157 degrees", isConnectorAngle),
        single("perpendicular connector", "connector perpendicular/cross connector", 0.6, makePerpendicularConnector,
               "Axle sleeve along x and a pin hole along y one pitch above it."),
        single("axle-pin", "axle pin/pin axle", 0.65, makeAxlePin, "Half ribbed pin, half axle."),
        counted("bush", "axle bush", 5, 10, 10, 0.6, makeBush, "Ring on an axle, N tenths of a pitch long.",
                "N 5 or 10", isBushLength),
        counted("limb bone", "bone", 3, 9, 5, 0.6, makeBone,
                "Bone with a large cup and, N pitches on, a large ball; a stud in its middle takes a cover.",
                "N 3 to 9 pitches"),
        counted("bone cover", "limb cover", 3, 9, 5, 0.8, makeBoneCover,
                "Shell over a limb bone of N pitches, one pitch shorter at each end.", "N 3 to 9 pitches"),
        single("hinge plate lower", "lower hinge plate", 0.62, makeHingePlateLower,
               "Plate 2x1 with two knuckles at its +y edge; turns from 0 to 180° against the upper half."),
        single("hinge plate upper", "upper hinge plate", 0.62, makeHingePlateUpper,
               "Plate 2x1 with one knuckle at its -y edge."),
        single("large geared turntable lower", "geared turntable lower", 0.5, makeGearedLower,
               "Ring 56 mm across, open in the middle, with four pin holes below."),
        single("large geared turntable upper", "geared turntable upper", 0.5, makeGearedUpper,
               "Ring of 56 teeth that turns on the lower half, with four pin holes on top."),
        single("universal joint fork", "", 0.6, makeUniversalFork,
               "Carrying half of a universal joint: sleeve for an axle at -x, fork at +x whose arms lie at -y and +y."),
        single("universal joint cross", "", 0.6, makeUniversalCross,
               "Carried half of a universal joint: fork at -x with the cross, arms at -z and +z; sleeve for an axle at "
               "+x."),
        single("claw plate", "plate claw", 0.62, makeClawPlate,
               "Plate 1x1 with a claw that curves down beyond its +y edge."),
        single("eye plate", "plate eye/guide eye", 0.62, makeEyePlate,
               "Plate 1x1 with an eye on top that a string goes through along x, or is tied to."),
        single("magnet holder", "holder magnet", 1.2, makeMagnetHolder,
               "Brick 2x2 with a magnet enclosed behind its +y face; the filling is a starting value. Never where "
               "children can reach a loose magnet."),
        counted(
            "spring strut", "strut spring", 5, 9, 6, 0.5,
            [](const Family& family, Size size) {
                ShapeBuilder b(family.name, makeName(family, size), family.fillFactor);
                const double length = size.a * kPitchMm;
                const int low = b.addCylinder({0, -kSide, 0}, {0, kSide, 0}, kBeamHalfMm),
                          high = b.addCylinder({length, -kSide, 0}, {length, kSide, 0}, kBeamHalfMm);
                const int spring = b.addCylinder({kHalf, 0, 0}, {length - kHalf, 0, 0}, 6.0);
                addHoleY(b, PortKind::Hole, "hole 0", Vec3::Zero(), {low, spring});
                addHoleY(b, PortKind::Hole, "hole 1", {length, 0, 0}, {high, spring});
                return std::move(b).build();
            },
            "Spring between two eyes N pitches apart, at rest; it is taken as rigid.", "N 5 to 9 pitches"),
    };
    return families;
}

} // namespace ivrant::parts::detail
