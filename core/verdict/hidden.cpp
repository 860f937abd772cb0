#include "core/verdict/hidden.h"

#include <algorithm>
#include <iterator>
#include <set>

#include "core/stand/part_depth.h"

namespace ivrant::verdict {

base::Result<Hidden> calcHidden(const Report& report, base::Progress* progress) {
    std::vector<std::vector<bool>> seen;
    std::set<model::PartSpot> wide, showing; // seen openly; through a gap in another colour
    for (const auto& section : report.project->sections) seen.emplace_back(section->parts.size(), false);
    for (std::size_t q = 0; q < report.poses.size(); ++q) {
        if (progress) progress->report(static_cast<double>(q) / static_cast<double>(report.poses.size()));
        const auto depths = stand::calcPartDepths(report.poses[q].placed, progress);
        if (!depths) return depths.error();
        std::set<model::PartSpot> peeking;
        const auto colourOf = [&](model::PartSpot spot) { return getPart(*report.project, spot).colour; };
        for (const stand::Peek& peek : depths->peeks) {
            peeking.insert(peek.part);
            const int own = colourOf(peek.part);
            if (std::none_of(peek.around.begin(), peek.around.end(), [&](model::PartSpot other) { return colourOf(other) == own; })) showing.insert(peek.part);
        }
        for (std::size_t s = 0; s < seen.size(); ++s)
            for (std::size_t p = 0; p < seen[s].size(); ++p) {
                if (depths->depth[s][p] >= 2) continue; // thin parts that fill no cell count as seen
                seen[s][p] = true;
                if (const model::PartSpot spot{static_cast<int>(s), static_cast<int>(p)}; peeking.count(spot) == 0) wide.insert(spot);
            }
    }
    Hidden hidden;
    std::set_difference(showing.begin(), showing.end(), wide.begin(), wide.end(), std::back_inserter(hidden.showing));
    for (std::size_t s = 0; s < seen.size(); ++s)
        for (std::size_t p = 0; p < seen[s].size(); ++p) {
            if (seen[s][p]) continue;
            const model::PartSpot spot{static_cast<int>(s), static_cast<int>(p)};
            hidden.parts.push_back(spot);
            hidden.massG += getPart(*report.project, spot).massG();
        }
    return hidden;
}

} // namespace ivrant::verdict
