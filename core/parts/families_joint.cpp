// SPDX-License-Identifier: GPL-3.0-or-later
// Parts that move against each other: clips, bars on plates, balls, cups, stepped hinges, turntables.
//
// All end pieces share one frame: a plate with cells (0,0) to (0,B−1) along y. The carrying halves (fork, ball, clip)
// have their joint centre one pitch beyond the last cell, at (0, 8B, 3.2); the carried halves (tongue, cup, bar) one
// pitch before the first cell, at (0, −8, 3.2). So any carrying half of a length exchanges with any other in place.
#include <algorithm>
#include <array>

#include "core/base/units.h"
#include "core/parts/family_table.h"
#include "core/parts/shape_builder.h"

namespace ivrant::parts::detail {
namespace {

using base::kPitchMm;
using base::kPlateMm;
using geometry::Vec3;

constexpr double kLargeBallMm = 3.95; ///< within its own pitch, so that parts on the studs beside it fit
constexpr double kAxisHeight =
    kPlateMm; ///< joint centres lie level with the plate's top, so that small fingers clear studs below

struct EndPlate {
    ShapeBuilder builder;
    Vec3 centre; ///< of the joint
    double away; ///< +1 when the joint lies towards +y, −1 towards −y
    int body;    ///< solid of the plate

