// SPDX-License-Identifier: GPL-3.0-or-later
// Edits of what stands beside the model: supports, asks, measured series, diary, wanted tilt.
#include <algorithm>

#include "core/base/at.h"
#include "core/model/edits_common.h"

namespace ivrant::model {

using detail::checked;

namespace {

template <class Entry>
EditResult putOne(const Project& project, std::vector<Entry> Project::*list, const char* prefix, Entry entry) {
    return detail::putEntry(
        project, [list](Project & p) -> auto& { return p.*list; }, prefix, std::move(entry));
}
template <class Entry, class Id>
EditResult dropOne(const Project& project, std::vector<Entry> Project::*list, const Id& id) {
    return detail::dropEntry(
        project, [list](Project & p) -> auto& { return p.*list; }, id);
}

} // namespace

EditResult putAsk(const Project& project, Ask ask) { return putOne(project, &Project::asks, "a", std::move(ask)); }
EditResult removeAsk(const Project& project, const AskId& id) { return dropOne(project, &Project::asks, id); }

EditResult putSeries(const Project& project, Series series) {
    return putOne(project, &Project::measured, "m", std::move(series));
}
EditResult removeSeries(const Project& project, const SeriesId& id) { return dropOne(project, &Project::measured, id); }

EditResult putDiaryEntry(const Project& project, DiaryEntry entry) {
    return putOne(project, &Project::diary, "d", std::move(entry));
}
EditResult removeDiaryEntry(const Project& project, const DiaryId& id) { return dropOne(project, &Project::diary, id); }

EditResult putCase(const Project& project, OwnCase ownCase) {
    return putOne(project, &Project::cases, "c", std::move(ownCase));
}
EditResult removeCase(const Project& project, const CaseId& id) { return dropOne(project, &Project::cases, id); }

EditResult putPost(const Project& project, Post post) { return putOne(project, &Project::posts, "u", std::move(post)); }
EditResult removePost(const Project& project, const PostId& id) { return dropOne(project, &Project::posts, id); }

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
