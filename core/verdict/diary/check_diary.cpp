// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/verdict/diary/check_diary.h"

#include "core/trials/strengths.h"

namespace ivrant::verdict {
namespace {

void addHoldsNothing(const model::Project& project, VerdictList& list) {
    const auto nothing = [&](const std::string& key, const std::string& what, const model::Capacity& capacity,
                             const std::optional<model::JointId>& joint) {
        if (capacity.value > 0) return;
        Verdict& v = list.add("holds-nothing", key, Station::Diary);
        v.place.joint = joint;
        v.state = State::Fail;
        v.basis = Basis::Measured;
        v.text = what + " counts as holding nothing";
        v.detail = capacity.basis + ": the readings scatter so much, or are so small, that nothing can be counted on";
    };
    nothing("stud-pull", "A stud pulled", trials::calcStudPull(project), std::nullopt);
    nothing("stud-shear", "A stud pushed aside", trials::calcStudShear(project), std::nullopt);
    for (const model::Joint& joint : project.joints) {
        if (joint.kind->holdingNmm <= 0) continue; // it is not meant to
        nothing(joint.id.text, joint.name, trials::calcStrength(project, *joint.kind, &joint.id).holding, joint.id);
    }
}

} // namespace

void judgeDiary(const study::Facts& facts, VerdictList& list) {
    const model::Project& project = *facts.project;
    addHoldsNothing(project, list);
    for (const auto& entry : project.diary) {
        if (entry.kind != model::DiaryKind::Failure || !entry.answer.empty()) continue;
        Verdict& v = list.add("failure", entry.id.text, Station::Diary);
        v.place.joint = entry.joint;
        v.state = State::Fail;
        v.basis = Basis::Measured;
        v.text = "Open failure: " + entry.text;
        v.detail = (entry.date.empty() ? std::string() : entry.date + "; ") +
                   "stays open until a change answers it in the diary";
    }
}

} // namespace ivrant::verdict