    /// `cutMm`: how far the lower edge towards the joint is cut back, over twice that height.
    EndPlate(const Family& family, Size size, bool carrying, double cutMm = 0)
        : builder(family.name, makeName(family, size), family.fillFactor),
          centre(0, carrying ? size.b * kPitchMm : -kPitchMm, kAxisHeight), away(carrying ? 1.0 : -1.0) {
        const double near = carrying ? -kHalf : size.b * kPitchMm - kHalf,
                     far = carrying ? size.b * kPitchMm - kHalf : -kHalf;
        if (cutMm > 0) {
            std::vector<Eigen::Vector2d> outline{
                {near, 0}, {far - away * cutMm, 0}, {far, 2 * cutMm}, {far, kPlateMm}, {near, kPlateMm}};
            if (!carrying) std::reverse(outline.begin(), outline.end());
            body = builder.addProfile(outline, -kHalf, kHalf);
        } else {
            body = builder.addBody({-kHalf, -kHalf, 0}, {kHalf, size.b * kPitchMm - kHalf, kPlateMm});
        }
        builder.addStudGrid(1, size.b, kPlateMm);
        builder.addUnderside(1, size.b, {body});
    }
    /// Box given by how far it reaches from the joint centre: x half width, y from…to (positive: away from the
    /// plate), z half height.
    int addBlock(double xHalf, double yFrom, double yTo, double zHalf, double xCentre = 0) {
        const double y0 = centre.y() + away * yFrom, y1 = centre.y() + away * yTo;
        return builder.addBox({xCentre - xHalf, std::min(y0, y1), kAxisHeight - zHalf},
                              {xCentre + xHalf, std::max(y0, y1), kAxisHeight + zHalf});
    }
    /// Axis along ±x by side, reference +y: at value 0 both halves lie in line, studs up.
    void addTurnPort(PortKind kind, const std::string& name, const std::vector<int>& solids, double depth = 0) {
        builder.addPort(kind, name, centre, Vec3::UnitX() * away, Vec3::UnitY(), solids).depth = depth;
    }
    void addBallPort(PortKind kind, const std::string& name, const std::vector<int>& solids) {
        builder.addPort(kind, name, centre, Vec3::UnitY() * away, Vec3::UnitZ(), solids);
    }
};

Shape makeHinge(const Family& family, Size size, bool fork, bool large) {
    // Bent down by 112.5° the lower edges, 3.2 mm below the axis, pass each other: c ≥ c cos 67.5° + 3.2 sin 67.5° for
    // c = 4.8 mm from the axis.
    EndPlate end(family, {1, 2}, fork, large ? 0.8 : 0);
    (void)size;
    const double knuckle = large ? 3.0 : 1.5;
    std::vector<int> solids;
    const auto finger = [&](double x0, double x1) {
        solids.push_back(
            end.builder.addCylinder({x0, end.centre.y(), kAxisHeight}, {x1, end.centre.y(), kAxisHeight}, knuckle));
        solids.push_back(end.addBlock(0.5 * (x1 - x0), -kHalf, 0, 1.5, 0.5 * (x0 + x1)));
    };
    if (fork) {
        finger(-3.9, -1.4);
        finger(1.4, 3.9);
    } else {
        finger(-1.3, 1.3);
    }
    const PortKind kind = large ? (fork ? PortKind::ForkLarge : PortKind::TongueLarge)
                                : (fork ? PortKind::ForkSmall : PortKind::TongueSmall);
    end.addTurnPort(kind, "finger", solids);
    return std::move(end.builder).build();
}

Shape makeForkSmall(const Family& f, Size s) { return makeHinge(f, s, true, false); }
Shape makeTongueSmall(const Family& f, Size s) { return makeHinge(f, s, false, false); }
Shape makeForkLarge(const Family& f, Size s) { return makeHinge(f, s, true, true); }
Shape makeTongueLarge(const Family& f, Size s) { return makeHinge(f, s, false, true); }

Shape makeClipPlate(const Family& family, Size size) {
    EndPlate end(family, size, true);
    end.addTurnPort(PortKind::Clip, "clip", {end.addBlock(1.5, -kHalf, 1.6, 1.5)});
    return std::move(end.builder).build();
}

Shape makeBarPlate(const Family& family, Size size) {
    EndPlate end(family, size, false);
    // It lies level with the tops of studs below it.
    const double clear = kBarRadiusMm - kNearStudMm;
    const int bar =
        end.builder.addCylinder({-3.9, end.centre.y(), kAxisHeight}, {3.9, end.centre.y(), kAxisHeight}, clear);
    end.addBlock(0.4, -kHalf, 0, clear, -3.5);
    end.addBlock(0.4, -kHalf, 0, clear, 3.5);
    end.addTurnPort(PortKind::Bar, "bar", {bar}, 1.6);
    return std::move(end.builder).build();
}

Shape makeBallPlate(const Family& family, Size size, double ball, double neck, PortKind kind) {
    EndPlate end(family, size, true);
    const int sphere = end.builder.addSphere(end.centre, ball);
    const int stem = end.builder.addCylinder(end.centre - Vec3(0, kHalf, 0), end.centre, neck);
    end.addBallPort(kind, "ball", {sphere, stem});
    return std::move(end.builder).build();
}

Shape makeBallSmall(const Family& f, Size s) { return makeBallPlate(f, s, 2.95, 1.5, PortKind::BallSmall); }
Shape makeBallLarge(const Family& f, Size s) { return makeBallPlate(f, s, kLargeBallMm, 2.4, PortKind::BallLarge); }

/// A round cup about the joint centre, open towards the ball; the plate behind it is hollowed for the ball as well.
Shape makeCupPlate(const Family& family, Size size, double radius, double pastCentre, PortKind kind) {
    EndPlate end(family, size, false);
    const int cup =
        end.builder.addCylinder(end.centre + Vec3(0, kHalf, 0), end.centre - Vec3(0, pastCentre, 0), radius);
    end.addBallPort(kind, "cup", {cup, end.body});
    return std::move(end.builder).build();
}

// A bare pair reaches its own cone: the rim's edge, `radius` off the axis and `pastCentre` beyond the centre, clears
// the ball's plate 4 mm away when tilted by it (3.4 sin 45° + 1.5 cos 45° = 3.5; 6.5 sin 35° + 0.2 cos 35° = 3.9).
Shape makeCupSmall(const Family& f, Size s) { return makeCupPlate(f, s, 3.4, 1.5, PortKind::CupSmall); }
Shape makeCupLarge(const Family& f, Size s) { return makeCupPlate(f, s, 6.5, 0.2, PortKind::CupLarge); }

Shape makeTurntableLower(const Family& family, Size size) {
    ShapeBuilder b(family.name, makeName(family, size), family.fillFactor);
    const int body = b.addBody({-kHalf, -kHalf, 0}, {3 * kHalf, 3 * kHalf, kPlateMm});
    b.addUnderside(2, 2, {body});
    b.addPort(PortKind::TurntableLower, "lower", {kHalf, kHalf, kPlateMm}, Vec3::UnitZ(), Vec3::UnitX(), {body});
    return std::move(b).build();
}

Shape makeTurntableUpper(const Family& family, Size size) {
    ShapeBuilder b(family.name, makeName(family, size), family.fillFactor);
    const int body = b.addBody({-kHalf, -kHalf, 0}, {3 * kHalf, 3 * kHalf, kPlateMm});
    b.addStudGrid(2, 2, kPlateMm);
    b.addPort(PortKind::TurntableUpper, "upper", {kHalf, kHalf, 0}, -Vec3::UnitZ(), Vec3::UnitX(), {body});
    return std::move(b).build();
}

} // namespace

std::span<const Family> getJointFamilies() {
    static const Size low{1, 1}, high{1, 2}, usual{1, 2};
    static const std::string ends = "1x1 or 1x2";
    static const std::array<Family, 12> families{
        paired("clip plate", "plate clip", low, high, usual, 0.62, makeClipPlate,
               "Plate with a clip beyond its +y end that grips a bar lying along x.", ends),
        paired("bar plate", "plate bar", low, high, usual, 0.62, makeBarPlate,
               "Plate with a bar along x beyond its -y end, held at both ends; a clip slides ±1.6 mm on it.", ends),
        paired("ball plate small", "plate ball/plate ball small", low, high, usual, 0.62, makeBallSmall,
               "Plate with a ball 5.9 mm across beyond its +y end.", ends),
        paired("cup plate small", "plate cup/plate cup small", low, high, usual, 0.62, makeCupSmall,
               "Plate with a cup for the small ball beyond its -y end.", ends),
        paired("ball plate large", "", low, high, usual, 0.62, makeBallLarge,
               "Plate with a ball 7.9 mm across beyond its +y end.", ends),
        paired("cup plate large", "", low, high, usual, 0.62, makeCupLarge,
               "Plate with a cup for the large ball beyond its -y end; the cup is wider and taller than the plate.",
               ends),
        single("stepped hinge small fork", "hinge small fork/hinge fork/stepped hinge fork", 0.7, makeForkSmall,
               "Plate 1x2 with two stepped fingers beyond its +y end, knuckle radius 1.5 mm."),
        single("stepped hinge small tongue", "hinge small tongue/hinge tongue/stepped hinge tongue", 0.7,
               makeTongueSmall, "Plate 1x2 with one stepped finger beyond its -y end, knuckle radius 1.5 mm."),
        single("stepped hinge large fork", "hinge large fork", 0.7, makeForkLarge,
               "Plate 1x2 with two strong stepped fingers beyond its +y end, knuckle radius 3 mm."),
        single("stepped hinge large tongue", "hinge large tongue", 0.7, makeTongueLarge,
               "Plate 1x2 with one strong stepped finger beyond its -y end, knuckle radius 3 mm."),
        single("small turntable lower", "turntable lower/lower turntable", 0.6, makeTurntableLower,
               "Plate 2x2 without studs that carries the upper half."),
        single("small turntable upper", "turntable upper/upper turntable", 0.6, makeTurntableUpper,
               "Plate 2x2 with studs that turns on the lower half."),
    };
    return families;
}

} // namespace ivrant::parts::detail
