// SPDX-License-Identifier: GPL-3.0-or-later
// How do results read as plain text tables?
#pragma once

#include <string>
#include <vector>

#include "core/verdict/report.h"

namespace ivrant::cli {

/// Columns padded to their widest entry (counted in code points), two blanks apart.
[[nodiscard]] std::string formatTable(const std::vector<std::vector<std::string>>& rows);

/// "(1.5, 0, -3.2)", two decimals.
[[nodiscard]] std::string formatPoint(const geometry::Vec3& p);

[[nodiscard]] std::string formatRanges(const verdict::Report& report, const study::PoseFacts& pose,
                                       const std::optional<model::JointId>& only);
[[nodiscard]] std::string formatLoads(const verdict::Report& report, const study::PoseFacts& pose);
[[nodiscard]] std::string formatWorstLoads(const verdict::Report& report);
[[nodiscard]] std::string formatVerdicts(const verdict::Report& report, bool singles = false);

} // namespace ivrant::cli
