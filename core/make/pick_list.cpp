// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/make/pick_list.h"

#include <algorithm>
#include <cctype>

namespace ivrant::make {
namespace {

/// What is left in the drawers while the trays are counted out.
class Drawers {
public:
    explicit Drawers(const model::Project& project) {
        if (!project.supplies) return;
        for (const auto& stock : project.supplies->stocks)
            for (const model::StockLine& line : stock->lines)
                if (line.isKnown && (line.keptFor.empty() || line.keptFor == project.name))
                    m_lines[{line.shape, line.colour}].push_back({line.drawer, line.count});
    }
    void take(const TrayLine& wanted, std::vector<PickLine>& into) {
        int open = wanted.count;
        for (auto& [drawer, count] : m_lines[{wanted.shape, wanted.colour}]) {
            const int taken = std::min(open, count);
            if (taken == 0) continue;
            count -= taken;
            open -= taken;
            into.push_back({drawer, wanted.shape, wanted.colour, taken});
        }
        if (open > 0) into.push_back({"", wanted.shape, wanted.colour, open});
    }

private:
    std::map<std::pair<std::string, int>, std::vector<std::pair<std::string, int>>> m_lines;
};

/// By drawer, then shape and colour, what stands there twice added up; what is in none comes last.
void tidy(std::vector<PickLine>& lines) {
    std::stable_sort(lines.begin(), lines.end(), [](const PickLine& l, const PickLine& r) {
        if (l.drawer != r.drawer) {
            if (l.drawer.empty() || r.drawer.empty()) return r.drawer.empty();
            return isBeforeInDrawers(l.drawer, r.drawer);
        }
        return std::tie(l.shape, l.colour) < std::tie(r.shape, r.colour);
    });
    std::vector<PickLine> merged;
    for (PickLine& line : lines) {
        if (!merged.empty() && merged.back().drawer == line.drawer && merged.back().shape == line.shape &&
            merged.back().colour == line.colour)
            merged.back().count += line.count;
        else
            merged.push_back(std::move(line));
    }
    lines = std::move(merged);
}

} // namespace

bool isBeforeInDrawers(const std::string& l, const std::string& r) {
    const auto isDigit = [](char c) { return std::isdigit(static_cast<unsigned char>(c)) != 0; };
    std::size_t i = 0, j = 0;
    while (i < l.size() && j < r.size()) {
        if (isDigit(l[i]) && isDigit(r[j])) {
            const auto number = [&](const std::string& text, std::size_t& at) {
                while (at < text.size() && text[at] == '0') ++at;
                const std::size_t from = at;
                while (at < text.size() && isDigit(text[at])) ++at;
                return text.substr(from, at - from);
            };
            const std::string a = number(l, i), b = number(r, j);
            if (a.size() != b.size()) return a.size() < b.size();
            if (a != b) return a < b;
            continue;
        }
        if (l[i] != r[j]) return l[i] < r[j];
        ++i;
        ++j;
    }
    return l.size() - i < r.size() - j;
}

std::vector<PickTray> pickBySteps(const model::Project& project, const model::SectionTree& tree, int stepsATray) {
    Drawers drawers(project);
    std::vector<PickTray> trays;
    for (const Step& step : listSteps(project, tree)) {
        const bool full = trays.empty() || step.number - trays.back().firstStep >= std::max(1, stepsATray);
        if (full) trays.push_back({step.number, step.number, "", {}});
        trays.back().lastStep = step.number;
        for (const TrayLine& line : step.tray) drawers.take(line, trays.back().lines);
    }
    for (PickTray& tray : trays) tidy(tray.lines);
    return trays;
}

std::vector<PickTray> pickByDrawers(const model::Project& project, const model::SectionTree& tree) {
    std::vector<PickLine> all;
    for (const PickTray& tray : pickBySteps(project, tree)) all.insert(all.end(), tray.lines.begin(), tray.lines.end());
    tidy(all);
    std::vector<PickTray> trays;
    for (PickLine& line : all) {
        if (trays.empty() || trays.back().drawer != line.drawer) trays.push_back({0, 0, line.drawer, {}});
        trays.back().lines.push_back(std::move(line));
    }
    return trays;
}

} // namespace ivrant::make
