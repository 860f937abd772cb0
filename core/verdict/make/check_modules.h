// SPDX-License-Identifier: GPL-3.0-or-later
// Does what is meant to lift off do so, and does a finger get to what must be within reach?
#pragma once

#include "core/study/modules.h"
#include "core/verdict/checks.h"

namespace ivrant::verdict {

/// Way, force, room of each module, what comes along with it and whether the rest stands; moves of each reach. Reads
/// kModules.
void judgeModules(const study::Facts& facts, VerdictList& list);

/// What is in the way taken into the module.
void proposeModuleMends(const Report& report, const Verdict& verdict, std::vector<Mend>& mends);

/// "4 studs and Head swivel": what holds a module; empty: nothing does.
[[nodiscard]] std::string describeLiftBonds(const study::Facts& facts, const study::LiftModule& one);
/// "lift Hat, then Head, turned over": what is done before a finger gets there; empty: nothing.
[[nodiscard]] std::string describeMoves(const study::Facts& facts, const study::ReachWay& way);

} // namespace ivrant::verdict
