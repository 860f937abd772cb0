// SPDX-License-Identifier: GPL-3.0-or-later
// How long the texts of a project may be: what is written by an edit can be read again.
#pragma once

#include "core/base/result.h"
#include "core/model/project.h"

namespace ivrant::model {

inline constexpr std::size_t kMostName =
    1000; ///< bytes of UTF-8: a model, section, joint or pose; the note of a series
inline constexpr std::size_t kMostShortName =
    200; ///< a variant, a case, a part, everything of a gear board, the words of an ask
inline constexpr std::size_t kMostOwnName = 60; ///< an own shape
inline constexpr std::size_t kMostDiaryText = 10'000;

/// Error "text.long" with the JSON pointer of the first text that is too long. Linear in the number of named things.
[[nodiscard]] base::Status checkTexts(const Project& project);

} // namespace ivrant::model
