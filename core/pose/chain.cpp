// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/pose/chain.h"

#include <algorithm>
#include <cmath>
#include <limits>

#include "core/base/at.h"
#include "core/base/units.h"
#include "core/pose/stance.h"

namespace ivrant::pose {
namespace {

using base::degToRad;
using geometry::Frame;
using geometry::Vec3;

constexpr double kScanMm = 0.5; ///< no point of the chain moves further between two tests of the common bend
constexpr double kBisectDeg = 0.01;

double& bendOf(JointValues& values, FreedomRef f) {
    return ivrant::at(values[static_cast<std::size_t>(f.joint)], f.freedom);
}
double bendOf(const JointValues& values, FreedomRef f) {
    return ivrant::at(values[static_cast<std::size_t>(f.joint)], f.freedom);
}

std::vector<Vec3> centresOf(const Kinematics& kinematics, const Chain& chain, const std::vector<Frame>& X_WS) {
    std::vector<Vec3> centres;
    for (const FreedomRef f : chain.bends) centres.push_back(kinematics.jointFrame(X_WS, f.joint).translation());
    centres.push_back(ivrant::at(X_WS, chain.tipSection) * chain.tip);
    return centres;
}

double tightestRadius(const std::vector<Vec3>& points) {
    double best = std::numeric_limits<double>::infinity();
    for (std::size_t i = 0; i + 2 < points.size(); ++i)
        best = std::min(best, calcCircleRadius(points[i], points[i + 1], points[i + 2]));
    return std::isfinite(best) ? best : 0;
}

JointValues mix(const JointValues& from, const JointValues& to, double t) {
    JointValues values = from;
    for (std::size_t j = 0; j < values.size(); ++j)
        for (std::size_t k = 0; k < values[j].size(); ++k) values[j][k] += t * (to[j][k] - from[j][k]);
    return values;
}

BendLimit calcBend(const RangeContext& context, const PoseChecker& checker, const JointValues& values,
                   const Chain& chain, double length, bool high) {
    BendLimit limit;
    JointValues ends = values;
    double widest = 0;
    for (const FreedomRef f : chain.bends) {
        const auto range = calcRange(context, values, f.joint, f.freedom);
        bendOf(ends, f) = high ? range.free.high : range.free.low;
        limit.singleSumDeg += bendOf(ends, f);
        widest += std::abs(bendOf(ends, f) - bendOf(values, f));
    }
    // The tip moves at most Σ |Δ| × length; test so densely that nothing moves further than kScanMm in between.
    const int steps = std::clamp(static_cast<int>(std::ceil(degToRad(widest) * length / kScanMm)), 8, 4000);
    double clear = 0, hit = -1;
    for (int i = 1; i <= steps && hit < 0; ++i) {
        const double t = static_cast<double>(i) / steps;
        (checker.isFree(mix(values, ends, t)) ? clear : hit) = t;
    }
    while (hit > 0 && (hit - clear) * widest > kBisectDeg) {
        const double t = 0.5 * (clear + hit);
        (checker.isFree(mix(values, ends, t)) ? clear : hit) = t;
    }
    limit.values = mix(values, ends, clear);
    if (hit > 0)
        if (const auto pair = checker.findCollision(mix(values, ends, hit))) {
            limit.moving = pair->second;
            limit.fixed = pair->first;
        }
    for (const FreedomRef f : chain.bends) limit.totalDeg += bendOf(limit.values, f);
    std::vector<Frame> X_WS;
    checker.kinematics().place(limit.values, X_WS);
    limit.radiusMm = tightestRadius(centresOf(checker.kinematics(), chain, X_WS));
    return limit;
}

/// Loads with the figure standing, and the height of the tip.
struct Standing {
    std::vector<JointLoad> loads;
    model::Placed placed;
    double tipHeight = 0;
};

Standing stand(const RangeContext& context, const Chain& chain, const JointValues& values, const model::Stance& stance,
               const model::JointStrengths& strengths) {
    Standing s;
    s.placed = calcPlaced(*context.project, context.tree, values);
    applyStance(s.placed, stance);
    s.loads = calcLoads(s.placed, context.tree, strengths, calcGroundForces(s.placed, context.tree, stance));
    s.tipHeight = (ivrant::at(s.placed.X_WS, chain.tipSection) * chain.tip).z();
    return s;
}

} // namespace

double calcCircleRadius(const Vec3& a, const Vec3& b, const Vec3& c) {
    const double twiceArea = (b - a).cross(c - a).norm();
    if (twiceArea < 1e-9) return std::numeric_limits<double>::infinity();
    return (b - a).norm() * (c - b).norm() * (a - c).norm() / (2 * twiceArea);
}

base::Result<Chain> makeChain(const RangeContext& context, const JointValues& values, int firstJoint, int lastJoint) {
    const auto walk = [&](int from, int to) { // joints from `to` down to `from`, root last
        std::vector<int> run;
        for (int j = to; j >= 0; j = ivrant::at(context.tree.carrier, ivrant::at(context.tree.from, j).section)) {
            run.push_back(j);
            if (j == from) return run;
        }
        return std::vector<int>{};
    };
    std::vector<int> run = walk(firstJoint, lastJoint);
    if (run.empty()) run = walk(lastJoint, firstJoint);
    if (run.empty()) {
        const auto& joints = context.project->joints;
        return base::Error{"chain.run",
                           "'" + ivrant::at(joints, firstJoint).name + "' and '" + ivrant::at(joints, lastJoint).name +
                               "' are not in one run: neither is carried by the other",
                           ""};
    }
    std::reverse(run.begin(), run.end());
    if (auto st = checkOutsideRings(*context.project, context.tree, run, "chain.ring", "a chain study"); !st)
        return st.error();
    Chain chain;
    for (int j : run) chain.bends.push_back({j, ivrant::at(context.project->joints, j).kind->bendFreedom()});
    const model::Placed placed = calcPlaced(*context.project, context.tree, values);
    const auto last = static_cast<std::size_t>(run.back());
    const Vec3 centre = (ivrant::at(placed.X_WS, context.tree.from[last].section) *
                         calcFromFrame(*context.project, context.tree, run.back()))
                            .translation();
    chain.tipSection = context.tree.to[last].section;
    double farthest = -1;
    for (const Vec3& corner : listCorners(placed, chain.tipSection)) {
        const double distance = (corner - centre).norm();
        if (distance <= farthest + 1e-9) continue;
        farthest = distance;
        chain.tip = ivrant::at(placed.X_WS, chain.tipSection).inverse() * corner;
    }
    return chain;
}

ChainStudy calcPlay(const RangeContext& context, const JointValues& values, const Chain& chain) {
    ChainStudy study;
    const Kinematics kinematics(*context.project, context.tree);
    std::vector<Frame> X_WS;
    kinematics.place(values, X_WS);
    const auto centres = centresOf(kinematics, chain, X_WS);
    const Vec3& tip = centres.back();
    for (std::size_t i = 0; i + 1 < centres.size(); ++i) study.lengthMm += (centres[i + 1] - centres[i]).norm();
    for (const FreedomRef f : chain.bends) {
        const auto& kind = *ivrant::at(context.project->joints, f.joint).kind;
        const Frame frame = kinematics.jointFrame(X_WS, f.joint);
        const Vec3 arm = tip - frame.translation();
        const double lever = kind.tilts() ? arm.norm() : frame.linear().col(2).cross(arm).norm();
        study.play.push_back({f.joint, lever, lever * degToRad(kind.playDeg)});
        study.tipPlayMm += study.play.back().playMm;
    }
    return study;
}

ChainStudy calcChain(const RangeContext& context, const JointValues& values, const Chain& chain,
                     const base::Progress* progress) {
    ChainStudy study = calcPlay(context, values, chain);
    std::vector<int> joints;
    for (const FreedomRef f : chain.bends) joints.push_back(f.joint);
    const PoseChecker checker(context, values, joints);
    for (const bool high : {false, true}) {
        if (progress && progress->stopped()) return study;
        (high ? study.high : study.low) = calcBend(context, checker, values, chain, study.lengthMm, high);
    }
    return study;
}

namespace {

constexpr int kMostSags = 60;
constexpr double kSagStepDeg = 2.0;
constexpr double kHeldSlack = 1e-6;

/// Lets one joint sink until it holds or is stopped. None when it is stopped where it is.
std::optional<SagStep> sink(const RangeContext& context, JointValues& values, const Chain& chain, FreedomRef f,
                            const Standing& before, const model::Stance& stance,
                            const model::JointStrengths& strengths) {
    const auto& kind = *ivrant::at(context.project->joints, f.joint).kind;
    const auto& load = ivrant::at(before.loads, f.joint);
    Kinematics kinematics(*context.project, context.tree);
    const Frame frame = kinematics.jointFrame(before.placed.X_WS, f.joint);
    const Vec3 axis = kind.tilts() ? frame.linear().col(1) : frame.linear().col(2);
    const double sign = load.torque.dot(axis) >= 0 ? 1 : -1;
    const auto range = calcRange(context, values, f.joint, f.freedom);
    const double from = bendOf(values, f);
    const double end = range.endless ? from + sign * 180 : sign > 0 ? range.free.high : range.free.low;
    if (std::abs(end - from) < 0.05) return std::nullopt;
    const auto holdsAt = [&](double v) {
        JointValues at = values;
        bendOf(at, f) = v;
        const auto there = stand(context, chain, at, stance, strengths);
        const auto& l = ivrant::at(there.loads, f.joint);
        return l.needNmm <= l.have.value + kHeldSlack;
    };
    SagStep step{f.joint, load.margin.value_or(0), from, end, true, 0};
    const double stride = kind.stepDeg > 0 ? kind.stepDeg : kSagStepDeg;
    const int count = static_cast<int>(std::floor(std::abs(end - from) / stride + 1e-9));
    double moving = from;
    for (int i = 1; i <= count; ++i) {
        const double v = from + sign * stride * i;
        if (!holdsAt(v)) {
            moving = v;
            continue;
        }
        step.stopped = false;
        step.toDeg = v;
        if (kind.stepDeg <= 0) { // where it begins to hold
            double held = v;
            while (std::abs(held - moving) > 0.01) {
                const double middle = 0.5 * (held + moving);
                (holdsAt(middle) ? held : moving) = middle;
            }
            step.toDeg = held;
        }
        break;
    }
    if (step.stopped && kind.stepDeg > 0) step.toDeg = from + sign * stride * count; // the last step before the stop
    if (step.stopped && std::abs(step.toDeg - from) < 0.05) return std::nullopt;
    bendOf(values, f) = step.toDeg;
    return step;
}

SagStudy sag(const RangeContext& context, JointValues values, const Chain& chain, const model::Stance& stance,
             const model::JointStrengths& strengths, const std::vector<bool>& firm) {
    SagStudy study;
    Standing now = stand(context, chain, values, stance, strengths);
    const double start = now.tipHeight;
    std::vector<bool> stuck(context.project->joints.size(), false);
    study.settled = false;
    while (study.steps.size() < kMostSags) {
        std::optional<FreedomRef> weakest;
        double least = 1 - 1e-9;
        for (const FreedomRef f : chain.bends) {
            const auto j = static_cast<std::size_t>(f.joint);
            const auto& margin = now.loads[j].margin;
            if (firm[j] || stuck[j] || !margin || *margin >= least) continue;
            least = *margin;
            weakest = f;
        }
        if (!weakest) {
            study.settled = true;
            break;
        }
        auto step = sink(context, values, chain, *weakest, now, stance, strengths);
        if (!step) {
            ivrant::at(stuck, weakest->joint) = true;
            continue;
        }
        const double height = now.tipHeight;
        now = stand(context, chain, values, stance, strengths);
        step->tipDropMm = height - now.tipHeight;
        if (step->stopped) ivrant::at(stuck, weakest->joint) = true;
        study.steps.push_back(*step);
    }
    study.values = std::move(values);
    study.tipDropMm = start - now.tipHeight;
    return study;
}

} // namespace

SagStudy calcSag(const RangeContext& context, const JointValues& values, const Chain& chain,
                 const model::Stance& stance, const model::JointStrengths& strengths) {
    return sag(context, values, chain, stance, strengths, std::vector<bool>(context.project->joints.size(), false));
}

std::vector<FirmAdvice> calcFirmFirst(const RangeContext& context, const JointValues& values, const Chain& chain,
                                      const model::Stance& stance, const model::JointStrengths& strengths) {
    std::vector<FirmAdvice> advice;
    std::vector<bool> firm(context.project->joints.size(), false);
    SagStudy rest = sag(context, values, chain, stance, strengths, firm);
    while (!rest.steps.empty() && advice.size() < chain.bends.size()) {
        std::optional<FirmAdvice> best;
        SagStudy bestRest;
        for (const FreedomRef f : chain.bends) {
            const auto j = static_cast<std::size_t>(f.joint);
            const bool sags =
                std::any_of(rest.steps.begin(), rest.steps.end(), [&](const SagStep& s) { return s.joint == f.joint; });
            if (firm[j] || !sags) continue;
            firm[j] = true;
            SagStudy without = sag(context, values, chain, stance, strengths, firm);
            firm[j] = false;
            if (best && std::abs(without.tipDropMm) >= std::abs(best->dropWithoutMm)) continue;
            best = FirmAdvice{f.joint, without.tipDropMm};
            bestRest = std::move(without);
        }
        if (!best) break;
        ivrant::at(firm, best->joint) = true;
        advice.push_back(*best);
        rest = std::move(bestRest);
    }
    return advice;
}

} // namespace ivrant::pose
