// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/study/module_reach.h"

#include <algorithm>
#include <bit>
#include <cmath>
#include <set>

#include "core/base/at.h"
#include "core/parts/body_box.h"
#include "core/study/module_room.h"

namespace ivrant::study {

using geometry::Frame;
using geometry::Vec3;
using model::PartSpot;

namespace {

constexpr double kOffMm = 0.3;      ///< a finger that touches
constexpr double kInsetMm = 0.5;    ///< from the edge of a side: nearer no finger presses it
constexpr double kFromBelow = -0.3; ///< ways that come so much from below ask for turning the model over
constexpr std::size_t kMostTried = 12;

std::vector<PartSpot> listAll(const model::Project& project) {
    std::vector<PartSpot> all;
    for (std::size_t s = 0; s < project.sections.size(); ++s)
        for (std::size_t p = 0; p < project.sections[s]->parts.size(); ++p)
            all.push_back({static_cast<int>(s), static_cast<int>(p)});
    return all;
}

/// Places on that side of the part: its middle, and for a finger eight more towards its edges.
std::vector<Vec3> listPlaces(const geometry::Bounds& box, const Vec3& axis, bool plug) {
    const Vec3 middle = box.centre() + axis.cwiseProduct(box.size()) / 2;
    std::vector<Vec3> places{middle};
    if (plug) return places;
    int x = 0;
    axis.cwiseAbs().maxCoeff(&x);
    const int y = (x + 1) % 3, z = (x + 2) % 3;
    const auto aside = [&](int k) { return std::max(0.0, box.size()[k] / 2 - kInsetMm); };
    for (const int a : {-1, 0, 1})
        for (const int b : {-1, 0, 1})
            if (a != 0 || b != 0)
                places.push_back(middle + a * aside(y) * Vec3::Unit(y) + b * aside(z) * Vec3::Unit(z));
    return places;
}

std::vector<Vec3> listDirections(const Vec3& normal, bool plug) {
    std::vector<Vec3> list{normal};
    if (plug) return list;
    const Vec3 x = normal.unitOrthogonal(), y = normal.cross(x);
    for (int k = 0; k < 8; ++k) {
        const double a = k * std::acos(-1.0) / 4;
        list.push_back((normal + std::cos(a) * x + std::sin(a) * y).normalized());
    }
    return list;
}

/// The fewest modules that free a way: what is in it goes with them, or stays behind when the place itself goes with
/// them, and each can be taken off.
class Freeing {
public:
    Freeing(const ModuleFacts& found, PartSpot target) {
        for (const LiftModule& one : found.modules)
            if (one.lifts && m_list.size() < kMostTried) {
                m_list.push_back(&one);
                m_takesTarget.push_back(has(one, target));
            }
    }
    [[nodiscard]] std::optional<std::vector<int>> find(const std::vector<PartSpot>& blockers) const {
        std::set<unsigned> needed; // for each blocker: one of these
        for (const PartSpot blocker : blockers) {
            unsigned of = 0;
            for (std::size_t k = 0; k < m_list.size(); ++k)
                if (has(*m_list[k], blocker) != m_takesTarget[k]) of |= 1U << k;
            if (of == 0) return std::nullopt;
            needed.insert(of);
        }
        std::optional<std::vector<int>> best;
        const unsigned sets = 1U << m_list.size();
        for (unsigned set = 1; set < sets; ++set) {
            if (best && std::popcount(set) >= static_cast<int>(best->size())) continue;
            if (std::any_of(needed.begin(), needed.end(), [&](unsigned of) { return (of & set) == 0; })) continue;
            if (auto order = inOrder(set)) best = std::move(order);
        }
        return best;
    }

private:
    [[nodiscard]] static bool has(const LiftModule& one, PartSpot spot) {
        return std::binary_search(one.parts.begin(), one.parts.end(), spot);
    }
    [[nodiscard]] std::optional<std::vector<int>> inOrder(unsigned set) const {
        std::vector<int> order;
        const auto isOff = [&](int one) { return std::find(order.begin(), order.end(), one) != order.end(); };
        for (bool more = true; more;) {
            more = false;
            for (std::size_t k = 0; k < m_list.size(); ++k)
                if ((set >> k & 1U) != 0 && !isOff(m_list[k]->index) &&
                    std::all_of(m_list[k]->after.begin(), m_list[k]->after.end(), isOff)) {
                    order.push_back(m_list[k]->index);
                    more = true;
                }
        }
        if (static_cast<int>(order.size()) != std::popcount(set)) return std::nullopt;
        return order;
    }

