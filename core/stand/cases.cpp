// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/stand/cases.h"

#include <algorithm>
#include <cmath>
#include <map>
#include <set>
#include <tbb/parallel_for.h>

#include "core/base/at.h"
#include "core/base/groups.h"
#include "core/base/units.h"
#include "core/stand/certificate.h"

namespace ivrant::stand {
namespace {

constexpr double kSameWayDeg = 15, kLongEdgeMm = 2;
constexpr double kWayGap = 1e-3; ///< relative, of λ when ways are compared

Vec3 wayOf(double towardDeg) { return {std::cos(base::degToRad(towardDeg)), std::sin(base::degToRad(towardDeg)), 0}; }

std::vector<Vec3> listCentres(const model::Placed& placed) {
    std::vector<Vec3> centres;
    for (std::size_t s = 0; s < placed.X_WS.size(); ++s)
        for (const model::Part& part : placed.project->sections[s]->parts)
            centres.push_back(placed.X_WS[s] * (part.place.frame() * part.shape->centre));
    return centres;
}
const Vec3& findHighest(const std::vector<Vec3>& centres) {
    return *std::max_element(centres.begin(), centres.end(),
                             [](const Vec3& l, const Vec3& r) { return l.z() < r.z(); });
}
const Vec3& findNearest(const std::vector<Vec3>& centres, const Vec3& at) {
    return *std::min_element(centres.begin(), centres.end(), [&](const Vec3& l, const Vec3& r) {
        return (l - at).squaredNorm() < (r - at).squaredNorm();
    });
}
int findBodyNear(const BondNet& net, const Vec3& at) {
    const auto nearer = [&](const Body& l, const Body& r) {
        return (l.centre - at).squaredNorm() < (r.centre - at).squaredNorm();
    };
    return static_cast<int>(std::min_element(net.bodies.begin(), net.bodies.end(), nearer) - net.bodies.begin());
}

/// A section of which nothing is joined to what stands yet lies on the table beside it: its heaviest part is held. What
/// that does not hold floats on.
void layApart(BondNet& net) {
    std::map<int, std::vector<int>> bySection;
    for (std::size_t b = 0; b < net.bodies.size(); ++b)
        bySection[net.bodies[b].spot.section].push_back(static_cast<int>(b));
    const std::set<int> floating(net.floating.begin(), net.floating.end());
    for (const auto& [section, bodies] : bySection) {
        if (std::any_of(bodies.begin(), bodies.end(), [&](int b) { return floating.count(b) == 0; })) continue;
        Contact table;
        table.kind = ContactKind::Hand;
        table.b = *std::max_element(bodies.begin(), bodies.end(), [&](int l, int r) {
            return ivrant::at(net.bodies, l).massG < ivrant::at(net.bodies, r).massG;
        });
        table.corners = {ivrant::at(net.bodies, table.b).centre};
        net.contacts.push_back(std::move(table));
    }
    const std::size_t earth = net.bodies.size();
    base::Groups groups(earth + 1);
    for (const Contact& contact : net.contacts)
        groups.join(contact.a < 0 ? earth : static_cast<std::size_t>(contact.a), static_cast<std::size_t>(contact.b));
    std::erase_if(net.floating, [&](int b) { return groups.find(static_cast<std::size_t>(b)) == groups.find(earth); });
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
    carried.name =
        hands.size() > 1 ? "carried with " + std::to_string(hands.size()) + " hands" : "carried by its middle";
    carried.ground = false;
    carried.hands = std::move(hands);
    return carried;
}

StandCase turnCase(StandCase c, double towardDeg) {
    const Vec3 way = wayOf(towardDeg);
    const double aside = c.accelerationG.head<2>().norm(), push = c.pushN.head<2>().norm();
    c.accelerationG = aside * way + Vec3(0, 0, c.accelerationG.z());
    c.pushN = push * way + Vec3(0, 0, c.pushN.z());
    c.towardDeg = towardDeg;
    return c;
}

namespace {

/// Square to every edge of the support and across what is slender, no two closer than kSameWayDeg.
std::vector<double> listWays(const Tipping& tipping, const std::vector<double>& across) {
    std::vector<double> ways{tipping.towardDeg};
    const auto add = [&](double deg) {
        const double way = base::wrapDeg(deg);
        if (std::none_of(ways.begin(), ways.end(),
                         [&](double w) { return std::abs(std::remainder(w - way, 360.0)) < kSameWayDeg; }))
            ways.push_back(way);
    };
    const auto& s = tipping.support;
    for (std::size_t i = 0; s.size() >= 2 && i < s.size(); ++i) {
        const Eigen::Vector2d edge = s[(i + 1) % s.size()] - s[i];
        if (edge.norm() > kLongEdgeMm) add(base::radToDeg(std::atan2(-edge.x(), edge.y()))); // its outward normal
    }
    for (const double way : across) add(way);
    if (ways.size() < 4)
        for (const double turn : {90.0, 180.0, 270.0}) add(tipping.towardDeg + turn);
    return ways;
}

} // namespace

std::vector<StandCase> listUsualCases(const model::Placed& placed, const Tipping& tipping, double slopeDeg,
                                      const std::vector<double>& across) {
    std::vector<StandCase> cases(1);
    cases[0].key = "standing";
    cases[0].name = "standing";
    const Vec3 way = wayOf(tipping.towardDeg);
    const std::vector<double> ways = listWays(tipping, across);
    StandCase slope;
    slope.kind = CaseKind::Slope;
    slope.key = "slope";
    slope.name = "on a slope of " + base::formatNumber(slopeDeg, 0) + "°";
    const double angle = base::degToRad(slopeDeg);
    slope.ways = ways;
    slope.towardDeg = tipping.towardDeg;
    slope.accelerationG = std::sin(angle) * way - std::cos(angle) * Vec3::UnitZ();
    cases.push_back(slope);
    StandCase bump;
    bump.kind = CaseKind::Bumped;
    bump.key = "bump";
    bump.name = "bumped in transport, strapped at its feet";
    bump.accelerationG = kBumpAsideG * way - kBumpDownG * Vec3::UnitZ();
    bump.strapped = true;
    bump.ways = ways;
    bump.towardDeg = tipping.towardDeg;
    cases.push_back(bump);
    StandCase knock;
    knock.kind = CaseKind::Knocked;
    knock.key = "knock";
    knock.name = "knocked at its top with " + base::formatNumber(kKnockN, 1) + " N";
    knock.pushN = kKnockN * way;
    knock.ways = ways;
    knock.towardDeg = tipping.towardDeg;
    const auto centres = listCentres(placed);
    if (centres.empty()) return cases;
    knock.pushAt = findHighest(centres); // the part whose centre lies highest takes it
    cases.push_back(knock);
    cases.push_back(makeCarried({findNearest(centres, tipping.centre)}));
    return cases;
}

namespace {

std::vector<BodyLoad> calcCaseLoads(const BondNet& net, const StandCase& standCase) {
    auto loads = calcLoads(net, standCase.accelerationG);
    if (!standCase.pushN.isZero())
        addPush(loads, net, findBodyNear(net, standCase.pushAt), standCase.pushAt, standCase.pushN);
    for (const PartPull& pull : standCase.pulls)
        for (std::size_t b = 0; b < net.bodies.size(); ++b)
            if (net.bodies[b].spot == pull.part) addPush(loads, net, static_cast<int>(b), pull.at, pull.forceN);
    return loads;
}

} // namespace

base::Result<CaseResult> calcCase(const model::Placed& placed, const std::vector<bonds::SectionBondsPtr>& bonds,
                                  const BondLimits& limits, const StandCase& standCase,
                                  const EquilibriumRequest& request) {
    CaseResult result;
    result.net = makeBondNet(
        placed, bonds, limits,
        {standCase.ground, standCase.strapped, standCase.props, standCase.hands, standCase.built, standCase.held});
    if (standCase.kind == CaseKind::HalfBuilt) layApart(result.net);
    if (result.net.bodies.empty()) return base::Error{"stand.empty", "there are no parts to stand", ""};
    const auto loads = calcCaseLoads(result.net, standCase);
    auto equilibrium = calcEquilibrium(result.net, loads, request);
    if (!equilibrium) return equilibrium.error();
    result.equilibrium = std::move(equilibrium).value();
    result.name = standCase.name;
    result.towardDeg = standCase.towardDeg;
    if (standCase.towardDeg) result.name += " towards " + base::formatNumber(*standCase.towardDeg, 0) + "°";
    return result;
}

namespace {

/// The larger, the more is asked: bonds that yield before those that hold.
double rankOf(const Equilibrium& e) {
    if (e.givesWay != GivesWay::InParts) return 1e9; // tips or slides: told as such, and beyond any λ
    if (e.lambda && std::isinf(*e.lambda)) return 1e8;
    return (e.stands ? 0 : 1e6) + e.lambda.value_or(0);
}

/// How much a case asks, to compare ways: solved, or of a large model by quick proof.
base::Result<double> calcRank(const BondNet& net, const StandCase& turned, bool small,
                              const EquilibriumRequest& request) {
    const auto loads = calcCaseLoads(net, turned);
    if (small) {
        EquilibriumRequest quick = request;
        quick.use = false;
        quick.gap = kWayGap;
        const auto solved = calcEquilibrium(net, loads, quick);
        if (!solved) return solved.error();
        return rankOf(*solved);
    }
    CertificateRequest quick;
    quick.progress = request.progress;
    const auto proof = calcCertificate(net, loads, quick);
    if (!proof) return proof.error();
    return proof->stands ? proof->largestUse : 1e6 + proof->residualN;
}

} // namespace

base::Result<CaseResult> calcWorstCase(const model::Placed& placed, const std::vector<bonds::SectionBondsPtr>& bonds,
                                       const BondLimits& limits, const StandCase& standCase,
                                       const EquilibriumRequest& request) {
    if (standCase.ways.size() < 2) return calcCase(placed, bonds, limits, standCase, request);
    const BondNet net = makeBondNet(
        placed, bonds, limits,
        {standCase.ground, standCase.strapped, standCase.props, standCase.hands, standCase.built, standCase.held});
    if (net.bodies.empty()) return base::Error{"stand.empty", "there are no parts to stand", ""};
    const bool small = net.bodies.size() <= kMostBodiesTriedAll;
    std::vector<base::Result<double>> ranks(standCase.ways.size(), 0.0);
    tbb::parallel_for(std::size_t{0}, ranks.size(), [&](std::size_t w) {
        ranks[w] = calcRank(net, turnCase(standCase, standCase.ways[w]), small, request);
    });
    std::optional<double> worst;
    double most = -1;
    for (std::size_t w = 0; w < ranks.size(); ++w) {
        if (!ranks[w]) return ranks[w].error();
        if (*ranks[w] <= most * (1 + kWayGap)) continue; // of ways alike, the first: where it tips first
        most = *ranks[w];
        worst = standCase.ways[w];
    }
    auto result = calcCase(placed, bonds, limits, turnCase(standCase, *worst), request);
    if (result) result.value().tried = static_cast<int>(standCase.ways.size());
    return result;
}

} // namespace ivrant::stand
