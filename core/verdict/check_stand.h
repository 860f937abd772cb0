// What are the verdicts on tipping and bonds, and what would mend them? Part of check.h; for use inside core/verdict.
#pragma once

#include "core/verdict/check.h"

namespace ivrant::verdict {

/// Verdicts on PoseReport::tipping and PoseReport::standing of one pose.
void addStandVerdicts(const Report& report, const PoseReport& pose, std::vector<Verdict>& verdicts);

/// The verdict on PoseReport::standing alone.
void addBondVerdict(const Report& report, const PoseReport& pose, std::vector<Verdict>& verdicts);

/// Parts laid across what is weakest; every one is tried before it is offered.
void addStandMends(const Report& report, const Verdict& verdict, std::vector<Mend>& mends);

} // namespace ivrant::verdict
