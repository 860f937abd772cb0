// SPDX-License-Identifier: GPL-3.0-or-later
// What of each section holds together, and what would help where it does not?
#pragma once

#include "core/verdict/checks.h"

namespace ivrant::verdict {

/// Overlaps, loose parts, single bonds, axles that slide out, sizes hard to come by, sections joined to nothing.
/// O(parts).
void judgeShape(const study::Facts& facts, VerdictList& list);

void proposeShapeMends(const Report& report, const Verdict& verdict, std::vector<Mend>& mends);
/// Ways out of two parts being in each other: a smooth part for one with studs, one plate up or down, half a stud
/// aside.
void addClearing(const Report& report, const Verdict& verdict, std::vector<Mend>& mends);

} // namespace ivrant::verdict
