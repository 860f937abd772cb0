// SPDX-License-Identifier: GPL-3.0-or-later
// Triangle meshes for tests: of solids, and an angle by hand.
#pragma once

#include "core/geometry/mesh.h"
#include "core/geometry/solid.h"

namespace ivrant::test {

using geometry::TriangleMesh;

inline TriangleMesh meshOf(const std::vector<geometry::Solid>& solids, int sides = 24) {
    TriangleMesh mesh;
    for (const geometry::Solid& solid : solids)
        for (const auto& t : geometry::makeTriangles(geometry::makeFaces(solid, sides))) {
            const int first = static_cast<int>(mesh.points.size());
            for (const geometry::Vec3& p : t) mesh.points.push_back(p);
            mesh.triangles.push_back({first, first + 1, first + 2});
        }
    return mesh;
}

/// Profile (x, z), counter-clockwise seen from −y, extruded over y in [0, depth]; triangles as given.
inline TriangleMesh extrude(const std::vector<Eigen::Vector2d>& xz, const std::vector<std::array<int, 3>>& fill,
                            double depth) {
    TriangleMesh mesh;
    const int n = static_cast<int>(xz.size());
    for (double y : {0.0, depth})
        for (const auto& p : xz) mesh.points.emplace_back(p.x(), y, p.y());
    for (const auto& t : fill) {
        mesh.triangles.push_back({t[0], t[1], t[2]});
        mesh.triangles.push_back({n + t[0], n + t[2], n + t[1]});
    }
    for (int i = 0; i < n; ++i) {
        const int j = (i + 1) % n;
        mesh.triangles.push_back({i, n + j, j});
        mesh.triangles.push_back({i, n + i, n + j});
    }
    return mesh;
}

/// An angle: 40 long and 40 high, 10 thick, 20 deep: 14,000 mm³.
inline TriangleMesh angle() {
    return extrude({{0, 0}, {40, 0}, {40, 10}, {10, 10}, {10, 40}, {0, 40}},
                   {{0, 1, 2}, {0, 2, 3}, {0, 3, 5}, {3, 4, 5}}, 20);
}

} // namespace ivrant::test
