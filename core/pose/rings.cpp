// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/pose/rings.h"

#include <algorithm>
#include <cmath>

#include "core/base/at.h"
#include "core/base/units.h"

namespace ivrant::pose {
namespace {

constexpr double kScanDeg = 2, kScanMm = 0.5;
constexpr int kHalvings = 6;
constexpr double kMostDeg = 180; ///< a joint in a ring is not followed further than this either way

} // namespace

std::vector<RingGap> calcRingGaps(const Kinematics& kinematics, const std::vector<geometry::Frame>& X_WS) {
    std::vector<RingGap> gaps;
    for (const int j : kinematics.tree().closing) {
        const auto& kind = *at(kinematics.project().joints, j).kind;
        const geometry::Frame is = kinematics.motionBetween(X_WS, j);
        RingGap gap;
        gap.joint = j;
        gap.values = calcNearestValue(kind, calcMotionValues(kind, is));
        const geometry::Frame may = calcMotion(kind, gap.values);
        gap.gapMm = (is.translation() - may.translation()).norm();
        gap.turnDeg = base::radToDeg(Eigen::AngleAxisd(geometry::Mat3(is.linear() * may.linear().transpose())).angle());
        gaps.push_back(std::move(gap));
    }
    return gaps;
}

std::vector<RingGap> calcRingGaps(const Kinematics& kinematics, const JointValues& values) {
    std::vector<geometry::Frame> X_WS;
    kinematics.place(values, X_WS);
    return calcRingGaps(kinematics, X_WS);
}

Closed calcClosed(const PoseChecker& checker, const JointValues& values, const std::vector<FreedomRef>& kept) {
    const Kinematics& kinematics = checker.kinematics();
    Closed result;
    result.values = values;
    SolveRequest request;
    request.values = values;
    for (const int closing : kinematics.tree().closing)
        for (const int j : kinematics.tree().ringOf(closing)) addFreedoms(checker, j, request, kept);
    if (!request.freedoms.empty()) result.values = calcSolution(kinematics, request).values;
    result.closed = true;
    for (const RingGap& gap : calcRingGaps(kinematics, result.values)) {
        at(result.values, gap.joint) = gap.values;
        result.closed = result.closed && gap.isClosed();
        result.gapMm = std::max(result.gapMm, gap.gapMm);
        result.turnDeg = std::max(result.turnDeg, gap.turnDeg);
    }
    return result;
}

base::Result<model::Project> poseJoints(const model::Project& project,
                                        const std::map<model::JointId, std::vector<double>>& values) {
    auto next = model::setJointValues(project, values);
    if (!next) return next;
    const auto tree = model::makeTree(*next).value(); // a project that an edit has returned is whole
    std::vector<FreedomRef> kept;
    for (const auto& [id, value] : values)
        if (const int j = project.findJoint(id); tree.isInRing(j))
            for (int f = 0; f < static_cast<int>(value.size()); ++f) kept.push_back({j, f});
    if (kept.empty()) return next;
    const auto context = makeRangeContext(*next, tree, bonds::calcBonds(*next));
    const PoseChecker checker(context, getValues(*next, nullptr));
    const Closed closed = calcClosed(checker, getValues(*next, nullptr), kept);
    if (!closed.closed) {
        const Kinematics before(project, tree);
        const auto was = calcRingGaps(before, getValues(project, nullptr));
        const auto is = calcRingGaps(checker.kinematics(), closed.values);
        for (std::size_t i = 0; i < is.size(); ++i) // an open ring may be posed freely until it closes
            if (was[i].isClosed() && !is[i].isClosed())
                return base::Error{"ring.open",
                                   "the ring at '" + at(project.joints, is[i].joint).name +
                                       "' cannot close there: " + base::formatNumber(is[i].gapMm, 1) + " mm and " +
                                       base::formatNumber(is[i].turnDeg, 1) + "° would be left open",
                                   ""};
        return next;
    }
    std::map<model::JointId, std::vector<double>> all;
    for (std::size_t j = 0; j < closed.values.size(); ++j)
        if (tree.isInRing(static_cast<int>(j))) all[project.joints[j].id] = closed.values[j];
    return model::setJointValues(*next, all);
}

base::Result<model::Project> closeRings(const model::Project& project, const std::vector<model::JointId>& kept,
                                        Closed& result) {
    auto tree = model::makeTree(project);
    if (!tree) return tree.error();
    if (tree->closing.empty()) return base::Error{"ring.none", "no joint of this model closes a ring", ""};
    std::vector<FreedomRef> fixed;
    for (const model::JointId& id : kept) {
        const int j = project.findJoint(id);
        if (j < 0) return base::Error{"edit.missing", "there is no joint " + id.text, id.text};
        for (int f = 0; f < at(project.joints, j).kind->freedomCount(); ++f) fixed.push_back({j, f});
    }
    const auto context = makeRangeContext(project, *tree, bonds::calcBonds(project));
    const PoseChecker checker(context, getValues(project, nullptr));
    result = calcClosed(checker, getValues(project, nullptr), fixed);
    std::map<model::JointId, std::vector<double>> all;
    for (std::size_t j = 0; j < result.values.size(); ++j)
        if (tree->isInRing(static_cast<int>(j))) all[project.joints[j].id] = result.values[j];
    return model::setJointValues(project, all);
}

void calcRingRange(const RangeContext& context, const JointValues& values, FreedomRange& range,
                   const base::Progress* progress) {
    const PoseChecker checker(context, values);
    const auto& kind = *at(context.project->joints, range.joint).kind;
    const FreedomRef moved{range.joint, range.freedom};
    const bool slides = kind.freedomUnit(range.freedom) == "mm";
    const double scan = slides ? kScanMm : kind.stepDeg > 0 ? kind.stepDeg : kScanDeg;
    const auto valueOf = [&](JointValues& v) -> double& { return at(at(v, range.joint), range.freedom); };
    const Closed start = calcClosed(checker, values, {moved});
    range.collides = !start.closed || !checker.isFree(start.values);
    for (const bool high : {false, true}) {
        RangeStop& stop = high ? range.high : range.low;
        double& end = high ? range.free.high : range.free.low;
        end = range.value;
        stop.by = StopBy::Ring;
        if (range.collides) continue;
        const double sign = high ? 1 : -1;
        const double limit = range.own ? (high ? range.own->high : range.own->low) : range.value + sign * kMostDeg;
        JointValues good = start.values;
        const auto tryAt = [&](double v) {
            JointValues next = good;
            valueOf(next) = v;
            const Closed closed = calcClosed(checker, next, {moved});
            if (!closed.closed) {
                stop.by = StopBy::Ring;
                return false;
            }
            if (!checker.isFree(closed.values)) {
                const auto hit = checker.findCollision(closed.values);
                stop.by = hit ? StopBy::Contact : StopBy::Ring;
                if (hit) std::tie(stop.moving, stop.fixed) = *hit;
                return false;
            }
            good = closed.values;
            end = v;
            return true;
        };
        while (sign * (limit - end) > 1e-9) {
            if (progress && progress->stopped()) return;
            const double next = high ? std::min(end + scan, limit) : std::max(end - scan, limit);
            if (tryAt(next)) continue;
            double clear = end, blocked = next;
            for (int i = 0; i < kHalvings && kind.stepDeg <= 0; ++i) {
                const double middle = 0.5 * (clear + blocked);
                (tryAt(middle) ? clear : blocked) = middle;
            }
            break;
        }
        if (sign * (limit - end) <= 1e-9) stop.by = range.own ? StopBy::Own : StopBy::Nothing;
        if (stop.by == StopBy::Contact) {
            model::Placed placed{context.project, {}};
            checker.kinematics().place(start.values, placed.X_WS);
            stop.clearanceMm = calcPartDistance(placed, stop.moving.spot, stop.fixed.spot);
        }
    }
}

} // namespace ivrant::pose
