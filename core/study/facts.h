// SPDX-License-Identifier: GPL-3.0-or-later
// What is known about a snapshot of a project, whatever is thought of it?
//
// Facts are found in stages, cheap ones first, each by its own pure function; a caller names those it wants. `known`
// tells which are there, so that what judges them can wait for exactly those it reads. The same project gives the same
// facts on any number of threads.
#pragma once

#include <functional>

#include "core/base/progress.h"
#include "core/drive/drive_report.h"
#include "core/pose/collide.h"
#include "core/pose/hold.h"
#include "core/pose/kept_ranges.h"
#include "core/pose/rings.h"
#include "core/pose/worst.h"
#include "core/stand/cases.h"
#include "core/stand/certificate.h"
#include "core/stand/structure.h"
#include "core/study/hidden.h"
#include "core/study/moves.h"

namespace ivrant::study {

struct Assembly;    // assembly.h
struct ModuleFacts; // modules.h
struct MotionStudy; // motion.h
struct StrandStudy; // strands.h

/// Up to that many parts the bonds and moves are looked at with all else; those of larger models follow
/// (findLateFacts), up to kMostPartsForBonds.
inline constexpr std::size_t kMostPartsLive = 1200, kMostPartsForBonds = 15'000;
inline constexpr double kGroundMm = 1; ///< solids that come this low are looked at for touching the ground

/// Facts that cost time, one bit each. Places, tipping, rings, strengths and what mates with what are always there.
enum Fact : unsigned {
    kRanges = 1,
    kLoads = 2, ///< with the ranges, as what a stop holds needs no holding
    kCollisions = 4,
    kWorst = 8,
    kDrive = 16,
    kMoves = 32,
    kAtRest = 64, ///< the bonds of every pose; of models above kMostPartsLive those of the first alone
    kStructure = 128,
    kOwnCases = 256,
    kHidden = 512,
    kAssembly = 1024, ///< whether it can be built as its steps say
    kModules = 2048,  ///< what lifts off, and what is within reach
    kMotions = 4096,  ///< what driven joints carry along
    kLines = 8192,    ///< what strings, bands and springs do
    kBonds = kAtRest | kStructure | kOwnCases | kHidden,
    kAll = 16383
};

struct PoseFacts {
    std::optional<model::PoseId> id; ///< none: the present values
    std::string name;                ///< "Present" without a pose
    model::Stance stance;
    pose::JointValues values;
    model::Placed placed; ///< as it stands; points into Facts::project
    std::vector<pose::FreedomRange> ranges;
    std::vector<pose::JointLoad> loads;
    std::vector<pose::Collision> collisions;
    std::vector<pose::RingGap> rings; ///< one for each closing joint
    std::optional<stand::Tipping> tipping;
    std::optional<double>
        provenUse; ///< quick proof that its bonds hold, no limit used by more; until `standing` is there
    std::shared_ptr<const stand::CaseResult> standing; ///< its bonds at rest; null: without weight, or not looked at
};

/// How a case of the builder's own came out.
struct OwnCaseFacts {
    model::CaseId id;
    std::string problem; ///< why it could not be looked at; else empty
    std::shared_ptr<const stand::CaseResult> result;
};

/// Weaknesses by pattern, in the first pose.
struct Structure {
    stand::BondNet net; ///< that bodies and contacts are numbered in
    std::vector<stand::Seam> seams;
    std::vector<stand::Neck> necks;
    std::vector<stand::Piece> pieces;
    std::vector<stand::FrictionHeld> friction;
    std::vector<stand::FlexibleBase> bases;
};

struct Facts {
    std::shared_ptr<const model::Project> project;
    model::SectionTree tree;
    std::vector<bonds::SectionBondsPtr> bonds;
    std::shared_ptr<const pose::Bodies> bodies; ///< what ranges and collisions were looked at with
    model::JointStrengths strengths;
    std::vector<pose::WorstLoad> worst; ///< per joint
    std::vector<PoseFacts> poses;       ///< named poses in order; the present values alone when there are none
    PoseFacts present;
    std::vector<MoveTip> moves;
    std::shared_ptr<const Structure> structure;
    std::shared_ptr<const Hidden> hidden;
    std::shared_ptr<const Assembly> assembly;
    std::shared_ptr<const ModuleFacts> modules;
    std::vector<std::shared_ptr<const MotionStudy>> motions; ///< one for each of the project's
    std::vector<std::shared_ptr<const StrandStudy>> lines;   ///< one for each of the project's
    std::vector<OwnCaseFacts> ownCases;                      ///< in the project's order
    std::shared_ptr<const drive::DriveReport> drive;         ///< null when nothing turns; points into the project
    unsigned known = 0;                                      ///< which of Fact have been found; what is not is empty
    unsigned failed = 0;  ///< which could not be found, as something went wrong inside the program; they count as known
    std::string failure;  ///< what it said
    bool complete = true; ///< false when stopped on the way
};

/// What is asked for; all else stays empty.
struct Wanted {
    unsigned facts = kAll;
    std::function<bool(const model::Joint&)> ofJoint; ///< ranges of these joints alone
    std::function<bool(const model::NamedPose*)>
        inPose; ///< ranges, loads and collisions in these poses alone, null standing for the present values

    [[nodiscard]] bool has(unsigned fact) const { return (facts & fact) != 0; }
};

/// One pose of a project. `named` null: the present values. `before`: facts of the same values before an edit, and what
/// it changed: its ranges are looked at again only where that can matter.
struct PoseBefore {
    const PoseFacts* facts = nullptr;
    const pose::BodyChange* change = nullptr;
};
[[nodiscard]] PoseFacts calcPoseFacts(const std::shared_ptr<const model::Project>& project,
                                      const pose::RangeContext& context, const model::NamedPose* named,
                                      const base::Progress* progress = nullptr, const Wanted& wanted = {},
                                      const PoseBefore& before = {});

/// Told after each stage, with what is known then and still of `wanted` to come (bits of Fact).
using OnStage = std::function<void(const Facts&, unsigned toCome)>;
/// The wanted facts, in stages: what an edit is looked at for first; then worst cases, bonds at rest and moves; last
/// what takes longest. Bonds and moves of models above kMostPartsLive are left to findLateFacts. Stopped: `complete` is
/// false. `before`: facts of an earlier snapshot; those that read nothing that has changed are taken over
/// (kept_facts.h), which gives the same bits as finding them again.
[[nodiscard]] Facts calcFacts(std::shared_ptr<const model::Project> project, const Wanted& wanted = {},
                              base::Progress* progress = nullptr, const OnStage& onStage = {},
                              const Facts* before = nullptr);

/// For tests: from now on these facts (bits of Fact but those of kRanges, kLoads, kCollisions and kDrive) throw when
/// they are sought; 0: none.
void breakFacts(unsigned facts);

/// Is the model too large for its bonds to be looked at after every edit, and not yet looked at?
[[nodiscard]] bool lacksBonds(const Facts& facts);
/// Quick proof that its first pose stands, if there is one (`provenUse`); `kept` starts from the last proof and takes
/// up the new one.
void findQuickProof(Facts& facts, stand::KeptForces& kept, base::Progress* progress = nullptr);
/// What calcFacts leaves out of large models: bonds of the first pose, structure, own cases, what nobody sees, moves.
/// Seconds for thousands of parts; false and as they were when stopped.
[[nodiscard]] bool findLateFacts(Facts& facts, base::Progress* progress = nullptr);

} // namespace ivrant::study
