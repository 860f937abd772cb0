#include "core/verdict/checks.h"

#include "core/verdict/asks/check_asks.h"
#include "core/verdict/diary/check_diary.h"
#include "core/verdict/drive/check_drive.h"
#include "core/verdict/pose/check_pose.h"
#include "core/verdict/shape/check_shape.h"
#include "core/verdict/stand/check_stand.h"

namespace ivrant::verdict {
namespace {

using namespace study; // the facts' names

constexpr CheckGroup kGroups[]{
    {"shape", 0, judgeShape, proposeShapeMends},
    {"poses", kRanges | kLoads | kCollisions | kDrive, judgePoses, proposePoseMends},
    {"worst", kWorst | kLoads | kDrive, judgeWorst, proposePoseMends},
    {"drive", kDrive, judgeDrive, proposeDriveMends},
    {"tip", 0, judgeTips, proposeTipMends},
    {"supports", 0, judgeSupports, proposeSupportMends},
    {"bonds", kAtRest | kDrive, judgeBonds, proposeBondMends},
    {"moves", kMoves, judgeMoves, proposeTipMends},
    {"structure", kStructure, judgeStructure, proposeStructureMends},
    {"cases", kOwnCases, judgeOwnCases, proposeBondMends},
    {"hidden", kHidden, judgeHidden, proposeHiddenMends},
    {"brief", 0, judgeBrief, nullptr},
    {"asks", kAll, judgeAsks, proposeAskMends},
    {"diary", 0, judgeDiary, nullptr},
};

} // namespace

std::span<const CheckGroup> getCheckGroups() { return kGroups; }

} // namespace ivrant::verdict
