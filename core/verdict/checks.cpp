// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/verdict/checks.h"

#include "core/verdict/asks/check_asks.h"
#include "core/verdict/diary/check_diary.h"
#include "core/verdict/drive/check_drive.h"
#include "core/verdict/make/check_make.h"
#include "core/verdict/make/check_modules.h"
#include "core/verdict/make/check_supply.h"
#include "core/verdict/pose/check_lines.h"
#include "core/verdict/pose/check_motions.h"
#include "core/verdict/pose/check_pose.h"
#include "core/verdict/shape/check_shape.h"
#include "core/verdict/stand/check_stand.h"

namespace ivrant::verdict {
namespace {

using namespace study; // the facts' names

constexpr CheckGroup kGroups[]{
    {"shape", "what holds together", 0, judgeShape, proposeShapeMends},
    {"poses", "ranges and loads in the poses", kRanges | kLoads | kCollisions | kDrive, judgePoses, proposePoseMends},
    {"worst", "loads at their worst", kWorst | kLoads | kDrive, judgeWorst, proposePoseMends},
    {"drive", "gear boards", kDrive, judgeDrive, proposeDriveMends},
    {"tip", "tipping", 0, judgeTips, proposeTipMends},
    {"supports", "posts", 0, judgePosts, proposePostMends},
    {"bonds", "bonds at rest", kAtRest | kDrive, judgeBonds, proposeBondMends},
    {"moves", "tipping on the way", kMoves, judgeMoves, proposeTipMends},
    {"structure", "weak places", kStructure, judgeStructure, proposeStructureMends},
    {"cases", "own cases", kOwnCases, judgeOwnCases, proposeBondMends},
    {"hidden", "what nobody sees", kHidden, judgeHidden, proposeHiddenMends},
    {"assembly", "the order of building", kAssembly, judgeAssembly, proposeAssemblyMends},
    {"supplies", "parts, orders and the calendar", 0, judgeSupplies, proposeSupplyMends},
    {"modules", "what lifts off and what is within reach", kModules | kAtRest, judgeModules, proposeModuleMends},
    {"motions", "driven motions", kMotions, judgeMotions, proposeMotionMends},
    {"lines", "strings, bands and springs", kLines | kLoads | kRanges | kAtRest, judgeLines, proposeLineMends},
    {"brief", "the brief", 0, judgeBrief, nullptr},
    {"asks", "what was asked", kAll, judgeAsks, proposeAskMends},
    {"diary", "the diary", 0, judgeDiary, nullptr},
};

} // namespace

std::span<const CheckGroup> getCheckGroups() { return kGroups; }

} // namespace ivrant::verdict
