// SPDX-License-Identifier: GPL-3.0-or-later
// All verbs, room by room.
#pragma once

#include "cli/verb.h"

namespace ivrant::cli {

using Verbs = std::vector<std::unique_ptr<Verb>>;

void addCheckVerbs(Verbs& verbs);   ///< check, range, hold
void addPoseVerbs(Verbs& verbs);    ///< map, chain, choose, clearance, reach, path, gaps, covers, compare
void addMakeVerbs(Verbs& verbs);    ///< parts, steps, guide, lineup, render, convert
void addAssemblyVerb(Verbs& verbs); ///< assembly
void addSupplyVerbs(Verbs& verbs);  ///< stock, order, plan
void addOptionsVerb(Verbs& verbs);  ///< options
void addModulesVerbs(Verbs& verbs); ///< modules, pack
void addMotionVerb(Verbs& verbs);   ///< motion, walk
void addStrandsVerb(Verbs& verbs);  ///< strands
void addBriefVerbs(Verbs& verbs);   ///< measure, own, scale, offset
void addDriveVerbs(Verbs& verbs);   ///< drive, ratio, meshes
void addStandVerb(Verbs& verbs);    ///< stand
void addBalanceVerbs(Verbs& verbs); ///< hollow, support, ballast, firm, hidden
void addScriptVerbs(Verbs& verbs);  ///< build, script
void addShapeVerbs(Verbs& verbs);   ///< layers, families

} // namespace ivrant::cli
