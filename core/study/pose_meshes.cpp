// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/study/pose_meshes.h"

#include <algorithm>
#include <cmath>
#include <map>
#include <set>

#include "core/base/at.h"
#include "core/drive/board_reader.h"

namespace ivrant::study {
namespace {

using How = PoseMesh::How;
using Pair = std::pair<std::string, std::string>;

struct Met {
    How how;
    double errorMm;
    std::string text;
};

bool isTeeth(drive::RelationKind kind) {
    return kind == drive::RelationKind::Mesh || kind == drive::RelationKind::Worm ||
           kind == drive::RelationKind::RackMesh;
}

/// What teeth do with each other and what is in the way, by ids; How::Meets: they mesh.
std::map<Pair, Met> listMet(const drive::DriveNet& net) {
    std::map<Pair, Met> met;
    for (const auto& relation : net.relations)
        if (isTeeth(relation.kind)) met[{relation.ids[0], relation.ids[1]}] = {How::Meets, relation.errorMm, ""};
    for (const auto& fault : net.faults) {
        const auto &a = at(net.rings, fault.gearA), &b = at(net.rings, fault.gearB);
        const How how = fault.fit == drive::Fit::Binds   ? How::Binds
                        : fault.fit == drive::Fit::Skips ? How::Skips
                                                         : How::Aside;
        if (fault.fit != drive::Fit::Apart) met[{a.id, b.id}] = {how, fault.errorMm, ""};
    }
    for (const auto& clash : net.clashes)
        if (clash.depthMm > 0) met.emplace(Pair{clash.idA, clash.idB}, Met{How::Clash, clash.depthMm, clash.text});
    return met;
}

/// Do things that turn lie in several sections?
bool isSpread(const model::Project& project) {
    std::set<std::string> sections;
    for (const auto& section : project.sections)
        for (const model::Part& part : section->parts)
            if (!part.shape->rings.empty()) {
                sections.insert(section->id.text);
                break;
            }
    for (const auto& board : project.boards)
        if (!board->gears.empty()) sections.insert(board->section.text);
    return sections.size() > 1;
}

} // namespace

std::vector<PoseMesh> findPoseMeshes(const Facts& facts) {
    if (!facts.drive || facts.project->poses.empty() || !isSpread(*facts.project)) return {};
    const std::map<Pair, Met> now = listMet(facts.drive->net);
    const auto engaged = drive::listEngaged(*facts.project);
    std::map<std::pair<Pair, How>, PoseMesh> found;
    const auto tell = [&](const Pair& pair, How how, const Met& met, const std::string& pose) {
        PoseMesh& mesh = found[{pair, how}];
        mesh.how = how;
        mesh.idA = pair.first;
        mesh.idB = pair.second;
        if (std::abs(met.errorMm) >= std::abs(mesh.errorMm)) {
            mesh.errorMm = met.errorMm;
            mesh.text = met.text;
        }
        mesh.poses.push_back(pose);
    };
    for (const PoseFacts& pose : facts.poses) {
        const auto there =
            listMet(drive::makeDriveNet(drive::readDrive(pose.placed, facts.tree, facts.bonds), engaged));
        for (const auto& [pair, met] : there) {
            const auto same = now.find(pair);
            if (same == now.end() || same->second.how != met.how) tell(pair, met.how, met, pose.name);
        }
        for (const auto& [pair, met] : now)
            if (met.how == How::Meets && there.count(pair) == 0) tell(pair, How::Parts, {How::Parts, 0, ""}, pose.name);
    }
    std::vector<PoseMesh> list;
    list.reserve(found.size());
    for (auto& entry : found) list.push_back(std::move(entry.second));
    return list;
}

} // namespace ivrant::study
