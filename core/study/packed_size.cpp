// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/study/packed_size.h"

#include <algorithm>
#include <cmath>
#include <numeric>

#include "core/base/at.h"
#include "core/base/units.h"
#include "core/geometry/hull.h"

namespace ivrant::study {

using geometry::Vec3;

UprightSize calcUprightSize(const std::vector<Vec3>& points) {
    UprightSize best;
    if (points.empty()) return best;
    double low = points.front().z(), high = low;
    std::vector<Eigen::Vector2d> flat;
    flat.reserve(points.size());
    for (const Vec3& p : points) {
        low = std::min(low, p.z());
        high = std::max(high, p.z());
        flat.emplace_back(p.x(), p.y());
    }
    const auto hull = geometry::calcHull2(std::move(flat));
    double least = -1;
    for (std::size_t k = 0; k < hull.size(); ++k) {
        Eigen::Vector2d along = hull[(k + 1) % hull.size()] - hull[k];
        along = along.norm() > 1e-9 ? Eigen::Vector2d(along.normalized()) : Eigen::Vector2d(1, 0);
        const Eigen::Vector2d across(-along.y(), along.x());
        Eigen::Vector2d from(1e30, 1e30), to(-1e30, -1e30);
        for (const auto& corner : hull) {
            const Eigen::Vector2d at(corner.dot(along), corner.dot(across));
            from = from.cwiseMin(at);
            to = to.cwiseMax(at);
        }
        const Eigen::Vector2d size = to - from;
        if (least >= 0 && size.x() * size.y() >= least - 1e-9) continue;
        least = size.x() * size.y();
        double turn = -base::radToDeg(std::atan2(along.y(), along.x()));
        if (size.y() > size.x()) turn -= 90;
        turn = std::remainder(turn, 180);
        best.mm = {std::max(size.x(), size.y()), std::min(size.x(), size.y()), high - low};
        best.turnDeg = turn;
    }
    return best;
}

namespace {

struct Row {
    double at = 0, depth = 0, used = 0;
};
struct OpenBox {
    std::vector<Row> rows;
    double massG = 0;
    bool whole = false; ///< something too large has it for itself
};

} // namespace

std::vector<BoxPlace> placeInBoxes(const std::vector<Vec3>& sizes, const std::vector<double>& massG, const Vec3& box,
                                   double mostG) {
    std::vector<std::size_t> order(sizes.size());
    std::iota(order.begin(), order.end(), std::size_t{0});
    std::stable_sort(order.begin(), order.end(),
                     [&](std::size_t l, std::size_t r) { return sizes[l].y() > sizes[r].y(); });
    std::vector<BoxPlace> places(sizes.size());
    std::vector<OpenBox> open;
    const double along = std::max(box.x(), box.y()), across = std::min(box.x(), box.y());
    for (const std::size_t piece : order) {
        const Vec3& size = sizes[piece];
        bool placed = false;
        const auto put = [&](std::size_t b, Row& row, double width, double depth, bool turned) {
            if (row.used + width > along + 1e-9 || row.at + depth > across + 1e-9 || depth > row.depth + 1e-9) return;
            places[piece] = {static_cast<int>(b), {row.used, row.at}, turned};
            row.used += width;
            open[b].massG += massG[piece];
            placed = true;
        };
        for (std::size_t b = 0; b < open.size() && !placed; ++b) {
            if (open[b].whole || open[b].massG + massG[piece] > mostG + 1e-9 || size.z() > box.z() + 1e-9) continue;
            for (Row& row : open[b].rows) {
                if (!placed) put(b, row, size.x(), size.y(), false);
                if (!placed) put(b, row, size.y(), size.x(), true);
            }
            if (placed) break;
            const Row& last = open[b].rows.back();
            Row next{last.at + last.depth, size.y(), 0};
            put(b, next, size.x(), size.y(), false);
            if (placed) open[b].rows.push_back(next);
        }
        if (placed) continue;
        const bool fits = size.x() <= along + 1e-9 && size.y() <= across + 1e-9 && size.z() <= box.z() + 1e-9 &&
                          massG[piece] <= mostG + 1e-9;
        places[piece] = {static_cast<int>(open.size()), {0, 0}, false};
        open.push_back({{{0, size.y(), size.x()}}, massG[piece], !fits});
    }
    return places;
}

} // namespace ivrant::study
