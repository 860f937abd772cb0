// SPDX-License-Identifier: GPL-3.0-or-later
// Bricks, plates, tiles, jumpers, slopes and round parts.
#include <array>
#include <cmath>

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

constexpr double kLipMm = 1.6; ///< height of a slope's lower edge

Vec3 lowCorner(double z = 0) { return {-kHalf, -kHalf, z}; }
Vec3 highCorner(Size s, double z) { return {s.a * kPitchMm - kHalf, s.b * kPitchMm - kHalf, z}; }

Shape makeBlock(const Family& family, Size size, double height, bool studs) {
    ShapeBuilder b(family.name, makeName(family, size), family.fillFactor);
    const int body = b.addBody(lowCorner(), highCorner(size, height));
    if (studs) b.addStudGrid(size.a, size.b, height);
    b.addUnderside(size.a, size.b, {body});
    return std::move(b).build();
}

Shape makeBrick(const Family& f, Size s) { return makeBlock(f, s, kBrickMm, true); }
Shape makePlate(const Family& f, Size s) { return makeBlock(f, s, kPlateMm, true); }
Shape makeTile(const Family& f, Size s) { return makeBlock(f, s, kPlateMm, false); }

Shape makeJumper(const Family& family, Size size) {
    ShapeBuilder b(family.name, makeName(family, size), family.fillFactor);
    const int body = b.addBody(lowCorner(), highCorner(size, kPlateMm));
    b.addStud("stud 0,0", Vec3((size.a - 1) * kHalf, (size.b - 1) * kHalf, kPlateMm), Vec3::UnitZ(), true);
    b.addUnderside(size.a, size.b, {body});
    return std::move(b).build();
}

/// Rises along +y: lip at the front (−y), one row of studs at the back.
Shape makeSlope(const Family& family, Size size) {
    ShapeBuilder b(family.name, makeName(family, size), family.fillFactor);
    const double back = size.b * kPitchMm - kHalf;
    const int body =
        b.addProfile({{-kHalf, 0}, {back, 0}, {back, kBrickMm}, {back - kPitchMm, kBrickMm}, {-kHalf, kLipMm}}, -kHalf,
                     size.a * kPitchMm - kHalf);
    for (int i = 0; i < size.a; ++i)
        b.addStud(gridName("stud", i, size.b - 1), Vec3(i * kPitchMm, (size.b - 1) * kPitchMm, kBrickMm),
                  Vec3::UnitZ());
    b.addUnderside(size.a, size.b, {body});
    return std::move(b).build();
}

/// Overhangs towards −y: studs on the whole top, cells only under the back row.
Shape makeInvertedSlope(const Family& family, Size size) {
    ShapeBuilder b(family.name, makeName(family, size), family.fillFactor);
    const double back = size.b * kPitchMm - kHalf;
    // The overhang begins above the tops of the studs beside the foot.
    const double right = size.a * kPitchMm - kHalf;
    const std::vector<int> bodies{b.addBody({-kHalf, back - kPitchMm, 0}, {right, back, kOverStudMm}),
                                  b.addProfile({{back - kPitchMm, kOverStudMm},
                                                {back, kOverStudMm},
                                                {back, kBrickMm},
                                                {-kHalf, kBrickMm},
                                                {-kHalf, kBrickMm - kLipMm}},
                                               -kHalf, right)};
    b.addStudGrid(size.a, size.b, kBrickMm);
    for (int i = 0; i < size.a; ++i)
        b.addCell(gridName("cell", i, size.b - 1), Vec3(i * kPitchMm, (size.b - 1) * kPitchMm, 0), bodies);
    return std::move(b).build();
}

Shape makeRound(const Family& family, Size size, double height) {
    ShapeBuilder b(family.name, makeName(family, size), family.fillFactor);
    const double middle = (size.a - 1) * kHalf;
    const double radius = size.a * kHalf;
    // Of the largest the studs at the corners of the square pass under the rim.
    const bool notched = size.a == 4;
    std::vector<int> bodies;
    if (notched)
        bodies.push_back(
            b.addRoundBody(Vec3(middle, middle, 0), kOverStudMm, std::hypot(middle, middle) - kStudRadiusMm));
    bodies.push_back(b.addRoundBody(Vec3(middle, middle, notched ? kOverStudMm : 0),
                                    notched ? height - kOverStudMm : height, radius));
    const auto inside = [&](double x, double y) {
        return std::hypot(x - middle, y - middle) + kStudRadiusMm <= radius + 0.1;
    };
    const bool hollow = size.a == 1;
    for (int pass = 0; pass < 2; ++pass)
        for (int i = 0; i < size.a; ++i)
            for (int j = 0; j < size.a; ++j) {
                if (!inside(i * kPitchMm, j * kPitchMm)) continue;
                if (pass == 0)
                    b.addStud(gridName("stud", i, j), Vec3(i * kPitchMm, j * kPitchMm, height), Vec3::UnitZ(), hollow);
                else
                    b.addCell(gridName("cell", i, j), Vec3(i * kPitchMm, j * kPitchMm, 0), bodies);
            }
    for (int i = 0; i + 1 < size.a; ++i)
        for (int j = 0; j + 1 < size.a; ++j)
            b.addTube(gridName("tube", i, j), Vec3((i + 0.5) * kPitchMm, (j + 0.5) * kPitchMm, 0), bodies);
    return std::move(b).build();
}

