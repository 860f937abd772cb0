// SPDX-License-Identifier: GPL-3.0-or-later
// Edits of sections, poses and the project as a whole.
#include <algorithm>
#include <set>

#include "core/base/at.h"
#include "core/base/words.h"
#include "core/model/edits_common.h"
#include "core/model/variants.h"

namespace ivrant::model {

using base::Error;
using detail::changeSection;
using detail::checked;
using detail::noSuch;
using detail::takeId;

Project makeEmptyProject(const std::string& name) {
    Project project;
    project.name = name;
    auto section = std::make_shared<Section>();
    section->id.text = takeId(project, "s");
    section->name = "Base";
    project.sections.push_back(std::move(section));
    return project;
}

EditResult addSection(const Project& project, const std::string& name, const Place& place) {
    Project next = project;
    auto section = std::make_shared<Section>();
    section->id.text = takeId(next, "s");
    section->name = name;
    section->place = place;
    next.sections.push_back(std::move(section));
    return checked(std::move(next));
}

EditResult renameSection(const Project& project, const SectionId& id, const std::string& name) {
    const int s = project.findSection(id);
    if (s < 0) return noSuch("section", id.text);
    if (name.empty()) return Error{"edit.name", "a section needs a name", id.text};
    Project next = project;
    changeSection(next, s, [&](Section& section) { section.name = name; });
    return checked(std::move(next));
}

EditResult removeSection(const Project& project, const SectionId& id) {
    const int s = project.findSection(id);
    if (s < 0) return noSuch("section", id.text);
    if (project.sections.size() == 1) return Error{"section.last", "the last section cannot be removed", id.text};
    const PartIndex index(project);
    Project next = project;
    std::erase_if(next.joints, [&](const Joint& joint) {
        const bool gone = index.find(joint.from.part).section == s || index.find(joint.to.part).section == s;
        if (gone)
            for (NamedPose& pose : next.poses) pose.values.erase(joint.id);
        return gone;
    });
    std::erase_if(next.poses, [&](const NamedPose& pose) { return pose.stands.section == id; });
    std::set<std::string> things;
    for (const Part& part : at(project.sections, s)->parts) things.insert(part.id.text);
    next.sections.erase(next.sections.begin() + s);
    std::erase_if(next.boards, [&](const BoardPtr& board) { return board->section == id; });
    if (!next.boards.empty()) detail::forgetThings(next, things);
    detail::forgetMissingJoints(next);
    return checked(std::move(next));
}

EditResult placeSection(const Project& project, const SectionId& id, const Place& place) {
    const int s = project.findSection(id);
    if (s < 0) return noSuch("section", id.text);
    Project next = project;
    changeSection(next, s, [&](Section& section) { section.place = place; });
    return checked(std::move(next));
}

EditResult addPose(const Project& project, const std::string& name,
                   const std::map<JointId, std::vector<double>>& values, const Stance& stands) {
    Project next = project;
    NamedPose pose;
    pose.id.text = takeId(next, "q");
    pose.name = name.empty() ? "Pose " + std::to_string(project.poses.size() + 1) : name;
    pose.values = values;
    pose.stands = stands;
    next.poses.push_back(std::move(pose));
    return checked(std::move(next));
}

EditResult renamePose(const Project& project, const PoseId& id, const std::string& name) {
    if (name.empty()) return Error{"edit.name", "a pose needs a name", id.text};
    return detail::changeOne(project, project.findPose(id), &Project::poses, noSuch("pose", id.text),
                             [&](NamedPose& pose) { pose.name = name; });
}

EditResult setPose(const Project& project, const PoseId& id, const std::map<JointId, std::vector<double>>& values,
                   const Stance& stands) {
    return detail::changeOne(project, project.findPose(id), &Project::poses, noSuch("pose", id.text),
                             [&](NamedPose& pose) {
                                 pose.values = values;
                                 pose.stands = stands;
                             });
}

EditResult removePose(const Project& project, const PoseId& id) {
    const int q = project.findPose(id);
    if (q < 0) return noSuch("pose", id.text);
    Project next = project;
    next.poses.erase(next.poses.begin() + q);
    return checked(std::move(next));
}

EditResult takePose(const Project& project, const PoseId& id) {
    const int q = project.findPose(id);
    if (q < 0) return noSuch("pose", id.text);
    Project next = project;
    for (Joint& joint : next.joints)
        if (const auto found = at(project.poses, q).values.find(joint.id); found != at(project.poses, q).values.end())
            joint.value = found->second;
    return checked(std::move(next));
}

EditResult renameProject(const Project& project, const std::string& name) {
    if (name.empty()) return Error{"edit.name", "a model needs a name", ""};
    Project next = project;
    next.name = name;
    return next;
}

EditResult setRules(const Project& project, BuildRules rules) {
    Project next = project;
    next.rules = rules;
    return next;
}

EditResult putOwnShape(const Project& project, const parts::ShapePtr& shape) {
    Project next = project;
    const auto old = project.findOwnShape(shape->name);
    if (!old) {
        next.ownShapes.push_back(shape);
        return checked(std::move(next));
    }
    std::replace(next.ownShapes.begin(), next.ownShapes.end(), old, shape);
    const auto exchange = [&](std::vector<SectionPtr>& sections) {
        for (SectionPtr& section : sections) {
            if (std::none_of(section->parts.begin(), section->parts.end(),
                             [&](const Part& p) { return p.shape == old; }))
                continue;
            auto copy = std::make_shared<Section>(*section);
            for (Part& part : copy->parts)
                if (part.shape == old) part.shape = shape;
            section = std::move(copy);
        }
    };
    const auto exchangeWaiting = [&](Options& options) {
        for (Option& option : options.list)
            for (Alternative& alternative : option.alternatives) {
                if (!alternative.body) continue;
                auto body = std::make_shared<WaitingBody>(*alternative.body);
                exchange(body->sections);
                for (WaitingParts& waiting : body->parts)
                    for (Part& part : waiting.parts)
                        if (part.shape == old) part.shape = shape;
                alternative.body = std::move(body);
            }
    };
    exchange(next.sections);
    exchangeWaiting(next.options);
    for (Variant& variant : next.variants) {
        if (!variant.body) continue;
        auto body = std::make_shared<VariantBody>(*variant.body);
        exchange(body->sections);
        exchangeWaiting(body->options);
        variant.body = std::move(body);
    }
    for (std::size_t v = 0; v < next.variants.size(); ++v) // joints of those that wait hold on to its ports as well
        if (next.variants[v].body)
            if (auto whole = validate(takeVariant(next, static_cast<int>(v))); !whole) return whole.error();
    return checked(std::move(next));
}

EditResult removeOwnShape(const Project& project, const std::string& name) {
    const auto shape = project.findOwnShape(name);
    if (!shape) return noSuch("own shape", name);
    const auto uses = [&](const std::vector<SectionPtr>& sections) {
        std::size_t count = 0;
        for (const SectionPtr& section : sections)
            count += static_cast<std::size_t>(std::count_if(section->parts.begin(), section->parts.end(),
                                                            [&](const Part& p) { return p.shape == shape; }));
        return count;
    };
    const auto usesWaiting = [&](const Options& options) {
        std::size_t count = 0;
        for (const Option& option : options.list)
            for (const Alternative& alternative : option.alternatives) {
                if (!alternative.body) continue;
                count += uses(alternative.body->sections);
                for (const WaitingParts& waiting : alternative.body->parts)
                    count += static_cast<std::size_t>(std::count_if(waiting.parts.begin(), waiting.parts.end(),
                                                                    [&](const Part& p) { return p.shape == shape; }));
            }
        return count;
    };
    std::size_t count = uses(project.sections) + usesWaiting(project.options);
    for (const Variant& variant : project.variants)
        if (variant.body) count += uses(variant.body->sections) + usesWaiting(variant.body->options);
    if (count > 0)
        return Error{"own.used",
                     "'" + name + "' is the shape of " +
                         base::countText(count, "part: take it away first", "parts: take them away first"),
                     ""};
    Project next = project;
    std::erase(next.ownShapes, shape);
    return checked(std::move(next));
}

EditResult addBallast(const Project& project, const SectionId& id, const Ballast& ballast) {
    const int s = project.findSection(id);
    if (s < 0) return noSuch("section", id.text);
    if (!(ballast.massG > 0 && ballast.massG < 1e6))
        return Error{"section.ballast", "ballast must weigh more than 0 g and less than 1000 kg", id.text};
    Project next = project;
    changeSection(next, s, [&](Section& section) { section.ballast.push_back(ballast); });
    return checked(std::move(next));
}

EditResult clearBallast(const Project& project, const SectionId& id) {
    const int s = project.findSection(id);
    if (s < 0) return noSuch("section", id.text);
    Project next = project;
    changeSection(next, s, [&](Section& section) { section.ballast.clear(); });
    return checked(std::move(next));
}

} // namespace ivrant::model
