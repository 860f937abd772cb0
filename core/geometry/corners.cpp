// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/geometry/corners.h"

#include <cmath>

#include "core/base/units.h"

namespace ivrant::geometry {
namespace {

constexpr int kRimPoints = 48;

/// Cosine and sine of the rim's points.
const std::vector<std::pair<double, double>>& getRim() {
    static const auto rim = [] {
        std::vector<std::pair<double, double>> points;
        for (int i = 0; i < kRimPoints; ++i)
            points.emplace_back(std::cos(2 * base::kPi * i / kRimPoints), std::sin(2 * base::kPi * i / kRimPoints));
        return points;
    }();
    return rim;
}

} // namespace

void appendCorners(std::vector<Vec3>& out, const Solid& solid, const Frame& X_FP) {
    const Frame X = X_FP * solid.X_PS;
    const Vec3& h = solid.half;
    switch (solid.kind) {
    case SolidKind::Box:
        for (int c = 0; c < 8; ++c)
            out.push_back(X * Vec3(c & 1 ? h.x() : -h.x(), c & 2 ? h.y() : -h.y(), c & 4 ? h.z() : -h.z()));
        break;
    case SolidKind::Hull:
        for (const Vec3& p : solid.hull->corners) out.push_back(X * p);
        break;
    case SolidKind::Prism:
        for (const auto& p : solid.polygon)
            for (double z : {-h.z(), h.z()}) out.push_back(X * Vec3(p.x(), p.y(), z));
        break;
    case SolidKind::Cylinder:
        for (double z : {-h.z(), h.z()}) { // the lowest point of each rim, exactly
            const Vec3 down = X.linear().transpose() * -Vec3::UnitZ();
            const double across = down.head<2>().norm();
            if (across > 1e-9) out.push_back(X * Vec3(h.x() * down.x() / across, h.x() * down.y() / across, z));
        }
        for (const auto& [c, s] : getRim())
            for (double z : {-h.z(), h.z()}) out.push_back(X * Vec3(h.x() * c, h.x() * s, z));
        break;
    case SolidKind::Sphere: {
        const double golden = base::kPi * (3 - std::sqrt(5.0));
        for (int i = 0; i < 92; ++i) {
            const double z = 1 - 2 * (i + 0.5) / 92, r = std::sqrt(1 - z * z);
            out.push_back(X * (Vec3(r * std::cos(golden * i), r * std::sin(golden * i), z) * solid.radius()));
        }
        out.push_back(X.translation() - Vec3(0, 0, solid.radius())); // the lowest point, exactly
        break;
    }
    }
}

} // namespace ivrant::geometry
