// SPDX-License-Identifier: GPL-3.0-or-later
// Helpers shared by the edit files; not for use outside core/model.
#pragma once

#include <algorithm>
#include <set>

#include "core/base/at.h"
#include "core/model/edits.h"
#include "core/model/validate.h"

namespace ivrant::model::detail {

/// Parts that wait for a section that is gone wait for nothing.
inline void dropWaiting(Project& project) {
    for (auto& section : project.sections) {
        const auto waitsInVain = [&](const Part& part) {
            return !part.after.empty() && project.findSection(part.after) < 0;
        };
        if (std::none_of(section->parts.begin(), section->parts.end(), waitsInVain)) continue;
        auto copy = std::make_shared<Section>(*section);
        for (Part& part : copy->parts)
            if (waitsInVain(part)) part.after = {};
        section = std::move(copy);
    }
}

/// Parts and sections that are gone belong to no alternative any more.
inline void dropMembers(Project& project) {
    if (project.options.list.empty()) return;
    const PartIndex index(project);
    for (Option& option : project.options.list)
        for (Alternative& alternative : option.alternatives) {
            std::erase_if(alternative.parts, [&](const PartId& id) { return index.find(id).section < 0; });
            std::erase_if(alternative.sections, [&](const SectionId& id) { return project.findSection(id) < 0; });
        }
}

/// The project when it is whole, else the first thing wrong with it.
[[nodiscard]] inline EditResult checked(Project project) {
    dropWaiting(project);
    dropMembers(project);
    if (auto status = validate(project); !status) return status.error();
    return project;
}

[[nodiscard]] inline base::Error noSuch(const std::string& what, const std::string& id) {
    return {"edit.missing", "there is no " + what + " '" + id + "'", id};
}

[[nodiscard]] inline std::string takeId(Project& project, const char* prefix) {
    return prefix + std::to_string(project.nextId++);
}

/// Adds an entry under a new id, or puts it in the place of the one with its id. `listOf(Project&)`: the list.
template <class Entry, class ListOf>
EditResult putEntry(const Project& project, ListOf listOf, const char* prefix, Entry entry) {
    Project next = project;
    auto& entries = listOf(next);
    if (entry.id.empty()) {
        entry.id.text = takeId(next, prefix);
        entries.push_back(std::move(entry));
        return checked(std::move(next));
    }
    const auto known = std::find_if(entries.begin(), entries.end(), [&](const Entry& e) { return e.id == entry.id; });
    if (known == entries.end()) return noSuch("entry", entry.id.text);
    *known = std::move(entry);
    return checked(std::move(next));
}
template <class Id, class ListOf> EditResult dropEntry(const Project& project, ListOf listOf, const Id& id) {
    Project next = project;
    if (std::erase_if(listOf(next), [&](const auto& entry) { return entry.id == id; }) == 0)
        return noSuch("entry", id.text);
    return next;
}

/// Replaces section `index` by a changed copy.
template <class Change> void changeSection(Project& project, int index, Change change) {
    auto copy = std::make_shared<Section>(*at(project.sections, index));
    change(*copy);
    at(project.sections, index) = std::move(copy);
}

/// Changes one entry (a joint, a pose) of one of the project's lists; `missing` when the index is below 0.
template <class Entry, class Change>
EditResult changeOne(const Project& project, int index, std::vector<Entry> Project::*list, base::Error missing,
                     Change change) {
    if (index < 0) return missing;
    Project next = project;
    change(at((next.*list), index));
    return checked(std::move(next));
}

/// Part spots grouped by section; error when an id is unknown or the list is empty.
base::Result<std::map<int, std::vector<int>>> groupBySection(const Project& project, std::span<const PartId> ids);

/// Functions of gear boards that name a joint which is gone turn nothing of the model any more, and lose its load;
/// motions of such joints go; lines that worked them work nothing.
void forgetMissingJoints(Project& next);
/// What boards say of things (and parts) with these ids goes, with all that hangs on them.
void forgetThings(Project& next, const std::set<std::string>& ids);

} // namespace ivrant::model::detail
