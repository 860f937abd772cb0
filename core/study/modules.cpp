// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/study/modules.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <functional>
#include <iterator>
#include <mutex>
#include <set>
#include <tbb/parallel_for.h>

#include "core/base/at.h"
#include "core/base/units.h"
#include "core/model/mass.h"
#include "core/study/module_pull.h"
#include "core/study/module_reach.h"
#include "core/study/module_room.h"
#include "core/study/stand_cases.h"

namespace ivrant::study {

using geometry::Vec3;
using model::PartSpot;

std::string describeWayOut(const make::Way& way) {
    const auto name = [](const Vec3& v) -> std::string {
        constexpr std::array<const char*, 6> kNames{"to the right", "to the left", "to the back",
                                                    "to the front", "upward",      "downward"};
        int k = 0;
        v.cwiseAbs().maxCoeff(&k);
        if (std::abs(v[k]) < 0.99 * v.norm()) return "aslant";
        return at(kNames, 2 * k + (v[k] > 0 ? 0 : 1));
    };
    return way.lift == Vec3::Zero() ? name(way.off) : name(way.lift) + ", then " + name(way.off);
}

namespace {

class Modules {
public:
    Modules(const Facts& facts, base::Progress* progress)
        : m_facts(facts), m_project(*facts.project), m_progress(progress), m_limits(calcBondLimits(facts)) {
        for (std::size_t s = 0; s < m_project.sections.size(); ++s)
            for (std::size_t p = 0; p < m_project.sections[s]->parts.size(); ++p)
                m_all.push_back({static_cast<int>(s), static_cast<int>(p)});
        for (const model::Module& one : m_project.modules.list)
            m_parts.push_back(model::listModuleParts(m_project, one));
        m_mates.resize(facts.poses.size());
    }

    std::shared_ptr<const ModuleFacts> run() {
        // Each has its own place for its result, so any number of threads gives the same.
        auto found = std::make_shared<ModuleFacts>();
        found->modules.resize(m_parts.size());
        const auto forAll = [&](const auto& visit) {
            tbb::parallel_for(std::size_t{0}, m_parts.size(), [&](std::size_t i) {
                if (!isStopped()) visit(found->modules[i], static_cast<int>(i));
            });
            return !isStopped();
        };
        if (!forAll([&](LiftModule& one, int index) { findHow(one, index); })) return nullptr;
        markCircles(*found);
        if (!forAll([&](LiftModule& one, int) { weighUp(one, listGone(*found, one)); })) return nullptr;
        found->reaches.resize(m_project.modules.reaches.size());
        tbb::parallel_for(std::size_t{0}, found->reaches.size(), [&](std::size_t i) {
            if (!isStopped()) found->reaches[i] = calcReach(m_facts, *found, static_cast<int>(i));
        });
        if (isStopped()) return nullptr;
        return found;
    }

private:
    [[nodiscard]] bool isStopped() const { return m_progress && m_progress->stopped(); }
    [[nodiscard]] const WorldMates& matesIn(int pose) {
        const std::lock_guard lock(m_matesFound);
        auto& mates = at(m_mates, pose);
        if (!mates) mates = listWorldMates(m_facts, at(m_facts.poses, pose).placed);
        return *mates;
    }

    /// What it is, what comes with it, and which way it goes.
    void findHow(LiftModule& one, int index) {
        one.index = index;
        one.parts = at(m_parts, index);
        for (std::size_t k = 0; k < m_parts.size(); ++k)
            if (static_cast<int>(k) != index && !m_parts[k].empty() && m_parts[k].size() < one.parts.size() &&
                std::includes(one.parts.begin(), one.parts.end(), m_parts[k].begin(), m_parts[k].end()))
                one.carries.push_back(static_cast<int>(k));
        if (one.parts.empty() || one.parts.size() == m_all.size()) return; // nothing, or the whole model
        findWay(one, listOthers(one, {}));
    }