    std::vector<const LiftModule*> m_list;
    std::vector<bool> m_takesTarget; ///< by that list: the place goes with it
};

/// What the tip meets on its way from there; nothing: the part itself.
std::optional<std::vector<PartSpot>> findBlockers(const std::vector<LyingSolid>& solids, PartSpot target,
                                                  const geometry::PlacedSolid& tip, const Vec3& sweep) {
    geometry::Bounds swept;
    for (const Vec3& end : {tip.centre, Vec3(tip.centre + sweep)})
        for (const double r : {-tip.solid->radius(), tip.solid->radius()}) swept.include(end + Vec3::Constant(r));
    std::set<PartSpot> blockers;
    for (const LyingSolid& solid : solids) {
        if (!solid.bounds.overlaps(swept, 0) || blockers.count(solid.spot) > 0) continue;
        if (solid.spot == target && solid.stud >= 0) continue; // pressed on its studs
        if (geometry::isSweepClear(tip, sweep, solid.placed)) continue;
        if (solid.spot == target) return std::nullopt;
        blockers.insert(solid.spot);
    }
    return std::vector<PartSpot>(blockers.begin(), blockers.end());
}

/// Modules that must come off for this way, counted as moves.
void free(ReachWay& way, std::vector<PartSpot> blockers, const Freeing& freeing, const ModuleFacts& found) {
    if (blockers.empty()) {
        way.found = true;
        return;
    }
    auto lifted = freeing.find(blockers);
    if (!lifted) {
        way.blocked = std::move(blockers);
        return;
    }
    way.found = true;
    way.lifted = std::move(*lifted);
    way.moves += static_cast<int>(way.lifted.size());
    // Modules that fold before they lift ask for one move more.
    if (!way.pose &&
        std::any_of(way.lifted.begin(), way.lifted.end(), [&](int one) { return at(found.modules, one).mustFold; }))
        ++way.moves;
}

} // namespace

ReachWay calcReach(const Facts& facts, const ModuleFacts& found, int index) {
    const model::Project& project = *facts.project;
    const model::Reach& reach = at(project.modules.reaches, index);
    ReachWay none;
    none.index = index;
    const PartSpot spot = model::PartIndex(project).find(reach.part);
    if (spot.section < 0) {
        none.gone = true;
        return none;
    }
    std::optional<ReachWay> best;
    const double radius = (reach.plug ? kPlugMm : kFingerMm) / 2;
    const auto side = model::getSideAxis(reach.side);
    const Vec3 axis(side[0], side[1], side[2]);
    const parts::Shape& shape = *model::getPart(project, spot).shape;
    const geometry::Bounds box = parts::calcBodyBox(shape, Frame::Identity());
    const Freeing freeing(found, spot);
    const auto all = listAll(project);
    const parts::ShapeSolid ball{geometry::makeSphere(Vec3::Zero(), radius),
                                 geometry::makeSphere(Vec3::Zero(), radius - geometry::kContactToleranceMm), -1};
    for (std::size_t q = 0; q < facts.poses.size(); ++q) {
        const PoseFacts& pose = facts.poses[q];
        const auto solids = listSolids(pose.placed, all);
        geometry::Bounds whole;
        for (const LyingSolid& solid : solids) whole.include(solid.bounds);
        const double far = whole.size().norm() + 2 * radius;
        const Frame X = pose.placed.X_WP(spot);
        const Vec3 normal = X.linear() * axis;
        for (const Vec3& place : listPlaces(box, axis, reach.plug)) {
            const geometry::PlacedSolid tip{&ball.solid, &ball.eroded, geometry::Mat3::Identity(),
                                            X * place + (radius + kOffMm) * normal};
            for (const Vec3& from : listDirections(normal, reach.plug)) {
                auto blockers = findBlockers(solids, spot, tip, far * from);
                if (!blockers) continue; // the part itself is round it
                ReachWay one;
                one.index = index;
                if (q > 0) one.pose = static_cast<int>(q);
                one.turnedOver = pose.stance.kind != model::Stance::Kind::Held &&
                                 (from.z() < kFromBelow || tip.centre.z() < radius - kOffMm);
                one.from = from;
                one.at = X * place;
                one.moves = (q > 0 ? 1 : 0) + (one.turnedOver ? 1 : 0);
                free(one, std::move(*blockers), freeing, found);
                const auto rank = [](const ReachWay& way) {
                    return std::pair(way.found ? way.moves : model::kMostReachMoves + 1, way.blocked.size());
                };
                if (!best || rank(one) < rank(*best)) best = std::move(one);
            }
        }
        if (best && best->found && best->moves == 0) break;
    }
    return best.value_or(none);
}

} // namespace ivrant::study
