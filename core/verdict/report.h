// SPDX-License-Identifier: GPL-3.0-or-later
// What are all the verdicts on a project?
//
// The facts (core/study) and what every check thinks of them. Pure: the same project gives the same report.
#pragma once

#include "core/study/facts.h"
#include "core/verdict/verdict.h"

namespace ivrant::verdict {

/// Facts and the verdicts on them.
struct Report : study::Facts {
    std::vector<Verdict> verdicts; ///< worst first
    unsigned toCome = 0; ///< facts (study::Fact) that this run has not found yet, and whose verdicts are not there
};

/// Told of each stage that is complete, with what is known and judged by then.
using OnReport = std::function<void(const Report&)>;
/// With all facts wanted also the verdicts; else none. `onStage` is told of all stages but the last; `before` as for
/// study::calcFacts.
[[nodiscard]] Report calcReport(std::shared_ptr<const model::Project> project, base::Progress* progress = nullptr,
                                const study::Wanted& wanted = {}, const OnReport& onStage = {},
                                const study::Facts* before = nullptr);

/// The same report with quick proof that its first pose stands, if there is one; `kept` starts from the last proof and
/// takes up the new one.
[[nodiscard]] Report addQuickBonds(Report report, stand::KeptForces& kept, base::Progress* progress = nullptr);
/// The same report of a large model with the facts that come late (study::findLateFacts), judged by every group that
/// reads them, asks included. Stopped: as it was.
[[nodiscard]] Report addBonds(Report report, base::Progress* progress = nullptr);

/// A stage with the older verdicts, marked as stale, of those groups whose facts are still to come, so that nothing is
/// missing meanwhile.
[[nodiscard]] Report keepOlder(Report stage, const Report& before);

/// The verdicts of all groups that read one of these facts, anew; all else stays.
void judgeAgain(Report& report, unsigned facts);

} // namespace ivrant::verdict
