// SPDX-License-Identifier: GPL-3.0-or-later
// How does what Stand found look as JSON? Same conventions as results_json.h.
#pragma once

#include <nlohmann/json.hpp>

#include "core/study/hidden.h"
#include "core/study/stand_cases.h"
#include "core/verdict/report.h"

namespace ivrant::files {

struct SolvedCase {
    stand::StandCase of;
    stand::CaseResult result;
};

/// Mass, centre, support, tip rose of a pose, and its solved cases with λ, what falls and the `most` weakest bonds.
[[nodiscard]] model::Json makeStandJson(const verdict::Report& report, const study::PoseFacts& pose,
                                        const std::vector<SolvedCase>& cases, std::size_t most = 10);

/// Parts never seen, by shape and by id, and those whose colour shows through gaps.
[[nodiscard]] model::Json makeHiddenJson(const verdict::Report& report, const study::Hidden& hidden);
[[nodiscard]] model::Json makeCoreJson(const verdict::Report& report, const stand::CoreProposal& core);

} // namespace ivrant::files
