// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/model/history.h"

#include <algorithm>

#include "core/base/at.h"

namespace ivrant::model {
namespace {

/// What the lists beside the sections come to, for one snapshot.
constexpr std::size_t kBytesBeside = 4096, kBytesOfJoint = 512, kBytesOfPose = 512, kBytesOfPart = sizeof(Part) + 32;

bool isSame(const Part& l, const Part& r) {
    return l.id == r.id && l.shape == r.shape && l.colour == r.colour && l.place == r.place && l.step == r.step &&
           l.weighedG == r.weighedG && l.name == r.name && l.after == r.after && l.extra == r.extra;
}

} // namespace

void History::pack(Entry& entry, const Project& neighbour) {
    entry.bytes =
        kBytesBeside + kBytesOfJoint * entry.project.joints.size() + kBytesOfPose * entry.project.poses.size();
    for (std::size_t s = 0; s < entry.project.sections.size(); ++s) {
        const SectionPtr own = entry.project.sections[s];
        if (!own || std::find(neighbour.sections.begin(), neighbour.sections.end(), own) != neighbour.sections.end())
            continue;
        const int like = neighbour.findSection(own->id);
        if (like < 0) {
            entry.bytes += kBytesOfPart * own->parts.size();
            continue;
        }
        const auto &a = own->parts, &b = at(neighbour.sections, like)->parts;
        Difference difference;
        difference.section = s;
        difference.like = static_cast<std::size_t>(like);
        const std::size_t most = std::min(a.size(), b.size());
        while (difference.same < most && isSame(a[difference.same], b[difference.same])) ++difference.same;
        while (difference.sameAtEnd < most - difference.same &&
               isSame(a[a.size() - 1 - difference.sameAtEnd], b[b.size() - 1 - difference.sameAtEnd]))
            ++difference.sameAtEnd;
        difference.own.assign(a.begin() + static_cast<std::ptrdiff_t>(difference.same),
                              a.end() - static_cast<std::ptrdiff_t>(difference.sameAtEnd));
        entry.bytes += kBytesOfPart * difference.own.size();
        difference.head.id = own->id;
        difference.head.name = own->name;
        difference.head.place = own->place;
        difference.head.ballast = own->ballast;
        difference.head.extra = own->extra;
        entry.differences.push_back(std::move(difference));
        entry.project.sections[s].reset();
    }
}

void History::unpack(Entry& entry, const Project& neighbour) {
    for (Difference& difference : entry.differences) {
        auto section = std::make_shared<Section>(std::move(difference.head));
        const auto& like = neighbour.sections[difference.like]->parts;
        auto& parts = section->parts;
        parts.reserve(difference.same + difference.own.size() + difference.sameAtEnd);
        parts.assign(like.begin(), like.begin() + static_cast<std::ptrdiff_t>(difference.same));
        parts.insert(parts.end(), std::make_move_iterator(difference.own.begin()),
                     std::make_move_iterator(difference.own.end()));
        parts.insert(parts.end(), like.end() - static_cast<std::ptrdiff_t>(difference.sameAtEnd), like.end());
        entry.project.sections[difference.section] = std::move(section);
    }
    entry.differences.clear();
    entry.bytes = 0;
}

void History::push(std::string name, Project project) {
    m_entries.erase(m_entries.begin() + static_cast<std::ptrdiff_t>(m_cursor) + 1, m_entries.end());
    pack(m_entries.back(), project);
    m_entries.push_back({std::move(name), std::move(project), {}, 0});
    while (m_entries.size() > 2 && (m_entries.size() > kMost || bytes() > kMostBytes)) {
        m_entries.pop_front();
        ++m_forgotten;
    }
    m_cursor = m_entries.size() - 1;
}

void History::pushOrReplace(const std::string& name, Project project) {
    if (!canUndo() || canRedo() || m_entries[m_cursor].name != name) return push(name, std::move(project));
    unpack(m_entries[m_cursor - 1], m_entries[m_cursor].project);
    m_entries[m_cursor].project = std::move(project);
    pack(m_entries[m_cursor - 1], m_entries[m_cursor].project);
}

void History::undo() {
    if (!canUndo()) return;
    unpack(m_entries[m_cursor - 1], m_entries[m_cursor].project);
    pack(m_entries[m_cursor], m_entries[m_cursor - 1].project);
    --m_cursor;
}

void History::redo() {
    if (!canRedo()) return;
    unpack(m_entries[m_cursor + 1], m_entries[m_cursor].project);
    pack(m_entries[m_cursor], m_entries[m_cursor + 1].project);
    ++m_cursor;
}

std::size_t History::bytes() const {
    std::size_t sum = 0;
    for (const Entry& entry : m_entries) sum += entry.bytes;
    return sum;
}

} // namespace ivrant::model
