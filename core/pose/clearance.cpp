// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/pose/clearance.h"

#include <algorithm>
#include <cmath>
#include <queue>

#include "core/base/at.h"
#include "core/base/units.h"

namespace ivrant::pose {
namespace {

using base::degToRad;
using geometry::Frame;
using geometry::PlacedSolid;
using geometry::Vec3;

constexpr double kGapToleranceMm = 0.005;
constexpr double kProfileStepDeg = 2.5;
constexpr double kAngleToleranceDeg = 0.05;
constexpr int kDirections = 16;
constexpr double kSeatMm = 0.06, kSquare = 0.999;

PlacedSolid placeIn(const Frame& X, const PlacedSolid& s) {
    return {s.solid, s.eroded, X.linear() * s.R, X * s.centre};
}

struct Solid {
    SolidRef ref;
    PlacedSolid placed; ///< in the joint's frame J
    Vec3 centre;
    double reach;
};

/// Both sides of the joint in its frame: what turns about z, and the rest.
class TurningPair {
public:
    TurningPair(const RangeContext& context, const JointValues& values, FreedomRef freedom) : m_context(context) {
        const model::Placed placed = calcPlaced(*context.project, context.tree, values);
        const SweepMotion motion = makeSweepMotion(context, placed, values, freedom);
        const Frame X_JW = motion.X_WJ.inverse();
        std::vector<bool> moves(placed.X_WS.size(), false);
        for (int s : context.tree.carriedBy(freedom.joint)) ivrant::at(moves, s) = true;
        m_from = ivrant::at(context.tree.from, freedom.joint);
        m_to = ivrant::at(context.tree.to, freedom.joint);
        for (std::size_t s = 0; s < placed.X_WS.size(); ++s) {
            const Frame X_JS = X_JW * placed.X_WS[s];
            for (const auto& part : context.bodies.sections[s]->parts)
                for (const auto& solid : part.solids) {
                    const PlacedSolid p = placeIn(X_JS, solid.inSection);
                    (moves[s] ? m_moving : m_fixed)
                        .push_back({{{static_cast<int>(s), part.part}, solid.solid}, p, p.centre, p.solid->reach});
                    if (moves[s]) m_radius = std::max(m_radius, p.centre.head<2>().norm() + p.solid->reach);
                }
        }
    }
    [[nodiscard]] bool hasBoth() const { return !m_moving.empty() && !m_fixed.empty(); }
    [[nodiscard]] double radius() const { return m_radius; } ///< of the moving parts about the axis

    struct Nearest {
        double gap = 1e30;
        const Solid *moving = nullptr, *fixed = nullptr;
        bool tooDeep = false;
    };
    /// The nearest pair at a turn of q rad, the moving side shifted across the axis by (dx, dy).
    [[nodiscard]] Nearest at(double q, double dx = 0, double dy = 0) const {
        const Frame turn = geometry::makeFrame(Eigen::AngleAxisd(q, Vec3::UnitZ()).toRotationMatrix(), Vec3(dx, dy, 0));
        Nearest best;
        for (const Solid& m : m_moving) {
            const Vec3 centre = turn * m.centre;
            std::optional<PlacedSolid> moved;
            for (const Solid& f : m_fixed) {
                if ((centre - f.centre).norm() - m.reach - f.reach >= best.gap) continue;
                if (m_context.bodies.isExempt(m.ref, f.ref)) continue;
                if (!moved) moved = placeIn(turn, m.placed);
                const double gap = geometry::calcDistance(*moved, f.placed);
                if (gap < kSeatMm && isOwnSeat(m, f, *moved)) continue;
                if (gap <= 0 && geometry::calcToleratedGap(*moved, f.placed).distance <= 0) best.tooDeep = true;
                if (gap >= best.gap) continue;
                best.gap = gap;
                best.moving = &m;
                best.fixed = &f;
            }
        }
        return best;
    }

private:
    /// What turns in its joint slides on the other half all the time: faces square to the axis, of the two parts that
    /// the joint names.
    [[nodiscard]] bool isOwnSeat(const Solid& m, const Solid& f, const PlacedSolid& moved) const {
        if (m.ref.spot != m_to || f.ref.spot != m_from) return false;
        return std::abs(geometry::calcGap(moved, f.placed).normal.z()) > kSquare;
    }

