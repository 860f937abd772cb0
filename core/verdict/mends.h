// SPDX-License-Identifier: GPL-3.0-or-later
// What would mend a verdict, and what would it do to the others?
#pragma once

#include <memory>

#include "core/verdict/report.h"

namespace ivrant::verdict {

/// What was found by trying mends of one report: one trial for all verdicts that the same mend is proposed for.
class MendTrials;
[[nodiscard]] std::shared_ptr<MendTrials> makeMendTrials();

/// Told of each mend as soon as it is known to help; by its answer false no further one is sought.
using OnMend = std::function<bool(const Mend&)>;
/// What the program itself can change so that this verdict passes; empty when it knows nothing. Every one has been
/// tried: with it the verdict does not fail, passes by more, and nothing fails that did not before. Cost: a report for
/// each that is tried; what a stop leaves untried is not listed.
[[nodiscard]] std::vector<Mend> listMends(const Report& report, const Verdict& verdict,
                                          base::Progress* progress = nullptr, MendTrials* trials = nullptr,
                                          const OnMend& onMend = {});

struct MendPreview {
    model::Project project;
    std::vector<std::string> changes; ///< "Neck 3 holds in Reach: 0.71 → 3.3"
    Summary before, after;
};
/// What the mend would do, without doing it. Error: the edit's own.
base::Result<MendPreview> previewMend(const Report& report, const Mend& mend);

/// For those who propose: all from the index `from` on were tried where they were found.
void markTried(std::vector<Mend>& mends, std::size_t from = 0);

} // namespace ivrant::verdict
