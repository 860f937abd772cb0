// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/study/assembly.h"

#include <algorithm>
#include <map>

#include "core/base/at.h"
#include "core/base/memo.h"
#include "core/bonds/across.h"
#include "core/make/proposal.h"
#include "core/pose/kinematics.h"

namespace ivrant::study {
namespace {

/// One section on its way onto those that are there before it, as they are placed.
class Joining {
public:
    Joining(const Facts& facts, const model::Placed& placed)
        : m_facts(facts), m_project(*facts.project), m_placed(placed) {
        m_mates = bonds::findMatesAcross(placed);
    }

    /// Fills in what it finds; true: it goes.
    bool look(SectionJoin& join, const std::vector<int>& before) const {
        std::vector<make::SceneBody> bodies(1);
        std::vector<model::PartSpot> spots(1);
        std::vector<int> offsets; // of the section's parts: where their solids begin
        const model::Section& section = *at(m_project.sections, join.section);
        for (std::size_t p = 0; p < section.parts.size(); ++p) {
            offsets.push_back(static_cast<int>(bodies[0].solids.size()));
            addTo(bodies[0], {join.section, static_cast<int>(p)});
        }
        std::map<model::PartSpot, int> number;
        for (const int s : before)
            for (std::size_t p = 0; p < at(m_project.sections, s)->parts.size(); ++p) {
                const model::PartSpot spot{s, static_cast<int>(p)};
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
            if (own.section != section || number.count(other) == 0) return;
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
        for (std::size_t j = 0; j < m_project.joints.size(); ++j) { // seated or not
            const model::Joint& joint = m_project.joints[j];
            const model::PartSpot from = at(m_facts.tree.from, j), to = at(m_facts.tree.to, j);
            const int fromPort = model::getPart(m_project, from).shape->findPort(joint.from.port),
                      toPort = model::getPart(m_project, to).shape->findPort(joint.to.port);
            add(from, fromPort, to, toPort, parts::BondKind::Movable);
            add(to, toPort, from, fromPort, parts::BondKind::Movable);
        }
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
    std::vector<bonds::AcrossMate> m_mates;
};

std::vector<SectionJoin> listJoins(const Facts& facts, base::Progress* progress) {
    std::vector<SectionJoin> joins;
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
                if (progress && progress->stopped()) return joins;
                SectionJoin join;
                join.section = s;
                join.joint = joint;
                join.goes = looking[q]->look(join, before);
                if (q > 0) join.pose = poses[q]->name;
                if (q == 0 || join.goes || join.blocked.size() < best.blocked.size()) best = std::move(join);
            }
            joins.push_back(std::move(best));
        }
        before.push_back(s);
    }
    return joins;
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
    found->joins = listJoins(facts, progress);
    if (progress && progress->stopped()) return nullptr;
    return found;
}

} // namespace ivrant::study
