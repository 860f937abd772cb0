// What would make the weakest bond firmer? Parts laid across it or put under it: places that are free are tried, those that lower λ are offered.
#include <algorithm>
#include <cmath>

#include "core/base/units.h"
#include "core/verdict/bridges.h"
#include "core/verdict/check_stand.h"
#include "core/verdict/stand_cases.h"

namespace ivrant::verdict {
namespace {

constexpr double kFalling = 1e9; ///< stands for λ without end

double lambdaOf(const stand::Equilibrium& e) { return e.stands ? e.lambda.value_or(1) : std::max(1.0 + 1e-6, e.lambda.value_or(kFalling)); }

} // namespace

void addStandMends(const Report& report, const Verdict& verdict, std::vector<Mend>& mends) {
    const auto pose = std::find_if(report.poses.begin(), report.poses.end(), [&](const PoseReport& p) { return p.id == verdict.place.pose && p.standing; });
    if (pose == report.poses.end()) return;
    const stand::CaseResult& standing = *pose->standing;
    const auto weakest = standing.equilibrium.firstToGo ? std::vector<int>{*standing.equilibrium.firstToGo} : listWeakest(standing, 1);
    if (weakest.empty()) return;
    const stand::Contact& contact = standing.net.contacts[static_cast<std::size_t>(weakest[0])];
    if (contact.a < 0 || contact.studs.empty()) return;
    BridgeTrial trial;
    trial.now = lambdaOf(standing.equilibrium);
    trial.measure = [&report](const model::Placed& placed, const std::vector<bonds::SectionBondsPtr>& bonds) -> std::optional<double> {
        stand::EquilibriumRequest request;
        request.use = false;
        const auto result = stand::calcCase(placed, bonds, calcBondLimits(report), {}, request);
        return result ? std::optional(lambdaOf(result->equilibrium)) : std::nullopt;
    };
    trial.describe = [](double lambda) { return std::isinf(lambda) || lambda > 1e6 ? std::string("falling") : "λ " + base::formatNumber(lambda, 2); };
    const auto spotOf = [&](int body) { return standing.net.bodies[static_cast<std::size_t>(body)].spot; };
    addBridges(report, *pose, spotOf(contact.a), spotOf(contact.b), trial, mends);
}

} // namespace ivrant::verdict
