// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/pose/covers.h"

#include <algorithm>
#include <set>

namespace ivrant::pose {
namespace {

constexpr double kNothing = 0.05;

std::set<model::PartSpot> listJointParts(const RangeContext& context) {
    std::set<model::PartSpot> kept(context.tree.from.begin(), context.tree.from.end());
    kept.insert(context.tree.to.begin(), context.tree.to.end());
    return kept;
}

} // namespace

RangeContext makeContextWithout(const RangeContext& context, const std::vector<model::PartSpot>& parts) {
    const auto kept = listJointParts(context);
    std::set<model::PartSpot> gone;
    for (const auto& spot : parts)
        if (kept.count(spot) == 0) gone.insert(spot);
    RangeContext without = context;
    for (std::size_t s = 0; s < without.bodies.sections.size(); ++s) {
        auto body = std::make_shared<SectionBody>(*context.bodies.sections[s]);
        const auto before = body->parts.size();
        std::erase_if(body->parts, [&](const BodyPart& p) { return gone.count({static_cast<int>(s), p.part}) > 0; });
        if (body->parts.size() != before) without.bodies.sections[s] = std::move(body);
    }
    return without;
}

std::vector<CoverCost> calcCoverCosts(const RangeContext& context, const JointValues& values,
                                      const std::vector<model::PartSpot>& cover, std::optional<int> onlyJoint,
                                      const base::Progress* progress) {
    const RangeContext without = makeContextWithout(context, cover);
    std::vector<CoverCost> costs;
    for (std::size_t j = 0; j < context.project->joints.size(); ++j) {
        if (onlyJoint && *onlyJoint != static_cast<int>(j)) continue;
        for (int f = 0; f < context.project->joints[j].kind->freedomCount(); ++f) {
            if (progress && progress->stopped()) return costs;
            CoverCost cost{{static_cast<int>(j), f},
                           calcRange(context, values, static_cast<int>(j), f),
                           calcRange(without, values, static_cast<int>(j), f),
                           0};
            cost.costDeg =
                (cost.without.free.high - cost.without.free.low) - (cost.with.free.high - cost.with.free.low);
            if (cost.costDeg > kNothing) costs.push_back(cost);
        }
    }
    std::stable_sort(costs.begin(), costs.end(),
                     [](const CoverCost& l, const CoverCost& r) { return l.costDeg > r.costDeg; });
    return costs;
}

std::vector<StopGain> calcStopGains(const RangeContext& context, const JointValues& values, FreedomRef freedom,
                                    bool highEnd, std::size_t most) {
    std::vector<StopGain> gains;
    const auto kept = listJointParts(context);
    std::vector<model::PartSpot> gone;
    auto range = calcRange(context, values, freedom.joint, freedom.freedom);
    while (gains.size() < most) {
        const RangeStop& stop = highEnd ? range.high : range.low;
        if (stop.by != StopBy::Contact) break;
        model::PartSpot part = stop.moving.spot;
        if (kept.count(part) > 0) part = stop.fixed.spot;
        if (kept.count(part) > 0) break; // two parts of joints: nothing can be taken away
        gone.push_back(part);
        const auto next = calcRange(makeContextWithout(context, gone), values, freedom.joint, freedom.freedom);
        gains.push_back({part, highEnd ? next.free.high - range.free.high : range.free.low - next.free.low});
        range = next;
    }
    return gains;
}

} // namespace ivrant::pose
