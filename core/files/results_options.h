// SPDX-License-Identifier: GPL-3.0-or-later
// Options and their combinations as JSON (docs/command-line.md) and CSV.
#pragma once

#include "core/verdict/make/option_matrix.h"

namespace ivrant::files {

/// What there is to choose, what each takes out of the drawers, rules, and what is missing for all at once.
[[nodiscard]] model::Json makeOptionsJson(const model::Project& project);
[[nodiscard]] model::Json makeMatrixJson(const model::Project& project, const verdict::OptionMatrix& matrix);
/// Columns: each option, parts, mass_g, price, missing, passes, fails.
[[nodiscard]] std::string makeMatrixCsv(const model::Project& project, const verdict::OptionMatrix& matrix);

} // namespace ivrant::files
