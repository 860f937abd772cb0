// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/stand/ballast.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <limits>

#include "core/base/units.h"
#include "core/stand/support_edges.h"

namespace ivrant::stand {

using geometry::Vec3;

std::optional<WeightRange> calcWeights(std::span<const Standing> standings, std::span<const Vec3> at, double wishDeg) {
    WeightRange range{0, std::numeric_limits<double>::infinity()};
    const double lean = std::tan(base::degToRad(wishDeg));
    for (std::size_t i = 0; i < standings.size(); ++i) {
        const Tipping& tipping = standings[i].tipping;
        if (tipping.support.size() < 3) return std::nullopt; // no weight keeps it on a line or a point
        for (const SupportEdge& edge : listEdges(tipping.support)) {
            const auto excess = [&](const Vec3& place) {
                return edge.inside(place.head<2>()) - lean * std::max(place.z(), 0.0);
            };
            const double have = tipping.massG * excess(tipping.centre), each = excess(at[i]); // have + m·each ≥ 0
            if (std::abs(each) < 1e-12) {
                if (have < 0) return std::nullopt;
            } else if (each > 0) {
                range.low = std::max(range.low, -have / each);
            } else {
                range.high = std::min(range.high, -have / each);
            }
        }
    }
    if (range.low > range.high) return std::nullopt;
    return range;
}

namespace {

/// Where a part takes a weight, in its own frame: its centre, and the middles of its outermost pitches.
std::vector<Vec3> listPlaces(const parts::Shape& shape) {
    std::vector<Vec3> places{shape.centre};
    const auto& box = shape.bounds;
    if (box.empty()) return places;
    const auto ends = [&](int k) {
        const double inset = std::min(base::kPitchMm, box.size()[k]) / 2;
        return std::array{box.low[k] + inset, box.high[k] - inset};
    };
    for (const double x : ends(0))
        for (const double y : ends(1)) places.emplace_back(x, y, shape.centre.z());
    return places;
}

} // namespace

std::optional<BallastProposal> calcBallast(std::span<const Standing> standings, int section, double wishDeg,
                                           double mostG) {
    if (standings.empty()) return std::nullopt;
    const auto s = static_cast<std::size_t>(section);
    std::optional<BallastProposal> best;
    double lowest = 0; // height of the best place in the first standing
    std::vector<Vec3> at(standings.size());
    const auto& parts = standings.front().placed.project->sections[s]->parts;
    for (std::size_t p = 0; p < parts.size(); ++p)
        for (const Vec3& place : listPlaces(*parts[p].shape)) {
            const Vec3 own = parts[p].place.frame() * place;
            for (std::size_t i = 0; i < standings.size(); ++i) at[i] = standings[i].placed.X_WS[s] * own;
            const auto range = calcWeights(standings, at, wishDeg);
            if (!range) continue;
            const double gram = std::max(0.0, std::ceil(range->low - 1e-9)), height = at.front().z();
            if (gram > range->high || gram > mostG) continue;
            if (!best || gram < best->massG || (gram == best->massG && height < lowest - 1e-9)) {
                best = BallastProposal{section, own, gram, static_cast<int>(p)};
                lowest = height;
            }
        }
    return best;
}

} // namespace ivrant::stand
