// SPDX-License-Identifier: GPL-3.0-or-later
// How does the comparison of two variants look on one page?
#pragma once

#include <string>

#include "core/base/result.h"
#include "core/verdict/compare.h"

namespace ivrant::print {

/// One A4 page with a picture of each and what differs, as PDF or HTML by the ending. Errors "output.kind",
/// "file.write", "render.context".
[[nodiscard]] base::Status writeCompareSheet(const verdict::Report& a, const verdict::Report& b,
                                             const verdict::Comparison& comparison, const std::string& path);

} // namespace ivrant::print
