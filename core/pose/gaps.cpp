// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/pose/gaps.h"

#include <algorithm>
#include <cmath>

#include "core/base/at.h"
#include "core/pose/stance.h"

namespace ivrant::pose {
namespace {

using geometry::Frame;
using geometry::Vec3;

struct Target {
    const geometry::Solid* solid;
    Frame X_WP;
    bool mechanism;
};

/// The port's solids without the plate in which it sits: a solid that holds cells is a body.
std::vector<int> listMechanism(const parts::Shape& shape, const parts::Port& port) {
    std::vector<int> list;
    for (int solid : port.solids) {
        const bool body = std::any_of(shape.ports.begin(), shape.ports.end(), [&](const parts::Port& p) {
            return p.kind == parts::PortKind::Cell &&
                   std::find(p.solids.begin(), p.solids.end(), solid) != p.solids.end();
        });
        if (!body) list.push_back(solid);
    }
    return list;
}

struct Frame2 {
    Vec3 u, v, towards;
    explicit Frame2(const Vec3& direction) : u(direction.unitOrthogonal()), v(direction.cross(u)), towards(direction) {}
};

struct Box2 {
    double low[2] = {1e30, 1e30}, high[2] = {-1e30, -1e30};
    void include(double a, double b) {
        low[0] = std::min(low[0], a);
        high[0] = std::max(high[0], a);
        low[1] = std::min(low[1], b);
        high[1] = std::max(high[1], b);
    }
    [[nodiscard]] bool meets(const Box2& o) const {
        return low[0] <= o.high[0] && o.low[0] <= high[0] && low[1] <= o.high[1] && o.low[1] <= high[1];
    }
};

Box2 project(const Target& t, const Frame2& f) {
    const Frame X = t.X_WP * t.solid->X_PS;
    const auto support = [&](const Vec3& d) {
        return d.dot(X * geometry::findSupport(*t.solid, X.linear().transpose() * d));
    };
    Box2 box;
    box.include(-support(-f.u), -support(-f.v));
    box.include(support(f.u), support(f.v));
    return box;
}

} // namespace

const std::vector<GapView>& getGapViews() {
    static const std::vector<GapView> views{
        {"front", {0, 1, 0}}, {"back", {0, -1, 0}}, {"left", {1, 0, 0}}, {"right", {-1, 0, 0}}, {"top", {0, 0, -1}}};
    return views;
}

double calcGapArea(const model::Placed& placed, const RangeContext& context, int joint, const Vec3& towards,
                   double pixelMm) {
    const auto j = static_cast<std::size_t>(joint);
    const auto& definition = context.project->joints[j];
    const Frame2 frame(towards.normalized());
    std::vector<Target> mechanism;
    std::vector<std::pair<model::PartSpot, std::vector<int>>> own;
    for (const auto& [spot, name] :
         {std::pair(context.tree.from[j], definition.from.port), std::pair(context.tree.to[j], definition.to.port)}) {
        const auto& shape = *model::getPart(*context.project, spot).shape;
        own.emplace_back(spot, listMechanism(shape, ivrant::at(shape.ports, shape.findPort(name))));
        for (int s : own.back().second)
            mechanism.push_back({&ivrant::at(shape.solids, s).solid, placed.X_WP(spot), true});
    }
    Box2 window;
    for (const Target& t : mechanism) {
        const Box2 box = project(t, frame);
        window.include(box.low[0], box.low[1]);
        window.include(box.high[0], box.high[1]);
    }
    if (mechanism.empty()) return 0;
    std::vector<std::pair<Target, Box2>> targets;
    targets.reserve(mechanism.size());
    for (const Target& t : mechanism) targets.emplace_back(t, project(t, frame));
    for (std::size_t s = 0; s < placed.X_WS.size(); ++s) {
        const auto& section = *context.project->sections[s];
        for (std::size_t p = 0; p < section.parts.size(); ++p) {
            const model::PartSpot spot{static_cast<int>(s), static_cast<int>(p)};
            const auto& shape = *section.parts[p].shape;
            const Frame X = placed.X_WP(spot);
            for (std::size_t k = 0; k < shape.solids.size(); ++k) {
                const bool isOwn = std::any_of(own.begin(), own.end(), [&](const auto& o) {
                    return o.first == spot &&
                           std::find(o.second.begin(), o.second.end(), static_cast<int>(k)) != o.second.end();
                });
                if (isOwn) continue;
                const Target t{&shape.solids[k].solid, X, false};
                if (const Box2 box = project(t, frame); box.meets(window)) targets.emplace_back(t, box);
            }
        }
    }
    constexpr double kAway = 1e5;
    std::size_t seen = 0;
    for (double a = window.low[0] + 0.5 * pixelMm; a < window.high[0]; a += pixelMm)
        for (double b = window.low[1] + 0.5 * pixelMm; b < window.high[1]; b += pixelMm) {
            const Vec3 origin = a * frame.u + b * frame.v - kAway * frame.towards;
            double nearest = 1e30;
            bool shows = false;
            for (const auto& [t, box] : targets) {
                if (a < box.low[0] || a > box.high[0] || b < box.low[1] || b > box.high[1]) continue;
                const double hit = geometry::calcRayHit(*t.solid, t.X_WP.inverse() * origin,
                                                        t.X_WP.linear().transpose() * frame.towards);
                if (hit < 0 || hit >= nearest) continue;
                nearest = hit;
                shows = t.mechanism;
            }
            seen += shows ? 1 : 0;
        }
    return static_cast<double>(seen) * pixelMm * pixelMm;
}

std::vector<GapOverRange> calcGapsOverRange(const RangeContext& context, const JointValues& values,
                                            const model::Stance& stance, int joint, int samples) {
    const auto j = static_cast<std::size_t>(joint);
    const auto& definition = context.project->joints[j];
    const auto bend = static_cast<std::size_t>(definition.kind->bendFreedom());
    model::Range range = calcRange(context, values, joint, static_cast<int>(bend)).free;
    if (!definition.wanted.empty()) range = definition.wanted[bend];
    const auto areaAt = [&](double v, const Vec3& towards) {
        JointValues at = values;
        at[j][bend] = v;
        model::Placed placed = calcPlaced(*context.project, context.tree, at);
        applyStance(placed, stance);
        return calcGapArea(placed, context, joint, towards);
    };
    std::vector<GapOverRange> gaps;
    for (std::size_t v = 0; v < getGapViews().size(); ++v) {
        const Vec3& towards = getGapViews()[v].towards;
        GapOverRange gap;
        gap.view = static_cast<int>(v);
        gap.nowMm2 = gap.leastMm2 = gap.mostMm2 = areaAt(values[j][bend], towards);
        gap.mostAt = values[j][bend];
        for (int i = 0; i < samples && samples > 1; ++i) {
            const double value = range.low + (range.high - range.low) * i / (samples - 1);
            const double area = areaAt(value, towards);
            gap.leastMm2 = std::min(gap.leastMm2, area);
            if (area <= gap.mostMm2) continue;
            gap.mostMm2 = area;
            gap.mostAt = value;
        }
        gaps.push_back(gap);
    }
    return gaps;
}

} // namespace ivrant::pose
