#include "core/stand/cases.h"

#include <algorithm>
#include <cmath>

#include "core/base/units.h"

namespace ivrant::stand {
namespace {

Vec3 wayOf(double towardDeg) { return {std::cos(base::degToRad(towardDeg)), std::sin(base::degToRad(towardDeg)), 0}; }

std::vector<Vec3> listCentres(const model::Placed& placed) {
    std::vector<Vec3> centres;
    for (std::size_t s = 0; s < placed.X_WS.size(); ++s)
        for (const model::Part& part : placed.project->sections[s]->parts) centres.push_back(placed.X_WS[s] * (part.place.pose() * part.shape->centre));
    return centres;
}
const Vec3& findHighest(const std::vector<Vec3>& centres) {
    return *std::max_element(centres.begin(), centres.end(), [](const Vec3& l, const Vec3& r) { return l.z() < r.z(); });
}
const Vec3& findNearest(const std::vector<Vec3>& centres, const Vec3& at) {
    return *std::min_element(centres.begin(), centres.end(), [&](const Vec3& l, const Vec3& r) { return (l - at).squaredNorm() < (r - at).squaredNorm(); });
}
int findBodyNear(const BondNet& net, const Vec3& at) {
    const auto nearer = [&](const Body& l, const Body& r) { return (l.centre - at).squaredNorm() < (r.centre - at).squaredNorm(); };
    return static_cast<int>(std::min_element(net.bodies.begin(), net.bodies.end(), nearer) - net.bodies.begin());
}

} // namespace

Vec3 findHighest(const model::Placed& placed) {
    const auto centres = listCentres(placed);
    return centres.empty() ? Vec3(Vec3::Zero()) : findHighest(centres);
}

StandCase makeCarried(std::vector<Vec3> hands) {
    StandCase carried;
    carried.kind = CaseKind::Carried;
    carried.key = "carry";
    carried.name = hands.size() > 1 ? "carried with " + std::to_string(hands.size()) + " hands" : "carried by its middle";
    carried.ground = false;
    carried.hands = std::move(hands);
    return carried;
}

std::vector<StandCase> listUsualCases(const model::Placed& placed, const Tipping& tipping, double slopeDeg) {
    std::vector<StandCase> cases(1);
    cases[0].key = "standing";
    cases[0].name = "standing";
    const Vec3 way = wayOf(tipping.towardDeg);
    const std::string toward = " towards " + base::formatNumber(tipping.towardDeg, 0) + "°";
    StandCase slope;
    slope.kind = CaseKind::Slope;
    slope.key = "slope";
    slope.name = "on a slope of " + base::formatNumber(slopeDeg, 0) + "°" + toward;
    const double angle = base::degToRad(slopeDeg);
    slope.accelerationG = std::sin(angle) * way - std::cos(angle) * Vec3::UnitZ();
    cases.push_back(slope);
    StandCase bump;
    bump.kind = CaseKind::Bumped;
    bump.key = "bump";
    bump.name = "bumped in transport, strapped at its feet";
    bump.accelerationG = kBumpAsideG * way - kBumpDownG * Vec3::UnitZ();
    bump.strapped = true;
    cases.push_back(bump);
    StandCase knock;
    knock.kind = CaseKind::Knocked;
    knock.key = "knock";
    knock.name = "knocked at its top with " + base::formatNumber(kKnockN, 1) + " N" + toward;
    knock.pushN = kKnockN * way;
    const auto centres = listCentres(placed);
    if (centres.empty()) return cases;
    knock.pushAt = findHighest(centres); // the part whose centre lies highest takes it
    cases.push_back(knock);
    cases.push_back(makeCarried({findNearest(centres, tipping.centre)}));
    return cases;
}

base::Result<CaseResult> calcCase(const model::Placed& placed, const std::vector<bonds::SectionBondsPtr>& bonds, const BondLimits& limits,
                                  const StandCase& standCase, const EquilibriumRequest& request) {
    CaseResult result;
    result.net = makeBondNet(placed, bonds, limits, {standCase.ground, standCase.strapped, standCase.props, standCase.hands, standCase.built});
    if (result.net.bodies.empty()) return base::Error{"stand.empty", "there are no parts to stand", ""};
    auto loads = calcLoads(result.net, standCase.accelerationG);
    if (!standCase.pushN.isZero()) addPush(loads, result.net, findBodyNear(result.net, standCase.pushAt), standCase.pushAt, standCase.pushN);
    auto equilibrium = calcEquilibrium(result.net, loads, request);
    if (!equilibrium) return equilibrium.error();
    result.equilibrium = std::move(equilibrium).value();
    return result;
}

} // namespace ivrant::stand
