// SPDX-License-Identifier: GPL-3.0-or-later
// How does a model measure up to what was asked of it?
//
// Each ask is measured on the facts of the model; a pattern that names several joints or sections is measured on each
// of them. Asks that name what is not there, and asks that contradict each other, are findings too.
#pragma once

#include "core/study/facts.h"
#include "core/verdict/verdict.h"

namespace ivrant::verdict {

struct AskResult {
    std::size_t ask = 0;         ///< index into the list of asks
    std::optional<double> value; ///< none: it could not be measured (`problem` says why), or it is a word
    std::string word;
    std::string at; ///< name of the joint or section measured, empty for the whole
    Place place;
    Basis basis = Basis::Geometry;
    bool passes = false;
    std::optional<double> margin; ///< 1 just passes; none for words and equalities
    std::string problem;
};

/// One result per ask and place it matches. Chains, worst cases and gaps are computed only when asked for.
[[nodiscard]] std::vector<AskResult> measureAsks(const study::Facts& facts, const std::vector<model::Ask>& asks,
                                                 const base::Progress* progress = nullptr);

/// The verdicts on them; `from` is put into the ids ("ask" for the project's own, the brief's name for a shared one).
[[nodiscard]] std::vector<Verdict> makeAskVerdicts(const study::Facts& facts, const std::vector<model::Ask>& asks,
                                                   const std::vector<AskResult>& results,
                                                   const std::string& from = "ask");

/// The sentence with names instead of ids.
[[nodiscard]] std::string composeSentence(const model::Project& project, const model::Ask& ask);

} // namespace ivrant::verdict
