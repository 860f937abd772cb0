// SPDX-License-Identifier: GPL-3.0-or-later
// What do the poses and the wanted ranges ask of the joints, and what would help them?
#pragma once

#include "core/verdict/checks.h"

namespace ivrant::verdict {

/// In every pose: wanted ranges, values a joint cannot have, rings, what it holds and what pulls it off, parts that run
/// into each other.
void judgePoses(const study::Facts& facts, VerdictList& list);
/// What a joint must hold over its wanted ranges, where that is more than in any pose.
void judgeWorst(const study::Facts& facts, VerdictList& list);

/// A joint that a worm turns is held by it, as long as no position of a selector lets go: what its own friction lacks
/// is no failure then.
void leaveToDrive(const study::Facts& facts, Verdict& v, const model::Joint& joint);

void proposePoseMends(const Report& report, const Verdict& verdict, std::vector<Mend>& mends);
/// Another kind of joint at the place of the verdict, stronger where strength is asked, freer where a range is.
void addExchanges(const Report& report, const Verdict& verdict, std::vector<Mend>& mends);

} // namespace ivrant::verdict
