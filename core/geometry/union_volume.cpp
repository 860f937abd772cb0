// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/geometry/union_volume.h"

#include <algorithm>
#include <cmath>
#include <numeric>

namespace ivrant::geometry {
namespace {

constexpr double kStepMm = 0.1;
constexpr double kTouchMm = 1e-6; ///< bounds that only meet do not overlap
constexpr double kMostLines = 400'000;

/// Lines along one axis through solids that overlap each other.
FilledSpace integrate(const std::vector<const Solid*>& solids) {
    Bounds all;
    std::vector<Bounds> bounds;
    for (const Solid* s : solids) {
        bounds.push_back(calcBounds(*s, Frame::Identity()));
        all.include(bounds.back());
    }
    const Vec3 size = all.size();
    int along = 0;
    for (int k = 1; k < 3; ++k)
        if (size[k] > size[along]) along = k;
    const int u = (along + 1) % 3, v = (along + 2) % 3;
    const double step = std::max(kStepMm, std::sqrt(size[u] * size[v] / kMostLines));
    const int nu = std::max(1, static_cast<int>(std::ceil(size[u] / step))),
              nv = std::max(1, static_cast<int>(std::ceil(size[v] / step)));
    const double du = size[u] / nu, dv = size[v] / nv, start = all.low[along] - 1, length = size[along] + 2;
    Vec3 way = Vec3::Zero();
    way[along] = 1;
    FilledSpace sum;
    std::vector<std::size_t> inRow;
    std::vector<std::pair<double, double>> within;
    for (int i = 0; i < nu; ++i) {
        Vec3 from;
        from[along] = start;
        from[u] = all.low[u] + (i + 0.5) * du;
        inRow.clear();
        for (std::size_t s = 0; s < solids.size(); ++s)
            if (from[u] > bounds[s].low[u] && from[u] < bounds[s].high[u]) inRow.push_back(s);
        for (int k = 0; k < nv && !inRow.empty(); ++k) {
            from[v] = all.low[v] + (k + 0.5) * dv;
            within.clear();
            for (const std::size_t s : inRow) {
                if (from[v] <= bounds[s].low[v] || from[v] >= bounds[s].high[v]) continue;
                const double in = calcRayHit(*solids[s], from, way);
                if (in < 0) continue;
                const double out = length - calcRayHit(*solids[s], from + way * length, -way);
                if (out > in) within.emplace_back(in, out);
            }
            std::sort(within.begin(), within.end());
            double reached = 0;
            for (const auto& [in, out] : within) {
                const double begin = std::max(in, reached);
                if (out <= begin) continue;
                Vec3 middle = from;
                middle[along] += 0.5 * (begin + out);
                const double part = (out - begin) * du * dv;
                sum.volume += part;
                sum.moment += part * middle;
                reached = out;
            }
        }
    }
    return sum;
}

} // namespace

FilledSpace calcFilledSpace(std::span<const Solid> solids) {
    std::vector<std::size_t> group(solids.size());
    std::iota(group.begin(), group.end(), std::size_t{0});
    const auto find = [&](std::size_t i) {
        while (group[i] != i) i = group[i];
        return i;
    };
    std::vector<Bounds> bounds;
    for (const Solid& s : solids) bounds.push_back(calcBounds(s, Frame::Identity()));
    for (std::size_t i = 0; i < solids.size(); ++i)
        for (std::size_t j = i + 1; j < solids.size(); ++j)
            if (bounds[i].overlaps(bounds[j], -kTouchMm)) group[find(j)] = find(i);
    FilledSpace sum;
    for (std::size_t root = 0; root < solids.size(); ++root) {
        if (find(root) != root) continue;
        std::vector<const Solid*> together;
        for (std::size_t i = 0; i < solids.size(); ++i)
            if (find(i) == root) together.push_back(&solids[i]);
        if (together.size() == 1) {
            const double volume = calcVolume(*together[0]);
            sum.volume += volume;
            sum.moment += volume * calcCentroid(*together[0]);
            continue;
        }
        const FilledSpace part = integrate(together);
        sum.volume += part.volume;
        sum.moment += part.moment;
    }
    return sum;
}

} // namespace ivrant::geometry
