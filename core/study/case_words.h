// SPDX-License-Identifier: GPL-3.0-or-later
// How are parts, bonds and the outcome of a case called in words?
#pragma once

#include "core/stand/cases.h"

namespace ivrant::study {

/// "brick 2x4 of Tail".
[[nodiscard]] std::string describePart(const model::Project& project, model::PartSpot spot);
/// "brick 1x4 (p3) on brick 1x1 (p2), one stud".
[[nodiscard]] std::string describeContact(const model::Project& project, const stand::CaseResult& result, int contact);
/// "1 part falls", "3 parts fall".
[[nodiscard]] std::string countText(std::size_t count, const std::string& one, const std::string& many);
/// "λ 0.31", "λ ≤ 0.5", "λ 1.0005".
[[nodiscard]] std::string lambdaText(const stand::Equilibrium& equilibrium);
/// "holds; λ 0.31", "3 parts fall", "slides: …", "tips over as a whole: …".
[[nodiscard]] std::string describeOutcome(const stand::CaseResult& result);

} // namespace ivrant::study