Shape makeRoundPlate(const Family& f, Size s) { return makeRound(f, s, kPlateMm); }
Shape makeRoundBrick(const Family& f, Size s) { return makeRound(f, s, kBrickMm); }

bool isRoundSize(Size s) { return s.a == s.b && (s.a == 1 || s.a == 2 || s.a == 4); }
bool isJumperSize(Size s) { return (s.a == 1 && s.b == 2) || (s.a == 2 && s.b == 1) || (s.a == 2 && s.b == 2); }

} // namespace

std::span<const Family> getStudFamilies() {
    static const std::array<Family, 10> families{{
        {"brick",
         "",
         SizeForm::Pair,
         {1, 1},
         {16, 16},
         {2, 4},
         0.45,
         makeBrick,
         "Block one brick high with studs on top.",
         nullptr,
         "A and B 1 to 16"},
        {"plate",
         "",
         SizeForm::Pair,
         {1, 1},
         {48, 48},
         {2, 4},
         0.62,
         makePlate,
         "Block one plate high with studs on top.",
         nullptr,
         "A and B 1 to 48"},
        {"tile",
         "",
         SizeForm::Pair,
         {1, 1},
         {16, 16},
         {1, 2},
         0.62,
         makeTile,
         "Block one plate high, smooth on top.",
         nullptr,
         "A and B 1 to 16"},
        {"jumper",
         "jumper plate",
         SizeForm::Pair,
         {1, 1},
         {2, 2},
         {1, 2},
         0.62,
         makeJumper,
         "Plate with one hollow stud in its middle.",
         isJumperSize,
         "1x2, 2x1 or 2x2"},
        {"slope",
         "slope brick/steep slope",
         SizeForm::Pair,
         {1, 2},
         {8, 2},
         {1, 2},
         0.45,
         makeSlope,
         "Brick whose front rises at 45° from a 1.6 mm lip at -y to one row of studs at +y.",
         nullptr,
         "A 1 to 8, B 2"},
        {"shallow slope",
         "shallow slope brick",
         SizeForm::Pair,
         {1, 3},
         {8, 4},
         {1, 3},
         0.45,
         makeSlope,
         "Like slope, but rising over B-1 pitches.",
         nullptr,
         "A 1 to 8, B 3 or 4"},
        {"inverted slope",
         "inverted slope brick",
         SizeForm::Pair,
         {1, 2},
         {8, 4},
         {1, 2},
         0.45,
         makeInvertedSlope,
         "Brick that overhangs towards -y: studs on the whole top, cells only under the row at +y.",
         nullptr,
         "A 1 to 8, B 2 to 4"},
        {"round plate",
         "",
         SizeForm::Pair,
         {1, 1},
         {4, 4},
         {1, 1},
         0.62,
         makeRoundPlate,
         "Disc one plate high; 1x1 has a hollow stud; 4x4 has no corner studs.",
         isRoundSize,
         "1x1, 2x2 or 4x4"},
        {"round brick",
         "",
         SizeForm::Pair,
         {1, 1},
         {4, 4},
         {1, 1},
         0.45,
         makeRoundBrick,
         "Cylinder one brick high; 1x1 has a hollow stud; 4x4 has no corner studs.",
         isRoundSize,
         "1x1, 2x2 or 4x4"},
        {"weight brick",
         "ballast brick",
         SizeForm::Pair,
         {2, 2},
         {2, 4},
         {2, 4},
         4.0,
         makeBrick,
         "Brick filled with metal; the filling is a starting value, weigh yours.",
         nullptr,
         "2x2 to 2x4"},
    }};
    return families;
}

} // namespace ivrant::parts::detail
