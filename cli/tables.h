// How do results read as plain text tables?
#pragma once

#include <string>
#include <vector>

#include "core/verdict/check.h"

namespace ivrant::cli {

/// Columns padded to their widest entry (counted in code points), two blanks apart.
[[nodiscard]] std::string formatTable(const std::vector<std::vector<std::string>>& rows);

[[nodiscard]] std::string formatRanges(const verdict::Report& report, const verdict::PoseReport& pose, const std::optional<model::JointId>& only);
[[nodiscard]] std::string formatLoads(const verdict::Report& report, const verdict::PoseReport& pose);
[[nodiscard]] std::string formatWorstLoads(const verdict::Report& report);
[[nodiscard]] std::string formatVerdicts(const verdict::Report& report);
/// docs/parts.md: every family with sizes, mass and ports of its usual size.
[[nodiscard]] std::string formatFamilies(bool markdown);

} // namespace ivrant::cli
