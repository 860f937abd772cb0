// SPDX-License-Identifier: GPL-3.0-or-later
// Gears, worm, rack, differential, clutch, pulleys, chain, linear actuators, motors, battery box. Wheels lie with their
// axis along x and their middle plane at x = 0, so that they slide onto an axle. Module 1: pitch diameter in mm =
// teeth. They collide as their pitch cylinders, so that wheels in mesh just touch.
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

constexpr double kWheelHalfMm = 3.9;
constexpr int kLeastWithPins = 24;             ///< teeth of the smallest wheel with pin holes a pitch from its bore
constexpr double kTipMm = 1.0, kRootMm = 1.15; ///< above and below the pitch line

/// A hole along x open at both ends.
void addBore(ShapeBuilder& b, PortKind kind, const std::string& name, const Vec3& at, double depth,
             const std::vector<int>& bodies) {
    b.addPort(kind, name + "+", at, Vec3::UnitX(), Vec3::UnitZ(), bodies).depth = depth;
    b.addPort(kind, name + "-", at, -Vec3::UnitX(), Vec3::UnitZ(), bodies).depth = depth;
}

/// Prism of a convex outline in (y, z), counter-clockwise seen from +x.
geometry::Solid makeAcross(const std::vector<Eigen::Vector2d>& yz, double x0, double x1) {
    geometry::Mat3 r;
    r.col(0) = Vec3::UnitY();
    r.col(1) = Vec3::UnitZ();
    r.col(2) = Vec3::UnitX();
    return geometry::makePrism(geometry::makeFrame(r, Vec3(0.5 * (x0 + x1), 0, 0)), yz, 0.5 * (x1 - x0));
}
Eigen::Vector2d polar(double radius, double angle) { return {radius * std::cos(angle), radius * std::sin(angle)}; }

/// Disc with teeth in the picture; collides as the pitch cylinder.
int addToothed(ShapeBuilder& b, int teeth, double x0, double x1) {
    const double pitch = teeth / 2.0, step = 2 * base::kPi / teeth;
    b.addPicture(geometry::makeCylinder({x0, 0, 0}, {x1, 0, 0}, pitch - kRootMm));
    for (int i = 0; i < teeth; ++i) {
        const double a = i * step, root = pitch - kRootMm - 0.1, tip = pitch + kTipMm;
        b.addPicture(makeAcross({polar(root, a - 0.32 * step), polar(tip, a - 0.13 * step), polar(tip, a + 0.13 * step),
                                 polar(root, a + 0.32 * step)},
                                x0, x1));
    }
    return b.addContact(geometry::makeCylinder({x0, 0, 0}, {x1, 0, 0}, pitch));
}

Shape makeWheel(const Family& family, Size size, PortKind bore, GearKind kind) {
    ShapeBuilder b(family.name, makeName(family, size), family.fillFactor);
    const int body = addToothed(b, size.a, -kWheelHalfMm, kWheelHalfMm);
    addBore(b, bore, bore == PortKind::CrossHole ? "cross" : "hole", Vec3::Zero(), kHalf, {body});
    if (size.a >= kLeastWithPins) // beside the bore, for a pin that drives a rod
        for (int k = 0; k < 4; ++k) {
            const double a = k * base::kPi / 2;
            addBore(b, PortKind::Hole, "pin " + std::to_string(k),
                    {0, std::round(std::cos(a)) * kPitchMm, std::round(std::sin(a)) * kPitchMm}, kHalf, {body});
        }
    b.addRing(kind, size.a, {body});
    return std::move(b).build();
}
Shape makeSpur(const Family& f, Size s) { return makeWheel(f, s, PortKind::CrossHole, GearKind::Spur); }
Shape makeBevel(const Family& f, Size s) { return makeWheel(f, s, PortKind::CrossHole, GearKind::Bevel); }
Shape makeRoundBore(const Family& f, Size s) { return makeWheel(f, s, PortKind::Hole, GearKind::Spur); }
Shape makeBevelRoundBore(const Family& f, Size s) { return makeWheel(f, s, PortKind::Hole, GearKind::Bevel); }

