// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/study/facts.h"

#include <algorithm>
#include <array>
#include <atomic>
#include <mutex>
#include <stdexcept>
#include <tbb/parallel_for.h>
#include <tbb/task_group.h>

#include "core/drive/part_reader.h"
#include "core/pose/loop_loads.h"
#include "core/pose/stance.h"
#include "core/study/assembly.h"
#include "core/study/drive_inputs.h"
#include "core/study/kept_facts.h"
#include "core/study/modules.h"
#include "core/study/motion.h"
#include "core/study/stand_cases.h"
#include "core/study/strands.h"
#include "core/study/worst_load.h"
#include "core/trials/strengths.h"

namespace ivrant::study {

PoseFacts calcPoseFacts(const std::shared_ptr<const model::Project>& project, const pose::RangeContext& context,
                        const model::NamedPose* named, const base::Progress* progress, const Wanted& wanted,
                        const PoseBefore& before) {
    PoseFacts facts;
    if (named) facts.id = named->id;
    facts.name = named ? named->name : "Present";
    facts.stance = named ? named->stands : pose::getDefaultStance(*project, context.tree);
    facts.values = pose::getValues(*project, named);
    const bool all = !wanted.inPose || wanted.inPose(named);
    for (std::size_t j = 0; all && wanted.has(kRanges | kLoads) && j < project->joints.size(); ++j)
        for (int k = 0; k < project->joints[j].kind->freedomCount(); ++k) {
            if (progress && progress->stopped()) return facts;
            if (!wanted.has(kLoads) && wanted.ofJoint && !wanted.ofJoint(project->joints[j]))
                continue; // loads need the ranges of all
            pose::KeptRange kept{before.change, nullptr};
            if (before.facts && facts.ranges.size() < before.facts->ranges.size())
                kept.before = &before.facts->ranges[facts.ranges.size()];
            if (kept.before && (kept.before->joint != static_cast<int>(j) || kept.before->freedom != k))
                kept.before = nullptr; // not all were looked for, then or now
            facts.ranges.push_back(pose::calcRange(context, facts.values, static_cast<int>(j), k, progress,
                                                   kept.before ? &kept : nullptr));
        }
    facts.placed = pose::calcPlaced(*project, context.tree, facts.values);
    pose::applyStance(facts.placed, facts.stance);
    if (all && wanted.has(kLoads)) {
        const auto strengths = trials::calcStrengths(*project);
        const auto ground = pose::calcGroundForces(facts.placed, context.tree, facts.stance);
        facts.loads = pose::calcLoads(facts.placed, context.tree, strengths, ground);
        pose::applyLoops(facts.loads, facts.placed, context.tree, facts.values, facts.stance, strengths, ground);
        pose::applyRests(facts.loads, facts.ranges, facts.placed, context.tree);
    }
    if (all && wanted.has(kCollisions)) facts.collisions = pose::calcCollisions(facts.placed, context.bodies);
    facts.rings = pose::calcRingGaps(pose::Kinematics(*project, context.tree), facts.placed.X_WS);
    facts.tipping = stand::calcTipping(facts.placed, pose::listGroundCorners(facts.placed, kGroundMm));
    return facts;
}

namespace {

std::atomic<unsigned> g_broken{0}; ///< for tests

constexpr double kLambdaGap = 1e-3; ///< λ is shown to two places

/// Bonds at rest, for figures that stand. Without `use` the forces are those that λ was found with: the bonds that
/// limit it are used most there too.
std::shared_ptr<const stand::CaseResult> calcAtRest(const Facts& facts, const PoseFacts& pose, bool use,
                                                    const base::Progress* progress) {
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
    Finder(Facts& facts, const Wanted& wanted, base::Progress* progress, const Facts* before)
        : m_kept(before ? KeptFacts(*before, facts) : KeptFacts()), m_facts(facts), m_wanted(wanted),
          m_progress(progress), m_context{facts.project.get(), facts.tree, *facts.bodies} {}

    /// Poses do not depend on each other; each has its own place for its result, so any number of threads gives the
    /// same.
    void findPoses() {
        const auto& named = m_facts.project->poses;
        const std::size_t count = named.size() + 1;
        m_facts.poses.resize(named.size());
        std::atomic<std::size_t> done{0};
        tbb::parallel_for(std::size_t{0}, count, [&](std::size_t q) {
            PoseFacts& target = q < named.size() ? m_facts.poses[q] : m_facts.present;
            target = takePose(q < named.size() ? &named[q] : nullptr);
            if (m_progress) m_progress->report(static_cast<double>(++done) / static_cast<double>(count));
        });
        if (named.empty())
            m_facts.poses.push_back(m_facts.present); // a pose of its own only when there is no named one
    }

    /// When the poses are known: what is kept of the rest. Of a large model all that comes late, or none of it.
    unsigned takeKept(unsigned planned, bool live) {
        if (!m_kept.before()) return 0;
        const Facts& before = *m_kept.before();
        unsigned same = m_kept.findUnchanged(m_facts) & planned;
        constexpr unsigned kLate = kBonds | kMoves;
        if (!live && (same & kLate) != kLate) same &= ~(kLate | kModules);
        if (!live && (same & kAtRest) != 0) m_facts.poses.front().standing = before.poses.front().standing;
        if ((same & kWorst) != 0) m_facts.worst = before.worst;
        if ((same & kMoves) != 0) m_facts.moves = before.moves;
        if ((same & kStructure) != 0) m_facts.structure = before.structure;
        if ((same & kOwnCases) != 0) m_facts.ownCases = before.ownCases;
        if ((same & kHidden) != 0) m_facts.hidden = before.hidden;
        if ((same & kModules) != 0) m_facts.modules = before.modules;
        if ((same & kMotions) != 0) m_facts.motions = before.motions;
        if ((same & kLines) != 0) m_facts.lines = before.lines;
        // Bonds are those of a pose: the stage goes on for the others.
        m_keepsAtRest = (same & kAtRest) != 0;
        return live ? same & ~kAtRest : same;
    }

    void findDrive() {
        if (!m_facts.project->boards.empty() || drive::hasDriveParts(*m_facts.project))
            m_facts.drive = std::make_shared<const drive::DriveReport>(calcDrive(m_facts.present.placed, m_facts.tree));
    }

    /// Each of these reads what was found before and writes a place of its own.
    void find(unsigned which) {
        tbb::task_group tasks;
        const auto run = [&](unsigned fact, const std::function<void()>& seek) {
            if ((which & fact) != 0) tasks.run([this, fact, seek] { guard(fact, seek); });
        };
        run(kAtRest, [&] {
            tbb::parallel_for(std::size_t{0}, m_facts.poses.size(),
                              [&](std::size_t q) { m_facts.poses[q].standing = takeAtRest(q); });
            if (m_facts.project->poses.empty()) m_facts.present.standing = m_facts.poses.front().standing;
        });
        run(kMoves, [&] { m_facts.moves = calcMoveTips(m_facts); });
        run(kWorst, [&] {
            tbb::parallel_for(std::size_t{0}, m_facts.worst.size(), [&](std::size_t j) {
                const pose::WorstLoad* kept = m_kept.before() ? m_kept.findWorst(m_facts, j) : nullptr;
                m_facts.worst[j] =
                    kept ? *kept : findWorst(m_facts, m_context, static_cast<int>(j), m_facts.strengths[j]);
                // A ring that holds as one is judged in the poses; alone none of its joints moves over its wanted
                // range.
                // Nor is it known what a band across it would do there.
                if ((m_facts.present.loads.size() > j && m_facts.present.loads[j].ring >= 0) ||
                    isPulledAcross(*m_facts.project, m_facts.tree, static_cast<int>(j))) {
                    m_facts.worst[j].needNmm = 0;
                    m_facts.worst[j].margin.reset();
                }
            });
        });
        run(kOwnCases, [&] { m_facts.ownCases = calcOwnCases(m_facts, m_progress); });
        run(kStructure, [&] { m_facts.structure = calcStructure(m_facts); });
        run(kAssembly, [&] { m_facts.assembly = calcAssembly(m_facts, m_progress); });
        run(kModules, [&] { m_facts.modules = calcModules(m_facts, m_progress); });
        run(kMotions, [&] { m_facts.motions = calcMotions(m_facts, m_progress); });
        run(kLines, [&] { m_facts.lines = calcStrands(m_facts, m_progress); });
        run(kHidden, [&] { m_facts.hidden = calcHiddenOf(m_facts, m_progress); });
        tasks.wait();
    }

    [[nodiscard]] bool isStopped() const { return m_progress && m_progress->stopped(); }

private:
    /// What goes wrong inside one fact leaves all others as they are.
    void guard(unsigned fact, const std::function<void()>& seek) {
        try {
            if ((g_broken & fact) != 0) throw std::logic_error("broken on purpose");
            seek();
        } catch (const std::exception& e) {
            const std::lock_guard lock(m_failing);
            m_facts.failed |= fact;
            m_facts.failure = e.what();
        }
    }

    PoseFacts takePose(const model::NamedPose* named) const {
        const PoseFacts* kept = m_kept.before() ? m_kept.findPose(*m_facts.project, named) : nullptr;
        if (!kept)
            return calcPoseFacts(m_facts.project, m_context, named, m_progress, m_wanted,
                                 m_kept.findRanges(*m_facts.project, named));
        PoseFacts taken = *kept;
        taken.placed.project = m_facts.project.get();
        taken.provenUse.reset();
        taken.standing.reset(); // found, or taken over, in its own stage
        return taken;
    }

    std::shared_ptr<const stand::CaseResult> takeAtRest(std::size_t q) const {
        const auto& named = m_facts.project->poses;
        const PoseFacts* kept =
            m_keepsAtRest ? m_kept.findPose(*m_facts.project, q < named.size() ? &named[q] : nullptr) : nullptr;
        return kept ? kept->standing : calcAtRest(m_facts, m_facts.poses[q], false, m_progress);
    }

    KeptFacts m_kept;
    bool m_keepsAtRest = false;
    std::mutex m_failing;
    Facts& m_facts;
    const Wanted& m_wanted;
    base::Progress* m_progress;
    pose::RangeContext m_context;
};

/// In this order after what every pose is looked at for.
constexpr std::array<unsigned, 2> kStages{kWorst | kAtRest | kMoves,
                                          kStructure | kOwnCases | kHidden | kAssembly | kModules | kMotions | kLines};

} // namespace

Facts calcFacts(std::shared_ptr<const model::Project> project, const Wanted& wanted, base::Progress* progress,
                const OnStage& onStage, const Facts* before) {
    Facts facts;
    facts.project = std::move(project);
    facts.tree = model::makeTree(*facts.project).value(); // a Project is valid by construction
    facts.bonds = bonds::calcBonds(*facts.project);
    facts.bodies = std::make_shared<const pose::Bodies>(pose::makeBodies(*facts.project, facts.tree, facts.bonds));
    facts.strengths = trials::calcStrengths(*facts.project);
    facts.worst.resize(facts.project->joints.size());
    const bool live = facts.project->partCount() <= kMostPartsLive;
    unsigned planned = wanted.facts & (live ? kAll : kAll & ~(kBonds | kMoves | kAssembly | kModules));
    Finder finder(facts, wanted, progress, before);
    const auto end = [&](unsigned found) { // of a stage; false: no further one
        facts.complete = !finder.isStopped();
        if (!facts.complete) return false;
        facts.known |= found;
        if (onStage) onStage(facts, planned & ~facts.known);
        return true;
    };
    finder.findPoses();
    facts.complete = !finder.isStopped(); // then poses may be without their places
    if (!facts.complete) return facts;
    // What a drive holds, bonds and moves need to know.
    if (wanted.has(kDrive | kBonds | kMoves)) finder.findDrive();
    const unsigned kept = finder.takeKept(wanted.facts, live);
    if (!live && (kept & kMoves) != 0) // nothing comes late: the order of building is looked at now
        planned |= wanted.facts & (kAssembly | kModules);
    if (!end((planned & (kRanges | kLoads | kCollisions | kDrive)) | kept)) return facts;
    for (const unsigned stage : kStages) {
        if ((stage & planned & ~kept) == 0) continue;
        finder.find(stage & planned & ~kept);
        if (!end(stage & planned)) return facts;
    }
    return facts;
}

void breakFacts(unsigned facts) { g_broken = facts; }

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
    Facts late = facts; // all of it or nothing: what was stopped on the way is not known
    PoseFacts& pose = late.poses.front();
    pose.standing = calcAtRest(late, pose, true, progress);
    if (!pose.standing) return false;
    late.structure = calcStructure(late);
    late.ownCases = calcOwnCases(late, progress);
    late.hidden = calcHiddenOf(late, progress);
    late.moves = calcMoveTips(late);
    late.assembly = calcAssembly(late, progress);
    late.modules = calcModules(late, progress);
    late.known |= kBonds | kMoves | kAssembly | kModules;
    if (progress && progress->stopped()) return false;
    facts = std::move(late);
    return true;
}

} // namespace ivrant::study
