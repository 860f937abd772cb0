// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/verdict/compare.h"

#include <algorithm>
#include <cmath>
#include <map>
#include <set>

#include "core/base/at.h"
#include "core/model/board_parts.h"
#include "core/parts/family.h"
#include "core/parts/palette.h"
#include "core/pose/stance.h"
#include "core/study/worst_load.h"

namespace ivrant::verdict {
namespace {

JointSide makeSide(const Report& report, int joint) {
    const auto j = static_cast<std::size_t>(joint);
    const auto& kind = *report.project->joints[j].kind;
    JointSide side;
    side.kind = kind.name;
    side.stepDeg = kind.stepDeg;
    const int bend = kind.bendFreedom();
    for (const study::PoseFacts& pose : report.poses)
        for (const auto& range : pose.ranges) {
            if (range.joint != joint || range.freedom != bend || range.endless) continue;
            if (!side.free) side.free = range.free;
            side.free =
                model::Range{std::max(side.free->low, range.free.low), std::min(side.free->high, range.free.high)};
        }
    side.needNmm = std::max(report.worst[j].needNmm, study::findWorstPose(report, j).loads[j].needNmm);
    side.haveNmm = report.strengths[j].holding.value;
    side.margin = pose::calcHoldMargin(side.needNmm, side.haveNmm);
    return side;
}

int findMatch(const model::Project& project, const model::Joint& joint) {
    if (const int same = project.findJoint(joint.id); same >= 0) return same;
    for (std::size_t k = 0; k < project.joints.size(); ++k)
        if (project.joints[k].name == joint.name) return static_cast<int>(k);
    return -1;
}

geometry::Vec3 centreOf(const Report& report, int joint) {
    const auto j = static_cast<std::size_t>(joint);
    return (at(report.present.placed.X_WS, report.tree.from[j].section) *
            pose::calcFromFrame(*report.project, report.tree, joint))
        .translation();
}

double heightOf(const Report& report) {
    geometry::Bounds bounds;
    for (const auto& p : pose::listCorners(report.present.placed)) bounds.include(p);
    return bounds.empty() ? 0 : bounds.size().z();
}

std::map<std::pair<std::string, std::string>, int> countParts(const model::Project& project) {
    std::map<std::pair<std::string, std::string>, int> counts;
    for (const auto& section : project.sections)
        for (const auto& part : section->parts)
            ++counts[{parts::getListName(*part.shape), parts::getColourName(part.colour)}];
    return counts;
}

void addFigures(const Report& a, const Report& b, Comparison& out) {
    const auto add = [&](const char* what, const char* unit, auto of) {
        out.figures.push_back({what, unit, of(a), of(b)});
    };
    add("mass", "g", [](const Report& r) { return model::calcMass(r.present.placed).massG; });
    add("height", "mm", heightOf);
    add("parts", "", [](const Report& r) {
        return static_cast<double>(r.project->partCount() + model::countBoardParts(*r.project));
    });
    if (!a.project->posts.empty() || !b.project->posts.empty())
        add("posts", "", [](const Report& r) { return static_cast<double>(r.project->posts.size()); });
    add("joints", "", [](const Report& r) { return static_cast<double>(r.project->joints.size()); });
    add("freedoms", "", [](const Report& r) {
        double count = 0;
        for (const auto& joint : r.project->joints) count += joint.kind->freedomCount();
        return count;
    });
    add("price classes of joints", "", [](const Report& r) {
        double sum = 0;
        for (const auto& joint : r.project->joints) sum += joint.kind->priceClass;
        return sum;
    });
    add("tips at", "deg", [](const Report& r) { return r.present.tipping ? r.present.tipping->angleDeg : 0.0; });
    add("failing verdicts", "",
        [](const Report& r) { return static_cast<double>(countStates(collapsePoses(r.verdicts)).fail); });
    add("thin verdicts", "",
        [](const Report& r) { return static_cast<double>(countStates(collapsePoses(r.verdicts)).thin); });
}

} // namespace

bool JointComparison::differs() const {
    if (!a || !b) return true;
    if (a->kind != b->kind || a->free.has_value() != b->free.has_value() || std::abs(a->needNmm - b->needNmm) > 0.05)
        return true;
    return a->free && (std::abs(a->free->low - b->free->low) > 0.05 || std::abs(a->free->high - b->free->high) > 0.05);
}

Comparison compareReports(const Report& a, const Report& b, const std::string& nameA, const std::string& nameB) {
    Comparison out;
    out.nameA = nameA;
    out.nameB = nameB;
    std::set<int> matched;
    std::vector<std::pair<int, int>> pairs;
    for (std::size_t j = 0; j < a.project->joints.size(); ++j) {
        const auto& joint = a.project->joints[j];
        const int other = findMatch(*b.project, joint);
        JointComparison row{joint.name, makeSide(a, static_cast<int>(j)), std::nullopt};
        if (other >= 0) {
            row.b = makeSide(b, other);
            matched.insert(other);
            pairs.emplace_back(static_cast<int>(j), other);
        }
        out.joints.push_back(std::move(row));
    }
    for (std::size_t k = 0; k < b.project->joints.size(); ++k)
        if (matched.count(static_cast<int>(k)) == 0)
            out.joints.push_back({b.project->joints[k].name, std::nullopt, makeSide(b, static_cast<int>(k))});
    std::stable_sort(out.joints.begin(), out.joints.end(),
                     [](const JointComparison& l, const JointComparison& r) { return l.differs() && !r.differs(); });
    for (const auto& [ja, jb] : pairs) {
        const int up = at(a.tree.carrier, at(a.tree.from, ja).section);
        const auto carrier = std::find_if(pairs.begin(), pairs.end(), [&](const auto& p) { return p.first == up; });
        if (up < 0 || carrier == pairs.end()) continue;
        out.lengths.push_back({at(a.project->joints, up).name, at(a.project->joints, ja).name,
                               (centreOf(a, ja) - centreOf(a, up)).norm(),
                               (centreOf(b, jb) - centreOf(b, carrier->second)).norm()});
    }
    addFigures(a, b, out);
    auto countsB = countParts(*b.project);
    for (const auto& [key, count] : countParts(*a.project)) {
        const int other = countsB.count(key) > 0 ? countsB[key] : 0;
        countsB.erase(key);
        if (count != other) out.parts.push_back({key.first, key.second, count, other});
    }
    for (const auto& [key, count] : countsB) out.parts.push_back({key.first, key.second, 0, count});
    return out;
}

} // namespace ivrant::verdict
