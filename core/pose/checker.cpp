// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/pose/checker.h"

#include <algorithm>
#include <cmath>

#include "core/base/at.h"

namespace ivrant::pose {
namespace {

using geometry::Frame;
using geometry::PlacedSolid;
using geometry::Vec3;

constexpr double kEndless = 1e6;
constexpr double kRangeSlack = 1e-9; ///< degrees or mm

/// Root of the joined group that each section belongs to.
std::vector<int> findGroups(const model::SectionTree& tree) {
    std::vector<int> group(tree.carrier.size());
    for (int s : tree.order) {
        const int up = tree.parent(s);
        at(group, s) = up < 0 ? s : at(group, up);
    }
    return group;
}

} // namespace

PoseChecker::PoseChecker(const RangeContext& context, const JointValues& around, const std::vector<int>& moving)
    : m_context(context), m_kinematics(*context.project, context.tree) {
    const auto& tree = context.tree;
    const auto placed = calcPlaced(*context.project, tree, around);
    std::vector<bool> byRange(context.project->joints.size(), false);
    for (std::size_t j = 0; j < context.project->joints.size(); ++j) {
        const auto& kind = *context.project->joints[j].kind;
        std::vector<model::Range> ranges;
        Stops stops;
        for (int f = 0; f < kind.freedomCount(); ++f) {
            auto own = calcOwnRange(kind, {0, 0, 0}, f);
            ranges.push_back(own.value_or(model::Range{-kEndless, kEndless}));
        }
        if (kind.motion == parts::JointMotion::Turn && !tree.isClosing(static_cast<int>(j))) {
            SweepRequest request;
            request.placed = &placed;
            request.bodies = &context.bodies;
            request.moving = {tree.to[j].section};
            request.fixed = {tree.from[j].section};
            request.motion = makeSweepMotion(context, placed, around, {static_cast<int>(j), 0});
            const double unit = getSweepUnit(kind, 0), value = around[j][0];
            for (const bool high : {false, true}) {
                double& end = high ? ranges[0].high : ranges[0].low;
                const double limit = std::abs(end) >= kEndless ? value + (high ? 360 : -360) : end;
                request.span = (limit - value) * unit;
                if (high == (request.span < 0)) continue; // beyond its own limit already
                if (const auto stop = sweepToStop(context, request); stop.contact) {
                    end = value + stop.contact->q / unit;
                    stops[high ? 1 : 0] = std::pair(stop.contact->moving, stop.contact->fixed);
                }
            }
            byRange[j] = true;
        }
        m_free.push_back(std::move(ranges));
        m_stops.push_back(stops);
    }
    const auto groups = findGroups(tree);
    std::vector<std::vector<bool>> carried; // per moving joint and section
    for (int j : moving) {
        carried.emplace_back(tree.carrier.size(), false);
        for (int s : tree.carriedBy(j)) at(carried.back(), s) = true;
    }
    for (std::size_t a = 0; a < groups.size(); ++a)
        for (std::size_t b = a + 1; b < groups.size(); ++b) {
            if (groups[a] != groups[b]) continue;
            const bool moves = moving.empty() ||
                               std::any_of(carried.begin(), carried.end(), [&](const auto& c) { return c[a] != c[b]; });
            if (!moves) continue;
            const bool bCarriedByA = tree.parent(static_cast<int>(b)) == static_cast<int>(a),
                       aCarriedByB = tree.parent(static_cast<int>(a)) == static_cast<int>(b);
            const bool tied = bCarriedByA || aCarriedByB;
            const bool met = std::any_of(tree.closing.begin(), tree.closing.end(), [&](int j) {
                const auto k = static_cast<std::size_t>(j);
                return std::minmax(tree.from[k].section, tree.to[k].section) ==
                       std::minmax(static_cast<int>(a), static_cast<int>(b));
            });
            if (tied && !met && at(byRange, tree.carrier[bCarriedByA ? b : a])) continue;
            m_pairs.push_back({static_cast<int>(a), static_cast<int>(b), tied || met});
        }
    for (const auto& body : context.bodies.sections) {
        geometry::Bounds bounds;
        for (const auto& part : body->parts) {
            bounds.include(Vec3(part.centre - Vec3::Constant(part.radius)));
            bounds.include(Vec3(part.centre + Vec3::Constant(part.radius)));
        }
        Sphere sphere{bounds.empty() ? Vec3::Zero() : bounds.centre(), 0};
        for (const auto& part : body->parts)
            sphere.radius = std::max(sphere.radius, (part.centre - sphere.centre).norm() + part.radius);
        m_spheres.push_back(sphere);
    }
}

bool PoseChecker::isInRange(const JointValues& values) const {
    for (std::size_t j = 0; j < values.size(); ++j) {
        const auto& kind = *m_context.project->joints[j].kind;
        if (kind.tilts()) {
            if (calcOwnExcess(kind, values[j]) > kRangeSlack) return false;
            continue;
        }
        for (std::size_t f = 0; f < values[j].size(); ++f)
            if (values[j][f] < m_free[j][f].low - kRangeSlack || values[j][f] > m_free[j][f].high + kRangeSlack)
                return false;
    }
    return true;
}

std::optional<std::pair<SolidRef, SolidRef>> PoseChecker::findInPair(const Pair& pair,
                                                                     const std::vector<Frame>& X_WS) const {
    const auto a = static_cast<std::size_t>(pair.a), b = static_cast<std::size_t>(pair.b);
    const Sphere &sa = m_spheres[a], &sb = m_spheres[b];
    if ((X_WS[a] * sa.centre - X_WS[b] * sb.centre).norm() > sa.radius + sb.radius) return std::nullopt;
    const Frame X_AB = X_WS[a].inverse(Eigen::Isometry) * X_WS[b];
    for (const BodyPart& q : m_context.bodies.sections[b]->parts) {
        const Vec3 centre = X_AB * q.centre;
        if ((centre - sa.centre).norm() > sa.radius + q.radius) continue;
        for (const BodyPart& p : m_context.bodies.sections[a]->parts) {
            if ((centre - p.centre).squaredNorm() > (p.radius + q.radius) * (p.radius + q.radius)) continue;
            for (const BodySolid& t : q.solids) {
                const Vec3 solidCentre = X_AB * t.inSection.centre;
                const double reach = t.inSection.solid->reach;
                if ((solidCentre - p.centre).norm() > p.radius + reach) continue;
                std::optional<PlacedSolid> moved;
                for (const BodySolid& s : p.solids) {
                    const double sum = s.inSection.solid->reach + reach;
                    if ((solidCentre - s.inSection.centre).squaredNorm() > sum * sum) continue;
                    if (!moved)
                        moved = PlacedSolid{t.inSection.solid, t.inSection.eroded, X_AB.linear() * t.inSection.R,
                                            solidCentre};
                    if (geometry::calcToleratedGap(s.inSection, *moved).distance > 0) continue;
                    const SolidRef ra{{pair.a, p.part}, s.solid}, rb{{pair.b, q.part}, t.solid};
                    if (pair.joined && m_context.bodies.isExempt(ra, rb)) continue;
                    return std::pair(ra, rb);
                }
            }
        }
    }
    return std::nullopt;
}

bool PoseChecker::isFree(const JointValues& values, const std::vector<Frame>& X_WS) const {
    return isInRange(values) && std::none_of(m_pairs.begin(), m_pairs.end(),
                                             [&](const Pair& pair) { return findInPair(pair, X_WS).has_value(); });
}

bool PoseChecker::isFree(const JointValues& values) const {
    if (!isInRange(values)) return false;
    thread_local std::vector<Frame> X_WS;
    m_kinematics.place(values, X_WS);
    return std::none_of(m_pairs.begin(), m_pairs.end(),
                        [&](const Pair& pair) { return findInPair(pair, X_WS).has_value(); });
}

PoseChecker::Block PoseChecker::findBlock(const JointValues& values) const {
    Block block;
    block.pair = findCollision(values);
    for (std::size_t j = 0; j < values.size() && !block.pair; ++j) {
        const auto& kind = *m_context.project->joints[j].kind;
        bool beyond = kind.tilts() && calcOwnExcess(kind, values[j]) > kRangeSlack;
        for (std::size_t f = 0; f < values[j].size() && !kind.tilts(); ++f) {
            const bool low =
                values[j][f]<m_free[j][f].low - kRangeSlack, high = values[j][f]> m_free[j][f].high + kRangeSlack;
            if (!low && !high) continue;
            beyond = true;
            if (f == 0) block.pair = m_stops[j][high ? 1 : 0];
        }
        if (beyond && !block.pair) {
            block.limitOf = static_cast<int>(j);
            break;
        }
    }
    return block;
}

std::optional<std::pair<SolidRef, SolidRef>> PoseChecker::findCollision(const JointValues& values) const {
    std::vector<Frame> X_WS;
    m_kinematics.place(values, X_WS);
    for (const Pair& pair : m_pairs)
        if (auto found = findInPair(pair, X_WS)) return found;
    return std::nullopt;
}

} // namespace ivrant::pose
