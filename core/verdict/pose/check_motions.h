// SPDX-License-Identifier: GPL-3.0-or-later
// Do the driven motions of a model go as they are meant to, and what would help them?
#pragma once

#include "core/verdict/checks.h"

namespace ivrant::verdict {

/// Of each motion: whether its loops close, where it ends, whether it returns, how well it passes motion on, what it
/// meets, what moves undriven, how far the model is from tipping on the way.
void judgeMotions(const study::Facts& facts, VerdictList& list);

/// Of a motion with feet: whether it walks, falls from foot to foot, drags or hardly lifts its feet.
void judgeWalk(const study::Facts& facts, const study::MotionStudy& study, VerdictList& list);

/// Another hole for a link, only the stretch that is free.
void proposeMotionMends(const Report& report, const Verdict& verdict, std::vector<Mend>& mends);

/// 1 at the angle where it sticks, 1.5 where it is thin.
[[nodiscard]] double calcTransmissionMargin(double deg);

} // namespace ivrant::verdict
