// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/study/assembly.h"

#include <algorithm>
#include <map>

#include "core/base/at.h"
#include "core/base/memo.h"
#include "core/make/proposal.h"
#include "core/make/steps.h"
#include "core/study/group_scene.h"

namespace ivrant::study {
namespace {

/// One section on its way onto those that are there before it, as they are placed.
class Joining {
public:
    Joining(const Facts& facts, const model::Placed& placed)
        : m_facts(facts), m_project(*facts.project), m_placed(placed), m_rank(make::rankSections(facts.tree)),
          m_mates(listWorldMates(facts, placed)) {}

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
        const auto listThere = [&](int section) {
            std::vector<model::PartSpot> spots;
            for (std::size_t p = 0; p < at(m_project.sections, section)->parts.size(); ++p)
                if (const model::PartSpot spot{section, static_cast<int>(p)}; isThere(spot, join.section))
                    spots.push_back(spot);
            return spots;
        };
        std::vector<model::PartSpot> others;
        for (const int s : before) {
            const auto there = listThere(s);
            others.insert(others.end(), there.begin(), there.end());
        }
        BestWay best = findBestWay(makeGroupScene(m_placed, m_mates, listThere(join.section), others));
        join.way = best.way;
        join.blocked = std::move(best.blocked);
        return join.blocked.empty();
    }

private:
    /// Is the part on when that section comes?
    [[nodiscard]] bool isThere(model::PartSpot spot, int joining) const {
        const int after = make::findAfter(m_project, m_rank, spot.section, model::getPart(m_project, spot));
        return after < 0 || at(m_rank, after) < at(m_rank, joining);
    }

    [[nodiscard]] std::vector<make::SceneBond> listAllBonds(const std::map<model::PartSpot, int>& number) const {
        std::vector<make::SceneBond> list;
        list.reserve(m_mates.size());
        for (const auto& [ends, mates] : m_mates) {
            const auto a = number.find(ends.first), b = number.find(ends.second);
            if (a == number.end() || b == number.end()) continue;
            list.push_back(makeWorldBond(m_placed, a->second, ends.first, b->second, ends.second, mates));
        }
        return list;
    }

    const Facts& m_facts;
    const model::Project& m_project;
    const model::Placed& m_placed;
    std::vector<int> m_rank;
    WorldMates m_mates;
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
