// SPDX-License-Identifier: GPL-3.0-or-later
// What weight, and where, would keep it from tipping? Part of check_stand.h.
#include <algorithm>

#include "core/base/at.h"
#include "core/base/units.h"
#include "core/study/case_words.h"
#include "core/study/stand_cases.h"
#include "core/verdict/stand/check_stand.h"

namespace ivrant::verdict {
namespace {

constexpr std::size_t kMostOffered = 3;

/// Do the bonds of every pose that stood still hold once the weight is in?
bool bondsHoldWith(const Report& report, const model::SectionId& section, const model::Ballast& ballast) {
    const auto changed = model::addBallast(*report.project, section, ballast);
    if (!changed) return false;
    stand::EquilibriumRequest request;
    request.lambda = request.use = false;
    for (const study::PoseFacts& pose : report.poses) {
        if (!pose.standing || !pose.standing->equilibrium.stands) continue;
        model::Placed placed = pose.placed;
        placed.project = &*changed;
        stand::StandCase atRest;
        atRest.strapped = true; // whether it tips is another question
        const auto result = stand::calcCase(placed, report.bonds, study::calcBondLimits(report), atRest, request);
        if (!result || !result->equilibrium.stands) return false;
    }
    return true;
}

/// Where it has to stand with the weight: in the pose and in those that stand at `floorDeg` now, or all along the move.
std::vector<stand::Standing> listWanted(const Report& report, const Verdict& verdict, double floorDeg) {
    std::vector<stand::Standing> standings;
    if (verdict.check == "tip-move") {
        for (const study::MoveTip& move : report.moves)
            if (verdict.place.things == std::vector<std::string>{move.key})
                standings = study::listStandings(report, move);
    } else {
        for (const study::PoseFacts& pose : report.poses)
            if (pose.id == verdict.place.pose && pose.tipping) standings.push_back({pose.placed, *pose.tipping});
    }
    if (standings.empty()) return standings;
    for (const study::PoseFacts& pose : report.poses)
        if (pose.tipping && pose.stance.kind != model::Stance::Kind::Held && pose.id != verdict.place.pose &&
            pose.tipping->angleDeg >= floorDeg)
            standings.push_back({pose.placed, *pose.tipping});
    return standings;
}

} // namespace

void addBallastMends(const Report& report, const Verdict& verdict, std::vector<Mend>& mends) {
    // What is thin passes already: there the weight is to make it good.
    const double wish = verdict.state == State::Fail ? verdict.limit : kGoodMargin * verdict.limit;
    // One weight for all poses that are no worse than this one, where there is such a weight; else one for what stands
    // already.
    auto proposals = study::listBallast(report, listWanted(report, verdict, std::min(wish, verdict.value)), wish);
    if (proposals.empty()) proposals = study::listBallast(report, listWanted(report, verdict, wish), wish);
    std::stable_sort(proposals.begin(), proposals.end(),
                     [](const auto& l, const auto& r) { return l.massG < r.massG; });
    std::size_t offered = 0;
    for (const stand::BallastProposal& proposal : proposals) {
        if (offered >= kMostOffered) break;
        if (proposal.massG <= 0) continue; // none is needed
        const auto& section = *at(report.project->sections, proposal.section);
        model::Ballast ballast;
        ballast.massG = proposal.massG;
        for (int k = 0; k < 3; ++k) at(ballast.atUm, k) = base::mmToUm(proposal.at[k]);
        if (!bondsHoldWith(report, section.id, ballast)) continue;
        mends.push_back(
            {"add " + base::formatNumber(ballast.massG, 0) + " g in " + section.name + ", at " +
                 at(section.parts, proposal.part).shape->name,
             [id = section.id, ballast](const model::Project& p) { return model::addBallast(p, id, ballast); },
             "Ballast must be enclosed so that it cannot come out; no lead and no loose magnets where children can "
             "reach."});
        ++offered;
    }
}

} // namespace ivrant::verdict
