// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/stand/part_depth.h"

#include <algorithm>
#include <cmath>
#include <deque>
#include <limits>
#include <set>

#include "core/base/at.h"
#include "core/base/units.h"
#include "core/geometry/solid.h"

namespace ivrant::stand {
namespace {

using geometry::Vec3;

constexpr int kEmpty = -1, kAir = -2;

/// Is a point (frame of the solid) inside it?
bool holds(const geometry::Solid& solid, const Vec3& p) {
    using geometry::SolidKind;
    switch (solid.kind) {
    case SolidKind::Box: return (p.cwiseAbs().array() <= solid.half.array()).all();
    case SolidKind::Cylinder: return std::hypot(p.x(), p.y()) <= solid.radius() && std::abs(p.z()) <= solid.half.z();
    case SolidKind::Sphere: return p.norm() <= solid.radius();
    case SolidKind::Prism: {
        if (std::abs(p.z()) > solid.half.z()) return false;
        for (std::size_t i = 0; i < solid.polygon.size(); ++i) {
            const Eigen::Vector2d &a = solid.polygon[i], &b = solid.polygon[(i + 1) % solid.polygon.size()];
            if ((b.x() - a.x()) * (p.y() - a.y()) - (b.y() - a.y()) * (p.x() - a.x()) < 0) return false;
        }
        return true;
    }
    case SolidKind::Hull:
        return std::all_of(solid.hull->faces.begin(), solid.hull->faces.end(), [&](const geometry::HullFace& face) {
            return face.normal.dot(p - face.outline.front()) <= 0;
        });
    }
    return false;
}

class Depths {
public:
    Depths(const model::Placed& placed, base::Progress* progress) : m_placed(placed), m_progress(progress) {}

