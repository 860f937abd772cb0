// SPDX-License-Identifier: GPL-3.0-or-later
// Planes across which no part of a section reaches. Part of structure.h.
#include <algorithm>
#include <cmath>
#include <map>
#include <set>

#include "core/base/at.h"
#include "core/base/units.h"
#include "core/parts/body_box.h"
#include "core/stand/structure.h"

namespace ivrant::stand {
namespace {

constexpr double kHalfPitchMm = base::kPitchMm / 2;
constexpr double kGridMm = 0.3; ///< sides are inset by 0.1 mm

/// A part as a block of half pitches across and plates upwards.
struct Block {
    int part = 0;
    int low[3]{}, high[3]{};
};

std::vector<Block> listBlocks(const model::Section& section) {
    std::vector<Block> blocks;
    const double unit[3] = {kHalfPitchMm, kHalfPitchMm, base::kPlateMm};
    for (std::size_t p = 0; p < section.parts.size(); ++p) {
        const model::Part& part = section.parts[p];
        const geometry::Bounds box = parts::calcBodyBox(*part.shape, part.place.frame());
        if (box.empty()) continue;
        Block block;
        block.part = static_cast<int>(p);
        bool onGrid = true;
        for (int k = 0; k < 3; ++k) {
            block.low[k] = static_cast<int>(std::lround(box.low[k] / unit[k]));
            block.high[k] = static_cast<int>(std::lround(box.high[k] / unit[k]));
            onGrid = onGrid && std::abs(box.low[k] - block.low[k] * unit[k]) < kGridMm &&
                     std::abs(box.high[k] - block.high[k] * unit[k]) < kGridMm;
        }
        if (onGrid && block.high[0] > block.low[0] && block.high[1] > block.low[1] && block.high[2] > block.low[2])
            blocks.push_back(block);
    }
    return blocks;
}

/// What meets a plane at one height: parts before it, behind it and through it, by half pitches along the plane.
struct Strip {
    std::map<int, int> before, behind; ///< place along the plane → part
    std::set<int> through;
};
/// A run along the plane with parts on both sides and none through.
struct Run {
    int low, high, bottom, top;
    std::set<int> before, behind;
};

class Planes {
public:
    Planes(const model::Section& section, int sectionIndex, int axis, int leastCourses)
        : m_blocks(listBlocks(section)), m_section(section), m_index(sectionIndex), m_axis(axis),
          m_least(leastCourses) {}

