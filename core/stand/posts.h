// SPDX-License-Identifier: GPL-3.0-or-later
// Which of the base's posts does a placed model stand on, and which are in its way?
//
// A post stands upright on the ground z = 0, a pitch wide, and ends in the middle of its top. It carries a part whose
// underside lies on the top; where the model is elsewhere it carries nothing. Undersides are those of the parts' boxes
// in the world. mm.
#pragma once

#include <utility>
#include <vector>

#include "core/geometry/solid.h"
#include "core/model/placed.h"

namespace ivrant::stand {

inline constexpr double kPostMm = 8;        ///< width of a post: a pitch
inline constexpr double kLowestPostMm = 3;  ///< lower gaps take no post
inline constexpr double kPostTouchMm = 0.1; ///< an underside over its middle and this near to the top lies on it

enum class PostState {
    Touches, ///< `part` lies on it
    Free,    ///< nothing lies on it
    Blocked  ///< `part` is where the post is
};
struct Post {
    PostState state = PostState::Free;
    geometry::Vec3 top = geometry::Vec3::Zero(); ///< world
    model::PartSpot part;
    double fitsMm = 0; ///< height at which the lowest part over it would lie on it; 0: none would
};

/// For each support of the project. O(supports × parts).
[[nodiscard]] std::vector<Post> placePosts(const model::Placed& placed);

using PartBoxes = std::vector<std::pair<model::PartSpot, geometry::Bounds>>;
/// Boxes of all parts' bodies in the world.
[[nodiscard]] PartBoxes listPartBoxes(const model::Placed& placed);
/// Is none of them in the column of a post that ends at `top`? O(boxes).
[[nodiscard]] bool isWayFree(const PartBoxes& boxes, const geometry::Vec3& top);

} // namespace ivrant::stand
