// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/study/motion_words.h"

#include <algorithm>
#include <cmath>

#include "core/base/at.h"
#include "core/base/units.h"

namespace ivrant::study {
namespace {

std::string describeEnd(const model::Project& project, const MotionEnd& end) {
    switch (end.by) {
    case pose::LoopEnd::Dead: return "a dead point";
    case pose::LoopEnd::Limit: return "the limit of " + at(project.joints, end.joint).name;
    case pose::LoopEnd::Open: return "where it does not close";
    case pose::LoopEnd::Reached: break;
    }
    return "";
}

} // namespace

const char* getDriverUnit(const model::Project& project, const MotionStudy& study) {
    return at(project.joints, study.plan.driver.joint).kind->freedomUnit(study.plan.driver.freedom) == "mm" ? " mm"
                                                                                                            : "°";
}

double getShownAt(const MotionStudy& study, double at) {
    if (!study.allRound) return at;
    const double turned = std::fmod(at, 360);
    return turned < 0 ? turned + 360 : turned;
}

std::string describeTravel(const model::Project& project, const MotionStudy& study) {
    if (study.places.empty()) return "does not move";
    if (study.allRound) return "goes all round";
    const char* unit = getDriverUnit(project, study);
    std::string text = "goes from " + base::formatNumber(study.places.front().at, 1) + unit + " to " +
                       base::formatNumber(study.places.back().at, 1) + unit;
    const std::string low = describeEnd(project, study.low), high = describeEnd(project, study.high);
    if (low.empty() && high.empty()) return text;
    if (low == high) return text + ": " + (low == "a dead point" ? "dead points" : low) + " at both ends";
    if (low.empty()) return text + ", which is " + high;
    if (high.empty()) return text + ", from " + low;
    return text + ": " + low + " and " + high;
}

double getTransmissionDeg(const MotionPlace& place) {
    return base::radToDeg(std::asin(std::clamp(place.sine, 0.0, 1.0)));
}

std::string describeBetween(const model::Project& project, const model::SectionTree& tree, int joint) {
    return "between " + at(project.sections, at(tree.from, joint).section)->name + " and " +
           at(project.sections, at(tree.to, joint).section)->name;
}

std::string describeParts(const model::Project& project, const MotionMeeting& meeting) {
    const auto name = [&](const pose::SolidRef& ref) {
        return model::getPart(project, ref.spot).shape->name + " of " + at(project.sections, ref.spot.section)->name;
    };
    return name(meeting.a) + " and " + name(meeting.b);
}

std::optional<model::Travel> findFreeStretch(const model::Project& project, const MotionStudy& study) {
    if (study.meetings.empty() || study.places.empty()) return std::nullopt;
    const double now = at(project.joints, study.plan.driver.joint).value.front();
    double low = study.places.front().at, high = study.places.back().at;
    if (low > high) std::swap(low, high);
    if (study.allRound) { // backwards it may go as well
        low = now - 360;
        high = now + 360;
    }
    for (const MotionMeeting& one : study.meetings) {
        if (one.atStart) return std::nullopt;
        for (const double turn : {-360.0, 0.0}) {
            if (turn != 0 && !study.allRound) continue;
            const double from = std::min(one.from, one.to) + turn, to = std::max(one.from, one.to) + turn;
            if (from > now) high = std::min(high, from);
            if (to < now) low = std::max(low, to);
        }
    }
    low = std::ceil(low + 1);
    high = std::floor(high - 1);
    if (low > now || high < now || high - low < 2) return std::nullopt;
    return model::Travel{low, high};
}

} // namespace ivrant::study
