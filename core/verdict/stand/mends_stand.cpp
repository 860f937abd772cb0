// SPDX-License-Identifier: GPL-3.0-or-later
// What would make the weakest bond firmer? Parts laid across it or put under it: places that are free are tried, those
// that lower λ are offered.
#include <algorithm>
#include <cmath>

#include "core/base/at.h"
#include "core/base/units.h"
#include "core/base/words.h"
#include "core/stand/firm_shell.h"
#include "core/study/stand_cases.h"
#include "core/verdict/pose/check_pose.h"
#include "core/verdict/stand/bridges.h"
#include "core/verdict/stand/check_stand.h"

namespace ivrant::verdict {
namespace {

constexpr double kFalling = 1e9; ///< stands for λ without end

double lambdaOf(const stand::Equilibrium& e) {
    return e.stands ? e.lambda.value_or(1) : std::max(1.0 + 1e-6, e.lambda.value_or(kFalling));
}

/// Bricks inside a hollow, where they help the bonds of a pose most.
void addFilling(const Report& report, const study::PoseFacts& pose, double mostLambda, std::vector<Mend>& mends) {
    stand::FirmWish wish;
    wish.mostLambda = std::min(wish.mostLambda, mostLambda);
    const auto firm = stand::proposeFirm(pose.placed, study::calcBondLimits(report), wish);
    if (!firm || firm->parts.empty() || !firm->after || (firm->before && *firm->after >= *firm->before)) return;
    const auto section = at(report.project->sections, firm->section)->id;
    mends.push_back(
        {std::to_string(firm->parts.size()) + " bricks inside the hollow, " + base::formatNumber(firm->massG, 0) +
             " g: " +
             (firm->before && *firm->before < kFalling ? "λ " + base::formatNumber(*firm->before, 2)
                                                       : std::string("falling")) +
             " → λ " + base::formatNumber(*firm->after, 2),
         [section, parts = firm->parts](const model::Project& p) { return model::addParts(p, section, parts); }});
}

/// Parts across the weakest bond, or inside the hollow.
void addFirmer(const Report& report, const Verdict& verdict, std::vector<Mend>& mends) {
    const study::PoseFacts* pose = nullptr;
    const stand::CaseResult* solved = nullptr;
    stand::StandCase of;
    if (verdict.check == "case") {
        for (std::size_t i = 0; i < report.ownCases.size(); ++i) {
            if (verdict.id != "case/" + report.ownCases[i].id.text || !report.ownCases[i].result) continue;
            const model::OwnCase& own = report.project->cases[i];
            pose = &study::findPoseOf(report, own);
            solved = report.ownCases[i].result.get();
            of = study::makeOwnCase(report, *pose, own).value(); // it was made before, or there would be no result
        }
    } else {
        for (const study::PoseFacts& p : report.poses)
            if (p.id == verdict.place.pose && p.standing && !pose) pose = &p;
        if (pose) solved = pose->standing.get();
    }
    if (!solved) return;
    if (verdict.check == "bonds") addFilling(report, *pose, verdict.limit, mends);
    const auto weakest = solved->equilibrium.firstToGo ? std::vector<int>{*solved->equilibrium.firstToGo}
                                                       : study::listWeakest(*solved, 1);
    if (weakest.empty()) return;
    const stand::Contact& contact = at(solved->net.contacts, weakest[0]);
    if (contact.a < 0 || contact.studs.empty()) return;
    BridgeTrial trial;
    trial.now = lambdaOf(solved->equilibrium);
    trial.measure = [&report, of](const model::Placed& placed,
                                  const std::vector<bonds::SectionBondsPtr>& bonds) -> std::optional<double> {
        stand::EquilibriumRequest request;
        request.use = false;
        const auto result = stand::calcCase(placed, bonds, study::calcBondLimits(report), of, request);
        return result ? std::optional(lambdaOf(result->equilibrium)) : std::nullopt;
    };
    trial.describe = [](double lambda) {
        return std::isinf(lambda) || lambda > 1e6 ? std::string("falling") : "λ " + base::formatNumber(lambda, 2);
    };
    const auto spotOf = [&](int body) { return at(solved->net.bodies, body).spot; };
    addBridges(report, *pose, spotOf(contact.a), spotOf(contact.b), trial, mends);
}

} // namespace

void addCoreMends(const Report& report, const Verdict& verdict, std::vector<Mend>& mends) {
    const bool asked =
        std::any_of(report.project->asks.begin(), report.project->asks.end(), [&](const model::Ask& ask) {
            return verdict.id == "ask/" + ask.id.text && ask.comparison == model::Comparison::AtMost &&
                   (ask.measure == "mass" || ask.measure == "parts" || ask.measure == "spare");
        });
    if ((!asked && verdict.check != "core") || report.project->partCount() < kWorthHollowing || report.poses.empty())
        return;
    const auto core = study::calcCore(report, report.poses.front());
    if (!core || core->leaveOut.empty()) return;
    mends.push_back({"leave " + base::countText(core->leaveOut.size(), "part", "parts") + " out of the core, " +
                         base::formatNumber(core->massG, 0) +
                         " g: it stands with a margin of 1.5; a variant of its own",
                     [parts = core->leaveOut](const model::Project& p) { return study::leaveOutCore(p, parts); }});
}

void proposeBondMends(const Report& report, const Verdict& verdict, std::vector<Mend>& mends) {
    if (verdict.check == "bonds" && verdict.place.joint) addExchanges(report, verdict, mends);
    const std::size_t untried = mends.size(); // what follows is tried where it is found
    addFirmer(report, verdict, mends);
    markTried(mends, untried);
}

} // namespace ivrant::verdict
