// SPDX-License-Identifier: GPL-3.0-or-later
// What a joint must hold at its worst, and what its drive takes off it. Part of check_pose.h.
#include <algorithm>

#include "core/base/units.h"
#include "core/study/worst_load.h"
#include "core/verdict/pose/check_pose.h"

namespace ivrant::verdict {

using base::formatNumber;

void leaveToDrive(const study::Facts& facts, Verdict& v, const model::Joint& joint) {
    if (v.state == State::Good || !facts.drive) return;
    const auto& positions = facts.drive->positions;
    for (std::size_t f = 0; f < positions.front().functions.size(); ++f) {
        const auto& function = *positions.front().functions[f].function;
        if (positions.front().functions[f].joint != joint.id) continue;
        const auto loose = std::find_if(positions.begin(), positions.end(),
                                        [&](const auto& position) { return !position.functions[f].holds; });
        if (loose != positions.end()) {
            v.detail += "; " + function.name + " does not hold it" +
                        (loose->name.empty() ? "" : " with " + loose->selector + " at " + loose->name);
            continue;
        }
        v.state = State::Good;
        v.margin.reset();
        v.text = joint.name + " is held by its drive, " + function.name;
        v.detail += "; " + function.name + " cannot be driven from behind (starting value of its friction)";
        return;
    }
}

namespace {

/// Only where wanted ranges or a tilt of the base make it worse than every pose.
void addWorst(const study::Facts& facts, const pose::WorstLoad& worst, VerdictList& list) {
    const model::Project& project = *facts.project;
    const auto j = static_cast<std::size_t>(worst.joint);
    const model::Joint& joint = project.joints[j];
    const double inPoses = study::findWorstPose(facts, j).loads[j].needNmm;
    if (worst.needNmm <= inPoses * (1 + 1e-6) + 1e-6) return;
    Verdict& v = list.add("hold-worst", joint.id.text, Station::Pose);
    v.place.joint = joint.id;
    setNeed(v, worst.needNmm, worst.have, "N·mm", worst.margin);
    v.text = joint.name + (v.state == State::Fail ? " sags at its worst" : " holds at its worst");
    if (worst.amongStanding && worst.needNmm <= 0) {
        v.state = State::Good;
        v.margin.reset();
        v.text = joint.name + ": at its worst the figure falls over before it sags";
    }
    v.detail = "over the wanted ranges" +
               (project.tiltDeg > 0 ? " and " + formatNumber(project.tiltDeg, 1) + "° of tilt" : std::string()) +
               (worst.amongStanding ? ", as long as the figure stands" : "") + ": needs " +
               formatNumber(worst.needNmm, 1) + " N·mm, has " + formatNumber(worst.have.value, 1) + " (" +
               shortBasis(worst.have) + ")";
    leaveToDrive(facts, v, joint);
}

} // namespace

void judgeWorst(const study::Facts& facts, VerdictList& list) {
    for (const auto& worst : facts.worst) addWorst(facts, worst, list);
}

} // namespace ivrant::verdict
