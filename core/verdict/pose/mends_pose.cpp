// SPDX-License-Identifier: GPL-3.0-or-later
// Joint exchange, limits of the wanted range, values a joint can have, rings that close. Part of check_pose.h.
#include <cmath>
#include <map>

#include "core/base/at.h"
#include "core/base/units.h"
#include "core/verdict/pose/check_pose.h"
#include "core/verdict/shape/check_shape.h"

namespace ivrant::verdict {
namespace {

using base::formatNumber;

const study::PoseFacts* findPose(const Report& report, const std::optional<model::PoseId>& id) {
    for (const study::PoseFacts& pose : report.poses)
        if (pose.id == id) return &pose;
    return nullptr;
}

/// Could a joint of another kind reach the wanted end? It needs the same freedom, and an own limit beyond it; what
/// other parts stop, only trying shows.
bool couldReach(const parts::JointKind& offered, const parts::JointKind& present, const Verdict& verdict) {
    const bool ball = present.tilts();
    if (offered.tilts() != ball || verdict.place.freedom == "slide") return false;
    if (ball)
        return verdict.place.freedom != "t" && offered.coneDeg > present.coneDeg &&
               offered.coneDeg >= std::abs(verdict.limit);
    return !offered.turnLimitDeg || (verdict.limit <= *offered.turnLimitDeg && verdict.limit >= offered.turnLowDeg);
}

} // namespace

void addExchanges(const Report& report, const Verdict& verdict, std::vector<Mend>& mends) {
    const model::JointId joint = *verdict.place.joint;
    const auto& present = *at(report.project->joints, report.project->findJoint(joint)).kind;
    for (const std::string& kind : model::listExchanges(*report.project, joint)) {
        const auto& offered = *parts::findJointKind(kind);
        if ((verdict.check.starts_with("hold") || verdict.check == "bonds") && offered.holdingNmm <= present.holdingNmm)
            continue;
        if (verdict.check == "range" && !couldReach(offered, present, verdict)) continue;
        if (verdict.check == "pull" && offered.pullOutN.value_or(1e9) <= present.pullOutN.value_or(1e9)) continue;
        mends.push_back({"use " + kind + " here",
                         [joint, kind](const model::Project& p) { return model::exchangeJointKind(p, joint, kind); }});
    }
}

namespace {

/// The part of the wanted ranges that is free in every pose.
void addLimitWanted(const Report& report, const Verdict& verdict, std::vector<Mend>& mends) {
    const model::JointId id = *verdict.place.joint;
    const int j = report.project->findJoint(id);
    const model::Joint& joint = at(report.project->joints, j);
    std::vector<model::Range> limited = joint.wanted;
    for (const study::PoseFacts& pose : report.poses)
        for (const auto& range : pose.ranges) {
            if (range.joint != j || range.endless) continue;
            auto& wanted = at(limited, range.freedom);
            // Inwards to a tenth, so that what is written down is certainly free; to a step where the joint has steps.
            const double grain = joint.kind->stepDeg > 0 ? joint.kind->stepDeg : 0.1;
            wanted.low = std::max(wanted.low, std::ceil(range.free.low / grain - 1e-9) * grain);
            wanted.high = std::min(wanted.high, std::floor(range.free.high / grain + 1e-9) * grain);
        }
    for (const auto& wanted : limited)
        if (wanted.low > wanted.high) return;
    if (limited == joint.wanted) return;
    const auto& shown = limited[verdict.place.freedom == "s2" || verdict.place.freedom == "slide" ? 1
                                : verdict.place.freedom == "t"                                    ? 2
                                                                                                  : 0];
    mends.push_back({"want only " + formatNumber(shown.low, 1) + " to " + formatNumber(shown.high, 1) +
                         (verdict.unit == "deg" ? "°" : " mm"),
                     [id, limited](const model::Project& p) { return model::setWanted(p, id, limited); }});
}

/// Of every joint no more than the poses use: what nobody poses need not be held.
void addWantPoses(const Report& report, std::vector<Mend>& mends) {
    if (report.project->poses.empty()) return;
    std::map<model::JointId, std::vector<model::Range>> used;
    for (std::size_t j = 0; j < report.project->joints.size(); ++j) {
        const model::Joint& joint = report.project->joints[j];
        if (joint.wanted.empty()) continue;
        std::vector<model::Range> ranges;
        for (std::size_t f = 0; f < joint.wanted.size(); ++f) {
            model::Range range{1e9, -1e9};
            for (const study::PoseFacts& pose : report.poses) {
                range.low = std::min(range.low, pose.values[j][f]);
                range.high = std::max(range.high, pose.values[j][f]);
            }
            ranges.push_back(range);
        }
        if (ranges != joint.wanted) used[joint.id] = std::move(ranges);
    }
    if (used.empty()) return;
    mends.push_back(
        {"want of every joint only what the poses use", [used](const model::Project& p) -> model::EditResult {
             model::EditResult next = p;
             for (const auto& [id, ranges] : used)
                 if (next) next = model::setWanted(*next, id, ranges);
             return next;
         }});
}

/// No ranges at all: what the poses need is judged in each of them, and nothing is asked of what lies between.
void addPosesOnly(const Report& report, std::vector<Mend>& mends) {
    const auto& joints = report.project->joints;
    if (report.project->poses.empty() ||
        std::all_of(joints.begin(), joints.end(), [](const auto& joint) { return joint.wanted.empty(); }))
        return;
    mends.push_back({"ask for the poses only, want no ranges",
                     [](const model::Project& p) -> model::EditResult {
                         model::EditResult next = p;
                         for (const auto& joint : p.joints)
                             if (next && !joint.wanted.empty()) next = model::setWanted(*next, joint.id, {});
                         return next;
                     },
                     "What lies between the poses is then asked of no joint."});
}

/// The base level: what was asked for a tilted one is not asked then.
void addLevelBase(const Report& report, std::vector<Mend>& mends) {
    if (report.project->tiltDeg <= 0) return;
    mends.push_back({"ask no tilt of the base", [](const model::Project& p) { return model::setTilt(p, 0); },
                     "On a floor that slopes it may sag then."});
}

/// The nearest value that the joint can have, in the pose that has a wrong one.
void addLegalValue(const Report& report, const Verdict& verdict, std::vector<Mend>& mends) {
    const model::JointId id = *verdict.place.joint;
    const int j = report.project->findJoint(id);
    const model::Joint& joint = at(report.project->joints, j);
    const study::PoseFacts* pose = findPose(report, verdict.place.pose);
    if (!pose) return;
    const std::vector<double> value = pose::calcNearestValue(*joint.kind, at(pose->values, j));
    mends.push_back({"turn it to " + formatNumber(value[0], 1) + "°",
                     [id, value, poseId = verdict.place.pose](const model::Project& p) -> model::EditResult {
                         if (!poseId) return model::setJointValue(p, id, value);
                         const auto& named = at(p.poses, p.findPose(*poseId));
                         auto values = named.values;
                         values[id] = value;
                         return model::setPose(p, *poseId, values, named.stands);
                     }});
}

/// The other joints of the ring follow until it closes.
void addClosing(const Report& report, const Verdict& verdict, std::vector<Mend>& mends) {
    const study::PoseFacts* pose = verdict.place.pose ? findPose(report, verdict.place.pose) : &report.present;
    if (!pose) return;
    const auto context = pose::makeRangeContext(*report.project, report.tree, report.bonds);
    const pose::PoseChecker checker(context, pose->values);
    const auto closed = pose::calcClosed(checker, pose->values);
    if (!closed.closed) return;
    std::map<model::JointId, std::vector<double>> values;
    for (std::size_t j = 0; j < closed.values.size(); ++j)
        if (report.tree.isInRing(static_cast<int>(j))) values[report.project->joints[j].id] = closed.values[j];
    mends.push_back(
        {"close the ring", [values, poseId = verdict.place.pose](const model::Project& p) -> model::EditResult {
             if (!poseId) return model::setJointValues(p, values);
             const auto& named = at(p.poses, p.findPose(*poseId));
             auto all = named.values;
             for (const auto& [id, value] : values) all[id] = value;
             return model::setPose(p, *poseId, all, named.stands);
         }});
}

} // namespace

void proposePoseMends(const Report& report, const Verdict& verdict, std::vector<Mend>& mends) {
    if (verdict.check.starts_with("hold") || verdict.check == "pull") addExchanges(report, verdict, mends);
    if (verdict.check == "hold-worst") {
        addWantPoses(report, mends);
        addLevelBase(report, mends);
        addPosesOnly(report, mends);
    }
    if (verdict.check == "range") {
        addLimitWanted(report, verdict, mends);
        addExchanges(report, verdict, mends);
    }
    if (verdict.check == "value") addLegalValue(report, verdict, mends);
    if (verdict.check == "ring") addClosing(report, verdict, mends);
    if (verdict.check == "collide") addClearing(report, verdict, mends);
}

} // namespace ivrant::verdict
