// SPDX-License-Identifier: GPL-3.0-or-later
// Which steps would the program give a section, and what would it move of those it has?
#pragma once

#include "core/make/order_check.h"
#include "core/model/edits.h"

namespace ivrant::make {

struct AssemblyProposal {
    AssemblyPlan plan;      ///< bodies are the indices of the parts
    std::vector<int> steps; ///< by part; empty when stopped
    OrderMend mend;         ///< empty when nothing is wrong, or no few moves help
};
[[nodiscard]] AssemblyProposal proposeAssembly(const model::Section& section, const bonds::SectionBonds& bonds,
                                               int mostPartsAStep = kUsualPartsAStep,
                                               base::Progress* progress = nullptr);

enum class Take { Moves, Plan };
/// The steps that are proposed, in one section (by index) or all (−1): the fewest moves where something is wrong, or
/// the plan. About 0.1 s for 3,500 parts.
[[nodiscard]] model::EditResult takeProposals(const model::Project& project, Take take, int onlySection = -1,
                                              int mostPartsAStep = kUsualPartsAStep);

/// By part; those that wait for other sections come after all others.
[[nodiscard]] std::vector<int> listPartSteps(const model::Section& section);

} // namespace ivrant::make
