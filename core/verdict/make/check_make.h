// SPDX-License-Identifier: GPL-3.0-or-later
// Can it be built as its steps say, and what would help where it cannot?
#pragma once

#include "core/verdict/checks.h"

namespace ivrant::verdict {

/// Parts that cannot go in at their step or have nothing to hold to then; sections that do not go onto what is there.
/// Reads kAssembly.
void judgeAssembly(const study::Facts& facts, VerdictList& list);

/// The fewest parts moved to other steps; the order that the program would take.
void proposeAssemblyMends(const Report& report, const Verdict& verdict, std::vector<Mend>& mends);

} // namespace ivrant::verdict
