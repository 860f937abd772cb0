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

std::string describeRingEnd(const model::Project& project, const RangeStop& stop) {
    if (stop.limitOf < 0) return "a dead point of its ring";
    return "the limit of " + at(project.joints, stop.limitOf).name;
}

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

namespace {

constexpr double kMostTurnDeg = 360; ///< a joint that gets so far turns all round

/// Values of what turns without an end, brought to within half a turn of others.
JointValues unwound(const model::Project& project, JointValues values, const JointValues& about) {
    for (std::size_t j = 0; j < values.size(); ++j) {
        const auto& kind = *project.joints[j].kind;
        if (kind.tilts() || kind.turnLimitDeg) continue;
        values[j][0] = about[j][0] + std::remainder(values[j][0] - about[j][0], 360);
    }
    return values;
}

/// One way of a freedom in a ring that leaves nothing free.
class RingWay {
public:
    RingWay(const PoseChecker& checker, const LoopFollower& follower, const JointValues& start, FreedomRef moved)
        : m_checker(checker), m_project(checker.kinematics().project()), m_follower(follower), m_start(start),
          m_moved(moved) {}

    /// As far as it gets towards `limit`, in steps. Fills `stop`.
    double go(const LoopPlace& from, double limit, double step, RangeStop& stop) {
        LoopPlace here = from;
        const auto value = [&](const LoopPlace& p) { return at(at(p.values, m_moved.joint), m_moved.freedom); };
        const double sign = limit > value(from) ? 1 : -1;
        while (sign * (limit - value(here)) > 1e-9) {
            LoopPlace next = here;
            int limitOf = -1;
            const LoopEnd end = m_follower.advance(
                next, value(here) + sign * std::min(step, sign * (limit - value(here))), nullptr, &limitOf);
            if (!isFree(next)) {
                meet(here, next, value, stop);
                return value(here);
            }
            here = std::move(next);
            if (end == LoopEnd::Reached) continue;
            stop.by = limitOf == m_moved.joint ? StopBy::Own : StopBy::Ring;
            stop.limitOf = end == LoopEnd::Limit ? limitOf : -1;
            return value(here);
        }
        stop.by = StopBy::Own;
        return limit;
    }

private:
    [[nodiscard]] bool isFree(const LoopPlace& p) const {
        return m_checker.isFree(unwound(m_project, p.values, m_start));
    }
    template <class Value> void meet(LoopPlace& clear, const LoopPlace& blocked, Value value, RangeStop& stop) {
        LoopPlace hit = blocked;
        for (int i = 0; i < kHalvings; ++i) {
            LoopPlace middle = clear;
            if (m_follower.advance(middle, 0.5 * (value(clear) + value(hit))) != LoopEnd::Reached) break;
            (isFree(middle) ? clear : hit) = std::move(middle);
        }
        const auto block = m_checker.findBlock(unwound(m_project, hit.values, m_start));
        stop.by = block.pair ? StopBy::Contact : StopBy::Ring;
        stop.limitOf = block.limitOf.value_or(-1);
        if (block.pair) std::tie(stop.moving, stop.fixed) = *block.pair;
    }

    const PoseChecker& m_checker;
    const model::Project& m_project;
    const LoopFollower& m_follower;
    const JointValues& m_start;
    FreedomRef m_moved;
};

/// Fills the range by following the branch; false when the ring leaves something free or its joint has steps.
bool followRange(const RangeContext& context, const PoseChecker& checker, const JointValues& values,
                 FreedomRange& range) {
    const FreedomRef moved{range.joint, range.freedom};
    const auto& kind = *at(context.project->joints, range.joint).kind;
    if (kind.tilts() || kind.stepDeg > 0) return false;
    const LoopFollower follower(checker.kinematics(), planLoops(checker.kinematics(), values, moved));
    if (!follower.plan().leavesNothingFree()) return false;
    const LoopPlace start = follower.start(values);
    const JointValues about = start.values;
    range.free = {range.value, range.value};
    range.low.by = range.high.by = StopBy::Ring;
    range.collides = !start.isClosed() || !checker.isFree(start.values);
    if (range.collides) return true;
    const double step = kind.freedomUnit(range.freedom) == "mm" ? kScanMm : kScanDeg;
    RingWay way(checker, follower, about, moved);
    const double lowLimit = range.own ? std::min(range.own->low, range.value) : range.value - kMostTurnDeg;
    const double highLimit = range.own ? std::max(range.own->high, range.value) : range.value + kMostTurnDeg;
    range.free.low = way.go(start, lowLimit, step, range.low);
    range.free.high = way.go(start, highLimit, step, range.high);
    if (!range.own && range.free.low <= lowLimit + 1e-9) range.low.by = StopBy::Nothing;
    if (!range.own && range.free.high >= highLimit - 1e-9) range.high.by = StopBy::Nothing;
    model::Placed placed{context.project, {}};
    checker.kinematics().place(start.values, placed.X_WS);
    for (RangeStop* stop : {&range.low, &range.high})
        if (stop->by == StopBy::Contact)
            stop->clearanceMm = calcPartDistance(placed, stop->moving.spot, stop->fixed.spot);
    return true;
}

/// The values of the loops with one freedom at another value, the branch kept; none: another way has to be found.
std::optional<base::Result<JointValues>> followTo(const Kinematics& kinematics, const JointValues& from,
                                                  FreedomRef moved, double target) {
    const auto& kind = *at(kinematics.project().joints, moved.joint).kind;
    if (kind.freedomCount() != 1 || kind.stepDeg > 0) return std::nullopt;
    const LoopFollower follower(kinematics, planLoops(kinematics, from, moved));
    if (!follower.plan().leavesNothingFree()) return std::nullopt;
    LoopPlace place = follower.start(from);
    if (!place.isClosed()) return std::nullopt;
    if (kind.freedomUnit(moved.freedom) == "deg" && !kind.turnLimitDeg) { // the short way round first
        LoopPlace near = place;
        double& value = at(at(near.values, moved.joint), moved.freedom);
        if (follower.advance(near, value + std::remainder(target - value, 360)) == LoopEnd::Reached) {
            at(at(near.values, moved.joint), moved.freedom) = target;
            return base::Result<JointValues>(std::move(near.values));
        }
    }
    int limitOf = -1;
    const LoopEnd end = follower.advance(place, target, nullptr, &limitOf);
    if (end == LoopEnd::Reached) return base::Result<JointValues>(std::move(place.values));
    const double reached = at(at(place.values, moved.joint), moved.freedom);
    return base::Result<JointValues>(base::Error{
        "ring.open",
        "'" + at(kinematics.project().joints, moved.joint).name + "' gets as far as " + base::formatNumber(reached, 1) +
            "°: " +
            (end == LoopEnd::Limit ? "'" + at(kinematics.project().joints, limitOf).name + "' is at its own limit there"
                                   : "a dead point of its ring"),
        ""});
}

} // namespace

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
    if (kept.size() == 1) {
        const Kinematics kinematics(project, tree);
        const double target = at(at(getValues(*next, nullptr), kept.front().joint), kept.front().freedom);
        if (auto followed = followTo(kinematics, getValues(project, nullptr), kept.front(), target)) {
            if (!*followed) return followed->error();
            std::map<model::JointId, std::vector<double>> all;
            for (std::size_t j = 0; j < (*followed)->size(); ++j)
                if (tree.isInRing(static_cast<int>(j))) all[project.joints[j].id] = (**followed)[j];
            return model::setJointValues(*next, all);
        }
    }
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
    if (followRange(context, checker, values, range)) return;
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
