// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/verdict/groups.h"

#include <algorithm>
#include <map>
#include <set>

#include "core/base/at.h"
#include "core/base/units.h"

namespace ivrant::verdict {
namespace {

using base::formatNumber;

std::string poseName(const model::Project& project, const Verdict& v) {
    if (!v.place.pose) return "Present";
    const int q = project.findPose(*v.place.pose);
    return q < 0 ? v.place.pose->text : at(project.poses, q).name;
}

/// The text without " in POSE" at its end.
std::string withoutPose(const model::Project& project, const Verdict& v) {
    const std::string end = " in " + poseName(project, v);
    return v.text.ends_with(end) ? v.text.substr(0, v.text.size() - end.size()) : v.text;
}

std::string listNames(const std::vector<std::string>& names) {
    std::string text;
    for (std::size_t i = 0; i < names.size(); ++i)
        text += (i == 0 ? "" : i + 1 == names.size() ? " and " : ", ") + names[i];
    return text;
}

/// " in Reach", " in Reach and Asleep", " in all 5 poses", " in 4 poses".
std::string inPoses(const model::Project& project, const std::vector<Verdict>& members) {
    std::vector<std::string> names;
    for (const Verdict& v : members) {
        if (!v.place.pose && !v.text.ends_with(" in Present")) continue; // it is about no pose
        const std::string name = poseName(project, v);
        if (std::find(names.begin(), names.end(), name) == names.end()) names.push_back(name);
    }
    if (names.empty()) return "";
    if (names.size() == 1) return " in " + names[0];
    if (names.size() == project.poses.size()) return " in all " + std::to_string(names.size()) + " poses";
    if (names.size() <= 3) return " in " + listNames(names);
    return " in " + std::to_string(names.size()) + " poses";
}

std::string count(std::size_t n, const std::string& one, const std::string& many) {
    return std::to_string(n) + " " + (n == 1 ? one : many);
}

std::string joinIds(const std::vector<model::PartId>& parts) {
    std::string text;
    for (const auto& id : parts) text += "/" + id.text;
    return text;
}

std::string describe(const model::Project& project, const model::PartId& id) {
    const auto spot = model::PartIndex(project).find(id);
    if (spot.section < 0) return id.text;
    return model::getPart(project, spot).shape->name + " of " + at(project.sections, spot.section)->name;
}

bool isPair(const Verdict& v) { return (v.check == "collide" || v.check == "overlap") && v.place.parts.size() == 2; }

/// Which part stands behind most of the pairs of parts that are in each other: by pair, the part it is told of. A part
/// in the way of at least two others is their cause; of parts alike the one placed last.
std::map<std::pair<model::PartId, model::PartId>, model::PartId> findCauses(const std::vector<Verdict>& verdicts) {
    std::set<std::pair<model::PartId, model::PartId>> open;
    for (const Verdict& v : verdicts)
        if (isPair(v) && v.state != State::Good)
            open.insert({std::min(v.place.parts[0], v.place.parts[1]), std::max(v.place.parts[0], v.place.parts[1])});
    std::map<std::pair<model::PartId, model::PartId>, model::PartId> causes;
    const auto later = [](const model::PartId& l, const model::PartId& r) {
        return std::pair(l.text.size(), l.text) > std::pair(r.text.size(), r.text);
    };
    while (!open.empty()) {
        std::map<model::PartId, int> seen;
        for (const auto& [a, b] : open) ++seen[a], ++seen[b];
        const auto worst = std::max_element(seen.begin(), seen.end(), [&](const auto& l, const auto& r) {
            return l.second != r.second ? l.second < r.second : later(r.first, l.first);
        });
        if (worst->second < 2) break;
        for (auto it = open.begin(); it != open.end();) {
            const bool isIts = it->first == worst->first || it->second == worst->first;
            if (isIts) causes[*it] = worst->first;
            it = isIts ? open.erase(it) : std::next(it);
        }
    }
    return causes;
}

/// Checks of single shafts and motors whose findings are one line for all of them: what is told of how many.
const std::map<std::string, std::string, std::less<>>& getAlike() {
    static const std::map<std::string, std::string, std::less<>> alike{
        {"shaft-carried", "shafts are not carried by two holes"},
        {"shaft-slides", "shafts can slide out of their holes"},
        {"shaft-overhang", "shafts have a wheel far beyond their last hole"},
        {"shaft-short", "shafts are too short for their wheels"},
        {"motor-seat", "motors are not held"},
        {"motor-idle", "motors turn nothing"}};
    return alike;
}

class Grouper {
public:
    Grouper(const std::vector<Verdict>& verdicts, const model::Project& project)
        : m_project(project), m_causes(findCauses(verdicts)) {
        for (const Verdict& v : verdicts) {
            const std::string key = keyOf(v);
            const auto [known, fresh] = m_at.try_emplace(key, m_groups.size());
            if (fresh) m_groups.push_back({key, v.state, v.margin, "", "", {}});
            m_groups[known->second].members.push_back(v);
        }
    }

