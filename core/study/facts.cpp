#include "core/study/facts.h"

#include <algorithm>
#include <array>
#include <atomic>
#include <tbb/parallel_for.h>
#include <tbb/task_group.h>

#include "core/pose/stance.h"
#include "core/study/drive_inputs.h"
#include "core/study/stand_cases.h"
#include "core/study/worst_load.h"
#include "core/trials/strengths.h"

namespace ivrant::study {

PoseFacts calcPoseFacts(const std::shared_ptr<const model::Project>& project, const pose::RangeContext& context, const model::NamedPose* named,
                        const base::Progress* progress, const Wanted& wanted) {
    PoseFacts facts;
    if (named) facts.id = named->id;
    facts.name = named ? named->name : "Present";
    facts.stance = named ? named->stands : pose::getDefaultStance(*project, context.tree);
    facts.values = pose::getValues(*project, named);
    const bool all = !wanted.inPose || wanted.inPose(named);
    for (std::size_t j = 0; all && wanted.has(kRanges | kLoads) && j < project->joints.size(); ++j)
        for (int k = 0; k < project->joints[j].kind->freedomCount(); ++k) {
            if (progress && progress->stopped()) return facts;
            if (!wanted.has(kLoads) && wanted.ofJoint && !wanted.ofJoint(project->joints[j])) continue; // loads need the ranges of all
            facts.ranges.push_back(pose::calcRange(context, facts.values, static_cast<int>(j), k, progress));
        }
    facts.placed = pose::calcPlaced(*project, context.tree, facts.values);
    pose::applyStance(facts.placed, facts.stance);
    if (all && wanted.has(kLoads)) {
        facts.loads =
            pose::calcLoads(facts.placed, context.tree, trials::calcStrengths(*project), pose::calcGroundForces(facts.placed, context.tree, facts.stance));
        pose::applyRests(facts.loads, facts.ranges, facts.placed, context.tree);
    }
    if (all && wanted.has(kCollisions)) facts.collisions = pose::calcCollisions(facts.placed, context.bodies);
    facts.rings = pose::calcRingGaps(pose::Kinematics(*project, context.tree), facts.placed.X_WS);
    facts.tipping = stand::calcTipping(facts.placed, pose::listGroundCorners(facts.placed, kGroundMm));
    return facts;
}

namespace {

constexpr double kLambdaGap = 1e-3; ///< λ is shown to two places

/// Bonds at rest, for figures that stand. Without `use` the forces are those that λ was found with: the bonds that limit it are used most there too.
std::shared_ptr<const stand::CaseResult> calcAtRest(const Facts& facts, const PoseFacts& pose, bool use, const base::Progress* progress) {
    if (!pose.tipping) return nullptr;
    stand::EquilibriumRequest request;
    request.progress = progress;
    request.use = use;
    request.gap = kLambdaGap;
    stand::StandCase atRest;
    atRest.held = findHeldSection(facts, pose);
    atRest.ground = !atRest.held;
    atRest.strapped = atRest.ground && pose.tipping->angleDeg < 0; // that it falls over is told by its tip angle
    auto result = calcStandCase(facts, pose, atRest, request);
    if (!result) return nullptr;
    return std::make_shared<const stand::CaseResult>(std::move(result).value());
}

std::shared_ptr<const Hidden> calcHiddenOf(const Facts& facts, base::Progress* progress) {
    auto hidden = calcHidden(facts, progress);
    return hidden ? std::make_shared<const Hidden>(std::move(hidden).value()) : nullptr;
}

/// One run over a snapshot: the stages share what they need of each other, nothing else does.
class Finder {
public:
    Finder(Facts& facts, const Wanted& wanted, base::Progress* progress)
        : m_facts(facts), m_wanted(wanted), m_progress(progress), m_context(pose::makeRangeContext(*facts.project, facts.tree, facts.bonds)) {}

    /// Poses do not depend on each other; each has its own place for its result, so any number of threads gives the same.
    void findPoses() {
        const auto& named = m_facts.project->poses;
        const std::size_t count = named.size() + 1;
        m_facts.poses.resize(named.size());
        std::atomic<std::size_t> done{0};
        tbb::parallel_for(std::size_t{0}, count, [&](std::size_t q) {
            PoseFacts& target = q < named.size() ? m_facts.poses[q] : m_facts.present;
            target = calcPoseFacts(m_facts.project, m_context, q < named.size() ? &named[q] : nullptr, m_progress, m_wanted);
            if (m_progress) m_progress->report(static_cast<double>(++done) / static_cast<double>(count));
        });
        if (named.empty()) m_facts.poses.push_back(m_facts.present); // a pose of its own only when there is no named one
    }

    void findDrive() {
        if (!m_facts.project->boards.empty()) m_facts.drive = std::make_shared<const drive::DriveReport>(calcDrive(m_facts.present.placed, m_facts.tree));
    }

