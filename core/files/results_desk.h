// SPDX-License-Identifier: GPL-3.0-or-later
// How do the statue desk, supports and parts that make a shell firm look as JSON? Same conventions as results_json.h.
#pragma once

#include <nlohmann/json.hpp>

#include "core/stand/firm_shell.h"
#include "core/study/post_check.h"
#include "core/verdict/report.h"
#include "core/verdict/stand/size_desk.h"

namespace ivrant::files {

/// The same shape at several sizes.
[[nodiscard]] model::Json makeDeskJson(const std::vector<verdict::DeskRow>& rows, const verdict::DeskWish& wish);
[[nodiscard]] model::Json makePostJson(const verdict::Report& report, const study::PoseFacts& pose,
                                       const study::PostDesign& design);
[[nodiscard]] model::Json makeFirmJson(const stand::FirmProposal& firm);

} // namespace ivrant::files
