#include "core/verdict/check.h"

#include <algorithm>
#include <atomic>
#include <tbb/parallel_for.h>
#include <tbb/task_group.h>

#include "core/bench/strengths.h"
#include "core/pose/stance.h"
#include "core/verdict/check_stand.h"
#include "core/verdict/collect.h"
#include "core/verdict/drive_inputs.h"
#include "core/verdict/stand_cases.h"

namespace ivrant::verdict {

PoseReport calcPoseReport(const std::shared_ptr<const model::Project>& project, const pose::RangeContext& context, const model::NamedPose* named,
                          const base::Progress* progress, const Wanted& wanted) {
    PoseReport report;
    if (named) report.id = named->id;
    report.name = named ? named->name : "Present";
    report.stance = named ? named->stands : pose::getDefaultStance(*project, context.tree);
    report.values = pose::getValues(*project, named);
    const bool all = !wanted.inPose || wanted.inPose(named);
    for (std::size_t j = 0; all && wanted.has(kRanges | kLoads) && j < project->joints.size(); ++j)
        for (int k = 0; k < project->joints[j].kind->freedomCount(); ++k) {
            if (progress && progress->stopped()) return report;
            if (!wanted.has(kLoads) && wanted.ofJoint && !wanted.ofJoint(project->joints[j])) continue; // loads need the ranges of all
            report.ranges.push_back(pose::calcRange(context, report.values, static_cast<int>(j), k, progress));
        }
    report.placed = pose::calcPlaced(*project, context.tree, report.values);
    pose::applyStance(report.placed, report.stance);
    if (all && wanted.has(kLoads)) {
        report.loads =
            pose::calcLoads(report.placed, context.tree, bench::calcStrengths(*project), pose::calcGroundForces(report.placed, context.tree, report.stance));
        pose::applyRests(report.loads, report.ranges, report.placed, context.tree);
    }
    if (all && wanted.has(kCollisions)) report.collisions = pose::calcCollisions(report.placed, context.bodies);
    report.rings = pose::calcRingGaps(pose::Kinematics(*project, context.tree), report.placed.X_WS);
    report.tipping = stand::calcTipping(report.placed, pose::listGroundCorners(report.placed, kGroundMm));
    return report;
}

const PoseReport& findWorstPose(const Report& report, std::size_t joint) {
    return *std::max_element(report.poses.begin(), report.poses.end(),
                             [&](const PoseReport& l, const PoseReport& r) { return l.loads[joint].needNmm < r.loads[joint].needNmm; });
}

namespace {

stand::Tipping calcTippingOf(const Report& report, const pose::JointValues& values, const model::Stance& stance, model::Placed& placed) {
    placed = pose::calcPlaced(*report.project, report.tree, values);
    pose::applyStance(placed, stance);
    return stand::calcTipping(placed, pose::listGroundCorners(placed, kGroundMm)).value_or(stand::Tipping{});
}

bool stillStands(const Report& report, const pose::WorstLoad& worst) {
    if (worst.stance.kind == model::Stance::Kind::Held) return true;
    model::Placed placed;
    return calcTippingOf(report, worst.values, worst.stance, placed).angleDeg >= worst.tiltDeg;
}

/// Tilts of the base with which a pose still stands; none when it falls on level ground.
std::optional<pose::StandSet> calcStandSet(const Report& report, const pose::JointValues& values, const model::Stance& stance, int ground) {
    model::Placed placed;
    const stand::Tipping tip = calcTippingOf(report, values, stance, placed);
    if (!(tip.angleDeg > 0) || tip.support.size() < 3) return std::nullopt;
    pose::StandSet set;
    set.axes = placed.X_WS[static_cast<std::size_t>(ground)].linear().transpose();
    for (const auto& corner : tip.support) set.polygon.push_back((corner - tip.centre.head<2>()) / std::max(tip.centre.z(), 1e-6));
    return set;
}

} // namespace

pose::WorstLoad findWorst(const Report& report, const pose::RangeContext& context, int joint, const model::JointStrength& strength) {
    std::optional<pose::WorstLoad> worst;
    std::vector<std::pair<model::Stance::Kind, model::SectionId>> seen; // poses that stand alike ask alike, but for joints without wanted ranges
    for (const PoseReport& pose : report.poses) {
        const std::pair key(pose.stance.kind, pose.stance.section);
        if (pose.stance.kind != model::Stance::Kind::Settle && std::find(seen.begin(), seen.end(), key) != seen.end()) continue;
        seen.push_back(key);
        auto load = pose::calcWorstLoad(context, pose.values, pose.stance, joint, report.project->tiltDeg, strength);
        if (!worst || load.needNmm > worst->needNmm) worst = std::move(load);
    }
    if (worst->margin && *worst->margin < 1 && !stillStands(report, *worst)) {
        std::vector<pose::JointValues> starts;
        for (const PoseReport& pose : report.poses)
            if (pose.stance == worst->stance) starts.push_back(pose.values);
        starts.push_back(worst->values);
        const auto stands = [&, stance = worst->stance](const pose::JointValues& values, int ground) { return calcStandSet(report, values, stance, ground); };
        return pose::calcWorstStanding(context, starts, worst->stance, joint, std::clamp(report.project->tiltDeg, 0.0, kMostTiltDeg), strength, stands);
    }
    return *worst;
}

double getAskedTipDeg(const model::Project& project) { return std::clamp(project.tiltDeg, kUsualTipDeg, kMostTiltDeg); }
std::string describeAskedTip(const model::Project& project) { return project.tiltDeg >= kUsualTipDeg ? "the tilt asked of the base" : "a usual value"; }

namespace {

constexpr double kLambdaGap = 1e-3; ///< λ is shown to two places

/// Bonds at rest, for figures that stand. Without `use` the forces are those that λ was found with: the bonds that limit it are used most there too.
void addStanding(const Report& report, PoseReport& pose, bool use, const base::Progress* progress) {
    if (!pose.tipping) return;
    stand::EquilibriumRequest request;
    request.progress = progress;
    request.use = use;
    request.gap = kLambdaGap;
    stand::StandCase atRest;
    atRest.held = findHeldSection(report, pose);
    atRest.ground = !atRest.held;
    atRest.strapped = atRest.ground && pose.tipping->angleDeg < 0; // that it falls over is told by its tip angle
    auto result = calcStandCase(report, pose, atRest, request);
    if (result) pose.standing = std::make_shared<const stand::CaseResult>(std::move(result).value());
}

void addHidden(Report& report, base::Progress* progress = nullptr) {
    if (auto hidden = calcHidden(report, progress)) report.hidden = std::make_shared<const Hidden>(std::move(hidden).value());
}

} // namespace

Report calcReport(std::shared_ptr<const model::Project> project, base::Progress* progress, const Wanted& wanted) {
    Report report;
    report.project = std::move(project);
    auto tree = model::makeTree(*report.project);
    report.tree = std::move(tree).value(); // a Project is valid by construction
    report.bonds = bonds::calcBonds(*report.project);
    const auto context = pose::makeRangeContext(*report.project, report.tree, report.bonds);
    // Poses do not depend on each other; each has its own place for its result, so any number of threads gives the same.
    const std::size_t named = report.project->poses.size(), count = named + 1;
    report.poses.resize(named);
    std::atomic<std::size_t> done{0};
    tbb::parallel_for(std::size_t{0}, count, [&](std::size_t q) {
        PoseReport& target = q < named ? report.poses[q] : report.present;
        target = calcPoseReport(report.project, context, q < named ? &report.project->poses[q] : nullptr, progress, wanted);
        if (progress) progress->report(static_cast<double>(++done) / static_cast<double>(count));
    });
    if (progress && progress->stopped()) {
        report.complete = false;
        return report;
    }
    report.strengths = bench::calcStrengths(*report.project);
    // What a drive holds, bonds and moves need to know.
    if (wanted.has(kDrive | kBonds | kMoves) && !report.project->boards.empty())
        report.drive = std::make_shared<const drive::DriveReport>(calcDrive(report.present.placed, report.tree));
    const bool live = report.project->partCount() <= kMostPartsLive;
    if (live && wanted.has(kBonds))
        // The present values are a pose of their own only when there is no named one.
        tbb::parallel_for(std::size_t{0}, std::max<std::size_t>(1, named),
                          [&](std::size_t q) { addStanding(report, named > 0 ? report.poses[q] : report.present, false, progress); });
    if (report.poses.empty()) report.poses.push_back(report.present);
    report.worst.resize(report.project->joints.size());
    // Each of these reads what was found so far and writes a place of its own.
    tbb::task_group rest;
    if (live && wanted.has(kBonds)) {
        rest.run([&] { report.ownCases = calcOwnCases(report, progress); });
        rest.run([&] { report.structure = calcStructure(report); });
        rest.run([&] { addHidden(report); });
    }
    if (live && wanted.has(kMoves)) rest.run([&] { report.moves = calcMoveTips(report); });
    if (wanted.has(kWorst))
        tbb::parallel_for(std::size_t{0}, report.worst.size(),
                          [&](std::size_t j) { report.worst[j] = findWorst(report, context, static_cast<int>(j), report.strengths[j]); });
    rest.wait();
    if (wanted.facts != kAll) return report;
    collectVerdicts(report);
    return report;
}

bool lacksBonds(const Report& report) {
    const std::size_t parts = report.project->partCount();
    return parts > kMostPartsLive && parts <= kMostPartsForBonds && report.complete && !report.poses.front().standing;
}

Report addQuickBonds(Report report, stand::KeptForces& kept, base::Progress* progress) {
    PoseReport& pose = report.poses.front();
    if (!lacksBonds(report) || !pose.tipping || pose.stance.kind == model::Stance::Kind::Held) return report;
    const auto net = stand::makeBondNet(pose.placed, report.bonds, calcBondLimits(report));
    stand::CertificateRequest request;
    request.progress = progress;
    if (!kept.values.empty()) request.start = &kept;
    auto certificate = stand::calcCertificate(net, stand::calcLoads(net, {0, 0, -1}), request);
    if (!certificate || !certificate->stands) return report;
    pose.provenUse = certificate->largestUse;
    kept = std::move(certificate).value().forces;
    addBondVerdict(report, pose, report.verdicts);
    sortWorstFirst(report.verdicts);
    return report;
}

Report addBonds(Report report, base::Progress* progress) {
    if (!lacksBonds(report)) return report;
    PoseReport& pose = report.poses.front();
    addStanding(report, pose, true, progress);
    if (!pose.standing) return report;
    std::erase_if(report.verdicts, [](const Verdict& v) { return v.check == "bonds"; });
    addBondVerdict(report, pose, report.verdicts);
    report.structure = calcStructure(report);
    report.ownCases = calcOwnCases(report, progress);
    addHidden(report, progress);
    addStructureVerdicts(report, report.verdicts);
    addHiddenVerdict(report, report.verdicts);
    addOwnCaseVerdicts(report, report.verdicts);
    sortWorstFirst(report.verdicts);
    return report;
}

} // namespace ivrant::verdict
