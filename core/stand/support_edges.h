// SPDX-License-Identifier: GPL-3.0-or-later
// Edges of a support polygon, over which a model may turn.
#pragma once

#include <Eigen/Core>
#include <vector>

namespace ivrant::stand {

struct SupportEdge {
    Eigen::Vector2d from, outward; ///< a corner, and the unit normal away from the polygon
    /// Positive inside.
    [[nodiscard]] double inside(const Eigen::Vector2d& p) const { return outward.dot(from - p); }
};

/// Of a counter-clockwise polygon; none of a line or a point.
[[nodiscard]] inline std::vector<SupportEdge> listEdges(const std::vector<Eigen::Vector2d>& support) {
    std::vector<SupportEdge> edges;
    for (std::size_t i = 0; support.size() >= 3 && i < support.size(); ++i) {
        const Eigen::Vector2d along = (support[(i + 1) % support.size()] - support[i]).normalized();
        edges.push_back({support[i], {along.y(), -along.x()}});
    }
    return edges;
}

} // namespace ivrant::stand
