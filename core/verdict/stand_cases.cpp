#include "core/verdict/stand_cases.h"

#include <algorithm>
#include <atomic>
#include <cmath>
#include <mutex>
#include <set>
#include <tbb/parallel_for.h>
#include <tbb/task_arena.h>

#include "core/base/units.h"
#include "core/bench/strengths.h"
#include "core/geometry/corners.h"
#include "core/make/steps.h"
#include "core/model/mass.h"
#include "core/model/variants.h"
#include "core/stand/counterweight.h"
#include "core/verdict/collect.h"

namespace ivrant::verdict {

using base::formatNumber;
using stand::ContactKind;

namespace {
constexpr double kLeastLimitN = 1e-4;
constexpr std::size_t kMostSlender = 4; ///< sections across which slopes, bumps and knocks are tried
} // namespace

stand::BondLimits calcBondLimits(const model::Project& project) {
    stand::BondLimits limits{bench::calcStudPull(project), bench::calcStudShear(project), bench::calcStrengths(project), {}};
    // What was measured as nothing is told as a finding; the balance goes on with next to nothing.
    limits.studPull.value = std::max(limits.studPull.value, kLeastLimitN);
    limits.studShear.value = std::max(limits.studShear.value, kLeastLimitN);
    return limits;
}

bool isHeldByDrive(const Report& report, const model::JointId& joint) {
    if (!report.drive) return false;
    const auto& positions = report.drive->positions;
    for (std::size_t f = 0; f < positions.front().functions.size(); ++f)
        if (positions.front().functions[f].function->joint == joint &&
            std::all_of(positions.begin(), positions.end(), [&](const auto& position) { return position.functions[f].holds; }))
            return true;
    return false;
}

stand::BondLimits calcBondLimits(const Report& report) {
    stand::BondLimits limits = calcBondLimits(*report.project);
    for (const model::Joint& joint : report.project->joints) limits.drivenNmm.push_back(isHeldByDrive(report, joint.id) ? drive::kAxleTwistNmm : 0);
    return limits;
}

std::optional<int> findHeldSection(const Report& report, const PoseReport& pose) {
    if (pose.stance.kind != model::Stance::Kind::Held) return std::nullopt;
    if (const int held = report.project->findSection(pose.stance.section); held >= 0) return held;
    for (const int s : report.tree.order)
        if (report.tree.carrier[static_cast<std::size_t>(s)] < 0) return s;
    return 0;
}

stand::StandCase makeAtRest(const Report& report, const PoseReport& pose) {
    stand::StandCase atRest;
    atRest.key = "standing";
    atRest.held = findHeldSection(report, pose);
    atRest.ground = !atRest.held;
    atRest.name = atRest.held ? "as it is held" : "standing";
    return atRest;
}

std::vector<double> listSlenderWays(const Report& report, const PoseReport& pose) {
    std::vector<double> ways;
    const auto add = [&](const std::vector<stand::Neck>& necks) {
        for (const stand::Neck& neck : necks)
            for (const double way : {neck.towardDeg, neck.towardDeg + 180}) ways.push_back(way);
    };
    if (report.structure)
        add(report.structure->necks);
    else if (report.project->partCount() <= kMostPartsForBonds)
        add(stand::findNecks(stand::makeBondNet(pose.placed, report.bonds, calcBondLimits(report)), kMostSlender));
    return ways;
}

std::vector<stand::StandCase> listStandCases(const Report& report, const PoseReport& pose) {
    if (!pose.tipping) return {};
    auto cases = stand::listUsualCases(pose.placed, *pose.tipping, std::clamp(report.project->tiltDeg, stand::kUsualSlopeDeg, kMostTiltDeg),
                                       listSlenderWays(report, pose));
    if (pose.stance.kind == model::Stance::Kind::Held) {
        std::erase_if(cases, [](const stand::StandCase& c) { return c.kind == stand::CaseKind::Slope; });
        for (stand::StandCase& c : cases)
            if (c.kind != stand::CaseKind::Carried) {
                c.ground = c.strapped = false;
                c.held = findHeldSection(report, pose);
                if (c.kind == stand::CaseKind::Standing) c.name = "as it is held";
                if (c.kind == stand::CaseKind::Bumped) c.name = "bumped in transport, as it is held";
            }
    }
    for (const model::OwnCase& own : report.project->cases)
        if (auto made = makeOwnCase(report, pose, own)) cases.push_back(std::move(made).value());
    return cases;
}

const PoseReport& findPoseOf(const Report& report, const model::OwnCase& own) {
    for (const PoseReport& pose : report.poses)
        if (pose.id && *pose.id == own.pose) return pose;
    return report.poses.front();
}

base::Result<stand::StandCase> makeOwnCase(const Report& report, const PoseReport& pose, const model::OwnCase& own) {
    const model::PartIndex index(*report.project);
    const auto centreOf = [&](const model::PartId& id) -> std::optional<geometry::Vec3> {
        const model::PartSpot spot = index.find(id);
        if (spot.section < 0) return std::nullopt;
        return pose.placed.X_WP(spot) * getPart(*report.project, spot).shape->centre;
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
    made.accelerationG = (std::sin(slope) * own.downG + own.asideG) * way - std::cos(slope) * own.downG * geometry::Vec3::UnitZ();
    made.strapped = own.strapped;
    for (const model::PartId& hand : own.hands) {
        const auto at = centreOf(hand);
        if (!at) return gone(hand);
        made.hands.push_back(*at);
    }
    made.ground = made.hands.empty();
    if (made.ground && pose.stance.kind == model::Stance::Kind::Held)
        return base::Error{"case.ground", own.name + " stands on the ground, which " + pose.name + " does not: name a hand", ""};
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

stand::StandCase makeHalfBuilt(const Report& report, int step) {
    stand::StandCase half;
    half.kind = stand::CaseKind::HalfBuilt;
    half.key = "step" + std::to_string(step);
    half.name = "half-built at step " + std::to_string(step);
    auto built = std::make_shared<std::set<model::PartSpot>>();
    const auto steps = make::listSteps(*report.project, report.tree);
    for (std::size_t s = 0; s < steps.size() && static_cast<int>(s) < step; ++s)
        for (const int part : steps[s].added) built->insert({steps[s].section, part});
    half.built = [built](model::PartSpot spot) { return built->count(spot) > 0; };
    return half;
}

base::Result<stand::CaseResult> calcStandCase(const Report& report, const PoseReport& pose, const stand::StandCase& standCase,
                                              const stand::EquilibriumRequest& request) {
    return stand::calcWorstCase(pose.placed, report.bonds, calcBondLimits(report), standCase, request);
}

std::vector<std::optional<base::Result<stand::CaseResult>>>
calcStandCases(const Report& report, const PoseReport& pose, std::span<const stand::StandCase> cases, const stand::EquilibriumRequest& request,
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
                    tbb::this_task_arena::isolate([&] { result = calcStandCase(report, pose, cases[c], request); });
                    const std::lock_guard lock(telling);
                    if (!known(c, result)) going = false;
                    results[c] = std::move(result);
                }
            },
            tbb::simple_partitioner());
    });
    return results;
}

