// SPDX-License-Identifier: GPL-3.0-or-later
// What does a ray meet among many solids?
//
// The solids are entered by their boxes in a grid of pitches; a ray goes from cell to cell (Amanatides and Woo, A fast
// voxel traversal algorithm, 1987) and is tried against the solids of each. World frame, mm. For use inside core/stand.
#pragma once

#include <array>
#include <cstdint>
#include <limits>
#include <optional>
#include <vector>

#include "core/geometry/solid.h"

namespace ivrant::stand {

class RayGrid {
public:
    /// The solid must live as long as the grid. `X_WP`: frame of the part that it belongs to; `owner`: told when a ray
    /// meets it.
    void add(const geometry::Solid& solid, const geometry::Frame& X_WP, int owner);
    /// Once, after all solids. O(solids × cells of each).
    void finish();
    /// From any place in it, a ray that long is outside.
    [[nodiscard]] double reach() const { return m_reach; }
    /// Owner of a solid that a ray from a place in the grid meets within `most` mm, the ones of `skip` left out; not
    /// always the nearest one. `direction` is a unit vector. O(cells on the way).
    [[nodiscard]] std::optional<int> findBlocker(const geometry::Vec3& origin, const geometry::Vec3& direction,
                                                 int skip, double most = std::numeric_limits<double>::infinity()) const;

private:
    struct Item {
        const geometry::Solid* solid;
        geometry::Frame X_PW;
        geometry::Bounds box; ///< world
        int owner;
    };
    [[nodiscard]] std::size_t index(int x, int y, int z) const {
        return (static_cast<std::size_t>(z) * static_cast<std::size_t>(m_size[1]) + static_cast<std::size_t>(y)) *
                   static_cast<std::size_t>(m_size[0]) +
               static_cast<std::size_t>(x);
    }
    std::vector<Item> m_items;
    geometry::Bounds m_bounds;
    double m_cell = 8, m_reach = 0;
    std::array<int, 3> m_size{};
    std::vector<std::uint32_t> m_first; ///< by cell: where its items begin in m_list; one more at the end
    std::vector<std::uint32_t> m_list;
};

} // namespace ivrant::stand
