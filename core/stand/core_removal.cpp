// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/stand/core_removal.h"

#include <algorithm>
#include <map>

#include "core/base/at.h"
#include "core/base/groups.h"

namespace ivrant::stand {
namespace {

constexpr int kMostRounds = 8; ///< of giving parts back to a shell before a thicker one is tried

/// Parts that must stay whatever their depth: those of joints, and all of sections that carry gear boards.
std::set<model::PartSpot> listKept(const model::Project& project) {
    std::set<model::PartSpot> kept;
    const model::PartIndex index(project);
    for (const model::Joint& joint : project.joints) {
        kept.insert(index.find(joint.from.part));
        kept.insert(index.find(joint.to.part));
    }
    for (const auto& board : project.boards) {
        const int s = board->section.empty() ? -1 : project.findSection(board->section);
        if (s < 0) continue;
        for (std::size_t p = 0; p < at(project.sections, s)->parts.size(); ++p) kept.insert({s, static_cast<int>(p)});
    }
    return kept;
}

/// Bodies that nothing but the ground joins to the largest piece.
std::vector<int> listApart(const BondNet& net) {
    base::Groups groups(net.bodies.size());
    for (const Contact& contact : net.contacts)
        if (contact.a >= 0) groups.join(static_cast<std::size_t>(contact.a), static_cast<std::size_t>(contact.b));
    std::map<std::size_t, int> sizes;
    for (std::size_t i = 0; i < net.bodies.size(); ++i) ++sizes[groups.find(i)];
    const auto largest =
        std::max_element(sizes.begin(), sizes.end(), [](const auto& l, const auto& r) { return l.second < r.second; });
    std::vector<int> apart;
    for (std::size_t i = 0; i < net.bodies.size(); ++i)
        if (groups.find(i) != largest->first) apart.push_back(static_cast<int>(i));
    return apart;
}

} // namespace

base::Result<CoreProposal> proposeCore(const model::Placed& placed, const std::vector<bonds::SectionBondsPtr>& bonds,
                                       const BondLimits& limits, const CoreWish& wish,
                                       const std::function<double(const std::set<model::PartSpot>&)>& tip,
                                       base::Progress* progress) {
    const auto depths = calcPartDepths(placed, progress);
    if (!depths) return depths.error();
    const auto kept = listKept(*placed.project);
    CoreProposal proposal;
    if (depths->deepest < 2) {
        proposal.why = "no part lies behind others: there is no core";
        return proposal;
    }
    std::map<model::PartSpot, std::vector<model::PartSpot>> neighbours;
    const BondNet whole = makeBondNet(placed, bonds, limits);
    for (const Contact& contact : whole.contacts) {
        if (contact.a < 0) continue;
        const auto a = at(whole.bodies, contact.a).spot, b = at(whole.bodies, contact.b).spot;
        neighbours[a].push_back(b);
        neighbours[b].push_back(a);
    }
    std::string why;
    for (int shell = 1; shell < depths->deepest; ++shell) {
        if (progress) progress->report(static_cast<double>(shell) / depths->deepest);
        std::set<model::PartSpot> out;
        for (std::size_t s = 0; s < depths->depth.size(); ++s)
            for (std::size_t p = 0; p < depths->depth[s].size(); ++p) {
                const model::PartSpot spot{static_cast<int>(s), static_cast<int>(p)};
                if (depths->depth[s][p] <= shell || kept.count(spot) > 0) continue;
                out.insert(spot);
            }
        if (out.empty()) continue;
        ++proposal.triedShells;
        for (int round = 0; round < kMostRounds && !out.empty(); ++round) {
            if (progress && progress->stopped()) return base::Error{"stopped", "stopped", ""};
            if (tip(out) < wish.leastTipDeg) {
                why = "without its core it tips too easily";
                break;
            }
            StandCase hollow;
            hollow.accelerationG =
                Vec3(0, 0, -1 / wish.mostLambda); // stands so much heavier: λ is at most what is wished
            hollow.built = [&](model::PartSpot spot) { return out.count(spot) == 0; };
            EquilibriumRequest request;
            request.lambda = request.use = false;
            request.progress = progress;
            const auto result = calcCase(placed, bonds, limits, hollow, request);
            if (!result) return result.error();
            const auto apart = listApart(result->net);
            if (result->equilibrium.stands && apart.empty()) {
                proposal.leaveOut.assign(out.begin(), out.end());
                proposal.shell = shell;
                for (const model::PartSpot spot : out) proposal.massG += model::getPart(*placed.project, spot).massG();
                return proposal;
            }
            why = std::to_string(result->equilibrium.falling.size() + apart.size()) +
                  " parts would not be held firmly enough";
            // What would fall gets its neighbours in the core back.
            std::size_t back = 0;
            std::vector<int> needy = result->equilibrium.falling;
            needy.insert(needy.end(), apart.begin(), apart.end());
            for (const int body : needy)
                for (const model::PartSpot neighbour : neighbours[at(result->net.bodies, body).spot])
                    back += out.erase(neighbour);
            if (back == 0) break;
        }
    }
    proposal.why = why.empty() ? "what lies inside belongs to joints or gear boards" : why;
    return proposal;
}

} // namespace ivrant::stand
