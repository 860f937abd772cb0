// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/study/assembly.h"

#include <algorithm>
#include <map>

#include "core/base/at.h"
#include "core/base/memo.h"
#include "core/bonds/across.h"
#include "core/make/proposal.h"
#include "core/make/steps.h"
#include "core/pose/kinematics.h"

namespace ivrant::study {
namespace {

/// One section on its way onto those that are there before it, as they are placed.
class Joining {
public:
    Joining(const Facts& facts, const model::Placed& placed)
        : m_facts(facts), m_project(*facts.project), m_placed(placed), m_rank(make::rankSections(facts.tree)) {
        m_mates = bonds::findMatesAcross(placed);
    }

    /// Those that waited for `on` and cannot go in now that it is.
    [[nodiscard]] std::vector<WaitingFault> listWaiting(int on, std::map<model::PartSpot, make::Way>& ways) const {
        std::vector<make::SceneBody> bodies;
        std::vector<model::PartSpot> spots;
        std::map<model::PartSpot, int> number;
        std::vector<std::pair<int, int>> turns;
        std::map<std::pair<int, int>, int> order; // of section's rank and step: those that wait, in turn
        for (const int s : m_facts.tree.order) {
            if (at(m_rank, s) > at(m_rank, on)) continue;
            const auto& parts = at(m_project.sections, s)->parts;
            for (std::size_t p = 0; p < parts.size(); ++p) {
                const int after = make::findAfter(m_project, m_rank, s, parts[p]);
                if (after >= 0 && at(m_rank, after) > at(m_rank, on)) continue;
                const model::PartSpot spot{s, static_cast<int>(p)};
                number[spot] = static_cast<int>(bodies.size());
                bodies.push_back(make::makeSceneBody(*parts[p].shape, m_placed.X_WP(spot)));
                spots.push_back(spot);
                // All else is there; of those that wait each section's after those of the one before.
                turns.emplace_back(after == on ? at(m_rank, s) : -1, after == on ? parts[p].step : 0);
                if (after == on) order.emplace(turns.back(), 0);
            }
        }
        std::vector<WaitingFault> faults;
        if (order.empty()) return faults;
        int turn = 0;
        for (auto& [key, place] : order) place = ++turn;
        std::vector<int> steps;
        steps.reserve(turns.size());
        for (const auto& key : turns) steps.push_back(key.first < 0 ? 0 : order.at(key));
        make::Scene scene(std::move(bodies), listAllBonds(number));
        const auto check = make::checkOrder(scene, steps);
        for (std::size_t b = 0; b < steps.size(); ++b)
            if (steps[b] > 0) ways[spots[b]] = check.ways[b];
        for (const make::OrderFault& fault : check.faults) {
            if (at(steps, fault.body) == 0) continue;
            WaitingFault told{at(spots, fault.body), on, fault.kind, fault.way, {}};
            for (const int b : fault.others) told.others.push_back(at(spots, b));
            faults.push_back(std::move(told));
        }
        return faults;
    }

    /// Fills in what it finds; true: it goes.
    bool look(SectionJoin& join, const std::vector<int>& before) const {
        std::vector<make::SceneBody> bodies(1);
        std::vector<model::PartSpot> spots(1);
        std::vector<int> offsets; // of the section's parts: where their solids begin
        const model::Section& section = *at(m_project.sections, join.section);
        for (std::size_t p = 0; p < section.parts.size(); ++p) {
            offsets.push_back(static_cast<int>(bodies[0].solids.size()));
            if (isThere({join.section, static_cast<int>(p)}, join.section))
                addTo(bodies[0], {join.section, static_cast<int>(p)});
        }
        std::map<model::PartSpot, int> number;
        for (const int s : before)
            for (std::size_t p = 0; p < at(m_project.sections, s)->parts.size(); ++p) {
                const model::PartSpot spot{s, static_cast<int>(p)};
                if (!isThere(spot, join.section)) continue;
                number[spot] = static_cast<int>(bodies.size());
                spots.push_back(spot);
                const model::Part& part = model::getPart(m_project, spot);
                bodies.push_back(make::makeSceneBody(*part.shape, m_placed.X_WP(spot)));
            }
        make::Scene scene(std::move(bodies), listBonds(join.section, number, offsets));
        bool found = false;
        for (const make::Way& way : scene.ways(0)) {
            const auto blockers = scene.listBlockers(0, way);
            if (found && blockers.size() >= join.blocked.size()) continue;
            found = true;
            join.way = way;
            join.blocked.clear();
            for (const int b : blockers) join.blocked.push_back(at(spots, b));
            if (blockers.empty()) return true;
        }
        return false;
    }

private:
    /// Is the part on when that section comes?
    [[nodiscard]] bool isThere(model::PartSpot spot, int joining) const {
        const int after = make::findAfter(m_project, m_rank, spot.section, model::getPart(m_project, spot));
        return after < 0 || at(m_rank, after) < at(m_rank, joining);
    }