Shape makeCrown(const Family& family, Size size) {
    ShapeBuilder b(family.name, makeName(family, size), family.fillFactor);
    const double pitch = size.a / 2.0, step = 2 * base::kPi / size.a;
    const int body = b.addCylinder({-kWheelHalfMm, 0, 0}, {kWheelHalfMm - 2.2, 0, 0}, pitch);
    for (int i = 0; i < size.a; ++i) {
        const double a = i * step;
        b.addPicture(makeAcross({polar(pitch - 3, a - 0.25 * step), polar(pitch, a - 0.2 * step),
                                 polar(pitch, a + 0.2 * step), polar(pitch - 3, a + 0.25 * step)},
                                kWheelHalfMm - 2.3, kWheelHalfMm));
    }
    addBore(b, PortKind::CrossHole, "cross", Vec3::Zero(), kHalf, {body});
    b.addRing(GearKind::Crown, size.a, {body});
    return std::move(b).build();
}

Shape makeWorm(const Family& family, Size size) {
    ShapeBuilder b(family.name, makeName(family, size), family.fillFactor);
    const int body = b.addContact(geometry::makeCylinder({-7.9, 0, 0}, {7.9, 0, 0}, 4));
    b.addPicture(geometry::makeCylinder({-7.9, 0, 0}, {7.9, 0, 0}, 3.2));
    for (int i = 0; i < 5; ++i) { // the thread's turns as collars a lead apart
        const double x = (i - 2) * base::kPi;
        b.addPicture(geometry::makeCylinder({x - 0.7, 0, 0}, {x + 0.7, 0, 0}, 5));
    }
    addBore(b, PortKind::CrossHole, "cross", Vec3::Zero(), kPitchMm, {body});
    b.addRing(GearKind::Worm, 1, {body});
    return std::move(b).build();
}

/// Plate 1xN with teeth on top across y; its pitch line lies above the plate by what teeth reach below it.
Shape makeRack(const Family& family, Size size) {
    ShapeBuilder b(family.name, makeName(family, size), family.fillFactor);
    const double y0 = -kHalf, y1 = size.a * kPitchMm - kHalf;
    const int body = b.addBody({-kHalf, y0, 0}, {kHalf, y1, kPlateMm});
    const int teeth = static_cast<int>((y1 - y0) / base::kPi);
    for (int i = 0; i < teeth; ++i) {
        const double y = y0 + (i + 0.5) * base::kPi;
        b.addPicture(makeAcross({{y - 1.3, kPlateMm - 0.05},
                                 {y + 1.3, kPlateMm - 0.05},
                                 {y + 0.45, kPlateMm + 2.1},
                                 {y - 0.45, kPlateMm + 2.1}},
                                -kHalf + 0.1, kHalf - 0.1));
    }
    const int row = b.addContact(
        geometry::makeBox({-kHalf + 0.1, y0 + 0.1, kPlateMm - 0.05}, {kHalf - 0.1, y1 - 0.1, kPlateMm + kRootMm}));
    b.addUnderside(1, size.a, {body});
    ToothRing& ring = b.addRing(GearKind::Rack, teeth, {row});
    ring.centre = {0, 0.5 * (y0 + y1), kPlateMm + kRootMm};
    ring.axis = Vec3::UnitY();
    ring.face = Vec3::UnitZ();
    ring.halfLengthMm = 0.5 * (y1 - y0);
    return std::move(b).build();
}

Shape makeRingGear(const Family& family, Size size) {
    ShapeBuilder b(family.name, makeName(family, size), family.fillFactor);
    constexpr int kPieces = 24;
    const double inner = size.a / 2.0, outer = inner + 4, step = 2 * base::kPi / kPieces;
    std::vector<int> bodies;
    for (int i = 0; i < kPieces; ++i) {
        const double a = i * step, c = a + step;
        const auto piece = makeAcross({polar(inner, a), polar(outer, a), polar(outer, c), polar(inner, c)},
                                      -kWheelHalfMm, kWheelHalfMm);
        b.addPicture(piece);
        bodies.push_back(b.addContact(piece));
    }
    const double tooth = 2 * base::kPi / size.a;
    for (int i = 0; i < size.a; ++i) {
        const double a = i * tooth;
        b.addPicture(makeAcross({polar(inner - kTipMm, a - 0.13 * tooth), polar(inner + 0.1, a - 0.3 * tooth),
                                 polar(inner + 0.1, a + 0.3 * tooth), polar(inner - kTipMm, a + 0.13 * tooth)},
                                -kWheelHalfMm, kWheelHalfMm));
    }
    for (int k = 0; k < 4; ++k) {
        const double a = k * base::kPi / 2;
        addBore(b, PortKind::Hole, "hole " + std::to_string(k),
                {0, (inner + 2) * std::cos(a), (inner + 2) * std::sin(a)}, kHalf, bodies);
    }
    b.addRing(GearKind::Ring, size.a, bodies);
    return std::move(b).build();
}

