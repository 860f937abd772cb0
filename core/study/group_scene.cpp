// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/study/group_scene.h"

#include <algorithm>

#include "core/base/at.h"
#include "core/bonds/across.h"

namespace ivrant::study {

using geometry::Vec3;
using model::PartSpot;

WorldMates listWorldMates(const Facts& facts, const model::Placed& placed) {
    WorldMates pairs;
    const auto add = [&](PartSpot a, int portA, PartSpot b, int portB, parts::BondKind kind) {
        if (b < a) {
            std::swap(a, b);
            std::swap(portA, portB);
        }
        auto& list = pairs[{a, b}];
        if (std::none_of(list.begin(), list.end(),
                         [&](const bonds::Mate& mate) { return mate.portA == portA && mate.portB == portB; }))
            list.push_back({0, portA, 0, portB, kind});
    };
    for (std::size_t s = 0; s < facts.bonds.size(); ++s)
        for (const bonds::Mate& mate : facts.bonds[s]->mates)
            add({static_cast<int>(s), mate.partA}, mate.portA, {static_cast<int>(s), mate.partB}, mate.portB,
                mate.kind);
    for (const bonds::AcrossMate& mate : bonds::findMatesAcross(placed))
        add(mate.a, mate.portA, mate.b, mate.portB, mate.kind);
    const model::Project& project = *placed.project;
    for (std::size_t j = 0; j < project.joints.size(); ++j) {
        const model::Joint& joint = project.joints[j];
        const PartSpot from = facts.tree.from[j], to = facts.tree.to[j];
        add(from, model::getPart(project, from).shape->findPort(joint.from.port), to,
            model::getPart(project, to).shape->findPort(joint.to.port), parts::BondKind::Movable);
    }
    return pairs;
}

make::SceneBond makeWorldBond(const model::Placed& placed, int a, PartSpot spotA, int b, PartSpot spotB,
                              const std::vector<bonds::Mate>& mates) {
    return make::makeSceneBond(a, *model::getPart(*placed.project, spotA).shape, placed.X_WP(spotA), b,
                               *model::getPart(*placed.project, spotB).shape, placed.X_WP(spotB), mates);
}

namespace {

void addTo(make::SceneBody& whole, make::SceneBody one) {
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

/// More of what the group and one other part hold each other by.
void mergeInto(make::SceneBond& into, const make::SceneBond& bond) {
    into.lines.insert(into.lines.end(), bond.lines.begin(), bond.lines.end());
    into.seats.insert(into.seats.end(), bond.seats.begin(), bond.seats.end());
    std::sort(into.seats.begin(), into.seats.end());
    into.depth = std::max(into.depth, bond.depth);
    into.threaded = into.threaded && bond.threaded;
}

} // namespace

GroupScene makeGroupScene(const model::Placed& placed, const WorldMates& mates, const std::vector<PartSpot>& group,
                          const std::vector<PartSpot>& others) {
    std::vector<make::SceneBody> bodies(1);
    std::vector<PartSpot> spots(1);
    std::map<PartSpot, int> offsets, number; // where a part's solids begin in the group; the body of another part
    const auto bodyOf = [&](PartSpot spot) {
        return make::makeSceneBody(*model::getPart(*placed.project, spot).shape, placed.X_WP(spot));
    };
    for (const PartSpot spot : group) {
        offsets[spot] = static_cast<int>(bodies[0].solids.size());
        addTo(bodies[0], bodyOf(spot));
    }
    for (const PartSpot spot : others) {
        number[spot] = static_cast<int>(bodies.size());
        spots.push_back(spot);
        bodies.push_back(bodyOf(spot));
    }
    std::map<int, make::SceneBond> merged;
    const auto take = [&](PartSpot own, PartSpot other, std::vector<bonds::Mate> list, bool ownFirst) {
        const auto offset = offsets.find(own);
        const auto body = number.find(other);
        if (offset == offsets.end() || body == number.end()) return;
        if (!ownFirst)
            for (bonds::Mate& mate : list) std::swap(mate.portA, mate.portB);
        make::SceneBond bond = makeWorldBond(placed, 0, own, body->second, other, list);
        for (auto& seat : bond.seats) seat.first += offset->second;
        const auto [known, fresh] = merged.try_emplace(body->second, bond);
        if (!fresh) mergeInto(known->second, bond);
    };
    for (const auto& [ends, list] : mates) {
        take(ends.first, ends.second, list, true);
        take(ends.second, ends.first, list, false);
    }
    std::vector<make::SceneBond> list;
    list.reserve(merged.size());
    for (auto& [body, bond] : merged) list.push_back(std::move(bond));
    return {make::Scene(std::move(bodies), std::move(list)), std::move(spots)};
}

BestWay findBestWay(const GroupScene& group) {
    BestWay best;
    bool found = false;
    for (const make::Way& way : group.scene.ways(0)) {
        const auto blockers = group.scene.listBlockers(0, way);
        if (found && blockers.size() >= best.blocked.size()) continue;
        found = true;
        best.way = way;
        best.blocked.clear();
        for (const int b : blockers) best.blocked.push_back(at(group.spots, b));
        if (blockers.empty()) break;
    }
    return best;
}

} // namespace ivrant::study