    /// Parts of all modules that are off before it.
    [[nodiscard]] static std::set<PartSpot> listGone(const ModuleFacts& found, const LiftModule& one) {
        std::set<PartSpot> gone;
        std::set<int> seen;
        std::vector<int> open = one.after;
        while (!open.empty()) {
            const int next = open.back();
            open.pop_back();
            if (next == one.index || !seen.insert(next).second) continue;
            const LiftModule& before = at(found.modules, next);
            gone.insert(before.parts.begin(), before.parts.end());
            open.insert(open.end(), before.after.begin(), before.after.end());
        }
        for (const PartSpot spot : one.parts) gone.erase(spot);
        return gone;
    }
    [[nodiscard]] std::vector<PartSpot> listOthers(const LiftModule& one, const std::set<PartSpot>& gone) const {
        std::vector<PartSpot> others;
        std::set_difference(m_all.begin(), m_all.end(), one.parts.begin(), one.parts.end(), std::back_inserter(others));
        std::erase_if(others, [&](PartSpot spot) { return gone.count(spot) > 0; });
        return others;
    }

    /// Force, room, what comes along and what is left, once `gone` is off.
    void weighUp(LiftModule& one, const std::set<PartSpot>& gone) {
        const std::vector<PartSpot> others = listOthers(one, gone);
        if (one.parts.empty() || others.empty()) return;
        const std::set<PartSpot> inside(one.parts.begin(), one.parts.end());
        weigh(one, inside);
        const PoseFacts& pose = at(m_facts.poses, one.pose);
        const Vec3 first = one.way.lift == Vec3::Zero() ? one.way.off : Vec3(one.way.lift.normalized());
        const auto own = listSolids(pose.placed, one.parts), rest = listSolids(pose.placed, others);
        one.sides = listSides(own, rest, first, Vec3::Zero());
        if (one.lifts) {
            one.ledMm = calcLedMm(own, rest, first);
            one.alsoGoes =
                listOtherPlaces(pose.placed, matesIn(one.pose), one.parts, own, rest, first, !turnsAbout(one, first));
        }
        const auto isRest = [&](PartSpot s) { return inside.count(s) == 0 && gone.count(s) == 0; };
        const auto isOwn = [&](PartSpot s) { return inside.count(s) > 0; };
        const std::vector<Parting> partings = findHold(one, isOwn, isRest);
        one.weightN = base::weightN(one.massG) * first.z();
        lookWithout(one, isRest);
        if (!one.lifts || m_project.partCount() > kMostPartsLive) return;
        one.rest = calcPulled(m_facts, pose, m_limits, isRest, partings, first, 1);
        one.self = calcPulled(m_facts, pose, m_limits, isOwn, partings, first, -1);
    }

    /// Which other modules would free the way of what blocks it; nothing when something in it belongs to none.
    [[nodiscard]] std::optional<std::vector<int>> findFreeing(int index, const std::vector<PartSpot>& blocked) const {
        std::set<int> after;
        for (const PartSpot spot : blocked) {
            int least = -1;
            for (std::size_t k = 0; k < m_parts.size(); ++k)
                if (static_cast<int>(k) != index && std::binary_search(m_parts[k].begin(), m_parts[k].end(), spot) &&
                    !std::includes(m_parts[k].begin(), m_parts[k].end(), at(m_parts, index).begin(),
                                   at(m_parts, index).end()) &&
                    (least < 0 || m_parts[k].size() < at(m_parts, least).size()))
                    least = static_cast<int>(k);
            if (least < 0) return std::nullopt;
            after.insert(least);
        }
        return std::vector<int>(after.begin(), after.end());
    }