    /// Of all these parts, in the world: within sections, across them, and joints, seated or not.
    [[nodiscard]] std::vector<make::SceneBond> listAllBonds(const std::map<model::PartSpot, int>& number) const {
        std::map<std::pair<model::PartSpot, model::PartSpot>, std::vector<bonds::Mate>> pairs;
        const auto add = [&](model::PartSpot a, int portA, model::PartSpot b, int portB, parts::BondKind kind) {
            if (number.count(a) == 0 || number.count(b) == 0) return;
            if (b < a) {
                std::swap(a, b);
                std::swap(portA, portB);
            }
            auto& list = pairs[{a, b}];
            if (std::none_of(list.begin(), list.end(),
                             [&](const bonds::Mate& mate) { return mate.portA == portA && mate.portB == portB; }))
                list.push_back({a.part, portA, b.part, portB, kind});
        };
        for (std::size_t s = 0; s < m_facts.bonds.size(); ++s)
            for (const bonds::Mate& mate : m_facts.bonds[s]->mates)
                add({static_cast<int>(s), mate.partA}, mate.portA, {static_cast<int>(s), mate.partB}, mate.portB,
                    mate.kind);
        for (const bonds::AcrossMate& mate : m_mates) add(mate.a, mate.portA, mate.b, mate.portB, mate.kind);
        forJoints([&](model::PartSpot from, int fromPort, model::PartSpot to, int toPort) {
            add(from, fromPort, to, toPort, parts::BondKind::Movable);
        });
        std::vector<make::SceneBond> list;
        list.reserve(pairs.size());
        for (const auto& [ends, mates] : pairs)
            list.push_back(make::makeSceneBond(number.at(ends.first), *model::getPart(m_project, ends.first).shape,
                                               m_placed.X_WP(ends.first), number.at(ends.second),
                                               *model::getPart(m_project, ends.second).shape,
                                               m_placed.X_WP(ends.second), mates));
        return list;
    }
    template <class Visit> void forJoints(Visit visit) const {
        for (std::size_t j = 0; j < m_project.joints.size(); ++j) {
            const model::Joint& joint = m_project.joints[j];
            const model::PartSpot from = at(m_facts.tree.from, j), to = at(m_facts.tree.to, j);
            visit(from, model::getPart(m_project, from).shape->findPort(joint.from.port), to,
                  model::getPart(m_project, to).shape->findPort(joint.to.port));
        }
    }

    void addTo(make::SceneBody& whole, model::PartSpot spot) const {
        const model::Part& part = model::getPart(m_project, spot);
        make::SceneBody one = make::makeSceneBody(*part.shape, m_placed.X_WP(spot));
        const int offset = static_cast<int>(whole.solids.size());
        for (auto* list : {&one.shafts, &one.holes})
            for (make::SceneShaft& line : *list)
                for (int& solid : line.solids) solid += offset;
        for (make::SceneSolid& solid : one.solids) solid.studAxis = Vec3::Zero(); // it need not lead its own body
        whole.solids.insert(whole.solids.end(), one.solids.begin(), one.solids.end());
        whole.shafts.insert(whole.shafts.end(), one.shafts.begin(), one.shafts.end());
        whole.holes.insert(whole.holes.end(), one.holes.begin(), one.holes.end());
        whole.bounds.include(one.bounds);
    }

