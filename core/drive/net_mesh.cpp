// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/drive/net_mesh.h"

#include <algorithm>
#include <cmath>

namespace ivrant::drive {
namespace {

using model::GearKind;

constexpr double kAxisSlack = 0.0087; ///< sine of 0.5°
constexpr double kSlabMm = 0.5;       ///< wheels share at least this width
constexpr double kCoaxialMm = 0.5;
constexpr double kDeepestMm = -3; ///< across: nearer than this they are in each other's way and no longer a pair
constexpr double kFaceMm = 1e-6;  ///< rounding
constexpr double kRackHalfMm = 4; ///< half the width of a rack
constexpr double kAsideMm = 1;    ///< axes that should meet, planes that should hold an axis

bool hasOutsideTeeth(GearKind kind) {
    return kind == GearKind::Spur || kind == GearKind::Bevel || kind == GearKind::Differential ||
           kind == GearKind::Turntable;
}
bool isBevel(GearKind kind) { return kind == GearKind::Bevel || kind == GearKind::Differential; }

double signOf(double value) { return value < 0 ? -1 : 1; }

/// Speed at the contact for one positive unit of turning.
Vec3 contactSpeed(const Ring& gear, const Vec3& contact) { return gear.axis.cross(contact - gear.centre); }

PairMesh makeMesh(const Ring& a, const Ring& b, double error, const Vec3& contact, double efficiency) {
    PairMesh mesh;
    mesh.errorMm = error;
    mesh.fit = judgeFit(error);
    mesh.factorA = a.teeth;
    mesh.factorB = static_cast<long>(-signOf(contactSpeed(a, contact).dot(contactSpeed(b, contact)))) * b.teeth;
    const double whole = efficiency * kBearingEfficiency;
    mesh.efficiency = {whole, whole};
    return mesh;
}

/// It would mesh, but for what is missing (mm).
PairMesh makeAside(PairMesh mesh, double mm) {
    if (mesh.fit != Fit::Meshes) return mesh; // that is told already
    mesh.fit = Fit::Aside;
    mesh.asideMm = mm;
    return mesh;
}

std::optional<PairMesh> judgeParallel(const Ring& a, const Ring& b) {
    const bool ringA = a.kind == GearKind::Ring, ringB = b.kind == GearKind::Ring;
    if (ringA == ringB && !(hasOutsideTeeth(a.kind) && hasOutsideTeeth(b.kind))) return std::nullopt;
    if (ringA != ringB && !hasOutsideTeeth((ringA ? b : a).kind)) return std::nullopt;
    const Vec3 offset = b.centre - a.centre;
    const double axial = offset.dot(a.axis);
    if (std::abs(axial) > a.halfWidthMm + b.halfWidthMm - kSlabMm) return std::nullopt;
    // Less than half of the narrower face carries: the teeth bear on their edges.
    const double missing = std::min(a.halfWidthMm, b.halfWidthMm) - (a.halfWidthMm + b.halfWidthMm - std::abs(axial));
    const auto onFaces = [&](PairMesh mesh) { return missing > kFaceMm ? makeAside(mesh, missing) : mesh; };
    const Vec3 across = offset - axial * a.axis;
    const double distance = across.norm();
    if (distance < kCoaxialMm) return std::nullopt;
    const Vec3 toB = across / distance;
    if (ringA || ringB) {
        const double right = (ringA ? 1 : -1) * (a.pitchRadiusMm - b.pitchRadiusMm);
        if (right <= 0 || distance > right + kLettingGoMm) return std::nullopt;
        const double error = right - distance; // too far out binds
        if (judgeFit(error) == Fit::Apart) return std::nullopt;
        const Vec3 contact = ringA ? Vec3(a.centre + toB * a.pitchRadiusMm) : Vec3(b.centre - toB * b.pitchRadiusMm);
        return onFaces(makeMesh(a, b, error, contact, kSpurEfficiency));
    }
    const double error = distance - (a.pitchRadiusMm + b.pitchRadiusMm);
    if (judgeFit(error) == Fit::Apart) return std::nullopt;
    return onFaces(makeMesh(a, b, error, a.centre + toB * a.pitchRadiusMm, kSpurEfficiency));
}

/// `alongA`, `alongB`: from the centres along the axes to where the axes meet.
std::optional<PairMesh> judgeAcross(const Ring& a, const Ring& b, double alongA, double alongB) {
    const auto error = [](const Ring& gear, double along, const Ring& other) -> std::optional<double> {
        switch (gear.kind) {
        case GearKind::Crown:
            if (along <= 0 || !hasOutsideTeeth(other.kind)) return std::nullopt; // its face looks the other way
            return along - other.pitchRadiusMm - model::kCrownFaceMm;
        case GearKind::Bevel:
        case GearKind::Differential:
            if (isBevel(other.kind)) return std::abs(along) - other.pitchRadiusMm - model::kBevelFaceMm;
            [[fallthrough]];
        default: // a wheel on a crown: its width lies on the crown's teeth
            if (other.kind != GearKind::Crown || !hasOutsideTeeth(gear.kind)) return std::nullopt;
            if (const double off = std::abs(along) - other.pitchRadiusMm; std::abs(off) > kAsideMm) return std::nullopt;
            return 0.0;
        }
    };
    const auto errorA = error(a, alongA, b), errorB = error(b, alongB, a);
    if (!errorA || !errorB) return std::nullopt;
    const double low = std::min(*errorA, *errorB), high = std::max(*errorA, *errorB);
    if (low < kDeepestMm || judgeFit(high) == Fit::Apart) return std::nullopt;
    const double worse = judgeFit(low) == Fit::Binds ? low : high;
    const Vec3 meeting = a.centre + a.axis * alongA;
    const Vec3 contact =
        meeting - a.axis * signOf(alongA) * b.pitchRadiusMm - b.axis * signOf(alongB) * a.pitchRadiusMm;
    const bool crown = a.kind == GearKind::Crown || b.kind == GearKind::Crown;
    return makeMesh(a, b, worse, contact, crown ? kCrownEfficiency : kBevelEfficiency);
}

/// `a` is the worm.
std::optional<PairMesh> judgeWorm(const Ring& a, const Ring& b, const Vec3& normal, double apart, double alongA,
                                  double alongB) {
    if (!hasOutsideTeeth(b.kind) || std::abs(alongB) > kAsideMm || std::abs(alongA) > a.halfWidthMm)
        return std::nullopt;
    const double error = std::abs(apart) - (a.pitchRadiusMm + b.pitchRadiusMm);
    if (error < kDeepestMm || judgeFit(error) == Fit::Apart) return std::nullopt;
    const Vec3 contact = b.centre - normal * signOf(apart) * b.pitchRadiusMm;
    const Vec3 thread =
        a.leftHand ? a.axis : Vec3(-a.axis); // held along its axis, a right-handed thread runs backwards
    PairMesh mesh;
    mesh.kind = RelationKind::Worm;
    mesh.errorMm = error;
    mesh.fit = judgeFit(error);
    mesh.factorA = a.teeth;
    mesh.factorB = static_cast<long>(-signOf(contactSpeed(b, contact).dot(thread))) * b.teeth;
    const Efficiency worm = makeWormEfficiency(a.teeth, 2 * a.pitchRadiusMm, kWormEfficiency);
    mesh.efficiency = {worm.forward * kBearingEfficiency, worm.backward * (worm.holds() ? 1 : kBearingEfficiency)};
    return mesh;
}

/// `a` is the rack.
std::optional<PairMesh> judgeRack(const Ring& a, const Ring& b, const Vec3& normal, double apart, double alongA,
                                  double alongB) {
    if (!hasOutsideTeeth(b.kind) || std::abs(alongA) > a.halfWidthMm ||
        std::abs(alongB) > b.halfWidthMm + kRackHalfMm - kSlabMm)
        return std::nullopt;
    const double error = std::abs(apart) - b.pitchRadiusMm;
    if (error < kDeepestMm || judgeFit(error) == Fit::Apart) return std::nullopt;
    if (normal.dot(a.face) * apart < -kFaceMm) return std::nullopt; // behind its teeth
    const Vec3 contact = b.centre - normal * signOf(apart) * b.pitchRadiusMm;
    PairMesh mesh;
    mesh.kind = RelationKind::RackMesh;
    mesh.errorMm = error;
    mesh.fit = judgeFit(error);
    mesh.factorA = 1;
    mesh.factorB = static_cast<long>(-signOf(contactSpeed(b, contact).dot(a.axis))) * b.teeth;
    mesh.efficiency = {kSpurEfficiency * kBearingEfficiency, kSpurEfficiency * kBearingEfficiency};
    const double missing = std::min(b.halfWidthMm, kRackHalfMm) - (b.halfWidthMm + kRackHalfMm - std::abs(alongB));
    return missing > kFaceMm ? makeAside(mesh, missing) : mesh;
}

PairMesh swapped(PairMesh mesh) {
    std::swap(mesh.factorA, mesh.factorB);
    std::swap(mesh.efficiency.forward, mesh.efficiency.backward);
    return mesh;
}

} // namespace

std::optional<PairMesh> judgePair(const Ring& a, const Ring& b) {
    const double cosine = a.axis.dot(b.axis);
    const bool straight = a.kind == GearKind::Rack || b.kind == GearKind::Rack;
    if (std::abs(cosine) > std::cos(std::asin(kAxisSlack))) return straight ? std::nullopt : judgeParallel(a, b);
    if (std::abs(cosine) > kAxisSlack) return std::nullopt;
    const Vec3 normal = a.axis.cross(b.axis).normalized(), offset = b.centre - a.centre;
    const double apart = offset.dot(normal), alongA = offset.dot(a.axis), alongB = -offset.dot(b.axis);
    const auto special = [&](GearKind kind, auto judge) -> std::optional<PairMesh> {
        if (a.kind == kind) return judge(a, b, normal, apart, alongA, alongB);
        const auto mesh = judge(b, a, normal, -apart, alongB, alongA);
        return mesh ? std::optional(swapped(*mesh)) : std::nullopt;
    };
    if (straight) return special(GearKind::Rack, judgeRack);
    if (a.kind == GearKind::Worm || b.kind == GearKind::Worm) {
        if (a.kind == b.kind) return std::nullopt;
        return special(GearKind::Worm, judgeWorm);
    }
    if (std::abs(apart) > kLettingGoMm) return std::nullopt;
    auto mesh = judgeAcross(a, b, alongA, alongB);
    if (mesh && std::abs(apart) > kWidestMm) mesh = makeAside(*mesh, std::abs(apart));
    return mesh;
}

} // namespace ivrant::drive
