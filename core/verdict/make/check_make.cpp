// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/verdict/make/check_make.h"

#include <algorithm>
#include <map>
#include <set>

#include "core/base/at.h"
#include "core/study/assembly.h"

namespace ivrant::verdict {
namespace {

constexpr std::size_t kMostNamed = 3;

/// "plate 2x6 of step 9", "plate 2x6 and brick 2x4 of step 9, tile 1x2 of step 10 and 3 more".
std::string listParts(const model::Section& section, const std::vector<int>& parts) {
    std::string text;
    for (std::size_t i = 0; i < parts.size() && i < kMostNamed; ++i) {
        const model::Part& part = ivrant::at(section.parts, parts[i]);
        const bool sameNext =
            i + 1 < parts.size() && i + 1 < kMostNamed && ivrant::at(section.parts, parts[i + 1]).step == part.step;
        const bool last = i + 1 == parts.size();
        text += (i == 0 ? ""
                 : last ? " and "
                        : ", ") +
                part.shape->name + (sameNext ? "" : " of step " + std::to_string(part.step));
    }
    if (parts.size() > kMostNamed) text += " and " + std::to_string(parts.size() - kMostNamed) + " more";
    return text;
}

/// "brick 1x2 and motor small", "2 plate 2x4, brick 1x2 and 3 more".
std::string listShapes(const model::Section& section, const std::vector<int>& parts) {
    std::map<std::string, int> counts;
    for (const int p : parts) ++counts[ivrant::at(section.parts, p).shape->name];
    std::string text;
    std::size_t told = 0, left = parts.size();
    for (const auto& [name, count] : counts) {
        if (told == kMostNamed) return text + " and " + std::to_string(left) + " more";
        left -= static_cast<std::size_t>(count);
        text += (told == 0 ? "" : left == 0 ? " and " : ", ") + (count > 1 ? std::to_string(count) + " " : "") + name;
        ++told;
    }
    return text;
}

class AssemblyCheck {
public:
    AssemblyCheck(const study::Facts& facts, VerdictList& list)
        : m_facts(facts), m_project(*facts.project), m_list(list) {}

    void run() {
        for (std::size_t s = 0; s < m_project.sections.size(); ++s) addSection(s);
        for (const study::SectionJoin& join : m_facts.assembly->joins)
            if (!join.goes) addJoin(join);
        for (const study::WaitingFault& fault : m_facts.assembly->waiting) addWaiting(fault);
    }

private:
    void addSection(std::size_t s) {
        const model::Section& section = *m_project.sections[s];
        const study::SectionAssembly& found = *m_facts.assembly->sections[s];
        for (const make::OrderFault& fault : found.check.faults) addFault(section, found, fault);
        if (!found.check.faults.empty() || section.parts.size() < 2) return;
        std::set<int> steps;
        for (const model::Part& part : section.parts) steps.insert(part.step);
        Verdict& v = m_list.add("order", section.id.text, Station::Make);
        v.place.section = section.id;
        v.value = static_cast<double>(steps.size());
        v.unit = "steps";
        v.text = section.name + " can be built as its steps say";
        v.detail = std::to_string(section.parts.size()) + " parts in " + std::to_string(steps.size()) +
                   (steps.size() == 1 ? " step" : " steps") + ": each has a way in and something to hold to";
    }

