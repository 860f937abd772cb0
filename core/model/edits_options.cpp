// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/model/edits_options.h"

#include "core/model/edits_common.h"

namespace ivrant::model {

using base::Error;
using detail::checked;
using detail::noSuch;
using detail::takeId;

namespace {

constexpr double kMostPrice = 1e6;

Error noName() { return {"edit.name", "an option and its alternatives need a name", ""}; }

/// What is named goes into `alternative`; error when it belongs to something else or cannot leave.
base::Status take(const Project& project, Alternative& alternative, std::span<const PartId> parts,
                  std::span<const SectionId> sections) {
    const PartIndex index(project);
    for (const SectionId& id : sections) {
        if (project.findSection(id) < 0) return noSuch("section", id.text);
        for (const BoardPtr& board : project.boards)
            if (board->section == id)
                return Error{"option.board", "a gear board belongs to this section: it cannot come and go", id.text};
        alternative.sections.push_back(id);
    }
    for (const PartId& id : parts) {
        const PartSpot spot = index.find(id);
        if (spot.section < 0) return noSuch("part", id.text);
        if (findOwner(project.options, project, id).option >= 0)
            return Error{"option.taken", "the " + getPart(project, spot).shape->name + " belongs to an option already",
                         id.text};
        for (const Joint& joint : project.joints)
            if (joint.from.part == id || joint.to.part == id)
                return Error{"option.joint",
                             "joint '" + joint.name + "' sits on this part: let its whole section come and go",
                             id.text};
        alternative.parts.push_back(id);
    }
    return {};
}

/// What the chosen alternative is made of leaves the model.
std::shared_ptr<const WaitingBody> takeOut(Project& project, const Alternative& alternative) {
    auto body = std::make_shared<WaitingBody>();
    const std::set<PartId> ids(alternative.parts.begin(), alternative.parts.end());
    const std::set<SectionId> sections(alternative.sections.begin(), alternative.sections.end());
    const PartIndex index(project);
    const auto leaves = [&](const PartId& part) {
        const int s = index.find(part).section;
        return s >= 0 && sections.count(at(project.sections, s)->id) > 0;
    };
    std::vector<Joint> joints;
    for (Joint& joint : project.joints) {
        if (!leaves(joint.from.part) && !leaves(joint.to.part)) {
            joints.push_back(std::move(joint));
            continue;
        }
        for (NamedPose& pose : project.poses)
            if (const auto values = pose.values.find(joint.id); values != pose.values.end()) {
                body->poseValues[pose.id][joint.id] = values->second;
                pose.values.erase(values);
            }
        body->joints.push_back(std::move(joint));
    }
    project.joints = std::move(joints);
    std::vector<SectionPtr> kept;
    for (SectionPtr& section : project.sections) {
        if (sections.count(section->id) > 0) {
            body->sections.push_back(section);
            continue;
        }
        WaitingParts waiting{section->id, {}};
        for (const Part& part : section->parts)
            if (ids.count(part.id) > 0) waiting.parts.push_back(part);
        if (!waiting.parts.empty()) {
            auto copy = std::make_shared<Section>(*section);
            std::erase_if(copy->parts, [&](const Part& part) { return ids.count(part.id) > 0; });
            section = std::move(copy);
            body->parts.push_back(std::move(waiting));
        }
        kept.push_back(section);
    }
    project.sections = std::move(kept);
    if (body->parts.empty() && body->sections.empty()) return nullptr;
    return body;
}

base::Status putIn(Project& project, Alternative& alternative) {
    const auto body = alternative.body;
    alternative.body = nullptr;
    if (!body) return {};
    for (const WaitingParts& waiting : body->parts) {
        const int s = project.findSection(waiting.section);
        if (s < 0)
            return Error{"edit.missing", "the section that '" + alternative.name + "' was put on is gone",
                         waiting.section.text};
        detail::changeSection(project, s, [&](Section& section) {
            for (const Part& part : waiting.parts) {
                alternative.parts.push_back(part.id);
                section.parts.push_back(part);
            }
        });
    }
    for (const SectionPtr& section : body->sections) {
        alternative.sections.push_back(section->id);
        project.sections.push_back(section);
    }
    project.joints.insert(project.joints.end(), body->joints.begin(), body->joints.end());
    for (const auto& [id, values] : body->poseValues)
        if (const int q = project.findPose(id); q >= 0)
            for (const auto& [joint, value] : values) at(project.poses, q).values[joint] = value;
    return {};
}

/// The project with that alternative in the place of the chosen one; not yet checked.
EditResult exchange(const Project& project, AlternativeSpot spot) {
    Project next = project;
    Option& option = at(next.options.list, spot.option);
    if (option.chosen == spot.alternative) return next;
    Alternative& leaving = at(option.alternatives, option.chosen);
    for (const SectionId& id : leaving.sections)
        for (const BoardPtr& board : next.boards)
            if (board->section == id)
                return Error{"option.board", "a gear board belongs to a section of '" + leaving.name + "'", id.text};
    leaving.body = takeOut(next, leaving);
    leaving.parts.clear();
    leaving.sections.clear();
    option.chosen = spot.alternative;
    if (auto st = putIn(next, at(option.alternatives, spot.alternative)); !st) return st.error();
    return next;
}

} // namespace

EditResult addOption(const Project& project, const std::string& name, const std::string& alternative,
                     std::span<const PartId> parts, std::span<const SectionId> sections) {
    if (name.empty() || alternative.empty()) return noName();
    Project next = project;
    Option option;
    option.id.text = takeId(next, "n");
    option.name = name;
    Alternative first;
    first.id.text = takeId(next, "l");
    first.name = alternative;
    if (auto st = take(project, first, parts, sections); !st) return st.error();
    Alternative none;
    none.id.text = takeId(next, "l");
    none.name = "none";
    option.alternatives = {std::move(first), std::move(none)};
    next.options.list.push_back(std::move(option));
    return checked(std::move(next));
}

EditResult removeOption(const Project& project, const OptionId& id) {
    const int o = findOption(project.options, id);
    if (o < 0) return noSuch("option", id.text);
    Project next = project;
    std::set<AlternativeId> gone;
    for (const Alternative& alternative : at(next.options.list, o).alternatives) gone.insert(alternative.id);
    next.options.list.erase(next.options.list.begin() + o);
    std::erase_if(next.options.rules,
                  [&](const OptionRule& rule) { return gone.count(rule.first) > 0 || gone.count(rule.second) > 0; });
    return checked(std::move(next));
}

EditResult addAlternative(const Project& project, const OptionId& id, const std::string& name) {
    const int o = findOption(project.options, id);
    if (o < 0) return noSuch("option", id.text);
    if (name.empty()) return noName();
    Project next = project;
    Alternative alternative;
    alternative.id.text = takeId(next, "l");
    alternative.name = name;
    at(next.options.list, o).alternatives.push_back(std::move(alternative));
    auto chosen = exchange(next, {o, static_cast<int>(at(next.options.list, o).alternatives.size()) - 1});
    return chosen ? checked(std::move(chosen).value()) : chosen;
}

EditResult removeAlternative(const Project& project, const AlternativeId& id) {
    const AlternativeSpot spot = findAlternative(project.options, id);
    if (spot.option < 0) return noSuch("alternative", id.text);
    const Option& option = at(project.options.list, spot.option);
    if (option.alternatives.size() == 1) return Error{"option.last", "it is the only one: remove the option", id.text};
    if (option.chosen == spot.alternative)
        return Error{"option.chosen", "choose another alternative before this one is removed", id.text};
    Project next = project;
    Option& changed = at(next.options.list, spot.option);
    changed.alternatives.erase(changed.alternatives.begin() + spot.alternative);
    if (changed.chosen > spot.alternative) --changed.chosen;
    std::erase_if(next.options.rules, [&](const OptionRule& rule) { return rule.first == id || rule.second == id; });
    return checked(std::move(next));
}

EditResult renameOption(const Project& project, const OptionId& id, const std::string& name) {
    const int o = findOption(project.options, id);
    if (o < 0) return noSuch("option", id.text);
    if (name.empty()) return noName();
    Project next = project;
    at(next.options.list, o).name = name;
    return checked(std::move(next));
}

EditResult describeAlternative(const Project& project, const AlternativeId& id, const std::string& name,
                               const std::string& text, double price) {
    const AlternativeSpot spot = findAlternative(project.options, id);
    if (spot.option < 0) return noSuch("alternative", id.text);
    Project next = project;
    Alternative& alternative = at(at(next.options.list, spot.option).alternatives, spot.alternative);
    alternative.name = name;
    alternative.text = text;
    alternative.price = price;
    return checked(std::move(next));
}

EditResult assignToChosen(const Project& project, const OptionId& id, std::span<const PartId> parts,
                          std::span<const SectionId> sections) {
    const int o = findOption(project.options, id);
    if (o < 0) return noSuch("option", id.text);
    Project next = project;
    Option& option = at(next.options.list, o);
    if (auto st = take(project, at(option.alternatives, option.chosen), parts, sections); !st) return st.error();
    return checked(std::move(next));
}

EditResult chooseAlternative(const Project& project, const AlternativeId& id) {
    const AlternativeSpot spot = findAlternative(project.options, id);
    if (spot.option < 0) return noSuch("alternative", id.text);
    auto next = exchange(project, spot);
    return next ? checked(std::move(next).value()) : next;
}

EditResult putRule(const Project& project, const OptionRule& rule) {
    Project next = project;
    if (std::find(next.options.rules.begin(), next.options.rules.end(), rule) == next.options.rules.end())
        next.options.rules.push_back(rule);
    return checked(std::move(next));
}

EditResult removeRule(const Project& project, const OptionRule& rule) {
    Project next = project;
    if (std::erase(next.options.rules, rule) == 0) return noSuch("rule", rule.first.text);
    return next;
}

base::Status checkOptions(const Project& project) {
    for (std::size_t o = 0; o < project.options.list.size(); ++o) {
        const Option& option = project.options.list[o];
        const std::string place = "/options/" + std::to_string(o);
        if (option.name.empty()) return Error{"edit.name", "an option needs a name", place + "/name"};
        if (option.alternatives.empty() || option.chosen < 0 ||
            option.chosen >= static_cast<int>(option.alternatives.size()))
            return Error{"option.chosen", "one of its alternatives is chosen", place + "/chosen"};
        for (std::size_t a = 0; a < option.alternatives.size(); ++a) {
            const Alternative& alternative = option.alternatives[a];
            const std::string at = place + "/alternatives/" + std::to_string(a);
            if (alternative.name.empty()) return Error{"edit.name", "an alternative needs a name", at + "/name"};
            if (!(alternative.price >= 0 && alternative.price <= kMostPrice))
                return Error{"option.price", "an alternative costs 0 to 1000000", at + "/price"};
            const bool isChosen = static_cast<int>(a) == option.chosen;
            if (isChosen ? alternative.body != nullptr : !alternative.parts.empty() || !alternative.sections.empty())
                return Error{"option.body", "what is chosen stands in the model, all others wait", at};
        }
    }
    for (std::size_t r = 0; r < project.options.rules.size(); ++r) {
        const OptionRule& rule = project.options.rules[r];
        const auto first = findAlternative(project.options, rule.first),
                   second = findAlternative(project.options, rule.second);
        const std::string place = "/rules/" + std::to_string(r);
        if (first.option < 0 || second.option < 0)
            return Error{"option.rule", "a rule names two alternatives that are there", place};
        if (first.option == second.option)
            return Error{"option.rule", "alternatives of one option exclude each other anyhow", place};
    }
    return {};
}

} // namespace ivrant::model
