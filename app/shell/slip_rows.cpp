// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/shell/slip_rows.h"

namespace ivrant::app {
namespace {

void addGroup(std::vector<SlipRow>& rows, const verdict::Group& group, int depth, const std::set<std::string>& open) {
    SlipRow row;
    row.depth = depth;
    row.key = group.key;
    row.count = static_cast<int>(group.members.size());
    row.open = row.count > 1 && open.count(group.key) > 0;
    row.verdict = group.members.front();
    row.verdict.text = group.text;
    row.verdict.detail = group.detail;
    const bool opened = row.open;
    rows.push_back(std::move(row));
    if (!opened) return;
    for (const auto& member : group.members) {
        SlipRow single;
        single.kind = SlipRow::Kind::Single;
        single.depth = depth + 1;
        single.key = member.id;
        single.verdict = member;
        rows.push_back(std::move(single));
    }
}

void addBundle(std::vector<SlipRow>& rows, const std::vector<const verdict::Group*>& groups, const std::string& key,
               const std::string& text, const std::set<std::string>& open) {
    if (groups.empty()) return;
    SlipRow row;
    row.kind = SlipRow::Kind::Bundle;
    row.key = key;
    row.count = static_cast<int>(groups.size());
    row.open = open.count(key) > 0;
    row.verdict = groups.front()->members.front();
    row.verdict.margin.reset();
    row.verdict.text = text;
    row.verdict.detail = "opens with a click or the right arrow";
    const bool opened = row.open;
    rows.push_back(std::move(row));
    if (opened)
        for (const auto* group : groups) addGroup(rows, *group, 1, open);
}

std::string counted(std::size_t n, const char* one, const char* many) {
    return std::to_string(n) + " " + (n == 1 ? one : many);
}

} // namespace

std::vector<SlipRow> makeSlipRows(const std::vector<verdict::Group>& groups, const std::set<std::string>& open) {
    std::vector<SlipRow> rows;
    std::vector<const verdict::Group*> good, notes;
    std::size_t lines = 0;
    for (const auto& group : groups) {
        if (group.state == verdict::State::Good)
            good.push_back(&group);
        else if (group.state == verdict::State::Note)
            notes.push_back(&group);
        else {
            addGroup(rows, group, 0, open);
            ++lines;
        }
    }
    if (lines + good.size() <= kLinesThatFit)
        for (const auto* group : good) addGroup(rows, *group, 0, open);
    else
        addBundle(rows, good, "good", counted(good.size(), "kind of check passes", "kinds of checks pass"), open);
    addBundle(rows, notes, "note", counted(notes.size(), "note", "notes") + " without consequence", open);
    return rows;
}

} // namespace ivrant::app
