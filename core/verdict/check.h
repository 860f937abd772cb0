// What are all the verdicts on a project?
//
// Runs every analysis there is on one snapshot: part checks, ranges and holding in every pose, collisions,
// tipping and the gear boards.
// Pure: the same project gives the same verdicts.
#pragma once

#include <functional>

#include "core/base/progress.h"
#include "core/drive/drive_report.h"
#include "core/pose/collide.h"
#include "core/pose/hold.h"
#include "core/pose/rings.h"
#include "core/pose/worst.h"
#include "core/stand/cases.h"
#include "core/stand/certificate.h"
#include "core/stand/structure.h"
#include "core/verdict/hidden.h"
#include "core/verdict/moves.h"
#include "core/verdict/verdict.h"

namespace ivrant::verdict {

/// Tip angle asked of every standing pose when the project does not say (a starting value).
inline constexpr double kUsualTipDeg = 8.0;
inline constexpr double kMostTiltDeg = 45; ///< a file that asks for more is told so, and looked at up to here
/// Tip angle asked of a project: the tilt that is asked of its base, at least the usual angle.
[[nodiscard]] double getAskedTipDeg(const model::Project& project);
/// "a usual value", "the tilt asked of the base".
[[nodiscard]] std::string describeAskedTip(const model::Project& project);
/// Up to that many parts the bonds are looked at with all else; those of larger models follow (addBonds), up to kMostPartsForBonds.
inline constexpr std::size_t kMostPartsLive = 1200, kMostPartsForBonds = 15'000;

struct PoseReport {
    std::optional<model::PoseId> id; ///< none: the present values
    std::string name;                ///< "Present" without a pose
    model::Stance stance;
    pose::JointValues values;
    model::Placed placed; ///< as it stands; points into Report::project
    std::vector<pose::FreedomRange> ranges;
    std::vector<pose::JointLoad> loads;
    std::vector<pose::Collision> collisions;
    std::vector<pose::RingGap> rings; ///< one for each closing joint
    std::optional<stand::Tipping> tipping;
    std::optional<double> provenUse;                   ///< quick proof that its bonds hold, no limit used by more; until `standing` is there
    std::shared_ptr<const stand::CaseResult> standing; ///< its bonds at rest; null: held, without weight, or too large to be looked at after every edit
};

/// How a case of the builder's own came out.
struct OwnCaseReport {
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

struct Report {
    std::shared_ptr<const model::Project> project;
    model::SectionTree tree;
    std::vector<bonds::SectionBondsPtr> bonds;
    model::JointStrengths strengths;
    std::vector<pose::WorstLoad> worst; ///< per joint
    std::vector<PoseReport> poses;      ///< named poses in order; the present values alone when there are none
    PoseReport present;
    std::vector<MoveTip> moves;
    std::shared_ptr<const Structure> structure;      ///< null as `standing`
    std::shared_ptr<const Hidden> hidden;            ///< null as `standing`
    std::vector<OwnCaseReport> ownCases;             ///< in the project's order; empty as `standing`
    std::shared_ptr<const drive::DriveReport> drive; ///< null when there are no gear boards; points into the project
    std::vector<Verdict> verdicts;                   ///< worst first
    bool complete = true;                            ///< false when stopped on the way
};

/// Facts of a report that cost time, one bit each. Places, tipping, strengths and what mates with what are always there.
enum Fact : unsigned {
    kRanges = 1,
    kLoads = 2, ///< with the ranges, as what a stop holds needs no holding
    kCollisions = 4,
    kWorst = 8,
    kBonds = 16, ///< at rest in every pose, structure, own cases, what nobody sees; for models of up to kMostPartsLive
    kMoves = 32,
    kDrive = 64,
    kAll = ~0U ///< and the verdicts, which look at all of them
};
/// What is asked for; all else stays empty.
struct Wanted {
    unsigned facts = kAll;
    std::function<bool(const model::Joint&)> ofJoint;    ///< ranges of these joints alone
    std::function<bool(const model::NamedPose*)> inPose; ///< ranges, loads and collisions in these poses alone, null standing for the present values

    [[nodiscard]] bool has(unsigned fact) const { return (facts & fact) != 0; }
};

/// One pose of a project. `named` null: the present values.
[[nodiscard]] PoseReport calcPoseReport(const std::shared_ptr<const model::Project>& project, const pose::RangeContext& context, const model::NamedPose* named,
                                        const base::Progress* progress = nullptr, const Wanted& wanted = {});

[[nodiscard]] Report calcReport(std::shared_ptr<const model::Project> project, base::Progress* progress = nullptr, const Wanted& wanted = {});

/// Is the model too large for its bonds to be looked at after every edit, and not yet looked at?
[[nodiscard]] bool lacksBonds(const Report& report);
/// The same report with quick proof that its first pose stands, if there is one; `kept` starts from the last proof and takes up the new one.
[[nodiscard]] Report addQuickBonds(Report report, stand::KeptForces& kept, base::Progress* progress = nullptr);
/// The same report with the bonds of its first pose, its structure, own cases and their verdicts. Seconds for thousands of parts; stopped: as it was.
[[nodiscard]] Report addBonds(Report report, base::Progress* progress = nullptr);

/// The pose that asks most of a joint (by index).
[[nodiscard]] const PoseReport& findWorstPose(const Report& report, std::size_t joint);

/// The most that a joint must hold over the wanted ranges and the wanted tilt of the base, in whichever way of standing asks most.
/// A way in which the whole falls over first does not count: then the worst among those that still stand, `amongStanding`.
[[nodiscard]] pose::WorstLoad findWorst(const Report& report, const pose::RangeContext& context, int joint, const model::JointStrength& strength);

/// What was found by trying mends of one report: one trial for all verdicts that the same mend is proposed for.
class MendTrials;
[[nodiscard]] std::shared_ptr<MendTrials> makeMendTrials();

/// What the program itself can change so that this verdict passes; empty when it knows nothing. Every one has been tried: with it the verdict
/// does not fail, passes by more, and nothing fails that did not before. Cost: a report for each that is tried; what a stop leaves untried is not
/// listed.
[[nodiscard]] std::vector<Mend> listMends(const Report& report, const Verdict& verdict, base::Progress* progress = nullptr, MendTrials* trials = nullptr);

struct MendPreview {
    model::Project project;
    std::vector<std::string> changes; ///< "Neck 3 holds in Reach: 0.71 → 3.3"
    Summary before, after;
};
/// What the mend would do, without doing it. Error: the edit's own.
base::Result<MendPreview> previewMend(const Report& report, const Mend& mend);

} // namespace ivrant::verdict