    [[nodiscard]] std::vector<make::SceneBond> listBonds(int section, const std::map<model::PartSpot, int>& number,
                                                         const std::vector<int>& offsets) const {
        std::map<std::pair<int, model::PartSpot>, std::vector<bonds::Mate>> pairs; // own part, other
        const auto add = [&](model::PartSpot own, int ownPort, model::PartSpot other, int otherPort,
                             parts::BondKind kind) {
            if (own.section != section || number.count(other) == 0 || !isThere(own, section)) return;
            auto& list = pairs[{own.part, other}];
            const bool known = std::any_of(list.begin(), list.end(), [&](const bonds::Mate& mate) {
                return mate.portA == ownPort && mate.portB == otherPort;
            });
            if (!known) list.push_back({own.part, ownPort, other.part, otherPort, kind});
        };
        for (const bonds::AcrossMate& mate : m_mates) {
            add(mate.a, mate.portA, mate.b, mate.portB, mate.kind);
            add(mate.b, mate.portB, mate.a, mate.portA, mate.kind);
        }
        forJoints([&](model::PartSpot from, int fromPort, model::PartSpot to, int toPort) { // seated or not
            add(from, fromPort, to, toPort, parts::BondKind::Movable);
            add(to, toPort, from, fromPort, parts::BondKind::Movable);
        });
        std::map<int, make::SceneBond> merged;
        for (const auto& [ends, mates] : pairs) {
            const auto& [own, other] = ends;
            const model::PartSpot spot{section, own};
            const int body = number.at(other);
            make::SceneBond bond =
                make::makeSceneBond(0, *model::getPart(m_project, spot).shape, m_placed.X_WP(spot), body,
                                    *model::getPart(m_project, other).shape, m_placed.X_WP(other), mates);
            for (auto& seat : bond.seats) seat.first += at(offsets, own);
            const auto [known, fresh] = merged.try_emplace(body, bond);
            if (fresh) continue;
            auto& into = known->second;
            into.lines.insert(into.lines.end(), bond.lines.begin(), bond.lines.end());
            into.seats.insert(into.seats.end(), bond.seats.begin(), bond.seats.end());
            std::sort(into.seats.begin(), into.seats.end());
            into.depth = std::max(into.depth, bond.depth);
        }
        std::vector<make::SceneBond> list;
        list.reserve(merged.size());
        for (auto& [body, bond] : merged) list.push_back(std::move(bond));
        return list;
    }

    using Vec3 = geometry::Vec3;
    const Facts& m_facts;
    const model::Project& m_project;
    const model::Placed& m_placed;
    std::vector<int> m_rank;
    std::vector<bonds::AcrossMate> m_mates;
};

/// How sections go onto each other, in order, and what waited for them.
void findJoins(const Facts& facts, Assembly& found, base::Progress* progress) {
    std::vector<const PoseFacts*> poses{&facts.present};
    for (const PoseFacts& pose : facts.poses)
        if (pose.values != facts.present.values) poses.push_back(&pose);
    std::vector<std::unique_ptr<Joining>> looking;
    looking.reserve(poses.size());
    for (const PoseFacts* pose : poses) looking.push_back(std::make_unique<Joining>(facts, pose->placed));
    std::vector<int> before;
    for (const int s : facts.tree.order) {
        const int joint = at(facts.tree.carrier, s);
        if (joint >= 0) {
            SectionJoin best;
            for (std::size_t q = 0; q < poses.size() && !best.goes; ++q) {
                if (progress && progress->stopped()) return;
                SectionJoin join;
                join.section = s;
                join.joint = joint;
                join.goes = looking[q]->look(join, before);
                if (q > 0) join.pose = poses[q]->name;
                if (q == 0 || join.goes || join.blocked.size() < best.blocked.size()) best = std::move(join);
            }
            found.joins.push_back(std::move(best));
        }
        before.push_back(s);
        std::vector<WaitingFault> least;
        std::map<model::PartSpot, make::Way> ways;
        for (std::size_t q = 0; q < poses.size() && (q == 0 || !least.empty()); ++q) {
            std::map<model::PartSpot, make::Way> there;
            auto faults = looking[q]->listWaiting(s, there);
            if (q > 0 && faults.size() >= least.size()) continue;
            least = std::move(faults);
            ways = std::move(there);
        }
        found.waitingWays.insert(ways.begin(), ways.end());
        found.waiting.insert(found.waiting.end(), least.begin(), least.end());
    }
}

} // namespace

std::shared_ptr<const SectionAssembly> getSectionAssembly(const model::SectionPtr& section,
                                                          const bonds::SectionBonds& bonds) {
    static base::Memo<model::Section, SectionAssembly> memo;
    return memo.get(section, [&](const model::Section& of) {
        SectionAssembly found;
        make::Scene scene(of, bonds);
        found.check = make::checkOrder(scene, make::listPartSteps(of));
        const auto isBlocked = [](const make::OrderFault& fault) {
            return fault.kind == make::OrderFault::Kind::InTheWay;
        };
        if (std::any_of(found.check.faults.begin(), found.check.faults.end(), isBlocked)) {
            found.stuck = make::planAssembly(scene, make::calcBuildKeys(scene)).stuck;
            std::sort(found.stuck.begin(), found.stuck.end());
        }
        return found;
    });
}

std::shared_ptr<const Assembly> calcAssembly(const Facts& facts, base::Progress* progress) {
    auto found = std::make_shared<Assembly>();
    for (std::size_t s = 0; s < facts.project->sections.size(); ++s) {
        if (progress && progress->stopped()) return nullptr;
        found->sections.push_back(getSectionAssembly(facts.project->sections[s], *facts.bonds[s]));
    }
    findJoins(facts, *found, progress);
    if (progress && progress->stopped()) return nullptr;
    return found;
}

} // namespace ivrant::study