std::vector<stand::BallastProposal> listBallast(const Report& report, std::span<const stand::Standing> standings, double wishDeg) {
    std::vector<stand::BallastProposal> proposals;
    for (std::size_t s = 0; s < report.project->sections.size(); ++s)
        if (const auto proposal = stand::calcBallast(standings, static_cast<int>(s), wishDeg, kMostBallastG)) proposals.push_back(*proposal);
    return proposals;
}

base::Result<stand::CoreProposal> calcCore(const Report& report, const PoseReport& pose, base::Progress* progress) {
    const auto tip = [&](const std::set<model::PartSpot>& out) {
        // The ground corners of parts that are left out carry nothing; the centre of gravity moves.
        std::vector<geometry::Vec3> corners;
        double gram = 0;
        geometry::Vec3 moment = geometry::Vec3::Zero();
        const auto whole = model::calcMass(pose.placed);
        for (std::size_t s = 0; s < pose.placed.X_WS.size(); ++s)
            for (std::size_t p = 0; p < report.project->sections[s]->parts.size(); ++p) {
                const model::PartSpot spot{static_cast<int>(s), static_cast<int>(p)};
                const model::Part& part = getPart(*report.project, spot);
                const geometry::Pose X_WP = pose.placed.X_WP(spot);
                if (out.count(spot) > 0) {
                    gram += part.massG();
                    moment += part.massG() * (X_WP * part.shape->centre);
                    continue;
                }
                for (const auto& solid : part.shape->solids)
                    if (geometry::calcBounds(solid.solid, X_WP).low.z() <= model::kGroundContactMm) geometry::appendCorners(corners, solid.solid, X_WP);
            }
        auto tipping = stand::calcTipping(pose.placed, corners);
        if (!tipping || !(whole.massG - gram > 0)) return -90.0;
        return stand::calcTippingWith(*tipping, -gram, moment / std::max(gram, 1e-12)).angleDeg;
    };
    stand::CoreWish wish;
    wish.leastTipDeg = getAskedTipDeg(*report.project);
    return stand::proposeCore(pose.placed, report.bonds, calcBondLimits(report), wish, tip, progress);
}

