// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/model/module.h"

#include <algorithm>
#include <set>

#include "core/base/at.h"
#include "core/model/validate.h"

namespace ivrant::model {
namespace {

struct SideWord {
    const char* name;
    std::array<int, 3> axis;
};
constexpr std::array<SideWord, 6> kSides{{{"top", {0, 0, 1}},
                                          {"bottom", {0, 0, -1}},
                                          {"left", {-1, 0, 0}},
                                          {"right", {1, 0, 0}},
                                          {"front", {0, -1, 0}},
                                          {"back", {0, 1, 0}}}};

} // namespace

const char* getSideName(Side side) { return at(kSides, static_cast<int>(side)).name; }
std::array<int, 3> getSideAxis(Side side) { return at(kSides, static_cast<int>(side)).axis; }
std::optional<Side> findSide(std::string_view name) {
    for (std::size_t k = 0; k < kSides.size(); ++k)
        if (name == kSides[k].name) return static_cast<Side>(k);
    return std::nullopt;
}

int findModule(const Modules& modules, const ModuleId& id) {
    const auto found =
        std::find_if(modules.list.begin(), modules.list.end(), [&](const auto& m) { return m.id == id; });
    return found == modules.list.end() ? -1 : static_cast<int>(found - modules.list.begin());
}

std::vector<PartSpot> listModuleParts(const Project& project, const Module& one) {
    std::vector<PartId> parts = one.parts;
    std::vector<SectionId> sections = one.sections;
    if (const int o = one.option.empty() ? -1 : findOption(project.options, one.option); o >= 0) {
        const Option& option = at(project.options.list, o);
        const Alternative& chosen = at(option.alternatives, option.chosen);
        parts.insert(parts.end(), chosen.parts.begin(), chosen.parts.end());
        sections.insert(sections.end(), chosen.sections.begin(), chosen.sections.end());
    }
    std::set<PartSpot> spots;
    const PartIndex index(project);
    for (const PartId& id : parts)
        if (const PartSpot spot = index.find(id); spot.section >= 0) spots.insert(spot);
    std::vector<bool> comes(project.sections.size(), false);
    for (const SectionId& id : sections)
        if (const int s = project.findSection(id); s >= 0) at(comes, s) = true;
    if (const auto tree = makeTree(project))
        for (const int s : tree->order) {
            const int up = tree->parent(s);
            // What hangs on a part that comes off comes along.
            if (up >= 0 && (at(comes, up) || spots.count(at(tree->from, at(tree->carrier, s))) > 0))
                at(comes, s) = true;
            if (!at(comes, s)) continue;
            for (std::size_t p = 0; p < at(project.sections, s)->parts.size(); ++p)
                spots.insert({s, static_cast<int>(p)});
        }
    return {spots.begin(), spots.end()};
}

base::Status checkModules(const Project& project) {
    for (std::size_t i = 0; i < project.modules.list.size(); ++i) {
        const Module& one = project.modules.list[i];
        const std::string place = "/modules/" + std::to_string(i);
        if (one.name.empty()) return base::Error{"edit.name", "a module needs a name", place + "/name"};
        if (one.parts.empty() && one.sections.empty() && one.option.empty())
            return base::Error{"module.empty", "a module is made of parts, of sections or of an option's choice",
                               place + "/parts"};
    }
    for (std::size_t i = 0; i < project.modules.reaches.size(); ++i) {
        const Reach& reach = project.modules.reaches[i];
        const std::string place = "/reaches/" + std::to_string(i);
        if (reach.name.empty()) return base::Error{"edit.name", "what must be reached needs a name", place + "/name"};
        if (reach.part.empty()) return base::Error{"module.part", "a part is expected", place + "/part"};
        if (reach.mostMoves < 0 || reach.mostMoves > kMostReachMoves)
            return base::Error{"module.moves", "moves are 0 to " + std::to_string(kMostReachMoves),
                               place + "/most_moves"};
    }
    return {};
}

} // namespace ivrant::model
