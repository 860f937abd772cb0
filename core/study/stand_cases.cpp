// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/study/stand_cases.h"

#include <algorithm>
#include <atomic>
#include <cmath>
#include <mutex>
#include <set>
#include <tbb/parallel_for.h>
#include <tbb/task_arena.h>

#include "core/base/at.h"
#include "core/base/units.h"
#include "core/geometry/corners.h"
#include "core/make/steps.h"
#include "core/model/mass.h"
#include "core/model/variants.h"
#include "core/stand/counterweight.h"
#include "core/study/asked_tip.h"
#include "core/study/case_words.h"
#include "core/study/strands.h"
#include "core/trials/strengths.h"

namespace ivrant::study {

using base::formatNumber;

namespace {
constexpr double kLeastLimitN = 1e-4;
constexpr std::size_t kMostSlender = 4; ///< sections across which slopes, bumps and knocks are tried
} // namespace

stand::BondLimits calcBondLimits(const model::Project& project) {
    stand::BondLimits limits{
        trials::calcStudPull(project), trials::calcStudShear(project), trials::calcStrengths(project), {}};
    // What was measured as nothing is told as a finding; the balance goes on with next to nothing.
    limits.studPull.value = std::max(limits.studPull.value, kLeastLimitN);
    limits.studShear.value = std::max(limits.studShear.value, kLeastLimitN);
    return limits;
}

bool isHeldByDrive(const Facts& facts, const model::JointId& joint) {
    if (!facts.drive) return false;
    const auto& positions = facts.drive->positions;
    for (std::size_t f = 0; f < positions.front().functions.size(); ++f)
        if (positions.front().functions[f].joint == joint &&
            std::all_of(positions.begin(), positions.end(),
                        [&](const auto& position) { return position.functions[f].holds; }))
            return true;
    return false;
}

stand::BondLimits calcBondLimits(const Facts& facts) {
    stand::BondLimits limits = calcBondLimits(*facts.project);
    for (const model::Joint& joint : facts.project->joints)
        limits.drivenNmm.push_back(isHeldByDrive(facts, joint.id) ? drive::kAxleTwistNmm : 0);
    return limits;
}

std::optional<int> findHeldSection(const Facts& facts, const PoseFacts& pose) {
    if (pose.stance.kind != model::Stance::Kind::Held) return std::nullopt;
    if (const int held = facts.project->findSection(pose.stance.section); held >= 0) return held;
    for (const int s : facts.tree.order)
        if (ivrant::at(facts.tree.carrier, s) < 0) return s;
    return 0;
}

stand::StandCase makeAtRest(const Facts& facts, const PoseFacts& pose) {
    stand::StandCase atRest;
    atRest.key = "standing";
    atRest.held = findHeldSection(facts, pose);
    atRest.ground = !atRest.held;
    atRest.name = atRest.held ? "as it is held" : "standing";
    return atRest;
}

std::vector<double> listSlenderWays(const Facts& facts, const PoseFacts& pose) {
    std::vector<double> ways;
    const auto add = [&](const std::vector<stand::Neck>& necks) {
        for (const stand::Neck& neck : necks)
            for (const double way : {neck.towardDeg, neck.towardDeg + 180}) ways.push_back(way);
    };
    if (facts.structure)
        add(facts.structure->necks);
    else if (facts.project->partCount() <= kMostPartsForBonds)
        add(stand::findNecks(stand::makeBondNet(pose.placed, facts.bonds, calcBondLimits(facts)), kMostSlender));
    return ways;
}

std::vector<stand::StandCase> listStandCases(const Facts& facts, const PoseFacts& pose) {
    if (!pose.tipping) return {};
    auto cases = stand::listUsualCases(pose.placed, *pose.tipping,
                                       std::clamp(facts.project->tiltDeg, stand::kUsualSlopeDeg, kMostTiltDeg),
                                       listSlenderWays(facts, pose));
    if (pose.stance.kind == model::Stance::Kind::Held) {
        std::erase_if(cases, [](const stand::StandCase& c) { return c.kind == stand::CaseKind::Slope; });
        for (stand::StandCase& c : cases)
            if (c.kind != stand::CaseKind::Carried) {
                c.ground = c.strapped = false;
                c.held = findHeldSection(facts, pose);
                if (c.kind == stand::CaseKind::Standing) c.name = "as it is held";
                if (c.kind == stand::CaseKind::Bumped) c.name = "bumped in transport, as it is held";
            }
    }
    for (const model::OwnCase& own : facts.project->cases)
        if (auto made = makeOwnCase(facts, pose, own)) cases.push_back(std::move(made).value());
    return cases;
}

const PoseFacts& findPoseOf(const Facts& facts, const model::OwnCase& own) {
    for (const PoseFacts& pose : facts.poses)
        if (pose.id && *pose.id == own.pose) return pose;
    return facts.poses.front();
}

base::Result<stand::StandCase> makeOwnCase(const Facts& facts, const PoseFacts& pose, const model::OwnCase& own) {
    const model::PartIndex index(*facts.project);
    const auto centreOf = [&](const model::PartId& id) -> std::optional<geometry::Vec3> {
        const model::PartSpot spot = index.find(id);
        if (spot.section < 0) return std::nullopt;
        return pose.placed.X_WP(spot) * getPart(*facts.project, spot).shape->centre;
    };
    const auto gone = [&](const model::PartId& id) {
        return base::Error{"case.part", own.name + " names the part " + id.text + ", which is not in the model", ""};
    };
    stand::StandCase made;
    made.kind = stand::CaseKind::Own;
    made.key = own.id.text;
    made.name = own.name;
    const double toward = base::degToRad(own.towardDeg), slope = base::degToRad(own.slopeDeg);
    const geometry::Vec3 way(std::cos(toward), std::sin(toward), 0);
    made.accelerationG =
        (std::sin(slope) * own.downG + own.asideG) * way - std::cos(slope) * own.downG * geometry::Vec3::UnitZ();
    made.strapped = own.strapped;
    for (const model::PartId& hand : own.hands) {
        const auto at = centreOf(hand);
        if (!at) return gone(hand);
        made.hands.push_back(*at);
    }
    made.ground = made.hands.empty();
    if (made.ground && pose.stance.kind == model::Stance::Kind::Held)
        return base::Error{"case.ground",
                           own.name + " stands on the ground, which " + pose.name + " does not: name a hand", ""};
    if (own.pushN > 0) {
        made.pushN = own.pushN * way;
        if (!own.pushed.empty()) {
            const auto at = centreOf(own.pushed);
            if (!at) return gone(own.pushed);
            made.pushAt = *at;
        } else {
            made.pushAt = stand::findHighest(pose.placed);
        }
    }
    return made;
}

stand::StandCase makeHalfBuilt(const Facts& facts, int step) {
    stand::StandCase half;
    half.kind = stand::CaseKind::HalfBuilt;
    half.key = "step" + std::to_string(step);
    half.name = "half-built at step " + std::to_string(step);
    auto built = std::make_shared<std::set<model::PartSpot>>();
    const auto steps = make::listSteps(*facts.project, facts.tree);
    for (std::size_t s = 0; s < steps.size() && static_cast<int>(s) < step; ++s)
        for (const int part : steps[s].added) built->insert({steps[s].section, part});
    half.built = [built](model::PartSpot spot) { return built->count(spot) > 0; };
    return half;
}

base::Result<stand::CaseResult> calcStandCase(const Facts& facts, const PoseFacts& pose,
                                              const stand::StandCase& standCase,
                                              const stand::EquilibriumRequest& request) {
    stand::StandCase withLines = standCase;
    if (standCase.kind != stand::CaseKind::HalfBuilt) // lines are put on last
        for (auto& pull : listRestPulls(facts, pose)) withLines.pulls.push_back(std::move(pull));
    return stand::calcWorstCase(pose.placed, facts.bonds, calcBondLimits(facts), withLines, request);
}

std::vector<std::optional<base::Result<stand::CaseResult>>>
calcStandCases(const Facts& facts, const PoseFacts& pose, std::span<const stand::StandCase> cases,
               const stand::EquilibriumRequest& request,
               const std::function<bool(std::size_t, const base::Result<stand::CaseResult>&)>& known) {
    std::vector<std::optional<base::Result<stand::CaseResult>>> results(cases.size());
    std::mutex telling;
    std::atomic<bool> going{true};
    tbb::task_arena arena(std::min(kMostCasesAtOnce, tbb::this_task_arena::max_concurrency()));
    arena.execute([&] {
        tbb::parallel_for(
            tbb::blocked_range<std::size_t>(0, cases.size(), 1),
            [&](const tbb::blocked_range<std::size_t>& range) {
                for (std::size_t c = range.begin(); c < range.end() && going; ++c) {
                    base::Result<stand::CaseResult> result = base::Error{};
                    // Waiting for its own ways a thread takes up no further case: no more of them at once than threads.
                    tbb::this_task_arena::isolate([&] { result = calcStandCase(facts, pose, cases[c], request); });
                    const std::lock_guard lock(telling);
                    if (!known(c, result)) going = false;
                    results[c] = std::move(result);
                }
            },
            tbb::simple_partitioner());
    });
    return results;
}

std::vector<stand::BallastProposal> listBallast(const Facts& facts, std::span<const stand::Standing> standings,
                                                double wishDeg) {
    std::vector<stand::BallastProposal> proposals;
    for (std::size_t s = 0; s < facts.project->sections.size(); ++s)
        if (const auto proposal = stand::calcBallast(standings, static_cast<int>(s), wishDeg, kMostBallastG))
            proposals.push_back(*proposal);
    return proposals;
}

std::optional<stand::Tipping> calcTippingWithout(const PoseFacts& pose, const std::set<model::PartSpot>& out) {
    // The ground corners of parts that are left out carry nothing; the centre of gravity moves.
    const model::Project& project = *pose.placed.project;
    std::vector<geometry::Vec3> corners;
    double gram = 0;
    geometry::Vec3 moment = geometry::Vec3::Zero();
    const auto leave = [&](double massG, const geometry::Vec3& at) {
        gram += massG;
        moment += massG * at;
    };
    for (std::size_t s = 0; s < pose.placed.X_WS.size(); ++s) {
        std::size_t left = 0;
        for (std::size_t p = 0; p < project.sections[s]->parts.size(); ++p) {
            const model::PartSpot spot{static_cast<int>(s), static_cast<int>(p)};
            const model::Part& part = getPart(project, spot);
            const geometry::Frame X_WP = pose.placed.X_WP(spot);
            if (out.count(spot) > 0) {
                leave(part.massG(), X_WP * part.shape->centre);
                ++left;
                continue;
            }
            for (const auto& solid : part.shape->solids)
                if (geometry::calcBounds(solid.solid, X_WP).low.z() <= model::kGroundContactMm)
                    geometry::appendCorners(corners, solid.solid, X_WP);
        }
        if (left == 0 || left < project.sections[s]->parts.size()) continue;
        for (const model::Ballast& b : project.sections[s]->ballast) // with the last of its parts it goes as well
            leave(b.massG, pose.placed.X_WS[s] * geometry::Vec3(base::umToMm(b.atUm[0]), base::umToMm(b.atUm[1]),
                                                                base::umToMm(b.atUm[2])));
    }
    auto tipping = stand::calcTipping(pose.placed, corners);
    if (!tipping || !(model::calcMass(pose.placed).massG - gram > 0)) return std::nullopt;
    return stand::calcTippingWith(*tipping, -gram, moment / std::max(gram, 1e-12));
}

base::Result<stand::CoreProposal> calcCore(const Facts& facts, const PoseFacts& pose, base::Progress* progress) {
    const auto tip = [&](const std::set<model::PartSpot>& out) {
        const auto tipping = calcTippingWithout(pose, out);
        return tipping ? tipping->angleDeg : -90.0;
    };
    stand::CoreWish wish;
    wish.leastTipDeg = getAskedTipDeg(*facts.project);
    return stand::proposeCore(pose.placed, facts.bonds, calcBondLimits(facts), wish, tip, progress);
}

model::EditResult leaveOutCore(const model::Project& project, const std::vector<model::PartSpot>& parts) {
    std::vector<model::PartId> ids;
    ids.reserve(parts.size());
    for (const model::PartSpot spot : parts) ids.push_back(getPart(project, spot).id);
    const auto isTaken = [&](const std::string& name) {
        return std::any_of(project.variants.begin(), project.variants.end(),
                           [&](const auto& variant) { return variant.name == name; });
    };
    std::string name = "hollow";
    for (int k = 2; isTaken(name); ++k) name = "hollow " + std::to_string(k);
    auto beside = model::addVariant(project, name, "solid");
    if (!beside) return beside;
    return model::removeParts(*beside, ids);
}

std::vector<int> listWeakest(const stand::CaseResult& result, std::size_t most, double least) {
    std::vector<int> order;
    for (std::size_t k = 0; k < result.net.contacts.size(); ++k)
        if (result.net.contacts[k].a >= 0 && result.equilibrium.forces[k].use >= least)
            order.push_back(static_cast<int>(k));
    const auto use = [&](int k) { return ivrant::at(result.equilibrium.forces, k).use; };
    std::stable_sort(order.begin(), order.end(), [&](int l, int r) { return use(l) > use(r); });
    if (order.size() > most) order.resize(most);
    return order;
}

std::vector<model::PartId> listParts(const model::Project& project, const stand::CaseResult& result, int contact) {
    std::vector<model::PartId> parts;
    const stand::Contact& c = ivrant::at(result.net.contacts, contact);
    for (const int body : {c.b, c.a})
        if (body >= 0) parts.push_back(getPart(project, ivrant::at(result.net.bodies, body).spot).id);
    return parts;
}

} // namespace ivrant::study