    void findWay(LiftModule& one, const std::vector<PartSpot>& others) {
        const model::PoseId& wanted = at(m_project.modules.list, one.index).pose;
        const bool named = std::any_of(m_facts.poses.begin(), m_facts.poses.end(),
                                       [&](const PoseFacts& pose) { return pose.id && *pose.id == wanted; });
        struct Rank {
            std::size_t strangers, after;
            auto operator<=>(const Rank&) const = default;
        };
        std::optional<Rank> best;
        for (std::size_t q = 0; q < m_facts.poses.size(); ++q) {
            if (best && *best == Rank{0, 0}) break;
            const PoseFacts& pose = m_facts.poses[q];
            if (named && (!pose.id || *pose.id != wanted)) continue;
            const GroupScene group = makeGroupScene(pose.placed, matesIn(static_cast<int>(q)), one.parts, others);
            for (const make::Way& way : group.scene.ways(0)) {
                std::vector<PartSpot> blocked;
                for (const int b : group.scene.listBlockers(0, way)) blocked.push_back(at(group.spots, b));
                const auto after = findFreeing(one.index, blocked);
                const Rank rank{after ? 0 : blocked.size(), after ? after->size() : 0};
                if (best && *best <= rank) continue;
                best = rank;
                one.pose = static_cast<int>(q);
                one.way = way;
                one.after = after.value_or(std::vector<int>{});
                one.blocked = after ? std::vector<PartSpot>{} : std::move(blocked);
                if (rank == Rank{0, 0}) break;
            }
        }
        one.lifts = best && best->strangers == 0;
        one.mustFold = one.lifts && one.pose != 0;
    }

    /// Is it held by one joint that turns about its way: then turned ones are not put on wrong.
    [[nodiscard]] bool turnsAbout(const LiftModule& one, const Vec3& way) const {
        const PoseFacts& pose = at(m_facts.poses, one.pose);
        for (std::size_t j = 0; j < m_project.joints.size(); ++j) {
            const PartSpot from = m_facts.tree.from[j], to = m_facts.tree.to[j];
            const bool leaves = std::binary_search(one.parts.begin(), one.parts.end(), to) &&
                                !std::binary_search(one.parts.begin(), one.parts.end(), from);
            if (!leaves || m_project.joints[j].kind->motion != parts::JointMotion::Turn) continue;
            const parts::Shape& shape = *model::getPart(m_project, from).shape;
            const parts::Port& port = at(shape.ports, shape.findPort(m_project.joints[j].from.port));
            if (std::abs((pose.placed.X_WP(from).linear() * port.axis).dot(way)) > make::kSameWay) return true;
        }
        return false;
    }

    void weigh(LiftModule& one, const std::set<PartSpot>& inside) const {
        for (const PartSpot spot : one.parts) one.massG += model::getPart(m_project, spot).massG();
        for (std::size_t s = 0; s < m_project.sections.size(); ++s) {
            const model::Section& section = *m_project.sections[s];
            if (isWhole(static_cast<int>(s), inside))
                for (const model::Ballast& ballast : section.ballast) one.massG += ballast.massG;
        }
    }
    [[nodiscard]] bool isWhole(int s, const std::set<PartSpot>& inside) const {
        const std::size_t parts = at(m_project.sections, s)->parts.size();
        for (std::size_t p = 0; p < parts; ++p)
            if (inside.count({s, static_cast<int>(p)}) == 0) return false;
        return parts > 0;
    }

    using IsThere = std::function<bool(PartSpot)>;
    std::vector<Parting> findHold(LiftModule& one, const IsThere& isOwn, const IsThere& isRest) const {
        stand::NetRequest request;
        request.ground = false;
        request.built = [&](PartSpot spot) { return isOwn(spot) || isRest(spot); };
        const stand::BondNet net =
            stand::makeBondNet(at(m_facts.poses, one.pose).placed, m_facts.bonds, m_limits, request);
        std::vector<bool> in;
        in.reserve(net.bodies.size());
        for (const stand::Body& body : net.bodies) in.push_back(isOwn(body.spot));
        auto partings = findPartings(net, in, one.bonds);
        one.measured = !one.bonds.empty();
        for (const LiftBond& bond : one.bonds) {
            one.holdN += bond.pullN;
            const auto isMeasured = [&] {
                if (bond.isStuds) return m_limits.studPull.measured;
                if (bond.joint < 0) return false;
                const auto& pull = at(m_limits.joints, bond.joint).pull;
                return pull && pull->measured;
            };
            one.measured = one.measured && isMeasured();
        }
        return partings;
    }