/// Case three pitches long with a wheel of 28 in its middle; the axles of both sides end in it.
Shape makeDifferential(const Family& family, Size size) {
    ShapeBuilder b(family.name, makeName(family, size), family.fillFactor);
    const int wheel = addToothed(b, 28, -kWheelHalfMm, kWheelHalfMm);
    const int cage = b.addCylinder({-11.9, 0, 0}, {11.9, 0, 0}, 8);
    b.addPort(PortKind::TurningHole, "side+", {kPitchMm, 0, 0}, Vec3::UnitX(), Vec3::UnitZ(), {wheel, cage}).depth =
        kHalf;
    b.addPort(PortKind::TurningHole, "side-", {-kPitchMm, 0, 0}, -Vec3::UnitX(), Vec3::UnitZ(), {wheel, cage}).depth =
        kHalf;
    b.addRing(GearKind::Differential, 28, {wheel});
    return std::move(b).build();
}

Shape makeRound(const Family& family, Size size, double radius) {
    ShapeBuilder b(family.name, makeName(family, size), family.fillFactor);
    const int body = b.addCylinder({-kWheelHalfMm, 0, 0}, {kWheelHalfMm, 0, 0}, radius);
    addBore(b, PortKind::CrossHole, "cross", Vec3::Zero(), kHalf, {body});
    return std::move(b).build();
}
Shape makeDrivingRing(const Family& f, Size s) { return makeRound(f, s, 7.5); }
Shape withRing(Shape shape, GearKind kind, int teeth) {
    shape.rings.push_back({kind, teeth, Vec3::Zero(), Vec3::UnitX(), Vec3::Zero(), 0, {}});
    return shape;
}
Shape makePulley(const Family& f, Size s) { return withRing(makeRound(f, s, s.a / 2.0), GearKind::Pulley, s.a); }
Shape makeSprocket(const Family& f, Size s) {
    return withRing(makeRound(f, s, kHalf / std::sin(base::kPi / s.a)), GearKind::Sprocket, s.a);
}

Shape makeLink(const Family& family, Size size, bool catches) {
    ShapeBuilder b(family.name, makeName(family, size), family.fillFactor);
    const int body = b.addBox({-kHalf + 0.1, -3.7, -2}, {kHalf - 0.1, 3.7, 2});
    if (catches) b.addBox({-1.5, -3.7, 1.9}, {1.5, 3.7, 9});
    addBore(b, PortKind::Hole, "hole", Vec3::Zero(), 1, {body});
    return std::move(b).build();
}
Shape makeChainLink(const Family& f, Size s) { return makeLink(f, s, false); }
Shape makeCatchLink(const Family& f, Size s) { return makeLink(f, s, true); }

/// Ring of rubber, N mm round: drawn as it lies, a flat ring of eight pieces.
Shape makeBelt(const Family& family, Size size) {
    ShapeBuilder b(family.name, makeName(family, size), family.fillFactor);
    constexpr double kThickMm = 2;
    const double radius = size.a / (2 * base::kPi);
    for (int i = 0; i < 8; ++i) {
        const double from = i * base::kPi / 4, to = from + base::kPi / 4;
        b.addCylinder({radius * std::cos(from), radius * std::sin(from), kThickMm / 2},
                      {radius * std::cos(to), radius * std::sin(to), kThickMm / 2}, kThickMm / 2);
    }
    return std::move(b).build();
}

