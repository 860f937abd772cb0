// SPDX-License-Identifier: GPL-3.0-or-later
// Do the parts last, do they come in time, and is it built by the day?
#pragma once

#include "core/make/stand_ins.h"
#include "core/verdict/checks.h"

namespace ivrant::verdict {

/// What runs out at which step and is not on its way; what a step waits for; tables that cannot be read; the hours left
/// against those needed (only when Project::today is known).
void judgeSupplies(const study::Facts& facts, VerdictList& list);

/// What can stand in for parts that run out.
void proposeSupplyMends(const Report& report, const Verdict& verdict, std::vector<Mend>& mends);

/// A stand-in on the model: does it still pass all that it passed?
struct TriedStandIn {
    make::StandInCandidate candidate;
    bool works = false;
    std::vector<std::string> fails;                ///< what fails with it and did not before
    std::optional<double> bondsBefore, bondsAfter; ///< least margin of the bonds at rest over the poses
};
/// Every candidate for one line, tried on the model as if the drawers held enough of everything: a report for each.
[[nodiscard]] std::vector<TriedStandIn> tryStandIns(const Report& report, const make::TideLine& line,
                                                    base::Progress* progress = nullptr);

/// What is missing as wishes, and all that the price lists offer; `report`: with stand-ins that work on it, else null.
/// Goal, days and time are the caller's.
[[nodiscard]] make::BasketRequest makeBasketRequest(const model::Project& project, const Report* report,
                                                    base::Progress* progress = nullptr);

} // namespace ivrant::verdict