    /// Each of these reads what was found before and writes a place of its own.
    void find(unsigned which) {
        tbb::task_group tasks;
        if ((which & kAtRest) != 0)
            tasks.run([&] {
                tbb::parallel_for(std::size_t{0}, m_facts.poses.size(),
                                  [&](std::size_t q) { m_facts.poses[q].standing = calcAtRest(m_facts, m_facts.poses[q], false, m_progress); });
                if (m_facts.project->poses.empty()) m_facts.present.standing = m_facts.poses.front().standing;
            });
        if ((which & kMoves) != 0) tasks.run([&] { m_facts.moves = calcMoveTips(m_facts); });
        if ((which & kWorst) != 0)
            tasks.run([&] {
                tbb::parallel_for(std::size_t{0}, m_facts.worst.size(),
                                  [&](std::size_t j) { m_facts.worst[j] = findWorst(m_facts, m_context, static_cast<int>(j), m_facts.strengths[j]); });
            });
        if ((which & kOwnCases) != 0) tasks.run([&] { m_facts.ownCases = calcOwnCases(m_facts, m_progress); });
        if ((which & kStructure) != 0) tasks.run([&] { m_facts.structure = calcStructure(m_facts); });
        if ((which & kHidden) != 0) tasks.run([&] { m_facts.hidden = calcHiddenOf(m_facts, m_progress); });
        tasks.wait();
    }

    [[nodiscard]] bool isStopped() const { return m_progress && m_progress->stopped(); }

private:
    Facts& m_facts;
    const Wanted& m_wanted;
    base::Progress* m_progress;
    pose::RangeContext m_context;
};

/// In this order after what every pose is looked at for.
constexpr std::array<unsigned, 2> kStages{kWorst | kAtRest | kMoves, kStructure | kOwnCases | kHidden};

} // namespace

Facts calcFacts(std::shared_ptr<const model::Project> project, const Wanted& wanted, base::Progress* progress, const OnStage& onStage) {
    Facts facts;
    facts.project = std::move(project);
    facts.tree = model::makeTree(*facts.project).value(); // a Project is valid by construction
    facts.bonds = bonds::calcBonds(*facts.project);
    facts.strengths = trials::calcStrengths(*facts.project);
    facts.worst.resize(facts.project->joints.size());
    const bool live = facts.project->partCount() <= kMostPartsLive;
    const unsigned planned = wanted.facts & (live ? kAll : kAll & ~(kBonds | kMoves));
    Finder finder(facts, wanted, progress);
    const auto end = [&](unsigned found) { // of a stage; false: no further one
        facts.complete = !finder.isStopped();
        if (!facts.complete) return false;
        facts.known |= found & planned;
        if (onStage) onStage(facts, planned & ~facts.known);
        return true;
    };
    finder.findPoses();
    // What a drive holds, bonds and moves need to know.
    if ((planned & (kDrive | kBonds | kMoves)) != 0) finder.findDrive();
    if (!end(kRanges | kLoads | kCollisions | kDrive)) return facts;
    for (const unsigned stage : kStages) {
        if ((stage & planned) == 0) continue;
        finder.find(stage & planned);
        if (!end(stage)) return facts;
    }
    return facts;
}

bool lacksBonds(const Facts& facts) {
    const std::size_t parts = facts.project->partCount();
    return parts > kMostPartsLive && parts <= kMostPartsForBonds && facts.complete && !facts.poses.front().standing;
}

void findQuickProof(Facts& facts, stand::KeptForces& kept, base::Progress* progress) {
    PoseFacts& pose = facts.poses.front();
    if (!lacksBonds(facts) || !pose.tipping || pose.stance.kind == model::Stance::Kind::Held) return;
    const auto net = stand::makeBondNet(pose.placed, facts.bonds, calcBondLimits(facts));
    stand::CertificateRequest request;
    request.progress = progress;
    if (!kept.values.empty()) request.start = &kept;
    auto certificate = stand::calcCertificate(net, stand::calcLoads(net, {0, 0, -1}), request);
    if (!certificate || !certificate->stands) return;
    pose.provenUse = certificate->largestUse;
    kept = std::move(certificate).value().forces;
}

bool findLateFacts(Facts& facts, base::Progress* progress) {
    if (!lacksBonds(facts)) return false;
    PoseFacts& pose = facts.poses.front();
    pose.standing = calcAtRest(facts, pose, true, progress);
    if (!pose.standing) return false;
    facts.structure = calcStructure(facts);
    facts.ownCases = calcOwnCases(facts, progress);
    facts.hidden = calcHiddenOf(facts, progress);
    facts.moves = calcMoveTips(facts);
    facts.known |= kBonds | kMoves;
    return true;
}

} // namespace ivrant::study
