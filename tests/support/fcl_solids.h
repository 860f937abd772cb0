// SPDX-License-Identifier: GPL-3.0-or-later
// Our solids as those of another collision library, for the second route.
#pragma once

#include <algorithm>
#include <ccd/ccd.h>
#include <fcl/narrowphase/collision.h>
#include <fcl/narrowphase/distance.h>
#include <memory>

#include "core/geometry/solid.h"

namespace ivrant::test {

/// In the solid's own frame (solid.X_PS is left to the caller).
inline std::shared_ptr<fcl::CollisionGeometryd> toFcl(const geometry::Solid& s) {
    switch (s.kind) {
    case geometry::SolidKind::Box: return std::make_shared<fcl::Boxd>(2 * s.half);
    case geometry::SolidKind::Cylinder: return std::make_shared<fcl::Cylinderd>(s.radius(), 2 * s.half.z());
    case geometry::SolidKind::Sphere: return std::make_shared<fcl::Sphered>(s.radius());
    case geometry::SolidKind::Hull: {
        auto vertices = std::make_shared<std::vector<Eigen::Vector3d>>();
        auto faces = std::make_shared<std::vector<int>>();
        for (const auto& face : s.hull->faces) {
            faces->push_back(static_cast<int>(face.outline.size()));
            for (const auto& p : face.outline) {
                auto at = std::find_if(vertices->begin(), vertices->end(),
                                       [&](const auto& v) { return (v - p).norm() < 1e-3; });
                if (at == vertices->end()) at = vertices->insert(at, p);
                faces->push_back(static_cast<int>(at - vertices->begin()));
            }
        }
        return std::make_shared<fcl::Convexd>(vertices, static_cast<int>(s.hull->faces.size()), faces);
    }
    case geometry::SolidKind::Prism: {
        auto vertices = std::make_shared<std::vector<Eigen::Vector3d>>();
        auto faces = std::make_shared<std::vector<int>>();
        const int n = static_cast<int>(s.polygon.size());
        for (double z : {-s.half.z(), s.half.z()})
            for (const auto& p : s.polygon) vertices->emplace_back(p.x(), p.y(), z);
        faces->push_back(n);
        for (int i = 0; i < n; ++i) faces->push_back(n - 1 - i);
        faces->push_back(n);
        for (int i = 0; i < n; ++i) faces->push_back(n + i);
        for (int i = 0; i < n; ++i) {
            const int j = (i + 1) % n;
            for (int v : {4, i, j, n + j, n + i}) faces->push_back(v);
        }
        return std::make_shared<fcl::Convexd>(vertices, n + 2, faces);
    }
    }
    throw std::logic_error("unknown solid");
}

} // namespace ivrant::test
