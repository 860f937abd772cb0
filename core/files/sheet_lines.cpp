// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/files/sheet_lines.h"

#include <cmath>

#include "core/base/at.h"
#include "core/base/units.h"
#include "core/study/strand_words.h"

namespace ivrant::files {
namespace {

using base::formatNumber;
using model::LineEnd;
using model::LineKind;

std::string headText(const model::Line& line, const study::StrandStudy& study) {
    if (line.kind == LineKind::String) return line.name + ": cut " + formatNumber(std::ceil(study.cutMm), 0) + " mm";
    const std::string kind = study::describeLineKind(line);
    return line.name + ": " + (line.count == 1 ? "one " + kind : kind) + ", " + formatNumber(study.restMm, 0) +
           " mm when nothing pulls";
}

std::string tryText(const model::Project& project, const model::Line& line, const study::StrandStudy& study) {
    const std::string joint = at(project.joints, study.joint).name, unit = study::getWorkedUnit(project, study);
    const std::string way = formatNumber(std::abs(line.works->to - line.works->from), 0) + unit;
    if (line.kind == LineKind::Spring)
        return study.sagAt ? "Let go: " + joint + " comes to rest at " + formatNumber(*study.sagAt, 0) + unit + "."
                           : "It does not carry " + joint + " by itself.";
    if (line.kind == LineKind::Band)
        return "Move " + joint + " by hand to " + formatNumber(line.works->from, 0) + unit +
               " and let go: it goes back by " + way + ".";
    return "Pull by " + formatNumber(std::ceil(study.mostTravelMm), 0) + " mm: " + joint + " moves by " + way + ".";
}

} // namespace

std::vector<SheetLine> listSheetLines(const verdict::Report& report) {
    std::vector<SheetLine> sheet;
    const model::Project& project = *report.project;
    for (std::size_t k = 0; k < report.lines.size(); ++k) {
        const study::StrandStudy& study = *report.lines[k];
        if (study.poses.empty()) continue;
        const model::Line& line = at(project.lines, study.index);
        SheetLine one{static_cast<int>(k), headText(line, study), {}, {}};
        for (std::size_t g = 0; g < line.guides.size(); ++g)
            one.guides.push_back(study::describeStation(project, line, g));
        if (line.kind == LineKind::String) {
            one.lines.push_back("The length has 50 mm for each knot" +
                                std::string(line.end == LineEnd::Hand ? " and 100 mm to hold on to." : "."));
            if (line.lengthMm)
                one.lines.push_back(
                    "Between knot and " +
                    std::string(line.end == LineEnd::Tied ? "knot it is " : "where it is pulled it is ") +
                    formatNumber(*line.lengthMm, 0) + " mm long when nobody pulls.");
        } else if (line.law.empty()) {
            one.lines.push_back("How hard it pulls was not measured: " + study::describeLaw(line) + ".");
        }
        if (study.joint >= 0 && line.works && study.problem.empty()) one.lines.push_back(tryText(project, line, study));
        if (line.kind == LineKind::Band)
            one.lines.push_back("A stretched band snaps back: eyes away while it is put on; it ages, take a spare.");
        sheet.push_back(std::move(one));
    }
    return sheet;
}

} // namespace ivrant::files
