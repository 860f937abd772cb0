// SPDX-License-Identifier: GPL-3.0-or-later
// Which measures can be asked about, and how does an ask read as a sentence?
//
// A measure has a key (in files), words, a unit and the places it needs or may have. "Least" and "most" follow the
// comparison when a place is left out: an ask without a pose means every pose.
#pragma once

#include <span>
#include <string>
#include <string_view>

#include "core/base/result.h"
#include "core/model/notes.h"

namespace ivrant::brief {

enum class Need { No, May, Must };

struct Measure {
    std::string_view key;   ///< "mass", in files
    std::string_view words; ///< "weight", "holding margin of {joint}"
    std::string_view unit;  ///< "g", "mm", "deg", "N·mm", "×" (a margin), "" (a count)
    bool ofWord = false;    ///< compared with a word (a joint kind) instead of a number
    Need joint = Need::No, other = Need::No, section = Need::No, pose = Need::No, shape = Need::No;
    std::string_view about;   ///< one sentence for tooltips and docs
    Need function = Need::No; ///< of a gear board
};

[[nodiscard]] std::span<const Measure> getMeasures();
/// nullptr when there is none with that key.
[[nodiscard]] const Measure* findMeasure(std::string_view key);

/// "The holding margin of Neck 3 must be at least 1.5 in Reach." Places are written as the ask names them, through
/// `nameOf` when given (id to name).
[[nodiscard]] std::string composeSentence(const model::Ask& ask,
                                          std::string (*nameOf)(std::string_view, const void*) = nullptr,
                                          const void* context = nullptr);

/// Is the ask whole: a known measure, the places it needs, a value or word? Errors "ask.measure", "ask.place",
/// "ask.word".
[[nodiscard]] base::Status checkAsk(const model::Ask& ask);

/// Does a name match a pattern with * for any run of letters? Case does not count.
[[nodiscard]] bool matchesPattern(std::string_view pattern, std::string_view name);

/// Do two asks contradict each other: the same measure at the same places, and no value can satisfy both?
[[nodiscard]] bool isContradicting(const model::Ask& a, const model::Ask& b);

} // namespace ivrant::brief
