// SPDX-License-Identifier: GPL-3.0-or-later
// The lines of the verdict slip: groups, what they open to, and one line for all that passes.
#pragma once

#include <set>

#include "core/verdict/groups.h"

namespace ivrant::app {

struct SlipRow {
    enum class Kind { Group, Single, Bundle } kind = Kind::Group;
    int depth = 0;            ///< how far in
    std::string key;          ///< of the group or bundle; of a single, its id
    int count = 1;            ///< single verdicts, or lines, behind it
    bool open = false;        ///< its members follow
    verdict::Verdict verdict; ///< the worst one behind it, with the line's own text and detail
};

/// So many lines fit a window of usual size; only beyond are those that pass put away into one.
inline constexpr std::size_t kLinesThatFit = 12;

/// `open`: keys of groups and bundles ("good", "note") that the person has opened.
[[nodiscard]] std::vector<SlipRow> makeSlipRows(const std::vector<verdict::Group>& groups,
                                                const std::set<std::string>& open);

} // namespace ivrant::app
