#include "core/verdict/hidden.h"

#include "core/stand/part_depth.h"

namespace ivrant::verdict {

base::Result<Hidden> calcHidden(const Report& report, base::Progress* progress) {
    std::vector<std::vector<bool>> seen;
    for (const auto& section : report.project->sections) seen.emplace_back(section->parts.size(), false);
    for (std::size_t q = 0; q < report.poses.size(); ++q) {
        if (progress) progress->report(static_cast<double>(q) / static_cast<double>(report.poses.size()));
        const auto depths = stand::calcPartDepths(report.poses[q].placed, progress);
        if (!depths) return depths.error();
        for (std::size_t s = 0; s < seen.size(); ++s)
            for (std::size_t p = 0; p < seen[s].size(); ++p)
                if (depths->depth[s][p] < 2) seen[s][p] = true; // thin parts that fill no cell count as seen
    }
    Hidden hidden;
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