    void addFault(const model::Section& section, const study::SectionAssembly& found, const make::OrderFault& fault) {
        const model::Part& part = ivrant::at(section.parts, fault.body);
        Verdict& v = m_list.add("order", part.id.text, Station::Make);
        v.place.section = section.id;
        v.place.parts = {part.id};
        for (std::size_t i = 0; i < fault.others.size() && i < kMostNamed; ++i)
            v.place.parts.push_back(ivrant::at(section.parts, fault.others[i]).id);
        v.value = part.step;
        v.unit = "step";
        v.state = State::Fail;
        const std::string what = part.shape->name + " of " + section.name, step = std::to_string(part.step);
        if (fault.kind == make::OrderFault::Kind::NothingToHold) {
            v.text = "The " + what + " has nothing to hold to at step " + step;
            v.detail = fault.others.empty() ? "what it hangs on is itself not held by then"
                                            : "it would hold to " + listParts(section, fault.others);
            return;
        }
        v.detail = listParts(section, fault.others) + (fault.others.size() == 1 ? " is" : " are") +
                   " in its way, coming " + make::describeWayIn(fault.way);
        if (!fault.with.empty()) v.detail += "; it goes in together with " + listShapes(section, fault.with);
        if (std::binary_search(found.stuck.begin(), found.stuck.end(), fault.body)) {
            v.state = State::Thin;
            v.text = "The " + what + " has no straight way in";
            v.detail += "; in no order of building: tilt it in or bend what is around it, or build it otherwise";
        } else {
            v.text = "The " + what + " cannot go in at step " + step;
        }
    }

    /// "plate 2x4 of Body and axle 6 of Leaf".
    [[nodiscard]] std::string listSpots(const std::vector<model::PartSpot>& spots) const {
        std::string names;
        for (std::size_t i = 0; i < spots.size() && i < kMostNamed; ++i)
            names += (i == 0                  ? ""
                      : i + 1 == spots.size() ? " and "
                                              : ", ") +
                     model::getPart(m_project, spots[i]).shape->name + " of " +
                     ivrant::at(m_project.sections, spots[i].section)->name;
        if (spots.size() > kMostNamed) names += " and " + std::to_string(spots.size() - kMostNamed) + " more";
        return names;
    }

    void addWaiting(const study::WaitingFault& fault) {
        const model::Section& section = *ivrant::at(m_project.sections, fault.part.section);
        const model::Part& part = model::getPart(m_project, fault.part);
        Verdict& v = m_list.add("order-waiting", part.id.text, Station::Make);
        v.place.section = section.id;
        v.place.parts = {part.id};
        v.state = State::Fail;
        const std::string after = ivrant::at(m_project.sections, fault.after)->name;
        const bool blocked = fault.kind == make::OrderFault::Kind::InTheWay;
        v.text = "The " + part.shape->name + " of " + section.name +
                 (blocked ? " cannot go in once " : " has nothing to hold to once ") + after + " is on";
        v.detail = blocked ? listSpots(fault.others) + (fault.others.size() == 1 ? " is" : " are") +
                                 " in its way, coming " + make::describeWayIn(fault.way)
                           : "it would hold to " + listSpots(fault.others);
    }

    void addJoin(const study::SectionJoin& join) {
        const model::Section& section = *ivrant::at(m_project.sections, join.section);
        const model::Joint& joint = ivrant::at(m_project.joints, join.joint);
        const int onto = m_facts.tree.parent(join.section);
        Verdict& v = m_list.add("joins-on", section.id.text, Station::Make);
        v.place.section = section.id;
        v.place.joint = joint.id;
        for (std::size_t i = 0; i < join.blocked.size() && i < kMostNamed; ++i)
            v.place.parts.push_back(model::getPart(m_project, join.blocked[i]).id);
        v.state = State::Thin;
        v.text = section.name + " has no straight way onto " + ivrant::at(m_project.sections, onto)->name +
                 " when both are finished";
        v.detail = listSpots(join.blocked) + (join.blocked.size() == 1 ? " is" : " are") + " in its way, coming " +
                   make::describeWayIn(join.way) + ", in every pose: put on later what is in the way, or bend it in";
    }

    const study::Facts& m_facts;
    const model::Project& m_project;
    VerdictList& m_list;
};

} // namespace

void judgeAssembly(const study::Facts& facts, VerdictList& list) {
    if (facts.assembly) AssemblyCheck(facts, list).run();
}

} // namespace ivrant::verdict
