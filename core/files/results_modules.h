// SPDX-License-Identifier: GPL-3.0-or-later
// Modules, reaches and packing as JSON (docs/command-line.md).
#pragma once

#include "core/study/packing.h"
#include "core/verdict/report.h"

namespace ivrant::files {

/// Of a report with its modules known.
[[nodiscard]] model::Json makeModulesJson(const verdict::Report& report);
[[nodiscard]] model::Json makePackingJson(const study::Facts& facts, const study::PackPlan& plan);
/// Columns: what, count, size_mm, mass_g, note: boxes with their pieces, then what to bring.
[[nodiscard]] std::string makePackingCsv(const study::Facts& facts, const study::PackPlan& plan);

} // namespace ivrant::files
