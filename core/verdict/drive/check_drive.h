// SPDX-License-Identifier: GPL-3.0-or-later
// What do the gear boards do, what is wrong with them, and what would help?
#pragma once

#include "core/verdict/checks.h"

namespace ivrant::verdict {

/// Meshes, locks, bodies, bearings, functions with their loads, times and margins.
void judgeDrive(const study::Facts& facts, VerdictList& list);
/// The part of them on what the boards do: locks, fights, functions. Needs Facts::drive.
void judgeFunctions(const study::Facts& facts, VerdictList& list);

/// Wheels moved to where they mesh, other tooth counts at the same distance, other motors, worms; tried where they were
/// found.
void proposeDriveMends(const Report& report, const Verdict& verdict, std::vector<Mend>& mends);
/// Those that put parts in: walls, connectors, bushes. Part of proposeDriveMends; not tried here.
void proposeDriveParts(const Report& report, const Verdict& verdict, std::vector<Mend>& mends);

} // namespace ivrant::verdict
