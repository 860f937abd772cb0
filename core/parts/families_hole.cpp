// SPDX-License-Identifier: GPL-3.0-or-later
// Bars, bricks with pin holes, beams, pins, axles and wheels.
#include <array>

#include "core/base/units.h"
#include "core/parts/family.h"
#include "core/parts/family_table.h"
#include "core/parts/shape_builder.h"

namespace ivrant::parts::detail {
namespace {

using base::kBrickMm;
using base::kPitchMm;
using geometry::Vec3;

constexpr double kBrickHoleHeightMm = 5.6;

Shape makeBar(const Family& family, Size size) {
    ShapeBuilder b(family.name, makeName(family, size), family.fillFactor);
    const double length = size.a * kPitchMm;
    const int bar = b.addCylinder({0, 0, 0}, {length, 0, 0}, kBarRadiusMm);
    for (int k = 0; k < size.a; ++k)
        b.addPort(PortKind::Bar, "bar " + std::to_string(k), {kHalf + k * kPitchMm, 0, 0}, Vec3::UnitX(), Vec3::UnitZ(),
                  {bar})
            .depth = kHalf;
    b.addPort(PortKind::BarEnd, "end+", {length, 0, 0}, Vec3::UnitX(), Vec3::UnitZ(), {bar});
    b.addPort(PortKind::BarEnd, "end-", {0, 0, 0}, -Vec3::UnitX(), Vec3::UnitZ(), {bar});
    return std::move(b).build();
}

/// Brick 1 x N along y, holes along x between the studs (in the middle when N is 1).
Shape makePinHoleBrick(const Family& family, Size size) {
    ShapeBuilder b(family.name, makeName(family, size), family.fillFactor);
    const int body = b.addBody({-kHalf, -kHalf, 0}, {kHalf, size.b * kPitchMm - kHalf, kBrickMm});
    b.addStudGrid(1, size.b, kBrickMm);
    b.addUnderside(1, size.b, {body});
    const int holes = size.b == 1 ? 1 : size.b - 1;
    for (int k = 0; k < holes; ++k)
        b.addThrough(PortKind::Hole, "hole " + std::to_string(k),
                     {0, size.b == 1 ? 0 : kHalf + k * kPitchMm, kBrickHoleHeightMm}, Vec3::UnitX(), Vec3::UnitY(),
                     kHalf, {body});
    return std::move(b).build();
}

Shape makeHoledBeam(const Family& family, Size size, PortKind first) {
    ShapeBuilder b(family.name, makeName(family, size), family.fillFactor);
    const double last = (size.a - 1) * kPitchMm;
    const double side = kHalf - kSideInsetMm;
    const std::vector<int> bodies{b.addBox({0, -side, -kBeamHalfMm}, {last, side, kBeamHalfMm}),
                                  b.addCylinder({0, -side, 0}, {0, side, 0}, kBeamHalfMm),
                                  b.addCylinder({last, -side, 0}, {last, side, 0}, kBeamHalfMm)};
    for (int k = 0; k < size.a; ++k) {
        const bool cross = k == 0 && first == PortKind::CrossHole;
        b.addThrough(cross ? first : PortKind::Hole, cross ? "cross" : "hole " + std::to_string(k),
                     {k * kPitchMm, 0, 0}, Vec3::UnitY(), Vec3::UnitX(), kHalf, bodies);
    }
    return std::move(b).build();
}
Shape makeBeam(const Family& f, Size s) { return makeHoledBeam(f, s, PortKind::Hole); }
/// Its first hole is a cross hole: a crank, or an arm on a shaft.
Shape makeCrossBeam(const Family& f, Size s) { return makeHoledBeam(f, s, PortKind::CrossHole); }

Shape makePin(const Family& family, Size size, PortKind kind) {
    ShapeBuilder b(family.name, makeName(family, size), family.fillFactor);
    const double radius = kHoleRadiusMm - 0.05;
    const int plus = b.addCylinder({0, 0, 0}, {kPitchMm, 0, 0}, radius);
    const int minus = b.addCylinder({-kPitchMm, 0, 0}, {0, 0, 0}, radius);
    b.addPort(kind, "end+", {kHalf, 0, 0}, Vec3::UnitX(), Vec3::UnitZ(), {plus});
    b.addPort(kind, "end-", {-kHalf, 0, 0}, -Vec3::UnitX(), Vec3::UnitZ(), {minus});
    return std::move(b).build();
}

Shape makeSmoothPin(const Family& f, Size s) { return makePin(f, s, PortKind::PinSmooth); }
Shape makeRibbedPin(const Family& f, Size s) { return makePin(f, s, PortKind::PinRibbed); }

Shape makeAxle(const Family& family, Size size) {
    ShapeBuilder b(family.name, makeName(family, size), family.fillFactor);
    const int rod = b.addCylinder({0, 0, 0}, {size.a * kPitchMm, 0, 0}, kHoleRadiusMm - 0.05);
    for (int k = 0; k < size.a; ++k)
        b.addThrough(PortKind::Axle, "at " + std::to_string(k), {kHalf + k * kPitchMm, 0, 0}, Vec3::UnitX(),
                     Vec3::UnitZ(), 0.5 * kHalf, {rod});
    return std::move(b).build();
}

/// Disc with tyre, axle along x through its centre.
Shape makeWheel(const Family& family, Size size) {
    ShapeBuilder b(family.name, makeName(family, size), family.fillFactor);
    const int tyre = b.addCylinder({-0.5 * size.b, 0, 0}, {0.5 * size.b, 0, 0}, 0.5 * size.a);
    b.addThrough(PortKind::CrossHole, "hub", Vec3::Zero(), Vec3::UnitX(), Vec3::UnitZ(), kHalf, {tyre});
    return std::move(b).build();
}

} // namespace

std::span<const Family> getHoleFamilies() {
    static const std::array<Family, 8> families{{
        {"bar",
         "",
         SizeForm::Count,
         {1, 0},
         {16, 0},
         {3, 0},
         1.0,
         makeBar,
         "Rod 3.2 mm across and N pitches long, along x from its end.",
         nullptr,
         "N 1 to 16 pitches"},
        {"pin hole brick",
         "brick pin hole/brick pin holes/brick holes/holed brick",
         SizeForm::Pair,
         {1, 1},
         {1, 16},
         {1, 2},
         0.45,
         makePinHoleBrick,
         "Brick 1xB with pin holes along x between its studs (one in the middle for 1x1), 5.6 mm above the underside.",
         nullptr,
         "1x1 to 1x16"},
        {"beam",
         "straight beam",
         SizeForm::Count,
         {2, 0},
         {15, 0},
         {5, 0},
         0.6,
         makeBeam,
         "Studless bar of N pin holes along x, holes along y, 7.4 mm high with round ends.",
         nullptr,
         "N 2 to 15 holes"},
        {"cross beam",
         "beam cross/crank",
         SizeForm::Count,
         {2, 0},
         {9, 0},
         {3, 0},
         0.6,
         makeCrossBeam,
         "Beam of N holes whose first is a cross hole: it turns with the shaft in it.",
         nullptr,
         "N 2 to 9 holes"},
        {"pin smooth",
         "",
         SizeForm::None,
         {},
         {},
         {},
         0.6,
         makeSmoothPin,
         "Pin that turns easily in a hole, 8 mm to either side of its stop.",
         nullptr,
         "one size"},
        {"pin ribbed",
         "pin",
         SizeForm::None,
         {},
         {},
         {},
         0.6,
         makeRibbedPin,
         "Pin that turns with friction in a hole, 8 mm to either side of its stop.",
         nullptr,
         "one size"},
        {"axle",
         "",
         SizeForm::Count,
         {2, 0},
         {16, 0},
         {4, 0},
         0.7,
         makeAxle,
         "Cross-shaped rod N pitches long along x from its end; for collision a cylinder.",
         nullptr,
         "N 2 to 16 pitches"},
        {"wheel",
         "wheel tyre/tyred wheel",
         SizeForm::Pair,
         {14, 6},
         {82, 40},
         {24, 12},
         0.35,
         makeWheel,
         "Wheel with tyre, A mm across and B mm wide, on an axle along x.",
         nullptr,
         "A 14 to 82 mm, B 6 to 40 mm"},
    }};
    return families;
}

} // namespace ivrant::parts::detail
