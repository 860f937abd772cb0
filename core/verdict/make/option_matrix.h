// SPDX-License-Identifier: GPL-3.0-or-later
// Which combinations of options fail, and what fails in each?
//
// Every combination is a model of its own with all its verdicts, in all poses. What fails in each of them is told once:
// it is no matter of the options.
#pragma once

#include "core/make/combinations.h"
#include "core/verdict/report.h"

namespace ivrant::verdict {

struct CombinationRow {
    make::Combination combination;
    std::string problem; ///< why it could not be looked at; else empty
    int parts = 0;
    double massG = 0, price = 0;         ///< price of its alternatives
    int missing = 0;                     ///< pieces that the drawers lack for it; 0 without a stock
    std::optional<double> tipDeg, bonds; ///< least over the poses
    std::vector<Verdict> fails;          ///< worst first, without those that all have in common
    [[nodiscard]] bool passes() const { return problem.empty() && fails.empty(); }
};
struct OptionMatrix {
    make::Combinations combinations;
    std::vector<CombinationRow> rows; ///< in their order; fewer when stopped
    std::vector<Verdict> always;      ///< fail in every one of them
    bool complete = true;
};

/// A report for each, the first from `before`. Verdicts about drawers and days are left out: they are counted in
/// `missing`.
[[nodiscard]] OptionMatrix calcOptionMatrix(const Report& before, std::size_t most = 200,
                                            base::Progress* progress = nullptr);

} // namespace ivrant::verdict
