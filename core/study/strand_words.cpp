// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/study/strand_words.h"

#include <cmath>

#include "core/base/at.h"
#include "core/base/units.h"
#include "core/study/case_words.h"

namespace ivrant::study {

using base::formatNumber;
using model::LineEnd;
using model::LineKind;

std::string describeGuide(const model::Project& project, const model::Guide& guide) {
    const model::PartSpot spot = model::PartIndex(project).find(guide.part);
    if (spot.section < 0) return "a part that is gone (" + guide.part.text + ")";
    return describePart(project, spot) + ", " + guide.port;
}

std::string describeStation(const model::Project& project, const model::Line& line, std::size_t guide) {
    const model::Guide& one = line.guides[guide];
    const std::string what = describeGuide(project, one);
    if (line.closed) return "round " + what;
    if (guide == 0) return (line.kind == LineKind::Spring ? "stands on " : "tied to ") + what;
    if (guide + 1 == line.guides.size()) {
        if (line.end == LineEnd::Hand) return "out through " + what + ", pulled by hand";
        if (line.end == LineEnd::Drum) return "wound on " + what + ", radius " + formatNumber(one.radiusMm, 1) + " mm";
        return (line.kind == LineKind::Spring ? "carries " : "tied to ") + what;
    }
    if (one.radiusMm == 0) return "through " + what;
    return "round " + what + ", turning " + (one.side > 0 ? "left" : "right") + (one.captive ? ", held on it" : "");
}

std::string describeLineKind(const model::Line& line) {
    const std::string kind = model::getLineKindName(line.kind);
    return line.count == 1 ? kind : std::to_string(line.count) + " " + kind + "s";
}

const char* getWorkedUnit(const model::Project& project, const StrandStudy& study) {
    if (study.joint < 0) return "";
    return at(project.joints, study.joint).kind->freedomUnit(0) == "mm" ? " mm" : "°";
}

std::string describeWork(const model::Project& project, const StrandStudy& study) {
    const model::Line& line = at(project.lines, study.index);
    if (!line.works || study.joint < 0) return "";
    const std::string joint = at(project.joints, study.joint).name, unit = getWorkedUnit(project, study);
    const std::string from = formatNumber(line.works->from, 1) + unit, to = formatNumber(line.works->to, 1) + unit;
    if (line.kind == LineKind::Spring) return "carries " + joint + " at " + from;
    return (line.kind == LineKind::Band ? "brings " + joint + " back from " : "pulls " + joint + " from ") + from +
           " to " + to;
}

std::string describePlace(const Facts& facts, const StrandStudy& study, const StrandPlace& place) {
    return formatNumber(place.at, 1) + getWorkedUnit(*facts.project, study) + " in " + at(facts.poses, place.pose).name;
}

std::string describeLaw(const model::Line& line) {
    if (line.kind == LineKind::String) return "does not stretch";
    if (!line.law.empty())
        return "by " + std::to_string(line.law.size()) + (line.law.size() == 1 ? " point, up to " : " points, up to ") +
               formatNumber(line.law.back().newton, 2) + " N at " + formatNumber(line.law.back().mm, 1) + " mm";
    if (line.kind == LineKind::Spring)
        return "starting value, not measured: " + formatNumber(pose::kSpringRateN, 2) + " N a mm";
    return "starting value, not measured: " + formatNumber(pose::kBandPullN, 1) + " N at twice its length";
}

std::string describeResult(const Facts& facts, const StrandStudy& study) {
    if (!study.problem.empty()) return study.problem;
    const model::Project& project = *facts.project;
    const model::Line& line = at(project.lines, study.index);
    if (line.kind == LineKind::Spring) {
        if (study.flat) return "pressed flat";
        if (study.joint < 0) return formatNumber(study.restMm, 1) + " mm free";
        if (!study.sagAt) return "does not carry " + at(project.joints, study.joint).name;
        return "carries at " + formatNumber(*study.sagAt, 1) + getWorkedUnit(project, study) + ", " +
               formatNumber(study.sagLeftMm, 1) + " mm of travel left";
    }
    if (study.wrongWay >= 0)
        return "pulls the wrong way at " + describePlace(facts, study, at(study.places, study.wrongWay));
    if (line.kind == LineKind::Band) {
        if (study.joint < 0) return "stretched by up to " + formatNumber(std::max(0.0, study.mostStretchMm), 1) + " mm";
        if (study.hardest < 0) return "nothing is needed: it goes back by itself";
        const StrandPlace& place = at(study.places, study.hardest);
        return "does " + formatNumber(place.helpNmm / place.needNmm, 2) + " times what is needed at " +
               describePlace(facts, study, place);
    }
    if (study.joint < 0 || study.hardest < 0) return formatNumber(study.restMm, 1) + " mm long";
    const StrandPlace& place = at(study.places, study.hardest);
    return formatNumber(study.mostTravelMm, 1) + " mm of pull, at most " + formatNumber(place.pullN, 1) + " N";
}

} // namespace ivrant::study
