// SPDX-License-Identifier: GPL-3.0-or-later
// What does the diary leave open, and what was measured as holding nothing?
#pragma once

#include "core/verdict/checks.h"

namespace ivrant::verdict {

void judgeDiary(const study::Facts& facts, VerdictList& list);

} // namespace ivrant::verdict
