// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/bonds/teeth.h"

#include <algorithm>
#include <cmath>

namespace ivrant::bonds {
namespace {

using parts::GearKind;
using parts::ToothRing;

constexpr double kParallel = 0.9999, kSquare = 0.0087; ///< cosines of 0.5° and of 89.5°
constexpr double kMeetMm = 1;                          ///< between axes that should meet

const ToothRing* findRing(const parts::Shape& shape, int solid) {
    for (const ToothRing& ring : shape.rings)
        if (std::find(ring.solids.begin(), ring.solids.end(), solid) != ring.solids.end()) return &ring;
    return nullptr;
}
bool isBevel(const ToothRing& ring) { return ring.kind == GearKind::Bevel || ring.kind == GearKind::Differential; }
bool hasFlats(const ToothRing& ring) { return ring.kind == GearKind::Turntable || ring.kind == GearKind::Ring; }

} // namespace

double calcTeethRoomMm(const parts::Shape& a, const geometry::Frame& X_a, int solidA, const parts::Shape& b,
                       const geometry::Frame& X_b, int solidB) {
    const ToothRing *one = findRing(a, solidA), *other = findRing(b, solidB);
    if (!one || !other) return 0;
    const geometry::Vec3 axis = X_a.linear() * one->axis, across = X_b.linear() * other->axis,
                         offset = X_b * other->centre - X_a * one->centre;
    const double cosine = std::abs(axis.dot(across));
    if (cosine > kParallel) {
        const bool oneLine = (offset - offset.dot(axis) * axis).norm() < kMeetMm;
        return !oneLine && (hasFlats(*one) || hasFlats(*other)) ? kFlatTeethMm : 0;
    }
    if (cosine > kSquare) return 0;
    const bool meet = std::abs(offset.dot(axis.cross(across))) < kMeetMm;
    const bool crossing =
        (isBevel(*one) && isBevel(*other)) || one->kind == GearKind::Crown || other->kind == GearKind::Crown;
    return meet && crossing ? kCrossingTeethMm : 0;
}

} // namespace ivrant::bonds
