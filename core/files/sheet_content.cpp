// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/files/sheet_content.h"

#include <algorithm>

#include "core/make/calendar.h"
#include "core/make/combinations.h"
#include "core/model/board_parts.h"
#include "core/parts/palette.h"
#include "core/study/worst_load.h"
#include "core/trials/strengths.h"
#include "core/verdict/groups.h"

namespace ivrant::files {
namespace {

using base::formatNumber;

constexpr double kHeavyG = 10'000;
constexpr double kHurtsG = 2000, kTallMm = 600; ///< from here on a fall is no small thing; values of ours

double calcHeight(const model::Placed& placed) {
    double low = 1e30, high = -1e30;
    model::forPlacedShapes(placed, [&](const model::PlacedShape& part) {
        for (const auto& solid : part.shape.solids) {
            const auto b = geometry::calcBounds(solid.solid, part.X_WP);
            low = std::min(low, b.low.z());
            high = std::max(high, b.high.z());
        }
    });
    return high > low ? high - low : 0;
}

std::string rangeText(const model::Range& r, std::string_view unit) {
    return formatNumber(r.low, 1) + " to " + formatNumber(r.high, 1) + (unit == "deg" ? "°" : " mm");
}

} // namespace

std::vector<std::string> listCautions(const verdict::Report& report) {
    std::vector<std::string> cautions;
    const double mass = model::calcMass(report.present.placed).massG;
    if (report.project->partCount() + model::countBoardParts(*report.project) > 0)
        cautions.push_back(
            "Small parts: keep away from children under three years; they can be swallowed or breathed in.");
    if (mass > kHeavyG)
        cautions.push_back(
            "Heavy model: two people lift it, where the carrying page says. Local rules on lifting apply.");
    const bool falls = std::any_of(report.verdicts.begin(), report.verdicts.end(),
                                   [](const auto& v) { return v.check == "tip" && v.state == verdict::State::Fail; });
    if (!falls && (mass > kHurtsG || calcHeight(report.poses.front().placed) > kTallMm))
        cautions.push_back("A model of this size hurts whom it falls on: where people pass it needs fixing or a "
                           "barrier. Venue and local rules and a qualified "
                           "person decide.");
    if (falls)
        cautions.push_back("This model can tip over in at least one pose: on show it needs a stand, fixing or a "
                           "barrier. Venue and local rules and a qualified "
                           "person decide.");
    if (!make::listBallast(*report.project).empty())
        cautions.push_back("Ballast: enclose it so that it cannot come out; never lead or loose magnets where children "
                           "can reach them.");
    return cautions;
}

std::string describeDifficulty(const std::vector<SheetStep>& steps) {
    constexpr double kCare = 0.15, kDemanding = 0.5; // hard things a step
    int holds = 0, tight = 0, groups = 0, waiting = 0, posed = 0;
    for (const SheetStep& step : steps) {
        holds += step.holds;
        tight += step.tight;
        groups += static_cast<int>(step.groups.size());
        waiting += step.step.after >= 0 ? 1 : 0;
        posed += step.joins && !step.pose.empty() ? 1 : 0;
    }
    std::string facts = std::to_string(steps.size()) + (steps.size() == 1 ? " step" : " steps");
    const auto add = [&](int count, const char* one, const char* many) {
        if (count > 0) facts += ", " + std::to_string(count) + " " + (count == 1 ? one : many);
    };
    add(holds, "part to hold from below", "parts to hold from below");
    add(tight, "place with little room for fingers", "places with little room for fingers");
    add(groups, "group put together first", "groups put together first");
    add(waiting, "step after a joining", "steps after a joining");
    add(posed, "joining in a pose of its own", "joinings in a pose of their own");
    const double share = steps.empty() ? 0
                                       : static_cast<double>(holds + tight + 2 * groups + 2 * waiting + posed) /
                                             static_cast<double>(steps.size());
    return (share < kCare ? "easy: " : share < kDemanding ? "asks for care: " : "demanding: ") + facts;
}

SheetContent makeSheetContent(const verdict::Report& report, base::LengthUnit unit) {
    const model::Project& project = *report.project;
    SheetContent content;
    content.title = project.name;
    const auto& shown = report.poses.front();
    const double mass = model::calcMass(shown.placed).massG;
    content.figures = {{"Parts", std::to_string(project.partCount() + model::countBoardParts(project))},
                       {"Mass", formatNumber(mass, 0) + " g (not weighed)"},
                       {"Height", base::formatLength(calcHeight(shown.placed), unit) + " in " + shown.name},
                       {"Sections", std::to_string(project.sections.size())},
                       {"Joints", std::to_string(project.joints.size())},
                       {"Poses", std::to_string(project.poses.size())}};
    const auto work = make::countWork(project, make::listSteps(project, report.tree));
    const auto rate = make::calcRate(project.making, work);
    content.figures.emplace_back("Building", "about " +
                                                 formatNumber(std::max(0.1, rate.minutesAPart * work.parts / 60), 1) +
                                                 " h" + (rate.measured ? "" : " (starting value)"));
    if (shown.tipping && shown.stance.kind != model::Stance::Kind::Held)
        content.figures.emplace_back("Tips at", base::formatAngle(shown.tipping->angleDeg) + " in " + shown.name);
    for (const auto& group : verdict::groupVerdicts(report.verdicts, project)) {
        if (group.members.front().group == "supplies") continue; // the workshop's matter, not the builder's
        const auto basis = group.members.front().basis;
        if (group.state == verdict::State::Fail || group.state == verdict::State::Thin)
            content.verdicts.push_back(
                {group.state, group.margin ? base::formatMargin(*group.margin) : "", group.text, group.detail,
                 basis == verdict::Basis::Starting ? "starting value" : verdict::getBasisName(basis)});
        ++(group.state == verdict::State::Fail   ? content.summary.fail
           : group.state == verdict::State::Thin ? content.summary.thin
           : group.state == verdict::State::Good ? content.summary.good
                                                 : content.summary.note);
    }
    if (const int good = content.summary.good; good > 0)
        content.passing = std::to_string(good) + (good == 1 ? " finding passes." : " findings pass.");
    content.basisNote = "Starting values were not measured by anybody; capacities count " +
                        formatNumber(trials::kUnmeasuredFactor * 100, 0) +
                        " % of them. Masses are computed from the shapes unless weighed. A margin of 1.0 just passes.";
    content.cautions = listCautions(report);
    content.carrying = planCarrying(report);
    for (std::size_t j = 0; j < project.joints.size(); ++j) {
        const model::Joint& joint = project.joints[j];
        SheetJoint row{joint.name, joint.kind->name, "", "", ""};
        for (const auto& range : shown.ranges) {
            if (range.joint != static_cast<int>(j)) continue;
            const auto unitName = joint.kind->freedomUnit(range.freedom);
            const std::string prefix =
                joint.kind->freedomCount() > 1 ? std::string(joint.kind->freedomName(range.freedom)) + " " : "";
            const std::string gap = row.free.empty() ? "" : "; ";
            row.free += gap + prefix + (range.endless ? "all round" : rangeText(range.free, unitName));
            if (range.wanted) row.wanted += gap + prefix + rangeText(*range.wanted, unitName);
        }
        const auto& worst = study::findWorstPose(report, j);
        row.hold = worst.loads[j].restsOn ? "pressed against its stop in " + worst.name
                                          : formatNumber(worst.loads[j].needNmm, 1) + " of " +
                                                formatNumber(worst.loads[j].have.value, 1) + " in " + worst.name;
        content.joints.push_back(std::move(row));
    }
    content.parts = make::listParts(project);
    content.ballast = make::listBallast(project);
    content.steps = makeSheetSteps(report);
    if (!content.steps.empty()) content.figures.emplace_back("Difficulty", describeDifficulty(content.steps));
    content.motions = listSheetMotions(report);
    content.lines = listSheetLines(report);
    content.lifts = listSheetLifts(report);
    content.packing = makeSheetPacking(report);
    for (std::size_t o = 0; o < project.options.list.size(); ++o) {
        const model::Option& option = project.options.list[o];
        for (std::size_t a = 0; a < option.alternatives.size(); ++a) {
            SheetChoice choice{option.name, option.alternatives[a].name, "", option.alternatives[a].text,
                               static_cast<int>(a) == option.chosen};
            for (const make::TrayLine& line :
                 make::listAlternativeParts(project, {static_cast<int>(o), static_cast<int>(a)}))
                choice.parts += (choice.parts.empty() ? "" : ", ") + std::to_string(line.count) + "× " + line.shape +
                                " " + parts::getColourName(line.colour);
            content.choices.push_back(std::move(choice));
        }
    }
    return content;
}

} // namespace ivrant::files
