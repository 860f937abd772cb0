// SPDX-License-Identifier: GPL-3.0-or-later
// Edits of what stands beside the model: supports, asks, measured series, diary, wanted tilt.
#include <algorithm>

#include "core/base/at.h"
#include "core/model/edits_common.h"

namespace ivrant::model {

using detail::checked;
using detail::noSuch;
using detail::takeId;

namespace {

template <class Entry, class Id> int findById(const std::vector<Entry>& list, const Id& id) {
    const auto found = std::find_if(list.begin(), list.end(), [&](const Entry& e) { return e.id == id; });
    return found == list.end() ? -1 : static_cast<int>(found - list.begin());
}

/// Adds an entry under a new id, or replaces the one with its id.
template <class Entry>
EditResult putEntry(const Project& project, std::vector<Entry> Project::*list, const char* prefix, Entry entry) {
    Project next = project;
    if (entry.id.empty()) {
        entry.id.text = takeId(next, prefix);
        (next.*list).push_back(std::move(entry));
    } else {
        const int at = findById(next.*list, entry.id);
        if (at < 0) return noSuch("entry", entry.id.text);
        ivrant::at((next.*list), at) = std::move(entry);
    }
    return checked(std::move(next));
}

template <class Entry, class Id>
EditResult dropEntry(const Project& project, std::vector<Entry> Project::*list, const Id& id) {
    const int at = findById(project.*list, id);
    if (at < 0) return noSuch("entry", id.text);
    Project next = project;
    (next.*list).erase((next.*list).begin() + at);
    return next;
}

} // namespace

EditResult putAsk(const Project& project, Ask ask) { return putEntry(project, &Project::asks, "a", std::move(ask)); }
EditResult removeAsk(const Project& project, const AskId& id) { return dropEntry(project, &Project::asks, id); }

EditResult putSeries(const Project& project, Series series) {
    return putEntry(project, &Project::measured, "m", std::move(series));
}
EditResult removeSeries(const Project& project, const SeriesId& id) {
    return dropEntry(project, &Project::measured, id);
}

EditResult putDiaryEntry(const Project& project, DiaryEntry entry) {
    return putEntry(project, &Project::diary, "d", std::move(entry));
}
EditResult removeDiaryEntry(const Project& project, const DiaryId& id) {
    return dropEntry(project, &Project::diary, id);
}

EditResult putCase(const Project& project, OwnCase ownCase) {
    return putEntry(project, &Project::cases, "c", std::move(ownCase));
}
EditResult removeCase(const Project& project, const CaseId& id) { return dropEntry(project, &Project::cases, id); }

EditResult putPost(const Project& project, Post post) {
    return putEntry(project, &Project::posts, "u", std::move(post));
}
EditResult removePost(const Project& project, const PostId& id) { return dropEntry(project, &Project::posts, id); }

EditResult setTilt(const Project& project, double tiltDeg) {
    if (!(tiltDeg >= 0 && tiltDeg <= 45))
        return base::Error{"project.tilt", "the wanted tilt must be 0 to 45°", "/tilt_deg"};
    Project next = project;
    next.tiltDeg = tiltDeg;
    return checked(std::move(next));
}

EditResult setShownOn(const Project& project, const std::string& date) {
    Project next = project;
    next.shownOn = date;
    return checked(std::move(next));
}

} // namespace ivrant::model
