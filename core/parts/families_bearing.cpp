// SPDX-License-Identifier: GPL-3.0-or-later
// What carries upright shafts or is fixed to them: plates with holes, bearing blocks, round plates with a cross hole.
#include <array>

#include "core/base/units.h"
#include "core/parts/family_table.h"
#include "core/parts/shape_builder.h"

namespace ivrant::parts::detail {
namespace {

using base::kBrickMm;
using base::kPitchMm;
using base::kPlateMm;
using geometry::Vec3;

constexpr double kBearingMm = 8; ///< of a bearing block's hole above its underside

/// Plate 2xN with holes straight through between its studs.
Shape makePinHolePlate(const Family& family, Size size) {
    ShapeBuilder b(family.name, makeName(family, size), family.fillFactor);
    const int body = b.addBody({-kHalf, -kHalf, 0}, {3 * kHalf, size.b * kPitchMm - kHalf, kPlateMm});
    b.addStudGrid(2, size.b, kPlateMm);
    for (int i = 0; i < 2; ++i)
        for (int j = 0; j < size.b; ++j) b.addCell(gridName("cell", i, j), {i * kPitchMm, j * kPitchMm, 0}, {body});
    for (int k = 0; k + 1 < size.b; ++k)
        b.addThrough(PortKind::Hole, "hole " + std::to_string(k), {kHalf, kHalf + k * kPitchMm, 0.5 * kPlateMm},
                     Vec3::UnitZ(), Vec3::UnitX(), 0.5 * kPlateMm, {body});
    return std::move(b).build();
}

/// Round plate or brick 2x2 on a shaft: what is studded on it turns with it.
Shape makeCrossRound(const Family& family, double height) {
    ShapeBuilder b(family.name, family.name, family.fillFactor);
    const int body = b.addRoundBody({kHalf, kHalf, 0}, height, kPitchMm);
    b.addStudGrid(2, 2, height);
    for (int i = 0; i < 2; ++i)
        for (int j = 0; j < 2; ++j) b.addCell(gridName("cell", i, j), {i * kPitchMm, j * kPitchMm, 0}, {body});
    b.addThrough(PortKind::CrossHole, "cross", {kHalf, kHalf, 0.5 * height}, Vec3::UnitZ(), Vec3::UnitX(), 0.5 * height,
                 {body});
    return std::move(b).build();
}
Shape makeCrossRoundPlate(const Family& f, Size) { return makeCrossRound(f, kPlateMm); }
Shape makeCrossRoundBrick(const Family& f, Size) { return makeCrossRound(f, kBrickMm); }

/// Plate 1x2 whose one half stands up with a hole along x.
Shape makeBearingBlock(const Family& family, Size size) {
    ShapeBuilder b(family.name, makeName(family, size), family.fillFactor);
    const int base = b.addBody({-kHalf, -kHalf, 0}, {kHalf, 3 * kHalf, kPlateMm});
    const int block = b.addBody({-kHalf, -kHalf, kPlateMm}, {kHalf, kHalf, kBearingMm + kHalf});
    b.addStud(gridName("stud", 0, 1), {0, kPitchMm, kPlateMm}, Vec3::UnitZ());
    b.addUnderside(1, 2, {base});
    b.addThrough(PortKind::Hole, "hole", {0, 0, kBearingMm}, Vec3::UnitX(), Vec3::UnitY(), kHalf, {block});
    return std::move(b).build();
}

/// Disc whose cross hole lies half its throw's way off its middle, with a pin hole as far on the other side: a crank of
/// one pitch, or a cam.
Shape makeEccentric(const Family& family, Size) {
    ShapeBuilder b(family.name, family.name, family.fillFactor);
    const Vec3 middle(0, kHalf, 0);
    const int body =
        b.addCylinder(middle - Vec3(kHalf - 0.1, 0, 0), middle + Vec3(kHalf - 0.1, 0, 0), 1.5 * kPitchMm - 0.1);
    b.addThrough(PortKind::CrossHole, "cross", Vec3::Zero(), Vec3::UnitX(), Vec3::UnitZ(), kHalf, {body});
    b.addThrough(PortKind::Hole, "pin", {0, kPitchMm, 0}, Vec3::UnitX(), Vec3::UnitZ(), kHalf, {body});
    return std::move(b).build();
}

} // namespace

std::span<const Family> getBearingFamilies() {
    static const std::array<Family, 5> families{
        paired("pin hole plate", "plate pin hole/holed plate", Size{2, 2}, Size{2, 8}, Size{2, 4}, 0.5,
               makePinHolePlate, "Plate 2xB with pin holes straight through between its studs, for upright shafts.",
               "2x2 to 2x8"),
        single("cross round plate", "round plate cross", 0.55, makeCrossRoundPlate,
               "Round plate 2x2 with a cross hole upright through its middle: what is built on it turns with the "
               "shaft."),
        single("cross round brick", "round brick cross", 0.5, makeCrossRoundBrick,
               "Round brick 2x2 with a cross hole upright through its middle."),
        single("bearing block", "block bearing", 0.55, makeBearingBlock,
               "Plate 1x2, half of it an upright block with a pin hole along x, 8 mm above the underside."),
        single(
            "eccentric", "crank disc/cam", 0.55, makeEccentric,
            "Disc of 24 mm on an axle half a pitch beside its middle, with a pin hole a pitch from the axle: a crank "
            "of 8 mm, or a cam of 8 mm lift."),
    };
    return families;
}

} // namespace ivrant::parts::detail