/// Screw in a case N pitches long when it is in; the rod comes out by half of that.
Shape makeActuator(const Family& family, Size size) {
    ShapeBuilder b(family.name, makeName(family, size), family.fillFactor);
    const double length = size.a * kPitchMm;
    const int body = b.addBox({0, -7.9, -7.9}, {length * 0.7, 7.9, 7.9});
    const int rod = b.addCylinder({length * 0.7, 0, 0}, {length - kHalf, 0, 0}, 3.5);
    const int eye = b.addCylinder({length - kHalf, -3.9, 0}, {length - kHalf, 3.9, 0}, 3.7);
    b.addPort(PortKind::TurningHole, "drive", {kHalf, 0, 0}, -Vec3::UnitX(), Vec3::UnitZ(), {body}).depth = kHalf;
    b.addRing(GearKind::Actuator, size.a, {}).centre = {0.5 * length, 0, 0};
    for (const double side : {1.0, -1.0}) {
        const std::string back = side > 0 ? "" : " back";
        b.addPort(PortKind::Hole, "eye" + back, {length - kHalf, 0, 0}, Vec3::UnitY() * side, Vec3::UnitX(), {rod, eye})
            .depth = kHalf;
        b.addPort(PortKind::Hole, "foot" + back, {kPitchMm, 0, 0}, Vec3::UnitY() * side, Vec3::UnitX(), {body}).depth =
            kPitchMm;
    }
    return std::move(b).build();
}

/// Box of A pitches along x, B wide and tall, with a turning hole in the middle of its +x face and studs on top.
Shape makeMotor(const Family& family, int a, int w) {
    ShapeBuilder b(family.name, family.name, family.fillFactor);
    const double x1 = a * kPitchMm - kHalf, half = w * kHalf;
    const int body = b.addBody({-kHalf, -half, 0}, {x1, half, w * kPitchMm});
    b.addPicture(geometry::makeCylinder({x1 - 0.1, 0, half}, {x1 + 0.8, 0, half}, 5)); // where its shaft is
    b.addPort(PortKind::TurningHole, "drive", {x1 - kHalf, 0, half}, Vec3::UnitX(), Vec3::UnitZ(), {body}).depth =
        kHalf;
    for (int j = 0; j < w; ++j)
        for (int i = 0; i < a; ++i) {
            const Vec3 at(i * kPitchMm, -half + kHalf + j * kPitchMm, 0);
            if (j == 0 || j == w - 1) b.addStud(gridName("stud", i, j), at + Vec3(0, 0, w * kPitchMm), Vec3::UnitZ());
            b.addCell(gridName("cell", i, j), at, {body});
        }
    return std::move(b).build();
}
Shape makeSmallMotor(const Family& f, Size) { return makeMotor(f, 4, 3); }
Shape makeMediumMotor(const Family& f, Size) { return makeMotor(f, 6, 3); }
Shape makeLargeMotor(const Family& f, Size) { return makeMotor(f, 7, 4); }
Shape makeSteeringMotor(const Family& f, Size) { return makeMotor(f, 5, 4); }

Shape makeBatteryBox(const Family& family, Size size) {
    ShapeBuilder b(family.name, makeName(family, size), family.fillFactor);
    const int body = b.addBody({-kHalf, -kHalf, 0}, {7 * kHalf, 15 * kHalf, 12 * kPlateMm});
    b.addStudGrid(4, 8, 12 * kPlateMm);
    b.addUnderside(4, 8, {body});
    return std::move(b).build();
}

template <int... kAllowed> bool isOneOf(Size s) { return ((s.a == kAllowed) || ...); }

} // namespace

