// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/verdict/asks/check_asks.h"

#include <algorithm>

#include "core/base/units.h"
#include "core/study/asked_tip.h"
#include "core/verdict/asks/asks.h"

namespace ivrant::verdict {

using base::formatNumber;

void judgeAsks(const study::Facts& facts, VerdictList& list) {
    const auto& asks = facts.project->asks;
    for (auto& v : makeAskVerdicts(facts, asks, measureAsks(facts, asks))) list.add(std::move(v));
}

void judgeBrief(const study::Facts& facts, VerdictList& list) {
    const model::Project& project = *facts.project;
    if (project.tiltDeg < 0 || project.tiltDeg > study::kMostTiltDeg) {
        Verdict& v = list.add("tilt-asked", "model", Station::Brief);
        v.value = project.tiltDeg;
        v.limit = study::kMostTiltDeg;
        v.unit = "deg";
        v.state = State::Fail;
        v.text = "A tilt of " + formatNumber(project.tiltDeg, 1) + "° is asked of the base";
        v.detail = "0 to " + formatNumber(study::kMostTiltDeg, 0) +
                   "° can be looked at; everything else is as if it were " +
                   formatNumber(std::clamp(project.tiltDeg, 0.0, study::kMostTiltDeg), 0) + "°";
    }
    if (project.asks.empty()) return;
    Verdict& v = list.add("shown", "model", Station::Brief);
    v.state = project.shownOn.empty() ? State::Thin : State::Good;
    v.weight = 0.05;
    v.text = project.shownOn.empty() ? "Not yet shown to the person who asked" : "Shown to the person who asked";
    v.detail = project.shownOn.empty() ? "show a sketch or a part before building it all" : "on " + project.shownOn;
}

} // namespace ivrant::verdict
