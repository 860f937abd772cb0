// SPDX-License-Identifier: GPL-3.0-or-later
// Which forces balance the load when every column is a spring that yields at its limits? Part of certificate.h; for use
// inside core/stand.
//
// f = clamp(rest + D Aᵀy, low, high): the y for which A f = load are sought by Newton's method (semismooth: columns
// strictly within their limits answer, the others hardly), a step halved while the dual does not grow. Every f on the
// way lies within the limits. Source: Qi and Sun, A nonsmooth version of Newton's method (1993).
#pragma once

#include <vector>

#include "core/base/progress.h"
#include "core/base/result.h"
#include "core/stand/interior_point.h"

namespace ivrant::stand {

struct YieldingSprings {
    SparseMatrix A;
    std::vector<double> load;            ///< by row
    std::vector<double> low, high;       ///< by column
    std::vector<double> stiffness, rest; ///< by column; stiffness above 0
};

struct SpringState {
    std::vector<double> wanted;  ///< by column, before its limits: as `rest` it gives the same forces at once
    std::vector<double> force;   ///< within the limits
    std::vector<double> missing; ///< by row: load − A f
    double residual = 0;         ///< largest of them
    int rounds = 0;
};

struct SpringOptions {
    int mostRounds = 12;
    double residual = 1e-5; ///< near enough
    bool allAnswer = false; ///< in the first round, whatever lies at its limit
    bool hopeless = false;  ///< gives up when the first rounds bring little
    const base::Progress* progress = nullptr;
};

/// The forces at rest.
[[nodiscard]] SpringState lookAt(const YieldingSprings& springs);
/// One factor and a few solves a round. Errors: "stand.solver", "stopped".
base::Result<SpringState> letSpringsYield(const YieldingSprings& springs, const SpringOptions& options = {});

} // namespace ivrant::stand
