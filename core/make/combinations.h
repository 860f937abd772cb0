// SPDX-License-Identifier: GPL-3.0-or-later
// Which combinations of a model's options are there, and which few show all that two of them do to each other?
//
// All that the rules allow, or, when there are too many, a covering array of strength two: every pair of alternatives
// that may stand together does so in at least one of them. Built greedily, each further combination takes up as many
// open pairs as a look over its options finds (after Cohen, Dalal, Fredman and Patton 1997); what the rules forbid is
// stepped back from.
#pragma once

#include <cstdint>

#include "core/make/stock.h"
#include "core/model/edits_options.h"

namespace ivrant::make {

/// By option the index of its alternative.
using Combination = std::vector<int>;

struct Combinations {
    std::vector<Combination> list; ///< the one that is chosen now first, when the rules allow it
    bool all = true;               ///< else every allowed pair at least once
    double count = 0;              ///< that there are without the rules
};
/// Do the rules allow it?
[[nodiscard]] bool isAllowed(const model::Options& options, const Combination& combination);
/// At most `most` when all of them are no more, else pairs. O(2^options) in the worst case of contrived rules.
[[nodiscard]] Combinations listCombinations(const model::Options& options, std::size_t most = 200);
[[nodiscard]] Combination getChosen(const model::Options& options);
/// The model with these alternatives standing in it.
[[nodiscard]] model::EditResult takeCombination(const model::Project& project, const Combination& combination);
/// "Hat: cap, Tool: rod".
[[nodiscard]] std::string describeCombination(const model::Options& options, const Combination& combination);

/// What an alternative takes out of the drawers.
[[nodiscard]] std::vector<TrayLine> listAlternativeParts(const model::Project& project, model::AlternativeSpot spot);
/// What is missing when the model and all alternatives of all options are to be there at once.
[[nodiscard]] std::vector<TideLine> calcAllAtOnce(const model::Project& project);

} // namespace ivrant::make
