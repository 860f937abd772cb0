// SPDX-License-Identifier: GPL-3.0-or-later
// How does a model measure up to what was asked, and does what was asked make sense?
#pragma once

#include "core/verdict/checks.h"

namespace ivrant::verdict {

/// The project's asks, each on what it measures.
void judgeAsks(const study::Facts& facts, VerdictList& list);
/// Has the person seen it who asked; can what is asked of the base be looked at?
void judgeBrief(const study::Facts& facts, VerdictList& list);

/// What helps the finding that an ask is about; fewer parts and colours where those are asked.
void proposeAskMends(const Report& report, const Verdict& verdict, std::vector<Mend>& mends);
/// The finding that an ask of balance, bonds or structure is about, as failing and with the ask's limit; none for other
/// asks.
[[nodiscard]] std::optional<Verdict> findAsked(const Report& report, const Verdict& verdict);

} // namespace ivrant::verdict
