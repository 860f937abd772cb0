// SPDX-License-Identifier: GPL-3.0-or-later
// How do results look as JSON? The documented, versioned shapes of docs/command-line.md; screens and command line show
// the same numbers. Angles in degrees, mm, N·mm, N, g; rounded to 1e-4 so that texts stay readable.
#pragma once

#include <nlohmann/json.hpp>

#include "core/base/units.h"
#include "core/verdict/report.h"

namespace ivrant::files {

[[nodiscard]] model::Json makeRangeJson(const verdict::Report& report, const study::PoseFacts& pose,
                                        const std::optional<model::JointId>& only);
[[nodiscard]] model::Json makeHoldJson(const verdict::Report& report, const study::PoseFacts& pose);
/// Per joint the pose with the least margin.
[[nodiscard]] model::Json makeWorstHoldJson(const verdict::Report& report);
[[nodiscard]] model::Json makeCheckJson(const verdict::Report& report);
[[nodiscard]] model::Json makePartsJson(const model::Project& project);
[[nodiscard]] model::Json makeStepsJson(const model::Project& project, const model::SectionTree& tree);
[[nodiscard]] model::Json makeErrorJson(const base::Error& error);

/// { "ivrant": verb, "version": 1 }
[[nodiscard]] model::Json makeHead(const char* verb);
/// Rounded to 1e-4, never −0.
[[nodiscard]] double rounded(double value);
[[nodiscard]] model::Json optionalJson(const std::optional<double>& value);
[[nodiscard]] model::Json rangeJson(const model::Range& range);
[[nodiscard]] model::Json pointJson(const geometry::Vec3& p);

} // namespace ivrant::files