    std::vector<Group> run() {
        for (Group& group : m_groups) {
            sortWorstFirst(group.members);
            group.margin = group.members.front().margin;
            compose(group);
        }
        std::stable_sort(m_groups.begin(), m_groups.end(),
                         [](const Group& l, const Group& r) { return isWorse(l.members.front(), r.members.front()); });
        return std::move(m_groups);
    }

private:
    [[nodiscard]] std::string keyOf(const Verdict& v) const {
        const std::string state = getStateName(v.state);
        if (v.state == State::Good || v.state == State::Note) return state + "/" + v.check;
        const std::string joint = v.place.joint ? v.place.joint->text : "";
        if (v.check == "range")
            return state + "/range/" + joint + "/" + v.place.freedom + "/" + formatNumber(v.value, 1) +
                   joinIds(v.place.parts);
        if ((v.check == "hold" || v.check == "hold-worst") && v.place.joint) return state + "/hold/" + joint;
        if ((v.check == "pull" || v.check == "value" || v.check == "ring") && v.place.joint)
            return state + "/" + v.check + "/" + joint;
        if (v.check == "tip") return state + (v.value < 0 ? "/falls" : "/tip");
        if (v.check == "bonds") return state + "/bonds";
        if (v.check == "unusual") return state + "/unusual";
        if (getAlike().count(v.check) > 0) return state + "/" + v.check;
        if (v.check == "stock" || v.check == "arrival") return state + "/" + v.check;
        if (v.check == "order") return state + "/order/" + (v.place.section ? v.place.section->text : "");
        if (v.check == "one-bond") return state + "/one-bond/" + (v.place.section ? v.place.section->text : "");
        if (isPair(v)) {
            const std::pair pair(std::min(v.place.parts[0], v.place.parts[1]),
                                 std::max(v.place.parts[0], v.place.parts[1]));
            const auto cause = m_causes.find(pair);
            return state + "/in-the-way" +
                   (cause != m_causes.end() ? "/" + cause->second.text : joinIds({pair.first, pair.second}));
        }
        return state + "/" + v.id;
    }

    void compose(Group& group) const {
        const Verdict& lead = group.members.front();
        group.text = lead.text;
        group.detail = lead.detail;
        const std::size_t n = group.members.size();
        if (n == 1) return;
        if (lead.state == State::Good) return composeGood(group);
        if (lead.check == "one-bond") return composeOneBond(group);
        if (isPair(lead)) return composeInTheWay(group);
        if (lead.check == "unusual") {
            group.text = count(n, "part is", "parts are") + " of an unusual size";
            return;
        }
        if (lead.check == "order") return composeOrder(group);
        if (lead.check == "stock") {
            group.text = std::to_string(n) + (lead.state == State::Fail ? " kinds of parts run out"
                                                                        : " kinds of parts are still on the way");
            group.detail = lead.text + "; " + lead.detail;
            return;
        }
        if (lead.check == "arrival") {
            group.text = std::to_string(n) + " kinds of parts come too late";
            group.detail = lead.detail;
            return;
        }
        if (const auto alike = getAlike().find(lead.check); alike != getAlike().end())
            return composeAlike(group, alike->second);
        group.text = withoutPose(m_project, lead) + inPoses(m_project, group.members);
        const auto worst = std::find_if(group.members.begin(), group.members.end(),
                                        [](const Verdict& v) { return v.check == "hold-worst"; });
        if (worst != group.members.end()) group.detail = worst->detail;
    }

