// SPDX-License-Identifier: GPL-3.0-or-later
// What does a person see first, and each finding once?
//
// Verdicts are one for each joint, pose and pair of parts. For reading they are put together: the same stop in five
// poses is one line with the poses named, parts in the way of one part are one line about that part, what hangs on one
// stud in a section is one line with a count, all that passes of a kind is one line. Every line opens to the single
// verdicts it stands for.
#pragma once

#include "core/verdict/verdict.h"

namespace ivrant::verdict {

struct Group {
    std::string key; ///< stable while the finding stays
    State state = State::Good;
    std::optional<double> margin; ///< of the worst member
    std::string text, detail;
    std::vector<Verdict> members; ///< worst first; at least one
};

/// All of them, each in one group, the worst group first. O(n log n).
[[nodiscard]] std::vector<Group> groupVerdicts(const std::vector<Verdict>& verdicts, const model::Project& project);

struct GroupSummary {
    int fail = 0, thin = 0, good = 0, note = 0; ///< lines
    int singles = 0;                            ///< verdicts behind them
};
[[nodiscard]] GroupSummary countGroups(const std::vector<Group>& groups);

} // namespace ivrant::verdict