model::EditResult leaveOutCore(const model::Project& project, const std::vector<model::PartSpot>& parts) {
    std::vector<model::PartId> ids;
    ids.reserve(parts.size());
    for (const model::PartSpot spot : parts) ids.push_back(getPart(project, spot).id);
    const auto isTaken = [&](const std::string& name) {
        return std::any_of(project.variants.begin(), project.variants.end(), [&](const auto& variant) { return variant.name == name; });
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
        if (result.net.contacts[k].a >= 0 && result.equilibrium.forces[k].use >= least) order.push_back(static_cast<int>(k));
    const auto use = [&](int k) { return result.equilibrium.forces[static_cast<std::size_t>(k)].use; };
    std::stable_sort(order.begin(), order.end(), [&](int l, int r) { return use(l) > use(r); });
    if (order.size() > most) order.resize(most);
    return order;
}

std::vector<model::PartId> listParts(const model::Project& project, const stand::CaseResult& result, int contact) {
    std::vector<model::PartId> parts;
    const stand::Contact& c = result.net.contacts[static_cast<std::size_t>(contact)];
    for (const int body : {c.b, c.a})
        if (body >= 0) parts.push_back(getPart(project, result.net.bodies[static_cast<std::size_t>(body)].spot).id);
    return parts;
}

std::string describeContact(const model::Project& project, const stand::CaseResult& result, int contact) {
    const stand::Contact& c = result.net.contacts[static_cast<std::size_t>(contact)];
    const auto name = [&](int body) { return describePart(project, result.net.bodies[static_cast<std::size_t>(body)].spot); };
    if (c.a < 0) return name(c.b) + (c.kind == ContactKind::Ground ? " on the ground" : " in the hand");
    const std::size_t studs = c.studs.size();
    std::string how = c.joint >= 0                   ? "joint " + project.joints[static_cast<std::size_t>(c.joint)].name
                      : c.kind == ContactKind::Studs ? (studs == 1 ? "one stud" : std::to_string(studs) + " studs")
                      : c.kind == ContactKind::Pin   ? "pin"
                      : c.kind == ContactKind::Fixed ? "axle or stud in a hole"
                      : c.kind == ContactKind::Joint ? "clip, ball or hinge"
                      : c.kind == ContactKind::Rest  ? "lying on it"
                                                     : "friction";
    return name(c.b) + " on " + name(c.a) + ", " + how;
}

std::string lambdaText(const stand::Equilibrium& e) {
    if (!e.lambda) return "λ not known";
    if (std::isinf(*e.lambda)) return "no strength of bonds helps";
    const bool close = std::abs(*e.lambda - 1) < 0.01; // rounded it would look like 1
    return std::string("λ ") + (e.lambdaAtMost ? "≤ " : "") + formatNumber(*e.lambda, close ? 4 : *e.lambda < 1 ? 2 : 1);
}

std::string countText(std::size_t count, const std::string& one, const std::string& many) { return std::to_string(count) + " " + (count == 1 ? one : many); }

std::string describeOutcome(const stand::CaseResult& result) {
    const stand::Equilibrium& e = result.equilibrium;
    if (e.givesWay == stand::GivesWay::Slides)
        return "slides: the ground's friction of " + formatNumber(stand::kGroundFriction, 1) + " (a starting value) is too little";
    if (e.givesWay == stand::GivesWay::Tips) return "tips over as a whole: no strength of bonds helps";
    std::string text = e.stands            ? "holds"
                       : !e.certain        ? "not settled"
                       : e.falling.empty() ? "does not quite hold"
                                           : countText(e.falling.size(), "part falls", "parts fall");
    if (!e.stands && !e.undecided.empty()) text += ", " + countText(e.undecided.size(), "light part undecided", "light parts undecided");
    if (!e.lambda) return text;
    if (std::isinf(*e.lambda)) return text + "; no strength of bonds helps";
    return text + "; " + lambdaText(e);
}

} // namespace ivrant::verdict