std::span<const Family> getDriveFamilies() {
    static const std::array<Family, 22> families{
        counted("spur gear", "gear/gear spur", 8, 60, 24, 0.5, makeSpur,
                "Wheel of N teeth on an axle; pitch diameter N mm. From 24 teeth on with pin holes a pitch from its "
                "middle.",
                "N 8, 12, 16, 20, 24, 28, 36, 40, 56 or 60", isOneOf<8, 12, 16, 20, 24, 28, 36, 40, 56, 60>),
        counted("double bevel gear", "bevel gear/gear bevel", 12, 36, 12, 0.5, makeBevel,
                "Wheel of N teeth that meshes with parallel axles and across.", "N 12, 20, 28 or 36",
                isOneOf<12, 20, 28, 36>),
        counted("idler gear", "gear idler/round bore gear", 8, 40, 12, 0.5, makeRoundBore,
                "Wheel of N teeth with a round bore: it turns on its axle by itself.", "N 8, 12, 28, 36 or 40",
                isOneOf<8, 12, 28, 36, 40>),
        counted("double bevel idler", "bevel idler", 12, 20, 12, 0.5, makeBevelRoundBore,
                "Double bevel wheel of N teeth with a round bore.", "N 12 or 20", isOneOf<12, 20>),
        counted("crown gear", "gear crown", 24, 24, 24, 0.5, makeCrown, "Wheel of 24 teeth on its +x face.", "N 24"),
        single("worm gear", "worm", 0.6, makeWorm, "Screw two pitches long with one start; pitch diameter 8 mm."),
        counted("rack", "gear rack/toothed rack", 4, 13, 8, 0.62, makeRack,
                "Plate 1xN with teeth on top, one every 3.14 mm.", "N 4 to 13 pitches"),
        counted("ring gear", "internal gear/gear ring", 40, 60, 56, 0.5, makeRingGear,
                "Ring with N teeth inside and four pin holes.", "N 40, 56 or 60", isOneOf<40, 56, 60>),
        single("differential", "gear differential", 0.5, makeDifferential,
               "Case with a wheel of 28; the axles of both sides end in it."),
        counted("clutch gear", "gear clutch", 16, 24, 24, 0.5, makeRoundBore,
                "Wheel of N teeth with a round bore: it turns on its axle until a driving ring takes it along.",
                "N 16, 20 or 24", isOneOf<16, 20, 24>),
        single("driving ring", "clutch ring", 0.55, makeDrivingRing,
               "Ring that slides on its axle and takes a clutch gear along."),
        counted("pulley", "", 8, 48, 24, 0.5, makePulley, "Grooved wheel for belt or string, N mm across the groove.",
                "N 8, 16, 24, 32, 40 or 48", isOneOf<8, 16, 24, 32, 40, 48>),
        counted("sprocket", "chain wheel", 6, 40, 10, 0.5, makeSprocket, "Wheel for N links of chain, a pitch each.",
                "N 6, 8, 10, 16, 20, 24, 32 or 40", isOneOf<6, 8, 10, 16, 20, 24, 32, 40>),
        single("chain link", "link chain", 0.5, makeChainLink, "One link of chain, a pitch long."),
        single("catch link", "chain catch/catch chain link", 0.5, makeCatchLink,
               "Link of chain with a finger that carries something along."),
        counted("belt", "drive belt", 48, 512, 96, 1.0, makeBelt,
                "Rubber ring for pulleys, N mm round when it lies slack; lengths are starting values.",
                "N 48, 72, 96, 128, 160, 208, 256, 320, 400 or 512 mm",
                isOneOf<48, 72, 96, 128, 160, 208, 256, 320, 400, 512>),
        counted("linear actuator", "actuator linear/screw actuator", 9, 13, 9, 0.55, makeActuator,
                "Screw in a case N pitches long when it is in; an axle at its foot drives it.", "N 9 or 13 pitches",
                isOneOf<9, 13>),
        single("motor small", "small motor", 0.9, makeSmallMotor,
               "Motor body, 4 pitches by 3; its shaft is at the +x face."),
        single("motor medium", "medium motor/motor", 0.9, makeMediumMotor,
               "Motor body, 6 pitches by 3; its shaft is at the +x face."),
        single("motor large", "large motor", 0.9, makeLargeMotor,
               "Motor body, 7 pitches by 4; its shaft is at the +x face."),
        single("motor steering", "steering motor", 0.9, makeSteeringMotor,
               "Motor body, 5 pitches by 4; its shaft is at the +x face."),
        single("battery box", "box battery", 0.9, makeBatteryBox,
               "Box 4x8 with cells inside; the filling is a starting value."),
    };
    return families;
}

} // namespace ivrant::parts::detail