    void lookWithout(LiftModule& one, const IsThere& isRest) const {
        std::set<PartSpot> off;
        std::copy_if(m_all.begin(), m_all.end(), std::inserter(off, off.end()),
                     [&](PartSpot spot) { return !isRest(spot); });
        const bool bonds = m_project.partCount() <= kMostPartsLive;
        for (const PoseFacts& pose : m_facts.poses) {
            if (isStopped()) return;
            if (const auto tip = calcTippingWithout(pose, off);
                tip && pose.stance.kind != model::Stance::Kind::Held &&
                (!one.without.tipDeg || tip->angleDeg < *one.without.tipDeg)) {
                one.without.tipDeg = tip->angleDeg;
                one.without.tipPose = pose.name;
            }
            if (!bonds || !pose.tipping) continue;
            stand::StandCase rest = makeAtRest(m_facts, pose);
            rest.built = isRest;
            rest.strapped = rest.ground; // that it falls over is told by its tip angle
            stand::EquilibriumRequest request;
            request.use = false;
            request.gap = kPullGap;
            const auto solved = calcStandCase(m_facts, pose, rest, request);
            if (!solved) continue;
            const auto& lambda = solved->equilibrium.lambda;
            const double margin = lambda && std::isfinite(*lambda) ? 1 / std::max(*lambda, 1 / stand::kEnoughShare) : 0;
            if (one.without.bonds && *one.without.bonds <= margin) continue;
            one.without.bonds = margin;
            one.without.bondsPose = pose.name;
        }
    }

    /// Modules that wait for each other in a circle lift not at all.
    static void markCircles(ModuleFacts& found) {
        const auto order = listLiftOrder(found);
        for (LiftModule& one : found.modules) {
            if (!one.lifts || std::find(order.begin(), order.end(), one.index) != order.end()) continue;
            one.lifts = false;
            for (const int other : one.after)
                if (!at(found.modules, other).parts.empty())
                    one.blocked.push_back(at(found.modules, other).parts.front());
        }
    }

    const Facts& m_facts;
    const model::Project& m_project;
    base::Progress* m_progress;
    stand::BondLimits m_limits;
    std::vector<PartSpot> m_all;
    std::vector<std::vector<PartSpot>> m_parts; ///< by module
    std::mutex m_matesFound;
    std::vector<std::optional<WorldMates>> m_mates; ///< by pose
};

} // namespace

std::vector<int> listLiftOrder(const ModuleFacts& found) {
    std::vector<const LiftModule*> smallFirst; // what is carried before what carries it
    for (const LiftModule& one : found.modules)
        if (one.lifts) smallFirst.push_back(&one);
    std::stable_sort(smallFirst.begin(), smallFirst.end(),
                     [](const auto* l, const auto* r) { return l->parts.size() < r->parts.size(); });
    std::vector<int> order;
    const auto isOff = [&](int one) { return std::find(order.begin(), order.end(), one) != order.end(); };
    for (bool more = true; more;) {
        more = false;
        for (const LiftModule* one : smallFirst)
            if (!isOff(one->index) && std::all_of(one->after.begin(), one->after.end(), isOff)) {
                order.push_back(one->index);
                more = true;
            }
    }
    return order;
}

std::shared_ptr<const ModuleFacts> calcModules(const Facts& facts, base::Progress* progress) {
    if (facts.project->modules.empty()) return std::make_shared<const ModuleFacts>();
    return Modules(facts, progress).run();
}

} // namespace ivrant::study
