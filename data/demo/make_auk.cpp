// SPDX-License-Identifier: GPL-3.0-or-later
#include "data/demo/make_auk.h"

#include <cmath>

#include "core/base/units.h"

namespace ivrant::demo {
namespace {

using geometry::Vec3;

constexpr int kRound = 28, kRings = 20;

/// A tube of elliptic rings from a bottom point to a top point: `ring(t)` gives centre and half axes for t in 0..1.
template <class Ring> void addTube(geometry::TriangleMesh& mesh, Ring ring) {
    const int first = static_cast<int>(mesh.points.size());
    const auto centre = [&](double t) { return ring(t).first; };
    mesh.points.push_back(centre(0));
    for (int k = 1; k < kRings; ++k) {
        const auto [middle, half] = ring(static_cast<double>(k) / kRings);
        for (int i = 0; i < kRound; ++i) {
            const double a = 2 * base::kPi * i / kRound;
            mesh.points.push_back(middle + Vec3(half.x() * std::cos(a), half.y() * std::sin(a), 0));
        }
    }
    mesh.points.push_back(centre(1));
    const int last = static_cast<int>(mesh.points.size()) - 1;
    const auto at = [&](int ringIndex, int i) { return first + 1 + (ringIndex - 1) * kRound + (i % kRound); };
    for (int i = 0; i < kRound; ++i) {
        mesh.triangles.push_back({first, at(1, i + 1), at(1, i)});
        mesh.triangles.push_back({last, at(kRings - 1, i), at(kRings - 1, i + 1)});
        for (int k = 1; k + 1 < kRings; ++k) {
            mesh.triangles.push_back({at(k, i), at(k, i + 1), at(k + 1, i)});
            mesh.triangles.push_back({at(k, i + 1), at(k + 1, i + 1), at(k + 1, i)});
        }
    }
}
/// Ellipsoid with upright main axis.
void addEllipsoid(geometry::TriangleMesh& mesh, const Vec3& centre, const Vec3& half) {
    addTube(mesh, [&](double t) {
        const double a = base::kPi * (t - 0.5);
        return std::pair(Vec3(centre + Vec3(0, 0, half.z() * std::sin(a))), Vec3(half * std::cos(a)));
    });
}

} // namespace

geometry::TriangleMesh makeAukMesh() {
    geometry::TriangleMesh mesh;
    // Body: upright, widest in its lower third, leaning back a little towards the neck.
    addTube(mesh, [](double t) {
        const double z = 4 + 560 * t,
                     width = 118 * std::pow(std::sin(base::kPi * std::pow(t, 0.8)), 0.62) * (1 - 0.35 * t);
        return std::pair(Vec3(0, 26 * std::sin(base::kPi * t) - 18 * t, z), Vec3(width, 0.88 * width, 0));
    });
    addEllipsoid(mesh, {0, -22, 590}, {58, 66, 74}); // head
    addTube(mesh, [](double t) {                     // beak: forward and down, high and thin
        const double s = std::sin(base::kPi * t);
        return std::pair(Vec3(0, -82 - 40 * s, 548 + 70 * t), Vec3(22 * s, 52 * s, 0));
    });
    for (const double side : {-1.0, 1.0}) {
        addTube(mesh, [side](double t) { // small wing along the body
            const double s = std::sin(base::kPi * t);
            return std::pair(Vec3(side * (100 + 12 * s), 20 + 20 * (1 - t), 180 + 240 * t), Vec3(22 * s, 46 * s, 0));
        });
        addEllipsoid(mesh, {side * 56, -60, 16}, {50, 84, 22}); // foot
    }
    addEllipsoid(mesh, {0, 112, 40}, {60, 54, 46}); // tail
    return mesh;
}

std::string formatObj(const geometry::TriangleMesh& mesh) {
    std::string text = "# The great auk of the Fernby Pier Museum, mm, z up\n";
    const auto number = [](double value) { return base::formatNumber(value, 2); };
    for (const Vec3& p : mesh.points) text += "v " + number(p.x()) + " " + number(p.y()) + " " + number(p.z()) + "\n";
    for (const auto& t : mesh.triangles)
        text +=
            "f " + std::to_string(t[0] + 1) + " " + std::to_string(t[1] + 1) + " " + std::to_string(t[2] + 1) + "\n";
    return text;
}

} // namespace ivrant::demo
