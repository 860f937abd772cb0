// SPDX-License-Identifier: GPL-3.0-or-later
// Shapes that round a model off: curved slopes, wedge and corner plates, dishes, cones, panels, vent tiles, arches.
#include <array>
#include <cmath>

#include "core/base/units.h"
#include "core/parts/family_table.h"
#include "core/parts/shape_builder.h"

namespace ivrant::parts::detail {
namespace {

using base::kBrickMm;
using base::kPitchMm;
using base::kPlateMm;
using geometry::Vec3;

constexpr double kLipMm = 1.6;
constexpr double kPanelMm = 1.6; ///< thickness of a panel's wall
constexpr int kCurveSides = 6;   ///< flats of a curved top; the true curve lies within 0.1 mm of them up to 4 pitches

double right(int count) { return count * kPitchMm - kHalf; }

/// Rises along +y in a quarter ellipse from a lip at −y; no studs.
Shape makeCurvedSlope(const Family& family, Size size) {
    ShapeBuilder b(family.name, makeName(family, size), family.fillFactor);
    const double front = -kHalf, back = right(size.b), run = back - front, rise = kBrickMm - kLipMm;
    std::vector<Eigen::Vector2d> outline{{front, 0}, {back, 0}, {back, kBrickMm}};
    for (int i = 1; i < kCurveSides; ++i) {
        const double angle = 0.5 * base::kPi * i / kCurveSides;
        outline.emplace_back(back - run * std::sin(angle), kLipMm + rise * std::cos(angle));
    }
    outline.emplace_back(front, kLipMm);
    const int body = b.addProfile(outline, -kHalf, right(size.a));
    b.addUnderside(size.a, size.b, {body});
    return std::move(b).build();
}

/// Plate whose +x side is cut from the full width at −y to one stud at +y.
Shape makeWedgePlate(const Family& family, Size size) {
    ShapeBuilder b(family.name, makeName(family, size), family.fillFactor);
    const double low = -kHalf, wide = right(size.a), back = right(size.b);
    // Studs that the slanted edge would cut pass under it: below, only whole cells reach down.
    std::vector<int> bodies{
        b.addPlan({{low, low}, {wide, low}, {wide, low + 1.6}, {kHalf, back}, {low, back}}, kOverStudMm, kPlateMm)};
    const auto inside = [&](int i, int j) { // the whole stud lies on what is left
        const double x = i * kPitchMm + kStudRadiusMm, y = j * kPitchMm + kStudRadiusMm;
        return x <= kHalf || (x - kHalf) / (wide - kHalf) + (y - low - 1.6) / (back - low - 1.6) <= 1.0;
    };
    for (int j = 0; j < size.b; ++j) {
        int whole = 0;
        while (whole < size.a && inside(whole, j)) ++whole;
        const double y0 = low + j * kPitchMm, y1 = y0 + kPitchMm;
        const auto edge = [&](double y) {
            return std::min(right(whole),
                            kHalf + (wide - kHalf) * std::min(1.0, 1 - (y - low - 1.6) / (back - low - 1.6)));
        };
        bodies.push_back(b.addPlan({{low, y0}, {edge(y0), y0}, {edge(y1), y1}, {low, y1}}, 0, kOverStudMm));
    }
    for (int i = 0; i < size.a; ++i)
        for (int j = 0; j < size.b; ++j)
            if (inside(i, j))
                b.addStud(gridName("stud", i, j), Vec3(i * kPitchMm, j * kPitchMm, kPlateMm), Vec3::UnitZ());
    for (int i = 0; i < size.a; ++i)
        for (int j = 0; j < size.b; ++j)
            if (inside(i, j)) b.addCell(gridName("cell", i, j), Vec3(i * kPitchMm, j * kPitchMm, 0), bodies);
    return std::move(b).build();
}

/// Plate in the form of an L: a whole row along x at y = 0 and a column along y at x = 0.
Shape makeCornerPlate(const Family& family, Size size) {
    ShapeBuilder b(family.name, makeName(family, size), family.fillFactor);
    const int row = b.addBody({-kHalf, -kHalf, 0}, {right(size.a), kHalf, kPlateMm});
    const int column = b.addBody({-kHalf, kHalf - 2 * kSideInsetMm, 0}, {kHalf, right(size.b), kPlateMm});
    const auto each = [&](auto use) {
        for (int i = 0; i < size.a; ++i) use(i, 0, row);
        for (int j = 1; j < size.b; ++j) use(0, j, column);
    };
    each([&](int i, int j, int) {
        b.addStud(gridName("stud", i, j), Vec3(i * kPitchMm, j * kPitchMm, kPlateMm), Vec3::UnitZ());
    });
    each([&](int i, int j, int body) {
        b.addCell(gridName("cell", i, j), Vec3(i * kPitchMm, j * kPitchMm, 0), {body});
    });
    return std::move(b).build();
}

/// Bowl turned down: a wide rim over a narrower foot; for collision two stacked cylinders.
Shape makeDish(const Family& family, Size size) {
    ShapeBuilder b(family.name, makeName(family, size), family.fillFactor);
    const double middle = (size.a - 1) * kHalf, radius = size.a * kHalf;
    const int foot = b.addRoundBody(Vec3(middle, middle, 0), kOverStudMm, kPitchMm);
    b.addRoundBody(Vec3(middle, middle, kOverStudMm), (size.a == 2 ? 1.6 : kPlateMm) + 1.6 - kOverStudMm, radius);
    const int first = size.a / 2 - 1;
    for (int i = first; i <= first + 1; ++i)
        for (int j = first; j <= first + 1; ++j)
            b.addCell(gridName("cell", i, j), Vec3(i * kPitchMm, j * kPitchMm, 0), {foot});
    b.addTube(gridName("tube", first, first), Vec3(middle, middle, 0), {foot});
    return std::move(b).build();
}

/// Cone one brick high (AxA cells at the foot), a hollow stud on top; for collision three stacked cylinders that hold
/// it.
Shape makeCone(const Family& family, Size size) {
    ShapeBuilder b(family.name, makeName(family, size), family.fillFactor);
    const double middle = (size.a - 1) * kHalf, wide = size.a * kHalf, narrow = 3.0;
    int foot = 0;
    for (int i = 0; i < 3; ++i) {
        const int body = b.addRoundBody(Vec3(middle, middle, kPlateMm * i), kPlateMm, wide + (narrow - wide) * i / 3.0);
        if (i == 0) foot = body;
    }
    b.addStud("stud 0,0", Vec3(middle, middle, kBrickMm), Vec3::UnitZ(), true);
    for (int i = 0; i < size.a; ++i)
        for (int j = 0; j < size.a; ++j) b.addCell(gridName("cell", i, j), Vec3(i * kPitchMm, j * kPitchMm, 0), {foot});
    if (size.a == 2) b.addTube("tube 0,0", Vec3(middle, middle, 0), {foot});
    return std::move(b).build();
}

/// Thin upright wall one brick high along x at the +y edge of a thin floor.
Shape makePanel(const Family& family, Size size) {
    ShapeBuilder b(family.name, makeName(family, size), family.fillFactor);
    const int floor = b.addBody({-kHalf, -kHalf, 0}, {right(size.a), kHalf, kPanelMm});
    b.addBody({-kHalf, kHalf - kPanelMm, 0}, {right(size.a), kHalf, kBrickMm});
    b.addUnderside(size.a, 1, {floor});
    return std::move(b).build();
}

/// Tile with slats: for collision and weight a tile.
Shape makeVentTile(const Family& family, Size size) {
    ShapeBuilder b(family.name, makeName(family, size), family.fillFactor);
    const int body = b.addBody({-kHalf, -kHalf, 0}, {right(size.a), right(size.b), kPlateMm});
    b.addUnderside(size.a, size.b, {body});
    return std::move(b).build();
}

/// Brick 1xB along y with an opening between one foot at each end; the arc is four flats over each quarter.
Shape makeArch(const Family& family, Size size) {
    ShapeBuilder b(family.name, makeName(family, size), family.fillFactor);
    const double back = right(size.b), top = kBrickMm, crown = kBrickMm - kPlateMm;
    const int near = b.addBody({-kHalf, -kHalf, 0}, {kHalf, kHalf, top});
    const int far = b.addBody({-kHalf, back - kPitchMm, 0}, {kHalf, back, top});
    b.addBox({-kHalf + kSideInsetMm, kHalf - 2 * kSideInsetMm, crown},
             {kHalf - kSideInsetMm, back - kPitchMm + 2 * kSideInsetMm, top});
    const double span = 0.5 * (back - kPitchMm - kHalf), middle = kHalf + span;
    const double corner = std::min(span, 4.0); // fillets where the arc springs
    for (const double side : {-1.0, 1.0}) {
        const double edge = middle + side * span;
        std::vector<Eigen::Vector2d> fillet{
            {edge, crown - corner}, {edge, crown + 0.2}, {edge - side * corner, crown + 0.2}};
        if (side < 0) std::swap(fillet[1], fillet[2]);
        b.addProfile(fillet, -kHalf, kHalf);
    }
    b.addStudGrid(1, size.b, top);
    b.addCell(gridName("cell", 0, 0), Vec3(0, 0, 0), {near});
    b.addCell(gridName("cell", 0, size.b - 1), Vec3(0, (size.b - 1) * kPitchMm, 0), {far});
    return std::move(b).build();
}

bool isDishSize(Size s) { return s.a == s.b && (s.a == 2 || s.a == 4); }
bool isConeSize(Size s) { return s.a == s.b; }
bool isLarge(Size s) { return s.a >= 2 && s.b >= 2; }

} // namespace

std::span<const Family> getShapeFamilies() {
    static const std::array<Family, 8> families{
        paired("curved slope", "rounded slope", Size{1, 2}, Size{4, 4}, Size{1, 2}, 0.5, makeCurvedSlope,
               "Brick whose top falls in a quarter ellipse from the full height at +y to a 1.6 mm lip at -y; no studs.",
               "A 1 to 4, B 2 to 4"),
        paired("wedge plate", "plate wedge", Size{2, 2}, Size{4, 8}, Size{2, 4}, 0.62, makeWedgePlate,
               "Plate whose +x side is cut aslant from the full width at -y to one stud at +y.", "A 2 to 4, B 2 to 8",
               isLarge),
        paired("corner plate", "plate corner", Size{2, 2}, Size{4, 4}, Size{2, 2}, 0.62, makeCornerPlate,
               "Plate in the form of an L, one stud wide: A along x, B along y.", "A and B 2 to 4", isLarge),
        paired("dish", "round dish", Size{2, 2}, Size{4, 4}, Size{2, 2}, 0.5, makeDish,
               "Round bowl turned down, no studs; for collision two stacked cylinders.", "2x2 or 4x4", isDishSize),
        paired("cone", "", Size{1, 1}, Size{2, 2}, Size{1, 1}, 0.5, makeCone,
               "Cone one brick high with a hollow stud on top; for collision three stacked cylinders.", "1x1 or 2x2",
               isConeSize),
        counted("panel", "wall panel", 1, 6, 2, 0.9, makePanel,
                "Floor N x 1 with a wall 1.6 mm thick and one brick high at its +y edge.", "N 1 to 6"),
        paired("vent tile", "tile vent/slatted tile", Size{1, 1}, Size{2, 4}, Size{1, 2}, 0.5, makeVentTile,
               "Tile with slats on top; for collision a whole tile.", "A 1 or 2, B 1 to 4"),
        paired("arch", "brick arch", Size{1, 3}, Size{1, 8}, Size{1, 4}, 0.45, makeArch,
               "Brick 1xB on two feet one cell long, open between them up to two plates high, with fillets at the "
               "springing.",
               "1x3 to 1x8"),
    };
    return families;
}

} // namespace ivrant::parts::detail
