// SPDX-License-Identifier: GPL-3.0-or-later
// Weaknesses by pattern of the first pose. Part of stand_cases.h.
#include "core/study/stand_cases.h"

namespace ivrant::study {
namespace {
constexpr double kNeckShare = 0.05; ///< of the mass: what is less and breaks off is told by what hands can pull off
} // namespace

const stand::Neck* findNeck(const Structure& structure, const PoseFacts& pose) {
    for (const stand::Neck& neck : structure.necks)
        if (pose.tipping && neck.massG >= kNeckShare * pose.tipping->massG) return &neck;
    return nullptr;
}

std::shared_ptr<const Structure> calcStructure(const Facts& facts) {
    const PoseFacts& pose = facts.poses.front();
    const bool held = pose.stance.kind == model::Stance::Kind::Held;
    auto structure = std::make_shared<Structure>();
    stand::NetRequest request;
    request.ground = !held;
    structure->net = stand::makeBondNet(pose.placed, facts.bonds, calcBondLimits(facts), request);
    for (std::size_t s = 0; s < facts.project->sections.size(); ++s) {
        auto seams = stand::findSeams(pose.placed, static_cast<int>(s));
        structure->seams.insert(structure->seams.end(), seams.begin(), seams.end());
    }
    structure->pieces = stand::findPieces(structure->net);
    structure->friction = stand::findFrictionHeld(structure->net);
    if (held) return structure;
    structure->necks = stand::findNecks(structure->net);
    structure->bases = stand::findFlexibleBases(pose.placed, structure->net);
    return structure;
}

} // namespace ivrant::study
