// SPDX-License-Identifier: GPL-3.0-or-later
// Do strings, bands and springs do what they are for, and what would help them?
#pragma once

#include "core/verdict/checks.h"

namespace ivrant::verdict {

/// Of each line: whether it has a way, what it does to the joint it works, how hard it is to pull, whether others pull
/// it, what holds against it.
void judgeLines(const study::Facts& facts, VerdictList& list);
/// More bands, another length, another port or side of a guide.
void proposeLineMends(const Report& report, const Verdict& verdict, std::vector<Mend>& mends);

} // namespace ivrant::verdict
