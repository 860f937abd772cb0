#include "core/study/worst_load.h"

#include <algorithm>

#include "core/pose/stance.h"
#include "core/study/asked_tip.h"

namespace ivrant::study {

const PoseFacts& findWorstPose(const Facts& facts, std::size_t joint) {
    return *std::max_element(facts.poses.begin(), facts.poses.end(),
                             [&](const PoseFacts& l, const PoseFacts& r) { return l.loads[joint].needNmm < r.loads[joint].needNmm; });
}

namespace {

stand::Tipping calcTippingOf(const Facts& facts, const pose::JointValues& values, const model::Stance& stance, model::Placed& placed) {
    placed = pose::calcPlaced(*facts.project, facts.tree, values);
    pose::applyStance(placed, stance);
    return stand::calcTipping(placed, pose::listGroundCorners(placed, kGroundMm)).value_or(stand::Tipping{});
}

bool stillStands(const Facts& facts, const pose::WorstLoad& worst) {
    if (worst.stance.kind == model::Stance::Kind::Held) return true;
    model::Placed placed;
    return calcTippingOf(facts, worst.values, worst.stance, placed).angleDeg >= worst.tiltDeg;
}

/// Tilts of the base with which a pose still stands; none when it falls on level ground.
std::optional<pose::StandSet> calcStandSet(const Facts& facts, const pose::JointValues& values, const model::Stance& stance, int ground) {
    model::Placed placed;
    const stand::Tipping tip = calcTippingOf(facts, values, stance, placed);
    if (!(tip.angleDeg > 0) || tip.support.size() < 3) return std::nullopt;
    pose::StandSet set;
    set.axes = placed.X_WS[static_cast<std::size_t>(ground)].linear().transpose();
    for (const auto& corner : tip.support) set.polygon.push_back((corner - tip.centre.head<2>()) / std::max(tip.centre.z(), 1e-6));
    return set;
}

} // namespace

pose::WorstLoad findWorst(const Facts& facts, const pose::RangeContext& context, int joint, const model::JointStrength& strength) {
    std::optional<pose::WorstLoad> worst;
    std::vector<std::pair<model::Stance::Kind, model::SectionId>> seen; // poses that stand alike ask alike, but for joints without wanted ranges
    for (const PoseFacts& pose : facts.poses) {
        const std::pair key(pose.stance.kind, pose.stance.section);
        if (pose.stance.kind != model::Stance::Kind::Settle && std::find(seen.begin(), seen.end(), key) != seen.end()) continue;
        seen.push_back(key);
        auto load = pose::calcWorstLoad(context, pose.values, pose.stance, joint, facts.project->tiltDeg, strength);
        if (!worst || load.needNmm > worst->needNmm) worst = std::move(load);
    }
    if (worst->margin && *worst->margin < 1 && !stillStands(facts, *worst)) {
        std::vector<pose::JointValues> starts;
        for (const PoseFacts& pose : facts.poses)
            if (pose.stance == worst->stance) starts.push_back(pose.values);
        starts.push_back(worst->values);
        const auto stands = [&, stance = worst->stance](const pose::JointValues& values, int ground) { return calcStandSet(facts, values, stance, ground); };
        return pose::calcWorstStanding(context, starts, worst->stance, joint, std::clamp(facts.project->tiltDeg, 0.0, kMostTiltDeg), strength, stands);
    }
    return *worst;
}

} // namespace ivrant::study
