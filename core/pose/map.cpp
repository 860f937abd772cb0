// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/pose/map.h"

#include <algorithm>
#include <cmath>
#include <tbb/parallel_for.h>

#include "core/base/at.h"

namespace ivrant::pose {
namespace {

using model::Placed;

struct Sides {
    std::vector<int> moved, still;
};

std::vector<bool> maskOf(const std::vector<int>& sections, std::size_t count) {
    std::vector<bool> mask(count, false);
    for (int s : sections) ivrant::at(mask, s) = true;
    return mask;
}

class Mapper {
public:
    Mapper(const RangeContext& context, JointValues values, TwoJointMap& map)
        : m_context(context), m_map(map), m_values(std::move(values)) {
        const std::size_t count = context.project->sections.size();
        const auto byFirst = maskOf(context.tree.carriedBy(map.request.first.joint), count);
        const auto bySecond = maskOf(context.tree.carriedBy(map.request.second.joint), count);
        for (std::size_t s = 0; s < count; ++s) {
            const int section = static_cast<int>(s);
            (bySecond[s] ? m_second.moved : m_second.still).push_back(section);
            Sides& side = bySecond[s] ? m_firstWithin : m_firstBeside;
            (byFirst[s] ? side.moved : side.still).push_back(section);
        }
        for (int i = 0; i < map.request.steps; ++i) {
            m_first.push_back(map.firstValue(i));
            m_secondAt.push_back(map.secondValue(i));
        }
    }

    void run(const base::Progress* progress) {
        const auto steps = static_cast<std::size_t>(m_map.request.steps);
        std::vector<bool> columns = blockedColumns();
        tbb::parallel_for(std::size_t{0}, steps, [&](std::size_t i) {
            if (progress && progress->stopped()) return;
            Cell* row = m_map.cells.data() + i * steps;
            JointValues values = m_values;
            value(values, m_map.request.first) = m_first[i];
            std::vector<bool> blocked(steps, true);
            if (!columns[i]) blocked = sweep(values, m_map.request.second, m_secondAt, m_second);
            for (std::size_t k = 0; k < steps; ++k) {
                value(values, m_map.request.second) = m_secondAt[k];
                row[k] = isBeyond(values) ? Cell::Beyond : blocked[k] ? Cell::Blocked : Cell::Free;
            }
        });
        const auto free = std::count(m_map.cells.begin(), m_map.cells.end(), Cell::Free);
        m_map.freeShare = static_cast<double>(free) / static_cast<double>(m_map.cells.size());
    }

private:
    static double& value(JointValues& values, FreedomRef f) {
        return ivrant::at(values[static_cast<std::size_t>(f.joint)], f.freedom);
    }

    [[nodiscard]] const parts::JointKind& kindOf(FreedomRef f) const {
        return *ivrant::at(m_context.project->joints, f.joint).kind;
    }

    [[nodiscard]] bool isBeyond(const JointValues& values) const {
        for (const FreedomRef f : {m_map.request.first, m_map.request.second})
            if (calcOwnExcess(kindOf(f), ivrant::at(values, f.joint)) > 1e-9) return true;
        return false;
    }

    /// What of a row of values of one freedom is blocked between the sections of two sides.
    [[nodiscard]] std::vector<bool> sweep(JointValues values, FreedomRef freedom, const std::vector<double>& at,
                                          const Sides& sides) const {
        if (sides.moved.empty() || sides.still.empty()) return std::vector<bool>(at.size(), false);
        value(values, freedom) = at.front();
        const Placed placed = calcPlaced(*m_context.project, m_context.tree, values);
        SweepRequest request;
        request.placed = &placed;
        request.bodies = &m_context.bodies;
        request.moving = sides.moved;
        request.fixed = sides.still;
        request.motion = makeSweepMotion(m_context, placed, values, freedom);
        const double unit = getSweepUnit(kindOf(freedom), freedom.freedom);
        std::vector<double> from;
        from.reserve(at.size());
        for (double v : at) from.push_back((v - at.front()) * unit);
        return calcBlocked(request, from);
    }

    /// Values of the first freedom at which parts on the same side of the second are in each other, whatever the second
    /// does.
    [[nodiscard]] std::vector<bool> blockedColumns() const {
        std::vector<bool> blocked = sweep(m_values, m_map.request.first, m_first, m_firstWithin);
        const auto beside = sweep(m_values, m_map.request.first, m_first, m_firstBeside);
        for (std::size_t i = 0; i < blocked.size(); ++i) blocked[i] = blocked[i] || beside[i];
        return blocked;
    }

    const RangeContext& m_context;
    TwoJointMap& m_map;
    JointValues m_values;
    Sides m_second, m_firstWithin, m_firstBeside;
    std::vector<double> m_first, m_secondAt;
};

int cellOf(const model::Range& range, int steps, double value) {
    return static_cast<int>(std::floor((value - range.low) / (range.high - range.low) * steps));
}

} // namespace

model::Range getMapRange(const model::Project& project, FreedomRef freedom) {
    const auto& joint = ivrant::at(project.joints, freedom.joint);
    return calcOwnRange(*joint.kind, {0, 0, 0}, freedom.freedom).value_or(model::Range{-180, 180});
}

base::Result<TwoJointMap> calcMap(const RangeContext& context, const JointValues& values, const MapRequest& request,
                                  const base::Progress* progress) {
    if (request.first == request.second) return base::Error{"map.same", "a map needs two different freedoms", ""};
    if (request.steps < 2 || request.steps > 1000)
        return base::Error{"map.range", "a map has 2 to 1000 cells a side", ""};
    for (const auto& r : {request.firstRange, request.secondRange})
        if (!(r.low < r.high && r.high - r.low <= 720))
            return base::Error{"map.range", "the range of a map is inside out or wider than two turns", ""};
    if (auto st = checkOutsideRings(*context.project, context.tree, {request.first.joint, request.second.joint},
                                    "map.ring", "a map");
        !st)
        return st.error();
    TwoJointMap map;
    map.request = request;
    map.cells.assign(static_cast<std::size_t>(request.steps) * static_cast<std::size_t>(request.steps), Cell::Blocked);
    Mapper(context, values, map).run(progress);
    return map;
}

std::vector<bool> TwoJointMap::findReachable(double first, double second) const {
    const int n = request.steps;
    std::vector<bool> reached;
    const int i0 = cellOf(request.firstRange, n, first), k0 = cellOf(request.secondRange, n, second);
    if (i0 < 0 || i0 >= n || k0 < 0 || k0 >= n || at(i0, k0) != Cell::Free) return reached;
    reached.assign(cells.size(), false);
    std::vector<int> open{i0 * n + k0};
    ivrant::at(reached, open.front()) = true;
    while (!open.empty()) {
        const int cell = open.back();
        open.pop_back();
        const int i = cell / n, k = cell % n;
        for (const auto& [di, dk] : {std::pair(1, 0), std::pair(-1, 0), std::pair(0, 1), std::pair(0, -1)}) {
            const int ni = i + di, nk = k + dk;
            const auto next = static_cast<std::size_t>(ni) * static_cast<std::size_t>(n) + static_cast<std::size_t>(nk);
            if (ni < 0 || ni >= n || nk < 0 || nk >= n || at(ni, nk) != Cell::Free || reached[next]) continue;
            reached[next] = true;
            open.push_back(ni * n + nk);
        }
    }
    return reached;
}

} // namespace ivrant::pose
