// SPDX-License-Identifier: GPL-3.0-or-later
// What carries shafts or is fixed to them: plates with holes, bearing blocks, beams and round plates with a cross hole.
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

/// A hole open at both ends: "NAME" opens along `axis`, "NAME back" the other way.
void addThrough(ShapeBuilder& b, PortKind kind, const std::string& name, const Vec3& at, const Vec3& axis,
                const Vec3& reference, double depth, const std::vector<int>& bodies) {
    b.addPort(kind, name, at, axis, reference, bodies).depth = depth;
    b.addPort(kind, name + " back", at, -axis, reference, bodies).depth = depth;
}

/// A beam whose first hole is a cross hole: a crank, or an arm on a shaft.
Shape makeCrossBeam(const Family& family, Size size) {
    ShapeBuilder b(family.name, makeName(family, size), family.fillFactor);
    const double last = (size.a - 1) * kPitchMm, side = kHalf - kSideInsetMm;
    const std::vector<int> bodies{b.addBox({0, -side, -kBeamHalfMm}, {last, side, kBeamHalfMm}),
                                  b.addCylinder({0, -side, 0}, {0, side, 0}, kBeamHalfMm),
                                  b.addCylinder({last, -side, 0}, {last, side, 0}, kBeamHalfMm)};
    addThrough(b, PortKind::CrossHole, "cross", Vec3::Zero(), Vec3::UnitY(), Vec3::UnitX(), kHalf, bodies);
    for (int k = 1; k < size.a; ++k)
        addThrough(b, PortKind::Hole, "hole " + std::to_string(k), {k * kPitchMm, 0, 0}, Vec3::UnitY(), Vec3::UnitX(),
                   kHalf, bodies);
    return std::move(b).build();
}

/// Plate 2xN with holes straight through between its studs.
Shape makePinHolePlate(const Family& family, Size size) {
    ShapeBuilder b(family.name, makeName(family, size), family.fillFactor);
    const int body = b.addBody({-kHalf, -kHalf, 0}, {3 * kHalf, size.b * kPitchMm - kHalf, kPlateMm});
    b.addStudGrid(2, size.b, kPlateMm);
    for (int i = 0; i < 2; ++i)
        for (int j = 0; j < size.b; ++j) b.addCell(gridName("cell", i, j), {i * kPitchMm, j * kPitchMm, 0}, {body});
    for (int k = 0; k + 1 < size.b; ++k)
        addThrough(b, PortKind::Hole, "hole " + std::to_string(k), {kHalf, kHalf + k * kPitchMm, 0.5 * kPlateMm},
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
    addThrough(b, PortKind::CrossHole, "cross", {kHalf, kHalf, 0.5 * height}, Vec3::UnitZ(), Vec3::UnitX(),
               0.5 * height, {body});
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
    addThrough(b, PortKind::Hole, "hole", {0, 0, kBearingMm}, Vec3::UnitX(), Vec3::UnitY(), kHalf, {block});
    return std::move(b).build();
}

} // namespace

std::span<const Family> getBearingFamilies() {
    static const std::array<Family, 5> families{
        counted("cross beam", "beam cross/crank", 2, 9, 3, 0.6, makeCrossBeam,
                "Beam of N holes whose first is a cross hole: it turns with the shaft in it.", "N 2 to 9 holes"),
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
    };
    return families;
}

} // namespace ivrant::parts::detail
