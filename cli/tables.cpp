// SPDX-License-Identifier: GPL-3.0-or-later
#include "cli/tables.h"

#include <algorithm>

#include "core/base/at.h"
#include "core/base/units.h"
#include "core/study/case_words.h"
#include "core/study/stand_cases.h"
#include "core/study/worst_load.h"
#include "core/verdict/groups.h"

namespace ivrant::cli {
namespace {

using base::formatNumber;

std::size_t codePoints(const std::string& text) {
    return static_cast<std::size_t>(std::count_if(text.begin(), text.end(), [](char c) { return (c & 0xC0) != 0x80; }));
}

std::string shortShape(const model::Project& project, model::PartSpot spot) {
    const auto& part = model::getPart(project, spot);
    return part.id.text + " " + part.shape->name;
}

std::string stopText(const model::Project& project, const pose::RangeStop& stop) {
    if (stop.by == pose::StopBy::Own) return "own limit";
    if (stop.by == pose::StopBy::Ring) return "ring";
    if (stop.by == pose::StopBy::Nothing) return "nothing";
    return std::string(stop.by == pose::StopBy::Seat ? "seat: " : "") + shortShape(project, stop.moving.spot) + " / " +
           shortShape(project, stop.fixed.spot) +
           (stop.clearanceMm ? " (" + formatNumber(*stop.clearanceMm, 2) + " mm apart now)" : "");
}

std::string marginText(const std::optional<double>& margin) { return margin ? base::formatMargin(*margin) : "-"; }

} // namespace

std::string formatTable(const std::vector<std::vector<std::string>>& rows) {
    std::vector<std::size_t> widths;
    for (const auto& row : rows) {
        widths.resize(std::max(widths.size(), row.size()), 0);
        for (std::size_t i = 0; i < row.size(); ++i) widths[i] = std::max(widths[i], codePoints(row[i]));
    }
    std::string out;
    for (const auto& row : rows) {
        std::string line;
        for (std::size_t i = 0; i < row.size(); ++i) {
            line += row[i];
            if (i + 1 < row.size()) line += std::string(widths[i] - codePoints(row[i]) + 2, ' ');
        }
        out += line + "\n";
    }
    return out;
}

std::string formatPoint(const geometry::Vec3& p) {
    return "(" + formatNumber(p.x(), 2) + ", " + formatNumber(p.y(), 2) + ", " + formatNumber(p.z(), 2) + ")";
}

std::string formatRanges(const verdict::Report& report, const study::PoseFacts& pose,
                         const std::optional<model::JointId>& only) {
    std::vector<std::vector<std::string>> rows{
        {"joint", "freedom", "now", "own", "free", "wanted", "margin", "stops low at", "stops high at"}};
    const auto& project = *report.project;
    const auto rangeText = [](const model::Range& r) {
        return formatNumber(r.low, 2) + ".." + formatNumber(r.high, 2);
    };
    for (const auto& r : pose.ranges) {
        const auto& joint = at(project.joints, r.joint);
        if (only && joint.id != *only) continue;
        rows.push_back({joint.name, std::string(joint.kind->freedomName(r.freedom)), formatNumber(r.value, 2),
                        r.own ? rangeText(*r.own) : "endless", r.endless ? "all round" : rangeText(r.free),
                        r.wanted ? rangeText(*r.wanted) : "-", marginText(r.margin), stopText(project, r.low),
                        stopText(project, r.high)});
    }
    return "Range in " + pose.name + "\n" + formatTable(rows);
}

std::string formatLoads(const verdict::Report& report, const study::PoseFacts& pose) {
    std::vector<std::vector<std::string>> rows{
        {"joint", "needs N·mm", "has N·mm", "margin", "pull N", "of N", "carries g", "basis"}};
    for (const auto& l : pose.loads)
        rows.push_back({at(report.project->joints, l.joint).name, formatNumber(l.needNmm, 2),
                        formatNumber(l.have.value, 2), marginText(l.margin), formatNumber(l.pullN, 2),
                        l.pullLimit ? formatNumber(l.pullLimit->value, 1) : "-", formatNumber(l.carriedG, 1),
                        l.have.basis});
    const auto mass = model::calcMass(pose.placed);
    std::string text = "Holding in " + pose.name + "\n" + formatTable(rows);
    text += formatNumber(mass.massG, 1) + " g, centre " + formatPoint(mass.centre) + " mm";
    if (pose.tipping && pose.stance.kind != model::Stance::Kind::Held)
        text += ", tips at " + formatNumber(pose.tipping->angleDeg, 1) + "° towards " +
                formatNumber(pose.tipping->towardDeg, 0) + "°";
    return text + "\n";
}

std::string formatWorstLoads(const verdict::Report& report) {
    std::vector<std::vector<std::string>> rows{{"joint", "at its worst", "needs N·mm", "has N·mm", "margin", "basis"}};
    for (std::size_t j = 0; j < report.project->joints.size(); ++j) {
        const auto& pose = study::findWorstPose(report, j);
        const double need = std::max(pose.loads[j].needNmm, report.worst[j].needNmm);
        const bool between = report.worst[j].needNmm > pose.loads[j].needNmm * (1 + 1e-6);
        const auto& have = pose.loads[j].have;
        rows.push_back({report.project->joints[j].name, between ? "within the wanted ranges" : pose.name,
                        formatNumber(need, 2), formatNumber(have.value, 2),
                        marginText(pose::calcHoldMargin(need, have.value)), have.basis});
    }
    return "Holding at its worst, over the poses, the wanted ranges and " + formatNumber(report.project->tiltDeg, 1) +
           "° of tilt of the base\n" + formatTable(rows);
}

std::string formatVerdicts(const verdict::Report& report, bool singles) {
    std::vector<std::vector<std::string>> rows;
    const auto mark = [](verdict::State state) {
        return state == verdict::State::Fail ? "FAIL" : verdict::getStateName(state);
    };
    const auto groups = verdict::groupVerdicts(report.verdicts, *report.project);
    for (const auto& group : groups) {
        rows.push_back({mark(group.state), marginText(group.margin), group.text, group.detail});
        if (singles && group.members.size() > 1)
            for (const auto& v : group.members)
                rows.push_back({"", "  " + marginText(v.margin), "  " + v.text, v.detail});
    }
    const auto sum = verdict::countGroups(groups);
    return formatTable(rows) + std::to_string(sum.fail) + " fail, " + std::to_string(sum.thin) + " thin, " +
           std::to_string(sum.good) + " good, " +
           study::countText(static_cast<std::size_t>(sum.note), "note", "notes") + "; " +
           (singles ? std::to_string(sum.singles) + " single verdicts"
                    : std::to_string(sum.singles) + " single verdicts with --all") +
           "\n";
}

} // namespace ivrant::cli
