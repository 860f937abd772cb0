// SPDX-License-Identifier: GPL-3.0-or-later
// How do gear boards, found trains and fits look as JSON? Same conventions as results_json.h.
#pragma once

#include <nlohmann/json.hpp>

#include "core/drive/ratio_search.h"
#include "core/verdict/report.h"

namespace ivrant::files {

/// `board`: only what lies on it; none: all. The report must have a drive part.
[[nodiscard]] model::Json makeDriveJson(const verdict::Report& report,
                                        const std::optional<model::BoardId>& board = std::nullopt);
[[nodiscard]] model::Json makeRatioJson(const drive::RatioWish& wish, const drive::RatioResult& result);
/// Offsets at which a pair meshes.
[[nodiscard]] model::Json makeFitsJson(int teethA, int teethB, const std::vector<drive::FitOffset>& fits);
/// Pairs that mesh at an offset.
[[nodiscard]] model::Json makePairsJson(std::int64_t dxUm, std::int64_t dyUm,
                                        const std::vector<drive::ToothPair>& pairs);

} // namespace ivrant::files