    base::Result<PartDepths> run() {
        geometry::Bounds bounds;
        for (std::size_t s = 0; s < m_placed.X_WS.size(); ++s) {
            m_result.depth.emplace_back(m_placed.project->sections[s]->parts.size(), 0);
            for (const model::Part& part : m_placed.project->sections[s]->parts)
                for (const auto& solid : part.shape->solids)
                    bounds.include(geometry::calcBounds(solid.solid, m_placed.X_WS[s] * part.place.frame()));
        }
        if (bounds.empty()) return std::move(m_result);
        m_low = bounds.low - kStep * 2; // middles of cells keep off the seams between bricks on the grid
        for (int k = 0; k < 3; ++k) m_size[k] = static_cast<int>(std::ceil((bounds.high[k] - m_low[k]) / kStep[k])) + 3;
        if (static_cast<double>(m_size[0]) * m_size[1] * m_size[2] > static_cast<double>(kMostDepthCells))
            return base::Error{"depth.size", "the model is too large to look inside", ""};
        m_owner.assign(static_cast<std::size_t>(m_size[0]) * static_cast<std::size_t>(m_size[1]) *
                           static_cast<std::size_t>(m_size[2]),
                       kEmpty);
        enter();
        if (isStopped()) return base::Error{"stopped", "stopped", ""};
        flood();
        spread();
        return std::move(m_result);
    }

private:
    [[nodiscard]] bool isStopped() const { return m_progress && m_progress->stopped(); }
    [[nodiscard]] std::size_t index(int x, int y, int z) const {
        return (static_cast<std::size_t>(z) * static_cast<std::size_t>(m_size[1]) + static_cast<std::size_t>(y)) *
                   static_cast<std::size_t>(m_size[0]) +
               static_cast<std::size_t>(x);
    }
    void enter() {
        for (std::size_t s = 0; s < m_placed.X_WS.size(); ++s)
            for (std::size_t p = 0; p < m_placed.project->sections[s]->parts.size(); ++p) {
                const model::Part& part = m_placed.project->sections[s]->parts[p];
                const geometry::Frame X_WP = m_placed.X_WS[s] * part.place.frame();
                const int own = static_cast<int>(m_spots.size());
                m_spots.push_back({static_cast<int>(s), static_cast<int>(p)});
                for (const auto& solid : part.shape->solids) {
                    if (solid.studPort >= 0) continue;
                    const geometry::Bounds box = geometry::calcBounds(solid.solid, X_WP);
                    const geometry::Frame X_SW = (X_WP * solid.solid.X_PS).inverse();
                    int from[3], to[3];
                    for (int k = 0; k < 3; ++k) {
                        from[k] = std::max(0, static_cast<int>(std::floor((box.low[k] - m_low[k]) / kStep[k] - 0.5)));
                        to[k] =
                            std::min(m_size[k] - 1, static_cast<int>(std::ceil((box.high[k] - m_low[k]) / kStep[k])));
                    }
                    for (int z = from[2]; z <= to[2]; ++z)
                        for (int y = from[1]; y <= to[1]; ++y)
                            for (int x = from[0]; x <= to[0]; ++x) {
                                const Vec3 middle =
                                    m_low + Vec3((x + 0.5) * kStep.x(), (y + 0.5) * kStep.y(), (z + 0.5) * kStep.z());
                                if (holds(solid.solid, X_SW * middle)) m_owner[index(x, y, z)] = own;
                            }
                }
            }
    }
    template <class Visit> void forNeighbours(int x, int y, int z, Visit visit) const {
        constexpr int kSteps[6][3] = {{1, 0, 0}, {-1, 0, 0}, {0, 1, 0}, {0, -1, 0}, {0, 0, 1}, {0, 0, -1}};
        for (const auto& s : kSteps) {
            const int u = x + s[0], v = y + s[1], w = z + s[2];
            if (u >= 0 && v >= 0 && w >= 0 && u < m_size[0] && v < m_size[1] && w < m_size[2]) visit(u, v, w);
        }
    }
    void flood() {
        std::deque<std::array<int, 3>> open{{0, 0, 0}};
        m_owner[0] = kAir;
        while (!open.empty()) {
            const auto [x, y, z] = open.front();
            open.pop_front();
            forNeighbours(x, y, z, [&](int u, int v, int w) {
                int& owner = m_owner[index(u, v, w)];
                if (owner != kEmpty) return;
                owner = kAir;
                open.push_back({u, v, w});
            });
        }
    }
    void spread() {
        std::vector<std::set<int>> touches(m_spots.size());
        std::vector<int> depth(m_spots.size(), 0);
        std::deque<int> open;
        for (int z = 0; z < m_size[2]; ++z)
            for (int y = 0; y < m_size[1]; ++y)
                for (int x = 0; x < m_size[0]; ++x) {
                    const int own = m_owner[index(x, y, z)];
                    if (own < 0) continue;
                    forNeighbours(x, y, z, [&](int u, int v, int w) {
                        const int other = m_owner[index(u, v, w)];
                        if (other >= 0 && other != own) ivrant::at(touches, own).insert(other);
                        if (other == kAir && ivrant::at(depth, own) == 0) {
                            ivrant::at(depth, own) = 1;
                            open.push_back(own);
                        }
                    });
                }
        while (!open.empty()) {
            const int at = open.front();
            open.pop_front();
            for (const int other : ivrant::at(touches, at)) {
                if (ivrant::at(depth, other) > 0) continue;
                ivrant::at(depth, other) = ivrant::at(depth, at) + 1;
                open.push_back(other);
            }
        }
        for (std::size_t i = 0; i < m_spots.size(); ++i) {
            ivrant::at(ivrant::at(m_result.depth, m_spots[i].section), m_spots[i].part) = depth[i];
            m_result.deepest = std::max(m_result.deepest, depth[i]);
        }
    }

    const Vec3 kStep{base::kPitchMm / 2, base::kPitchMm / 2, base::kPlateMm};
    const model::Placed& m_placed;
    base::Progress* m_progress;
    Vec3 m_low = Vec3::Zero();
    int m_size[3]{};
    std::vector<int> m_owner;
    std::vector<model::PartSpot> m_spots;
    PartDepths m_result;
};

} // namespace

base::Result<PartDepths> calcPartDepths(const model::Placed& placed, base::Progress* progress) {
    return Depths(placed, progress).run();
}

} // namespace ivrant::stand
