// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/stand/ray_grid.h"

#include <algorithm>
#include <cmath>
#include <limits>

#include "core/base/at.h"

namespace ivrant::stand {
namespace {

using geometry::Vec3;

constexpr double kMostCells = 8e6, kMarginMm = 1;

} // namespace

void RayGrid::add(const geometry::Solid& solid, const geometry::Frame& X_WP, int owner) {
    m_items.push_back({&solid, X_WP.inverse(), geometry::calcBounds(solid, X_WP), owner});
    m_bounds.include(m_items.back().box);
}

void RayGrid::finish() {
    if (m_items.empty()) return;
    m_bounds.low -= Vec3::Constant(kMarginMm);
    m_bounds.high += Vec3::Constant(kMarginMm);
    m_reach = m_bounds.size().norm() + 1;
    m_cell = std::max(m_cell, std::cbrt(m_bounds.size().prod() / kMostCells));
    for (int k = 0; k < 3; ++k)
        ivrant::at(m_size, k) = std::max(1, static_cast<int>(std::ceil(m_bounds.size()[k] / m_cell)));
    const auto forCells = [&](const Item& item, auto visit) {
        int low[3], high[3];
        for (int k = 0; k < 3; ++k) {
            const int last = ivrant::at(m_size, k) - 1;
            low[k] = std::clamp(static_cast<int>((item.box.low[k] - m_bounds.low[k]) / m_cell), 0, last);
            high[k] = std::clamp(static_cast<int>((item.box.high[k] - m_bounds.low[k]) / m_cell), 0, last);
        }
        for (int z = low[2]; z <= high[2]; ++z)
            for (int y = low[1]; y <= high[1]; ++y)
                for (int x = low[0]; x <= high[0]; ++x) visit(index(x, y, z));
    };
    m_first.assign(static_cast<std::size_t>(m_size[0]) * static_cast<std::size_t>(m_size[1]) *
                           static_cast<std::size_t>(m_size[2]) +
                       1,
                   0);
    for (const Item& item : m_items) forCells(item, [&](std::size_t cell) { ++m_first[cell + 1]; });
    for (std::size_t c = 1; c < m_first.size(); ++c) m_first[c] += m_first[c - 1];
    m_list.resize(m_first.back());
    std::vector<std::uint32_t> next(m_first.begin(), m_first.end() - 1);
    for (std::size_t i = 0; i < m_items.size(); ++i)
        forCells(m_items[i], [&](std::size_t cell) { m_list[next[cell]++] = static_cast<std::uint32_t>(i); });
}

std::optional<int> RayGrid::findBlocker(const Vec3& origin, const Vec3& direction, int skip, double most) const {
    constexpr double kNever = std::numeric_limits<double>::infinity();
    int cell[3], step[3];
    Vec3 next, each; // along the ray: to the next wall of each axis, and from wall to wall
    for (int k = 0; k < 3; ++k) {
        const double at = (origin[k] - m_bounds.low[k]) / m_cell;
        cell[k] = static_cast<int>(std::floor(at));
        if (cell[k] < 0 || cell[k] >= ivrant::at(m_size, k)) return std::nullopt;
        step[k] = direction[k] > 0 ? 1 : -1;
        const bool still = std::abs(direction[k]) < 1e-12;
        each[k] = still ? kNever : m_cell / std::abs(direction[k]);
        next[k] = still ? kNever : (cell[k] + (step[k] > 0 ? 1 : 0) - at) * m_cell / direction[k];
    }
    for (;;) {
        const std::size_t here = index(cell[0], cell[1], cell[2]);
        for (std::uint32_t i = m_first[here]; i < m_first[here + 1]; ++i) {
            const Item& item = m_items[m_list[i]];
            if (item.owner == skip) continue;
            // Its box first: cheaper than the solid itself.
            double enter = 0, leave = most;
            for (int k = 0; k < 3 && enter <= leave; ++k) {
                const double a = (item.box.low[k] - origin[k]) / direction[k],
                             b = (item.box.high[k] - origin[k]) / direction[k];
                if (std::isnan(a) || std::isnan(b)) continue; // runs along a wall of the box
                enter = std::max(enter, std::min(a, b));
                leave = std::min(leave, std::max(a, b));
            }
            if (enter > leave) continue;
            const double hit = geometry::calcRayHit(*item.solid, item.X_PW * origin, item.X_PW.linear() * direction);
            if (hit >= 0 && hit <= most) return item.owner;
        }
        int k = 0;
        if (next[1] < next[k]) k = 1;
        if (next[2] < next[k]) k = 2;
        if (next[k] > most) return std::nullopt;
        cell[k] += step[k];
        if (cell[k] < 0 || cell[k] >= ivrant::at(m_size, k)) return std::nullopt;
        next[k] += each[k];
    }
}

} // namespace ivrant::stand