    const RangeContext& m_context;
    model::PartSpot m_from, m_to; ///< the joint's two parts
    std::vector<Solid> m_moving, m_fixed;
    double m_radius = 0;
};

base::Status checkTurn(const RangeContext& context, FreedomRef freedom) {
    const auto& joint = ivrant::at(context.project->joints, freedom.joint);
    const bool tilt = joint.kind->tilts() && freedom.freedom < 2;
    if (joint.kind->freedomUnit(freedom.freedom) != "deg" || tilt)
        return base::Error{"clearance.turn", "'" + joint.name + "' does not turn about one axis in this freedom", ""};
    return {};
}

/// Turn from the present value over a full turn, or between own limits: start and span in rad, relative to the value.
std::pair<double, double> spanOf(const RangeContext& context, const JointValues& values, FreedomRef freedom) {
    const auto j = static_cast<std::size_t>(freedom.joint);
    const double value = ivrant::at(values[j], freedom.freedom);
    const auto own = calcOwnRange(*context.project->joints[j].kind, values[j], freedom.freedom);
    if (!own) return {0, 2 * base::kPi};
    return {degToRad(own->low - value), degToRad(own->high - value)};
}

bool passes(const RangeContext& context, const JointValues& values, FreedomRef freedom) {
    const model::Placed placed = calcPlaced(*context.project, context.tree, values);
    SweepRequest request;
    request.placed = &placed;
    request.bodies = &context.bodies;
    request.moving = context.tree.carriedBy(freedom.joint);
    request.motion = makeSweepMotion(context, placed, values, freedom);
    const auto [low, high] = spanOf(context, values, freedom);
    for (const double span : {low, high}) {
        request.span = span;
        if (span != 0 && calcFirstContact(request)) return false;
    }
    return true;
}

} // namespace

base::Result<TurnClearance> calcTurnClearance(const RangeContext& context, const JointValues& values,
                                              FreedomRef freedom, const base::Progress* progress) {
    if (auto st = checkTurn(context, freedom); !st) return st.error();
    const TurningPair pair(context, values, freedom);
    if (!pair.hasBoth()) return base::Error{"clearance.alone", "there is nothing that it could run into", ""};
    const double value = ivrant::at(ivrant::at(values, freedom.joint), freedom.freedom);
    const auto [low, high] = spanOf(context, values, freedom);
    TurnClearance result;
    result.gapMm = 1e30;
    struct Interval {
        double bound, low, high, gapLow, gapHigh;
        bool operator<(const Interval& o) const { return bound > o.bound; } // smallest bound first
    };
    const auto look = [&](double q) {
        const auto near = pair.at(q);
        if (near.gap < result.gapMm && near.moving) {
            result.gapMm = near.gap;
            result.atDeg = value + base::radToDeg(q);
            result.moving = near.moving->ref;
            result.fixed = near.fixed->ref;
        }
        return near.gap;
    };
    const auto makeInterval = [&](double a, double b, double ga, double gb) {
        return Interval{0.5 * (ga + gb - pair.radius() * (b - a)), a, b, ga, gb};
    };
    std::priority_queue<Interval> open;
    const int count = std::max(1, static_cast<int>(std::ceil(base::radToDeg(high - low) / kProfileStepDeg)));
    double last = look(low);
    result.profile.emplace_back(value + base::radToDeg(low), last);
    for (int i = 1; i <= count; ++i) {
        const double a = low + (high - low) * (i - 1) / count, b = low + (high - low) * i / count;
        const double gap = look(b);
        result.profile.emplace_back(value + base::radToDeg(b), gap);
        open.push(makeInterval(a, b, last, gap));
        last = gap;
    }
    for (int rounds = 0; rounds < 20'000 && !open.empty() && result.gapMm > 0; ++rounds) {
        if (progress && progress->stopped()) break;
        const Interval top = open.top();
        if (top.bound >= result.gapMm - kGapToleranceMm) break;
        open.pop();
        const double middle = 0.5 * (top.low + top.high), gap = look(middle);
        open.push(makeInterval(top.low, middle, top.gapLow, gap));
        open.push(makeInterval(middle, top.high, gap, top.gapHigh));
    }
    result.passes = result.gapMm > 0 || passes(context, values, freedom);
    return result;
}

base::Result<Misalignment> calcMisalignment(const RangeContext& context, const JointValues& values, FreedomRef turning,
                                            FreedomRef other, double mostDeg, const base::Progress* progress) {
    if (auto st = checkTurn(context, turning); !st) return st.error();
    if (auto st = checkTurn(context, other); !st) return st.error();
    const auto passesOff = [&](double off) {
        JointValues moved = values;
        ivrant::at(ivrant::at(moved, other.joint), other.freedom) += off;
        return passes(context, moved, turning);
    };
    Misalignment result;
    if (!passesOff(0)) return result;
    bool everything = true;
    for (const double sign : {-1.0, 1.0}) {
        double good = 0, bad = -1;
        for (double off = 1; off <= mostDeg + 1e-9 && bad < 0; off += 1) {
            if (progress && progress->stopped()) return result;
            (passesOff(sign * off) ? good : bad) = off;
        }
        while (bad > 0 && bad - good > kAngleToleranceDeg) {
            const double middle = 0.5 * (good + bad);
            (passesOff(sign * middle) ? good : bad) = middle;
        }
        everything = everything && bad < 0;
        (sign < 0 ? result.lowDeg : result.highDeg) = sign * good;
    }
    result.endless = everything;
    return result;
}

base::Result<double> calcOffAxisPlay(const RangeContext& context, const JointValues& values, FreedomRef turning,
                                     double mostMm) {
    if (auto st = checkTurn(context, turning); !st) return st.error();
    const TurningPair pair(context, values, turning);
    if (!pair.hasBoth()) return base::Error{"clearance.alone", "there is nothing that it could run into", ""};
    const auto span = spanOf(context, values, turning);
    const double low = span.first, high = span.second;
    const int count = std::max(8, static_cast<int>(std::ceil(base::radToDeg(high - low) / kProfileStepDeg)));
    const auto free = [&](double off) {
        for (int d = 0; d < kDirections; ++d) {
            const double way = 2 * base::kPi * d / kDirections;
            for (int i = 0; i <= count; ++i)
                if (pair.at(low + (high - low) * i / count, off * std::cos(way), off * std::sin(way)).tooDeep)
                    return false;
        }
        return true;
    };
    if (!free(0)) return 0.0;
    // Never more than the smallest gap across the axis: shifted by that, the nearest two touch.
    double gap = mostMm;
    for (int i = 0; i <= count; ++i) gap = std::min(gap, pair.at(low + (high - low) * i / count).gap);
    const double most = std::max(gap, 0.0);
    if (free(most)) return most;
    double good = 0, bad = most;
    while (bad - good > 0.01) {
        const double middle = 0.5 * (good + bad);
        (free(middle) ? good : bad) = middle;
    }
    return good;
}

} // namespace ivrant::pose
