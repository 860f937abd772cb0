// What are the verdicts on tipping and bonds, and what would mend them? Part of check.h; for use inside core/verdict.
#pragma once

#include "core/verdict/check.h"

namespace ivrant::verdict {

/// Verdicts on PoseReport::tipping and PoseReport::standing of one pose.
void addStandVerdicts(const Report& report, const PoseReport& pose, std::vector<Verdict>& verdicts);

/// The verdict on PoseReport::standing (or provenUse) alone.
void addBondVerdict(const Report& report, const PoseReport& pose, std::vector<Verdict>& verdicts);

/// What needs the bonds of the first pose: structure and own cases.
[[nodiscard]] std::vector<OwnCaseReport> calcOwnCases(const Report& report, const base::Progress* progress);
/// The weakest section that carries a good share of the model; null: there is none.
[[nodiscard]] const stand::Neck* findNeck(const Structure& structure, const PoseReport& pose);
void addStructureVerdicts(const Report& report, std::vector<Verdict>& verdicts);
void addOwnCaseVerdicts(const Report& report, std::vector<Verdict>& verdicts);
void addMoveVerdicts(const Report& report, std::vector<Verdict>& verdicts);
void addSupportVerdicts(const Report& report, std::vector<Verdict>& verdicts);
inline constexpr std::size_t kWorthHollowing = 100; ///< parts: smaller models are not looked at for their core
inline constexpr double kUsualUnseenShare = 0.25;   ///< of the parts that nobody sees; a usual value of ours: above it a core may be worth leaving out
/// On what is never seen: colours of the core that show through gaps, where there is a core, and how much of the model it is.
void addHiddenVerdict(const Report& report, std::vector<Verdict>& verdicts);

/// Parts laid across what is weakest; every one is tried before it is offered.
/// Longer parts across a seam, parts across a neck, a piece or a base that bends; every one is tried before it is offered.
void addStructureMends(const Report& report, const Verdict& verdict, std::vector<Mend>& mends);
/// Large plates under what tips and stands on one section alone, those that pass.
void addBasePlates(const Report& report, const Verdict& verdict, std::vector<Mend>& mends);
/// What can be left out of the core, when much of the model is never seen, or less mass or fewer parts are asked for. Seconds for thousands of parts.
void addCoreMends(const Report& report, const Verdict& verdict, std::vector<Mend>& mends);
/// For what tips: posts, those whose bonds hold too; for a post: where it does better, or that it goes.
void addSupportMends(const Report& report, const Verdict& verdict, std::vector<Mend>& mends);
/// Colours of the core as those around, or as the shell's where fewer colours are asked.
void addHiddenMends(const Report& report, const Verdict& verdict, std::vector<Mend>& mends);
/// Weights that keep it standing, the least first: in the pose of the verdict and those that stand now, or all along its move.
void addBallastMends(const Report& report, const Verdict& verdict, std::vector<Mend>& mends);
/// The finding that an ask of balance, bonds or structure is about, as failing and with the ask's limit; none for other asks.
[[nodiscard]] std::optional<Verdict> findAsked(const Report& report, const Verdict& verdict);
/// Do all its masses come from weighing?
[[nodiscard]] bool isWeighed(const model::Project& project);
void addStandMends(const Report& report, const Verdict& verdict, std::vector<Mend>& mends);

} // namespace ivrant::verdict
