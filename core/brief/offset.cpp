// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/brief/offset.h"

#include <algorithm>
#include <cmath>
#include <cstdlib>

#include "core/base/units.h"

namespace ivrant::brief {
namespace {
constexpr double kMostMm = 200;
constexpr int kMostPlates = 9, kMostHalfPlates = 2;
constexpr double kSameMm = 0.001;
} // namespace

base::Result<std::vector<OffsetWay>> findOffsets(double wanted, std::size_t most) {
    if (!(std::abs(wanted) <= kMostMm))
        return base::Error{"offset.range", "an offset of at most 200 mm either way is expected", ""};
    std::vector<OffsetWay> ways;
    for (int half = -1; half <= 1; ++half)
        for (int plates = -kMostPlates; plates <= kMostPlates; ++plates)
            for (int leaves = -kMostHalfPlates; leaves <= kMostHalfPlates; ++leaves) {
                const double rest =
                    wanted - half * base::kPitchMm / 2 - plates * base::kPlateMm - leaves * base::kPlateMm / 2;
                OffsetWay way{static_cast<int>(std::lround(rest / base::kPitchMm)), half, plates, leaves, 0, 0, 0};
                way.mm = way.pitches * base::kPitchMm + half * base::kPitchMm / 2 + plates * base::kPlateMm +
                         leaves * base::kPlateMm / 2;
                way.errorMm = way.mm - wanted;
                way.effort = std::abs(half) + 2 * std::abs(plates) + 2 * std::abs(leaves);
                ways.push_back(way);
            }
    std::stable_sort(ways.begin(), ways.end(), [](const OffsetWay& l, const OffsetWay& r) {
        const double a = std::abs(l.errorMm), b = std::abs(r.errorMm);
        if (std::abs(a - b) > kSameMm) return a < b;
        if (l.effort != r.effort) return l.effort < r.effort;
        const auto back = [](const OffsetWay& w) { return (w.halfPitches < 0) + (w.plates < 0) + (w.halfPlates < 0); };
        return back(l) < back(r); // forwards is simpler than there and back
    });
    // Of ways to the same place only the simplest two are worth a look.
    std::vector<OffsetWay> kept;
    for (const OffsetWay& way : ways) {
        if (kept.size() >= most) break;
        const auto same = std::count_if(kept.begin(), kept.end(),
                                        [&](const OffsetWay& k) { return std::abs(k.mm - way.mm) < kSameMm; });
        if (same < 2) kept.push_back(way);
    }
    return kept;
}

} // namespace ivrant::brief
