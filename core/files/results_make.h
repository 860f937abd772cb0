// SPDX-License-Identifier: GPL-3.0-or-later
// Results of the order of building as JSON (docs/command-line.md).
#pragma once

#include "core/model/notes.h"
#include "core/study/assembly.h"

namespace ivrant::files {

struct AssemblyRequest {
    int onlySection = -1; ///< index; −1: all
    int mostAStep = make::kUsualPartsAStep;
    bool hands = false; ///< with what must be held from below
    bool order = false; ///< with the planned order, part by part
};
/// Faults of the present steps, the moves that mend them, the plan, and how sections go onto each other. `facts` with
/// kAssembly.
[[nodiscard]] model::Json makeAssemblyJson(const study::Facts& facts, const AssemblyRequest& request,
                                           base::Progress* progress = nullptr);

} // namespace ivrant::files