    void run(std::vector<Seam>& seams) {
        const int other = 1 - m_axis;
        std::set<int> planes;
        for (const Block& b : m_blocks) planes.insert(b.high[m_axis]);
        // plane → plate → strip; parts reach through few planes, so this stays about as large as the model's surface
        std::map<int, std::map<int, Strip>> strips;
        for (const Block& b : m_blocks)
            for (auto it = planes.lower_bound(b.low[m_axis]); it != planes.end() && *it <= b.high[m_axis]; ++it)
                for (int z = b.low[2]; z < b.high[2]; ++z) {
                    Strip& strip = strips[*it][z];
                    for (int t = b.low[other]; t < b.high[other]; ++t) {
                        if (*it == b.high[m_axis])
                            strip.before[t] = b.part;
                        else if (*it == b.low[m_axis])
                            strip.behind[t] = b.part;
                        else
                            strip.through.insert(t);
                    }
                }
        for (const auto& [plane, levels] : strips) stack(plane, levels, seams);
    }

private:
    static std::vector<Run> listRuns(const Strip& strip, int z) {
        std::vector<Run> runs;
        std::set<int> along = strip.through;
        for (const auto& [t, part] : strip.before) along.insert(t);
        for (const auto& [t, part] : strip.behind) along.insert(t);
        bool cut = true, any = false;
        Run open{};
        const auto close = [&] {
            if (any && cut && !open.before.empty() && !open.behind.empty()) runs.push_back(open);
            any = false;
            cut = true;
        };
        for (const int t : along) {
            const auto before = strip.before.find(t), behind = strip.behind.find(t);
            // Material on one side only is no joint, but its neighbour's thickness goes on there.
            if (any && open.high != t) close();
            if (!any) open = Run{t, t, z, z + 1, {}, {}};
            any = true;
            open.high = t + 1;
            if (strip.through.count(t) > 0) cut = false;
            if (before != strip.before.end() && behind != strip.behind.end()) {
                open.before.insert(before->second);
                open.behind.insert(behind->second);
            }
        }
        close();
        return runs;
    }
    void stack(int plane, const std::map<int, Strip>& levels, std::vector<Seam>& seams) {
        std::vector<Run> open;
        int last = 0;
        const auto finish = [&](const Run& run) { add(plane, run, seams); };
        for (const auto& [z, strip] : levels) {
            std::vector<Run> next;
            std::vector<char> goesOn(open.size(), 0);
            for (Run run : listRuns(strip, z)) {
                for (std::size_t i = 0; i < open.size(); ++i) {
                    if (z != last + 1 || open[i].high <= run.low || open[i].low >= run.high) continue;
                    goesOn[i] = 1;
                    run.bottom = std::min(run.bottom, open[i].bottom);
                    run.low = std::min(run.low, open[i].low);
                    run.high = std::max(run.high, open[i].high);
                    run.before.insert(open[i].before.begin(), open[i].before.end());
                    run.behind.insert(open[i].behind.begin(), open[i].behind.end());
                }
                next.push_back(std::move(run));
            }
            for (std::size_t i = 0; i < open.size(); ++i)
                if (!goesOn[i]) finish(open[i]);
            open = std::move(next);
            last = z;
        }
        for (const Run& run : open) finish(run);
    }
    /// Courses: the fewer of the different heights at which parts end on the two sides.
    [[nodiscard]] int countCourses(const Run& run) const {
        const auto count = [&](const std::set<int>& parts) {
            std::set<int> tops;
            for (const Block& b : m_blocks)
                if (parts.count(b.part) > 0) tops.insert(b.high[2]);
            return static_cast<int>(tops.size());
        };
        return std::min(count(run.before), count(run.behind));
    }
    void add(int plane, const Run& run, std::vector<Seam>& seams) const {
        if (run.top - run.bottom < m_least ||
            static_cast<int>(std::min(run.before.size(), run.behind.size())) < m_least)
            return;
        const int courses = countCourses(run);
        if (courses < m_least) return;
        Seam seam;
        seam.section = m_index;
        seam.axis = m_axis;
        seam.atMm = plane * kHalfPitchMm;
        seam.lowMm = run.low * kHalfPitchMm;
        seam.highMm = run.high * kHalfPitchMm;
        seam.bottomMm = run.bottom * base::kPlateMm;
        seam.topMm = run.top * base::kPlateMm;
        seam.courses = courses;
        for (const auto* side : {&run.before, &run.behind})
            for (const int part : *side) seam.parts.push_back({m_index, part});
        const int other = 1 - m_axis;
        for (const Block& a : m_blocks) {
            if (run.before.count(a.part) == 0) continue;
            for (const Block& b : m_blocks)
                if (run.behind.count(b.part) > 0 && a.low[2] == b.low[2] && a.high[2] == b.high[2] &&
                    a.low[other] == b.low[other] && a.high[other] == b.high[other] && familyOf(a) == familyOf(b))
                    seam.alike.emplace_back(model::PartSpot{m_index, a.part}, model::PartSpot{m_index, b.part});
        }
        seams.push_back(std::move(seam));
    }
    [[nodiscard]] const std::string& familyOf(const Block& block) const {
        return at(m_section.parts, block.part).shape->family;
    }

    std::vector<Block> m_blocks;
    const model::Section& m_section;
    int m_index, m_axis, m_least;
};

} // namespace

std::vector<Seam> findSeams(const model::Placed& placed, int section, int leastCourses) {
    std::vector<Seam> seams;
    for (const int axis : {0, 1})
        Planes(*at(placed.project->sections, section), section, axis, leastCourses).run(seams);
    std::stable_sort(seams.begin(), seams.end(), [](const Seam& l, const Seam& r) { return l.courses > r.courses; });
    return seams;
}

} // namespace ivrant::stand
