// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/pose/choose.h"

#include <algorithm>
#include <cmath>
#include <set>
#include <tbb/parallel_for.h>

#include "core/base/at.h"
#include "core/base/units.h"
#include "core/model/edits.h"
#include "core/parts/family.h"
#include "core/pose/collide.h"
#include "core/pose/gaps.h"
#include "core/pose/stance.h"

namespace ivrant::pose {
namespace {

using base::formatNumber;
using model::Project;
using parts::JointKind;

constexpr double kSlackDeg = 0.05;
constexpr double kGapScaleMm2 = 50, kStepScaleDeg = 45, kNoNeedMargin = 100;

std::size_t bendIndex(const JointKind& kind) { return static_cast<std::size_t>(kind.bendFreedom()); }

/// What one model with one kind at the joint comes to.
struct Trial {
    const Project& project;
    model::SectionTree tree;
    std::vector<bonds::SectionBondsPtr> bonds;
    RangeContext context;

    explicit Trial(const Project& p)
        : project(p), tree(model::makeTree(p).value()), bonds(bonds::calcBonds(p)),
          context(makeRangeContext(p, tree, bonds)) {}

    template <class Visit> void eachPose(Visit visit) const {
        if (project.poses.empty()) return visit(nullptr, getDefaultStance(project, tree));
        for (const auto& pose : project.poses) visit(&pose, pose.stands);
    }
    [[nodiscard]] std::set<std::pair<std::string, std::pair<model::PartId, model::PartId>>> collisions() const {
        std::set<std::pair<std::string, std::pair<model::PartId, model::PartId>>> found;
        eachPose([&](const model::NamedPose* pose, const model::Stance&) {
            for (const auto& c : calcCollisions(calcPlaced(project, tree, getValues(project, pose)), context.bodies))
                found.insert({pose ? pose->id.text : "", {getPart(project, c.a).id, getPart(project, c.b).id}});
        });
        return found;
    }
    [[nodiscard]] int overlapCount() const {
        int count = 0;
        for (const auto& b : bonds) count += static_cast<int>(b->overlaps.size());
        return count;
    }
    /// Distances from a joint's centre to those of the joints next to it, in the present values.
    [[nodiscard]] std::vector<double> lengths(int joint) const {
        const Kinematics kinematics(project, tree);
        std::vector<geometry::Frame> X_WS;
        kinematics.place(getValues(project, nullptr), X_WS);
        const auto j = static_cast<std::size_t>(joint);
        const geometry::Vec3 own = kinematics.jointFrame(X_WS, joint).translation();
        std::vector<double> list;
        for (std::size_t k = 0; k < project.joints.size(); ++k) {
            const bool carries = at(tree.carrier, tree.from[j].section) == static_cast<int>(k);
            const bool carried = tree.from[k].section == tree.to[j].section;
            if (carries || carried)
                list.push_back((kinematics.jointFrame(X_WS, static_cast<int>(k)).translation() - own).norm());
        }
        return list;
    }
};

void fillRange(const Trial& trial, int joint, JointChoice& choice, const base::Progress* progress) {
    const auto& definition = at(trial.project.joints, joint);
    const std::size_t bend = bendIndex(*definition.kind);
    choice.endless = true;
    trial.eachPose([&](const model::NamedPose* pose, const model::Stance&) {
        const JointValues values = getValues(trial.project, pose);
        for (int f = 0; f < definition.kind->freedomCount(); ++f) {
            const FreedomRange range = calcRange(trial.context, values, joint, f, progress);
            if (static_cast<std::size_t>(f) == bend) {
                choice.endless = choice.endless && range.endless;
                if (!range.endless) {
                    if (!choice.free) choice.free = range.free;
                    choice.free = model::Range{std::max(choice.free->low, range.free.low),
                                               std::min(choice.free->high, range.free.high)};
                }
            }
            if (range.collides) choice.covers = false;
            if (!range.wanted || range.endless) continue;
            const bool reached =
                range.free.low <= range.wanted->low + kSlackDeg && range.free.high >= range.wanted->high - kSlackDeg;
            const bool asked = range.wanted->low != range.wanted->high;
            if (asked && (!reached || range.collides)) choice.covers = false;
        }
    });
}

/// Angles that the poses of the project ask of a kind with steps: before they were rounded by the exchange.
void fillNearest(const Project& before, int joint, const JointKind& kind, JointChoice& choice) {
    if (kind.stepDeg <= 0) return;
    const auto add = [&](const std::string& name, const model::NamedPose* pose) {
        const auto values = at(getValues(before, pose), joint);
        const double bend = values[bendIndex(*at(before.joints, joint).kind)];
        choice.nearest.push_back({name, bend, calcNearestValue(kind, {bend})[0]});
    };
    if (before.poses.empty()) add("Present", nullptr);
    for (const auto& pose : before.poses) add(pose.name, &pose);
}

void fillLoad(const Trial& trial, int joint, double tiltDeg, JointChoice& choice) {
    trial.eachPose([&](const model::NamedPose* pose, const model::Stance& stance) {
        const auto worst =
            calcWorstLoad(trial.context, getValues(trial.project, pose), stance, joint, tiltDeg, choice.strength);
        choice.needNmm = std::max(choice.needNmm, worst.needNmm);
    });
    choice.margin = calcHoldMargin(choice.needNmm, choice.strength.holding.value);
}

void fillGaps(const Trial& trial, int joint, JointChoice& choice) {
    model::Placed placed = calcPlaced(trial.project, trial.tree, getValues(trial.project, nullptr));
    applyStance(placed, getDefaultStance(trial.project, trial.tree));
    for (const auto& view : getGapViews())
        choice.gapMm2 = std::max(choice.gapMm2, calcGapArea(placed, trial.context, joint, view.towards, 0.4));
}

/// Shapes that would have to go and to come for a kind that does not exchange in place.
void fillParts(const Project& project, const model::SectionTree& tree, int joint, JointChoice& choice) {
    const auto j = static_cast<std::size_t>(joint);
    for (const auto& [spot, port] :
         {std::pair(tree.from[j], project.joints[j].from.port), std::pair(tree.to[j], project.joints[j].to.port)})
        choice.remove.push_back(model::getPart(project, spot).shape->name + " (" +
                                model::getPart(project, spot).id.text + ")");
    const auto smallest = [](parts::PortKind kind) -> std::string {
        for (const auto& family : parts::getFamilies()) {
            const auto shape = parts::makeShape(parts::detail::makeName(family, family.usual));
            if (!shape) continue;
            for (const auto& port : (*shape)->ports)
                if (port.kind == kind) return (*shape)->name;
        }
        return std::string("a part with a ") + std::string(parts::getPortKindName(kind));
    };
    if (choice.kind->ports.empty()) return;
    choice.add = {smallest(choice.kind->ports.front().first), smallest(choice.kind->ports.front().second)};
}

std::string join(const std::vector<std::string>& list, const char* between) {
    std::string text;
    for (const auto& item : list) text += (text.empty() ? "" : between) + item;
    return text;
}

void judge(JointChoice& choice, const ChooseRequest& request) {
    const auto& kind = *choice.kind;
    if (!choice.inPlace)
        choice.ruledOut.push_back("its parts do not fit here: take away " + join(choice.remove, ", ") + "; put " +
                                  join(choice.add, ", "));
    if (choice.free && choice.free->low > choice.free->high) { // free here in one pose, there in another
        choice.free.reset();
        choice.ruledOut.push_back("no angle is free in every pose");
    } else if (!choice.covers) {
        const std::string reach =
            choice.free ? formatNumber(choice.free->low, 1) + " to " + formatNumber(choice.free->high, 1) + "°"
                        : "its own limit";
        choice.ruledOut.push_back("does not cover the wanted range (" + reach + ")");
    }
    if (choice.margin && *choice.margin < request.wantedMargin)
        choice.ruledOut.push_back("sags: needs " + formatNumber(choice.needNmm, 1) + " N·mm, has " +
                                  formatNumber(choice.strength.holding.value, 1));
    if (choice.newCollisions > 0)
        choice.ruledOut.push_back("runs into " + std::to_string(choice.newCollisions) +
                                  (choice.newCollisions == 1 ? " pair" : " pairs") + " of parts");
    if (choice.newOverlaps > 0) choice.ruledOut.push_back("its parts overlap their neighbours");
    if (!choice.ruledOut.empty()) {
        choice.says = join(choice.ruledOut, "; ");
        return;
    }
    std::vector<std::string> good;
    good.push_back(choice.margin ? "holds with " + base::formatMargin(*choice.margin) : "nothing to hold");
    good.push_back(kind.stepDeg > 0           ? "steps of " + formatNumber(kind.stepDeg, 1) + "°"
                   : kind.freedomCount() == 3 ? "any angle, three ways"
                                              : "any angle");
    if (choice.free && choice.wanted)
        good.push_back("free " + formatNumber(choice.free->low, 1) + " to " + formatNumber(choice.free->high, 1) + "°");
    choice.says = join(good, ", ");
}

void rate(JointChoice& choice, double firm) {
    const double m = choice.margin.value_or(kNoNeedMargin);
    const double smooth = 0.5 * (1 - std::min(1.0, choice.kind->stepDeg / kStepScaleDeg)) +
                          0.25 * choice.kind->freedomCount() / 3.0 + 0.25 / (1 + choice.gapMm2 / kGapScaleMm2);
    choice.score = firm * m / (1 + m) + (1 - firm) * smooth;
}

} // namespace

void sortChoices(std::vector<JointChoice>& choices, double firm) {
    for (JointChoice& choice : choices) rate(choice, firm);
    std::stable_sort(choices.begin(), choices.end(), [](const JointChoice& l, const JointChoice& r) {
        const auto rank = [](const JointChoice& c) { return c.ruledOut.empty() ? 0 : c.inPlace ? 1 : 2; };
        if (rank(l) != rank(r)) return rank(l) < rank(r);
        return l.score > r.score;
    });
}

std::vector<JointChoice> calcChoices(const Project& project, const ChooseRequest& request,
                                     const base::Progress* progress) {
    const Trial before(project);
    const auto& joint = at(project.joints, request.joint);
    const auto colliding = before.collisions();
    const int overlapping = before.overlapCount();
    const auto lengths = before.lengths(request.joint);
    const auto exchanges = model::listExchanges(project, joint.id);
    const auto kinds = parts::getJointKinds();
    std::vector<JointChoice> choices(kinds.size());
    tbb::parallel_for(std::size_t{0}, kinds.size(), [&](std::size_t k) {
        if (progress && progress->stopped()) return;
        JointChoice& choice = choices[k];
        choice.kind = &kinds[k];
        choice.present = choice.kind == joint.kind;
        choice.strength = request.strengthOf(*choice.kind);
        choice.inPlace =
            choice.present || std::find(exchanges.begin(), exchanges.end(), choice.kind->name) != exchanges.end();
        const auto after = choice.inPlace && !choice.present
                               ? model::exchangeJointKind(project, joint.id, choice.kind->name)
                               : model::EditResult(project);
        if (!after) choice.inPlace = false;
        if (choice.inPlace) {
            const Trial trial(*after);
            const auto& now = at(trial.project.joints, request.joint);
            if (!now.wanted.empty()) choice.wanted = now.wanted[bendIndex(*now.kind)];
            fillRange(trial, request.joint, choice, progress);
            fillLoad(trial, request.joint, request.tiltDeg, choice);
            fillGaps(trial, request.joint, choice);
            for (const auto& c : trial.collisions()) choice.newCollisions += colliding.count(c) == 0 ? 1 : 0;
            choice.newOverlaps = std::max(0, trial.overlapCount() - overlapping);
            const auto changed = trial.lengths(request.joint);
            for (std::size_t i = 0; i < std::min(lengths.size(), changed.size()); ++i)
                choice.lengthChangeMm = std::max(choice.lengthChangeMm, std::abs(changed[i] - lengths[i]));
        } else {
            if (!joint.wanted.empty()) choice.wanted = joint.wanted[bendIndex(*joint.kind)];
            const auto own = calcOwnRange(*choice.kind, {0, 0, 0}, static_cast<int>(bendIndex(*choice.kind)));
            choice.free = own;
            choice.endless = !own;
            if (own && choice.wanted)
                choice.covers = own->low <= choice.wanted->low && own->high >= choice.wanted->high;
            fillLoad(before, request.joint, request.tiltDeg, choice);
            fillParts(project, before.tree, request.joint, choice);
        }
        fillNearest(project, request.joint, *choice.kind, choice);
        judge(choice, request);
    });
    if (progress && progress->stopped()) return {};
    sortChoices(choices, request.firm);
    return choices;
}

} // namespace ivrant::pose
