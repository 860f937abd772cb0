// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/drive/brick_rows.h"

#include <algorithm>
#include <limits>
#include <map>

#include "core/base/units.h"
#include "core/parts/family.h"
#include "core/parts/usual_sizes.h"

namespace ivrant::drive {
namespace {

using base::kPitchMm;

constexpr int kLongest = 16;
constexpr double kSeamCost = 2.5; ///< pieces that a seam over a seam is worth
constexpr double kLoneCost = 1.5; ///< and a piece of one cell: it turns on its stud

parts::ShapePtr findUsual(const std::string& name) {
    const auto shape = parts::makeShape(name);
    return shape && parts::isUsualSize(**shape) ? *shape : nullptr;
}
std::string sizeName(const std::string& family, int x, int y) {
    return family + " " + std::to_string(x) + "x" + std::to_string(y);
}

/// Fewest pieces for `count` cells, ends of one cell avoided; lengths from the start.
std::vector<int> splitLength(const std::string& family, int wide, int count, bool alongX) {
    std::vector<double> best(static_cast<std::size_t>(count) + 1, 1e9);
    std::vector<int> last(best.size());
    best[0] = 0;
    for (int n = 1; n <= count; ++n)
        for (int length = std::min(n, kLongest); length >= 1; --length) {
            const auto to = static_cast<std::size_t>(n), from = static_cast<std::size_t>(n - length);
            const double cost = best[from] + 1 + (length == 1 ? kLoneCost : 0);
            if (cost >= best[to] - 1e-9) continue;
            if (!findUsual(alongX ? sizeName(family, length, wide) : sizeName(family, wide, length))) continue;
            best[to] = cost;
            last[to] = length;
        }
    std::vector<int> lengths;
    for (int n = count; n > 0 && last[static_cast<std::size_t>(n)] > 0; n -= last[static_cast<std::size_t>(n)])
        lengths.push_back(last[static_cast<std::size_t>(n)]);
    std::reverse(lengths.begin(), lengths.end());
    return lengths;
}

} // namespace

std::vector<RowPiece> makeRow(const std::string& family, int low, int high, const std::set<int>& holesTwice,
                              std::set<int>& seams) {
    const int count = high - low + 1;
    struct Best {
        double cost = 1e9;
        int length = 0;
        parts::ShapePtr shape;
    };
    const auto pieceOf = [&](int first, int length) -> parts::ShapePtr {
        const int last = first + length - 1;
        bool between = false;
        for (const int hole : holesTwice) {
            if (hole == 2 * last + 1 || hole == 2 * first - 1) return nullptr; // it would be cut
            if (hole < 2 * first || hole > 2 * last) continue;
            if (hole % 2 == 0 && length > 1) return nullptr;
            between = true;
        }
        return findUsual(sizeName(between ? "pin hole brick" : family, 1, length));
    };
    std::vector<Best> best(static_cast<std::size_t>(count) + 1);
    best[0].cost = 0;
    for (int n = 1; n <= count; ++n)
        for (int length = std::min(n, kLongest); length >= 1; --length) {
            const int first = low + n - length, last = low + n - 1;
            const double cost = best[static_cast<std::size_t>(n - length)].cost + 1 + (length == 1 ? kLoneCost : 0) +
                                (n < count && seams.count(last) > 0 ? kSeamCost : 0);
            Best& here = best[static_cast<std::size_t>(n)];
            if (cost >= here.cost - 1e-9) continue;
            if (auto shape = pieceOf(first, length)) here = {cost, length, std::move(shape)};
        }
    if (best.back().cost >= 1e9) return {};
    seams.clear();
    std::vector<RowPiece> row;
    for (int n = count; n > 0;) {
        const Best& here = best[static_cast<std::size_t>(n)];
        if (n < count) seams.insert(low + n - 1);
        n -= here.length;
        row.push_back({here.shape, {0, kPitchMm * (low + n), 0}});
    }
    std::reverse(row.begin(), row.end());
    return row;
}

PlateSize findWholePlate(int countX, int countY) {
    constexpr int kBeyond = 2;
    PlateSize best;
    for (int x = countX; x <= countX + kBeyond; ++x)
        for (int y = countY; y <= countY + kBeyond; ++y)
            if ((best.x == 0 || x * y < best.x * best.y) && findUsual(sizeName("plate", x, y))) best = {x, y};
    return best;
}

std::vector<RowPiece> makeLayer(const std::string& family, int countX, int countY, bool alongX) {
    if (countX < 1 || countY < 1) return {};
    if (auto whole = findUsual(sizeName(family, countX, countY))) return {{whole, geometry::Vec3::Zero()}};
    const int rows = alongX ? countY : countX, cells = alongX ? countX : countY;
    std::vector<RowPiece> layer;
    for (int row = 0; row < rows;) {
        const int wide = std::min(2, rows - row);
        const auto lengths = splitLength(family, wide, cells, alongX);
        if (lengths.empty()) return {};
        int at = 0;
        for (const int length : lengths) {
            const int x = alongX ? at : row, y = alongX ? row : at;
            layer.push_back({findUsual(alongX ? sizeName(family, length, wide) : sizeName(family, wide, length)),
                             {kPitchMm * x, kPitchMm * y, 0}});
            at += length;
        }
        row += wide;
    }
    return layer;
}

} // namespace ivrant::drive
