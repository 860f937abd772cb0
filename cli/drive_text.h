// SPDX-License-Identifier: GPL-3.0-or-later
// How does a drive read as plain text: names for ids, a table for each list, one line for each function?
#pragma once

#include <string>

#include "core/drive/ratio_search.h"
#include "core/verdict/report.h"

namespace ivrant::cli {

/// Of the whole project, or of one board. The report must have a drive.
[[nodiscard]] std::string formatDrive(const verdict::Report& report, const std::optional<model::BoardId>& board);

[[nodiscard]] std::string formatRatios(const drive::RatioWish& wish, const drive::RatioResult& result);

} // namespace ivrant::cli
