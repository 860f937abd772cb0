// SPDX-License-Identifier: GPL-3.0-or-later
// What of a model as a whole, or of one section, is measured by an ask? Part of asks.h; for use inside core/verdict.
#pragma once

#include "core/study/facts.h"
#include "core/verdict/verdict.h"

namespace ivrant::verdict {

/// Values with the poses they were measured in; null: of no pose.
using AskValues = std::vector<std::pair<double, const study::PoseFacts*>>;

struct AskScope {
    const study::Facts& facts;
    const model::JointStrengths& strengths;
    const std::vector<const study::PoseFacts*>& poses; ///< that the ask names
};

/// By id, or by a pattern of its name.
[[nodiscard]] bool isNamed(const std::string& wanted, const std::string& id, const std::string& name);

/// Empty when it cannot be measured, or is a measure of something else.
[[nodiscard]] AskValues measureModel(const AskScope& scope, const model::Ask& ask);
[[nodiscard]] AskValues measureSection(const AskScope& scope, const model::Ask& ask, int section);

} // namespace ivrant::verdict
