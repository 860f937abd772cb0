// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/stand/cell_grid.h"

#include <algorithm>
#include <cmath>
#include <deque>

#include "core/base/at.h"
#include "core/base/units.h"

namespace ivrant::stand {
namespace {

using geometry::Vec3;

constexpr double kAsideX = 1e-4,
                 kAsideY = 3.7e-5; ///< mm: rays keep off the corners, edges and diagonals of tidy meshes

struct Crossing {
    double z;
    int sign; ///< +1: enters upwards
};

/// Signed crossings of the vertical through (x, y) with a triangle.
void addCrossing(const Vec3& a, const Vec3& b, const Vec3& c, double x, double y, std::vector<Crossing>& out) {
    const auto side = [&](const Vec3& p, const Vec3& q) {
        return (q.x() - p.x()) * (y - p.y()) - (q.y() - p.y()) * (x - p.x());
    };
    const double u = side(b, c), v = side(c, a), w = side(a, b);
    const bool positive = u > 0 && v > 0 && w > 0, negative = u < 0 && v < 0 && w < 0;
    if (!positive && !negative) return;
    const double sum = u + v + w;
    out.push_back({(u * a.z() + v * b.z() + w * c.z()) / sum, negative ? 1 : -1});
}

} // namespace

std::size_t CellGrid::count() const { return static_cast<std::size_t>(std::count(filled.begin(), filled.end(), 1)); }

base::Result<CellGrid> makeCellGrid(const geometry::MeshBody& body, double heightMm, const base::Progress* progress,
                                    double cellMm) {
    geometry::Bounds bounds;
    for (const Vec3& p : body.mesh.points) bounds.include(p);
    const double tall = bounds.empty() ? 0 : bounds.size().z();
    if (!(tall > 0) || !(heightMm >= base::kBrickMm && heightMm <= 10'000))
        return base::Error{"grid.size", "a height from one brick, 9.6 mm, to 10 m is expected", ""};
    const double scale = heightMm / tall;
    const Vec3 size = bounds.size() * scale;
    CellGrid grid;
    grid.cellMm = cellMm;
    grid.nx = std::max(1, static_cast<int>(std::ceil(size.x() / base::kPitchMm)));
    grid.ny = std::max(1, static_cast<int>(std::ceil(size.y() / base::kPitchMm)));
    grid.nz = std::max(1, static_cast<int>(std::lround(heightMm / cellMm)));
    if (static_cast<double>(grid.nx) * grid.ny * grid.nz > kMostCells)
        return base::Error{"grid.size", "more than " + std::to_string(kMostCells) + " cells: choose a smaller height",
                           ""};
    grid.filled.assign(
        static_cast<std::size_t>(grid.nx) * static_cast<std::size_t>(grid.ny) * static_cast<std::size_t>(grid.nz), 0);
    // The middle of the body over the middle of the grid.
    const Vec3 shift(grid.nx * base::kPitchMm / 2 - bounds.centre().x() * scale,
                     grid.ny * base::kPitchMm / 2 - bounds.centre().y() * scale, -bounds.low.z() * scale);
    std::vector<Vec3> points;
    points.reserve(body.mesh.points.size());
    for (const Vec3& p : body.mesh.points) points.push_back(p * scale + shift);
    std::vector<std::vector<Crossing>> columns(static_cast<std::size_t>(grid.nx) * static_cast<std::size_t>(grid.ny));
    const auto middle = [](int cell, double aside) { return (cell + 0.5) * base::kPitchMm + aside; };
    for (const auto& t : body.mesh.triangles) {
        const Vec3 &a = ivrant::at(points, t[0]), &b = ivrant::at(points, t[1]), &c = ivrant::at(points, t[2]);
        const auto low = [&](double one, double two, double three) {
            return static_cast<int>(std::floor(std::min({one, two, three}) / base::kPitchMm - 0.5)) - 1;
        };
        const auto high = [&](double one, double two, double three) {
            return static_cast<int>(std::ceil(std::max({one, two, three}) / base::kPitchMm)) + 1;
        };
        for (int y = std::max(0, low(a.y(), b.y(), c.y())); y < std::min(grid.ny, high(a.y(), b.y(), c.y())); ++y)
            for (int x = std::max(0, low(a.x(), b.x(), c.x())); x < std::min(grid.nx, high(a.x(), b.x(), c.x())); ++x)
                addCrossing(a, b, c, middle(x, kAsideX), middle(y, kAsideY), columns[grid.column(x, y)]);
    }
    for (int y = 0; y < grid.ny; ++y) {
        if (progress && progress->stopped()) return base::Error{"stopped", "stopped", ""};
        for (int x = 0; x < grid.nx; ++x) {
            auto& crossings = columns[grid.column(x, y)];
            std::sort(crossings.begin(), crossings.end(),
                      [](const Crossing& l, const Crossing& r) { return l.z < r.z; });
            std::size_t next = 0;
            int winding = 0;
            for (int z = 0; z < grid.nz; ++z) {
                const double at = (z + 0.5) * heightMm / grid.nz;
                for (; next < crossings.size() && crossings[next].z <= at; ++next) winding += crossings[next].sign;
                if (winding > 0) grid.filled[grid.index(x, y, z)] = 1;
            }
        }
    }
    if (grid.count() == 0)
        return base::Error{"grid.size", "nothing of the mesh is as thick as a cell at this height", ""};
    return grid;
}

std::vector<int> calcDepths(const CellGrid& grid) {
    std::vector<int> depth(grid.filled.size(), 0);
    struct At {
        int x, y, z;
    };
    std::deque<At> open;
    constexpr int kSteps[6][3] = {{1, 0, 0}, {-1, 0, 0}, {0, 1, 0}, {0, -1, 0}, {0, 0, 1}, {0, 0, -1}};
    for (int z = 0; z < grid.nz; ++z)
        for (int y = 0; y < grid.ny; ++y)
            for (int x = 0; x < grid.nx; ++x) {
                if (!grid.isFilled(x, y, z)) continue;
                for (const auto& s : kSteps)
                    if (!grid.isFilled(x + s[0], y + s[1], z + s[2])) {
                        depth[grid.index(x, y, z)] = 1;
                        open.push_back({x, y, z});
                        break;
                    }
            }
    while (!open.empty()) {
        const At at = open.front();
        open.pop_front();
        const int now = depth[grid.index(at.x, at.y, at.z)];
        for (const auto& s : kSteps) {
            const At to{at.x + s[0], at.y + s[1], at.z + s[2]};
            if (!grid.isFilled(to.x, to.y, to.z) || depth[grid.index(to.x, to.y, to.z)] > 0) continue;
            depth[grid.index(to.x, to.y, to.z)] = now + 1;
            open.push_back(to);
        }
    }
    return depth;
}

CellGrid makeWholeBricks(const CellGrid& grid) {
    if (grid.cellMm > base::kPlateMm * 1.5) return grid;
    CellGrid whole;
    whole.nx = grid.nx;
    whole.ny = grid.ny;
    whole.nz = grid.nz / kPlatesInBrick;
    whole.filled.assign(static_cast<std::size_t>(whole.nx) * static_cast<std::size_t>(whole.ny) *
                            static_cast<std::size_t>(whole.nz),
                        0);
    for (int z = 0; z < whole.nz; ++z)
        for (int y = 0; y < whole.ny; ++y)
            for (int x = 0; x < whole.nx; ++x) {
                bool full = true;
                for (int k = 0; k < kPlatesInBrick; ++k) full = full && grid.isFilled(x, y, kPlatesInBrick * z + k);
                whole.filled[whole.index(x, y, z)] = full ? 1 : 0;
            }
    return whole;
}

CellGrid makeHollow(const CellGrid& grid, int shell) {
    CellGrid hollow = grid;
    const CellGrid whole = makeWholeBricks(grid);
    const int steps = grid.nz > 0 && whole.nz > 0 && whole.nz < grid.nz ? kPlatesInBrick : 1;
    const auto depths = calcDepths(whole);
    for (int z = 0; z < whole.nz; ++z)
        for (int y = 0; y < whole.ny; ++y)
            for (int x = 0; x < whole.nx; ++x)
                if (depths[whole.index(x, y, z)] > shell)
                    for (int k = 0; k < steps; ++k) hollow.filled[hollow.index(x, y, steps * z + k)] = 0;
    return hollow;
}

} // namespace ivrant::stand
