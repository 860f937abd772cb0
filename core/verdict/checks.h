// SPDX-License-Identifier: GPL-3.0-or-later
// Which checks are there, what does each read, and who knows what would help?
//
// The one table of them. A group judges facts and adds its verdicts; it is asked as soon as the facts it needs are
// known, and again when one of them comes late. A new check on known facts is one function in its domain's folder,
// called by the group of that folder; a new group is one line in checks.cpp.
#pragma once

#include <span>

#include "core/verdict/mends.h"
#include "core/verdict/report.h"
#include "core/verdict/verdict_list.h"

namespace ivrant::verdict {

struct CheckGroup {
    const char* key;
    const char* title; ///< in words: "bonds at rest"
    unsigned needs;    ///< bits of study::Fact; what is always known needs none
    void (*judge)(const study::Facts&, VerdictList&);
    /// What may help a verdict of this group; those that were tried where they were found say so. Null: nothing is
    /// known.
    void (*propose)(const Report&, const Verdict&, std::vector<Mend>&);
};

[[nodiscard]] std::span<const CheckGroup> getCheckGroups();

} // namespace ivrant::verdict
