// SPDX-License-Identifier: GPL-3.0-or-later
// Which sections are the same set of parts, so that one set of steps builds them all, and which are mirror images?
//
// Two sections are the same when a turn by quarters brings all parts of one onto like parts of the other: same shape,
// colour, place and step. A part's place is told by its box and its centre of mass, so parts that look alike after a
// turn count as alike. Compared are the least lists over the 24 turns.
#pragma once

#include <vector>

#include "core/model/project.h"

namespace ivrant::make {

struct LikeSections {
    std::vector<int> same;   ///< by section: the first that is like it; itself when none before it is
    std::vector<int> mirror; ///< by section: an earlier one that it is the mirror image of; −1: none
};
/// Sections with boards, ballast or parts that wait for others are like no other. O(parts · log).
[[nodiscard]] LikeSections findLikeSections(const model::Project& project);

} // namespace ivrant::make
