// SPDX-License-Identifier: GPL-3.0-or-later
// What did an edit change in the bodies that ranges are swept with?
//
// A sweep looks at pairs of parts, each by itself; the pair that it comes upon first stops it (core/pose/sweep.h). So
// where the frames stay, a range of before holds until a pair with a part that is new or other comes in between. Exact:
// the same bits as from nothing.
#pragma once

#include "core/pose/range.h"

namespace ivrant::pose {

struct BodyChange {
    std::vector<std::vector<bool>> isNew; ///< by section and part: other than before, or not there before
    std::vector<std::vector<int>> now;    ///< by section and part of before: its number now; −1: gone or other

    /// The same contact in today's numbers; none when one of its parts is gone or other.
    [[nodiscard]] std::optional<SweepContact> follow(const SweepContact& before) const;
};

/// None when more has changed than parts, or so many parts that nothing would be gained: sections, joints, the parts
/// that joints hold by, what bears on a joint's line. Models with gear boards: none. O(parts).
[[nodiscard]] std::optional<BodyChange> findBodyChange(const model::Project& projectBefore, const Bodies& before,
                                                       const model::Project& projectNow, const Bodies& now);

/// Does a sweep come upon `l` before `r`?
[[nodiscard]] bool isEarlier(const SweepContact& l, const SweepContact& r);

} // namespace ivrant::pose