    void composeGood(Group& group) const {
        const Verdict& lead = group.members.front();
        const std::size_t n = group.members.size();
        std::set<model::JointId> joints;
        for (const Verdict& v : group.members)
            if (v.place.joint) joints.insert(*v.place.joint);
        const std::string poses = m_project.poses.size() > 1 ? inPoses(m_project, group.members) : "";
        const std::string& check = lead.check;
        if (check == "range")
            group.text = count(joints.size(), "joint reaches its", "joints reach their") + " wanted range" +
                         (joints.size() == 1 ? "" : "s") + poses;
        else if (check == "hold" || check == "hold-worst")
            group.text =
                count(joints.size(), "joint holds", "joints hold") + (check == "hold" ? poses : " at their worst");
        else if (check == "pull")
            group.text = count(joints.size(), "joint stays on", "joints stay on") + poses;
        else if (check == "loose")
            group.text = "All parts of " + std::to_string(n) + " sections are held";
        else if (check == "order")
            group.text = std::to_string(n) + " sections can be built as their steps say";
        else if (check == "ask")
            group.text = count(n, "ask is met", "asks are met");
        else if (lead.place.pose && withoutPose(m_project, lead) != lead.text)
            group.text = withoutPose(m_project, lead) + poses;
        else
            group.text = lead.text + ", and " + std::to_string(n - 1) + " more alike";
        group.detail = lead.margin ? "least: " + lead.text + ", " + base::formatMargin(*lead.margin) : lead.detail;
    }

    static void composeAlike(Group& group, const std::string& what) {
        constexpr std::size_t kMostTold = 4;
        group.text = std::to_string(group.members.size()) + " " + what;
        group.detail.clear();
        for (std::size_t i = 0; i < group.members.size() && i < kMostTold; ++i)
            group.detail += (i == 0 ? "" : "; ") + group.members[i].text;
        if (group.members.size() > kMostTold)
            group.detail += "; and " + std::to_string(group.members.size() - kMostTold) + " more";
    }

    void composeOrder(Group& group) const {
        const Verdict& lead = group.members.front();
        const int s = lead.place.section ? m_project.findSection(*lead.place.section) : -1;
        composeAlike(group, "parts");
        group.text =
            (s < 0 ? "" : at(m_project.sections, s)->name + ": ") + std::to_string(group.members.size()) +
            (lead.state == State::Thin ? " parts have no straight way in" : " parts do not go in at their steps");
    }

    void composeOneBond(Group& group) const {
        const Verdict& lead = group.members.front();
        double most = 0, limit = 0;
        for (const Verdict& v : group.members) {
            most = std::max(most, v.value);
            limit = std::max(limit, v.limit);
        }
        const int s = lead.place.section ? m_project.findSection(*lead.place.section) : -1;
        const std::string where = lead.state == State::Note || s < 0 ? "" : at(m_project.sections, s)->name + ": ";
        group.text = where + std::to_string(group.members.size()) + " pieces are held by one bond each";
        group.detail = most < 0.005
                           ? "nothing hangs on them"
                           : "at most " + formatNumber(most, 2) + " N hang on one" +
                                 (limit > 0 ? ", good for " + formatNumber(limit, 1) + " N (starting value)" : "");
    }

    void composeInTheWay(Group& group) const {
        const Verdict& lead = group.members.front();
        std::set<model::PartId> partners;
        for (const Verdict& v : group.members)
            for (const auto& id : v.place.parts) partners.insert(id);
        const std::pair pair(std::min(lead.place.parts[0], lead.place.parts[1]),
                             std::max(lead.place.parts[0], lead.place.parts[1]));
        const auto cause = m_causes.find(pair);
        std::string text = withoutPose(m_project, lead);
        if (cause != m_causes.end()) {
            partners.erase(cause->second);
            text = describe(m_project, cause->second) + " is in the way of " + count(partners.size(), "part", "parts");
        }
        group.text = text + (lead.check == "collide" ? inPoses(m_project, group.members) : "");
        group.detail = "deepest: " + lead.detail;
    }

    const model::Project& m_project;
    std::map<std::pair<model::PartId, model::PartId>, model::PartId> m_causes;
    std::vector<Group> m_groups;
    std::map<std::string, std::size_t> m_at;
};

} // namespace

std::vector<Group> groupVerdicts(const std::vector<Verdict>& verdicts, const model::Project& project) {
    return Grouper(verdicts, project).run();
}

GroupSummary countGroups(const std::vector<Group>& groups) {
    GroupSummary sum;
    for (const Group& group : groups) {
        ++(group.state == State::Fail   ? sum.fail
           : group.state == State::Thin ? sum.thin
           : group.state == State::Good ? sum.good
                                        : sum.note);
        sum.singles += static_cast<int>(group.members.size());
    }
    return sum;
}

} // namespace ivrant::verdict
