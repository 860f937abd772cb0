// What are the verdicts on the gear boards, and what would mend them? Part of check.h; for use inside core/verdict.
#pragma once

#include "core/verdict/check.h"

namespace ivrant::verdict {

/// Verdicts on Report::drive: meshes, locks, bodies, bearings, functions with their loads, times and margins.
void addDriveVerdicts(const Report& report, std::vector<Verdict>& verdicts);

/// The part of them on what the boards do: locks, fights, functions. Needs Report::drive.
void addFunctionVerdicts(const Report& report, std::vector<Verdict>& verdicts);

/// Wheels moved to where they mesh, other tooth counts at the same distance.
void addDriveMends(const Report& report, const Verdict& verdict, std::vector<Mend>& mends);

} // namespace ivrant::verdict
