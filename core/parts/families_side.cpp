// SPDX-License-Identifier: GPL-3.0-or-later
// Parts that turn the building direction: brackets and bricks with studs on their sides; the tooth plate.
#include <array>

#include "core/base/units.h"
#include "core/parts/family.h"
#include "core/parts/family_table.h"
#include "core/parts/shape_builder.h"

namespace ivrant::parts::detail {
namespace {

using base::kBrickMm;
using base::kPitchMm;
using base::kPlateMm;
using geometry::Vec3;

constexpr double kLeafMm = 1.6;
constexpr double kSideStudHeightMm = 5.6; ///< so that a plate on the side ends flush with the brick's top

/// Plate A cells wide (x) and one deep, with an upright leaf at its +y edge carrying A×B side studs.
Shape makeBracket(const Family& family, Size size, bool up) {
    ShapeBuilder b(family.name, makeName(family, size), family.fillFactor);
    const double right = size.a * kPitchMm - kHalf;
    const int body = b.addBody({-kHalf, -kHalf, 0}, {right, kHalf, kPlateMm});
    const double tall = size.b * kPitchMm;
    b.addBody({-kHalf, kHalf - 2 * kSideInsetMm, up ? 0 : kPlateMm - tall},
              {right, kHalf + kLeafMm, up ? tall : kPlateMm});
    b.addStudGrid(size.a, 1, kPlateMm);
    for (int i = 0; i < size.a; ++i)
        for (int k = 0; k < size.b; ++k) {
            const double z = up ? kHalf + k * kPitchMm : kPlateMm - kHalf - k * kPitchMm;
            b.addStud("side+y " + gridName("stud", i, k), Vec3(i * kPitchMm, kHalf + kLeafMm, z), Vec3::UnitY(), false,
                      kNearStudMm);
        }
    b.addUnderside(size.a, 1, {body});
    return std::move(b).build();
}

Shape makeBracketUp(const Family& f, Size s) { return makeBracket(f, s, true); }
Shape makeBracketDown(const Family& f, Size s) { return makeBracket(f, s, false); }

Shape makeSideStudBrick(const Family& family, Size size) {
    ShapeBuilder b(family.name, makeName(family, size), family.fillFactor);
    const int body = b.addBody({-kHalf, -kHalf, 0}, {kHalf, kHalf, kBrickMm});
    b.addStudGrid(1, 1, kBrickMm);
    const auto side = [&](const std::string& name, const Vec3& d) {
        b.addStud("side" + name + " stud 0", d * kHalf + Vec3(0, 0, kSideStudHeightMm), d, true);
    };
    side("+y", Vec3::UnitY());
    if (size.a >= 2) side("-y", -Vec3::UnitY());
    if (size.a >= 4) {
        side("+x", Vec3::UnitX());
        side("-x", -Vec3::UnitX());
    }
    b.addUnderside(1, 1, {body});
    return std::move(b).build();
}

Shape makeRecessedSideStudBrick(const Family& family, Size size) {
    ShapeBuilder b(family.name, makeName(family, size), family.fillFactor);
    const double face = kHalf - kLeafMm;
    const double ledge = kSideStudHeightMm - kHalf;
    const int foot = b.addBody({-kHalf, -kHalf, 0}, {kHalf, kHalf, ledge});
    const int body = b.addBody({-kHalf, -kHalf, ledge}, {kHalf, face + kSideInsetMm, kBrickMm});
    b.addStudGrid(1, 1, kBrickMm);
    b.addStud("side+y stud 0", Vec3(0, face, kSideStudHeightMm), Vec3::UnitY(), true);
    b.addUnderside(1, 1, {foot, body});
    return std::move(b).build();
}

/// Plate with a wedge-shaped tooth beyond its +y edge.
Shape makeToothPlate(const Family& family, Size size) {
    ShapeBuilder b(family.name, makeName(family, size), family.fillFactor);
    const int body = b.addBody({-kHalf, -kHalf, 0}, {kHalf, kHalf, kPlateMm});
    b.addProfile({{kHalf - 0.2, 0}, {kHalf + 6.0, 0}, {kHalf + 6.0, 0.8}, {kHalf - 0.2, kPlateMm}}, -2.0, 2.0);
    b.addStudGrid(1, 1, kPlateMm);
    b.addUnderside(1, 1, {body});
    return std::move(b).build();
}

bool isFaceCount(Size s) { return s.a == 1 || s.a == 2 || s.a == 4; }

} // namespace

std::span<const Family> getSideFamilies() {
    static const std::array<Family, 5> families{{
        {"bracket up",
         "",
         SizeForm::Pair,
         {1, 1},
         {4, 2},
         {2, 2},
         0.8,
         makeBracketUp,
         "Plate A x 1 with a 1.6 mm leaf at its +y edge rising from the underside, A x B side studs.",
         nullptr,
         "A 1 to 4, B 1 or 2"},
        {"bracket down",
         "",
         SizeForm::Pair,
         {1, 1},
         {4, 2},
         {2, 2},
         0.8,
         makeBracketDown,
         "Plate A x 1 with a 1.6 mm leaf at its +y edge hanging from the top, A x B side studs.",
         nullptr,
         "A 1 to 4, B 1 or 2"},
        {"side-stud brick",
         "sidestud brick/side stud brick/brick side studs",
         SizeForm::Count,
         {1, 0},
         {4, 0},
         {1, 0},
         0.5,
         makeSideStudBrick,
         "Brick 1x1 with hollow studs on 1 (+y), 2 (+y, -y) or 4 sides, their axes 5.6 mm above the underside.",
         isFaceCount,
         "faces: 1, 2 or 4"},
        {"recessed side-stud brick",
         "recessed sidestud brick/recessed side stud brick",
         SizeForm::None,
         {},
         {},
         {},
         0.5,
         makeRecessedSideStudBrick,
         "Brick 1x1 with one side stud on a face set in by half a plate (1.6 mm) above a 1.6 mm ledge.",
         nullptr,
         "one size"},
        {"tooth plate",
         "plate tooth",
         SizeForm::None,
         {},
         {},
         {},
         0.62,
         makeToothPlate,
         "Plate 1x1 with a tooth 6 mm long beyond its +y edge.",
         nullptr,
         "one size"},
    }};
    return families;
}

} // namespace ivrant::parts::detail
