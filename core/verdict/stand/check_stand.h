// SPDX-License-Identifier: GPL-3.0-or-later
// How does a model stand, tip, bend and hold together, and what would help it?
#pragma once

#include "core/verdict/checks.h"

namespace ivrant::verdict {

/// Tipping and reaching through the ground, in every pose that stands.
void judgeTips(const study::Facts& facts, VerdictList& list);
/// Bonds at rest, in every pose that they are known of, or their quick proof.
void judgeBonds(const study::Facts& facts, VerdictList& list);
/// Seams, the weakest section, what hands can pull off, what friction holds, bases that bend.
void judgeStructure(const study::Facts& facts, VerdictList& list);
void judgeOwnCases(const study::Facts& facts, VerdictList& list);
/// Tipping on the way from pose to pose and over the travel of functions.
void judgeMoves(const study::Facts& facts, VerdictList& list);
/// The posts of the base.
void judgePosts(const study::Facts& facts, VerdictList& list);
inline constexpr std::size_t kWorthHollowing = 100; ///< parts: smaller models are not looked at for their core
inline constexpr double kUsualUnseenShare =
    0.25; ///< of the parts that nobody sees; a usual value of ours: above it a core may be worth leaving out
/// What is never seen: colours of the core that show through gaps, and how much of the model it is.
void judgeHidden(const study::Facts& facts, VerdictList& list);

// What is proposed by these was tried where it was found.
/// Weights, large plates under it, posts: those that pass.
void proposeTipMends(const Report& report, const Verdict& verdict, std::vector<Mend>& mends);
/// Stronger joints, parts across what is weakest or inside a hollow.
void proposeBondMends(const Report& report, const Verdict& verdict, std::vector<Mend>& mends);
/// Longer parts across a seam, parts across a neck, a piece or a base that bends.
void proposeStructureMends(const Report& report, const Verdict& verdict, std::vector<Mend>& mends);
/// Where a post does better, how high it should be, or that it goes.
void proposePostMends(const Report& report, const Verdict& verdict, std::vector<Mend>& mends);
/// Colours of the core as those around it; what can be left out.
void proposeHiddenMends(const Report& report, const Verdict& verdict, std::vector<Mend>& mends);

/// Weights that keep it standing, the least first: in the pose of the verdict and those that stand now, or all along
/// its move.
void addBallastMends(const Report& report, const Verdict& verdict, std::vector<Mend>& mends);
/// Large plates under what tips and stands on one section alone, those that pass.
void addBasePlates(const Report& report, const Verdict& verdict, std::vector<Mend>& mends);
/// Posts for what tips, those whose bonds hold too.
void addPosts(const Report& report, const Verdict& verdict, std::vector<Mend>& mends);
/// What can be left out of the core, when much of the model is never seen, or less mass or fewer parts are asked for.
/// Seconds for thousands of parts.
void addCoreMends(const Report& report, const Verdict& verdict, std::vector<Mend>& mends);
/// What nobody sees in the commonest colour of what is seen, where fewer colours are asked.
void addFewerColours(const Report& report, const Verdict& verdict, std::vector<Mend>& mends);

/// Do all its masses come from weighing?
[[nodiscard]] bool isWeighed(const model::Project& project);

} // namespace ivrant::verdict
