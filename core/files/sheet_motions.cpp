// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/files/sheet_motions.h"

#include <algorithm>

#include "core/base/at.h"
#include "core/base/units.h"
#include "core/study/motion_words.h"

namespace ivrant::files {
namespace {

using base::formatNumber;

constexpr std::size_t kMostTold = 6; ///< joints of one motion

std::string tryText(const model::Project& project, const study::MotionStudy& study) {
    const std::string driver = at(project.joints, study.plan.driver.joint).name;
    if (study.allRound) return "Turn " + driver + " once by hand: it goes all round without sticking.";
    return "Move " + driver + " by hand: it " + study::describeTravel(project, study) + ".";
}

} // namespace

std::vector<SheetMotion> listSheetMotions(const verdict::Report& report) {
    std::vector<SheetMotion> motions;
    const model::Project& project = *report.project;
    for (std::size_t m = 0; m < report.motions.size(); ++m) {
        const study::MotionStudy& study = *report.motions[m];
        if (study.places.size() < 2) continue;
        SheetMotion one{static_cast<int>(m), at(project.motions, study.index).name, {tryText(project, study)}};
        const std::string unit = study::getDriverUnit(project, study);
        for (const study::MotionJoint& joint : study.joints) {
            if (joint.round || joint.joint == study.plan.driver.joint || one.lines.size() > kMostTold) continue;
            const std::string of = at(project.joints, joint.joint).kind->freedomUnit(0) == "mm" ? " mm" : "°";
            one.lines.push_back(at(project.joints, joint.joint).name + " moves by " +
                                formatNumber(joint.high - joint.low, 0) + of + " to and fro.");
        }
        for (const study::MotionTrace& trace : study.traces)
            one.lines.push_back("The path of " + trace.name + " is " + formatNumber(trace.lengthMm, 0) + " mm long.");
        for (const double point : study.changePoints)
            one.lines.push_back("At " + formatNumber(study::getShownAt(study, point), 0) + unit +
                                " all links lie in line: see that it goes on the way the pictures show.");
        motions.push_back(std::move(one));
    }
    return motions;
}

} // namespace ivrant::files
