// SPDX-License-Identifier: GPL-3.0-or-later
// Which supports make a figure stand, by its balance and by its bonds, and what do those do that the project has?
#pragma once

#include "core/stand/post_design.h"
#include "core/study/facts.h"

namespace ivrant::study {

struct CheckedPost {
    stand::PostSpot spot;
    bool holds = false;           ///< the bonds, standing on its feet and the support, on the worst tilt asked
    std::optional<double> lambda; ///< there
};
struct PostDesign {
    bool needed = false; ///< it tips before the wish, or its bonds fail at rest
    double wishDeg = 0;
    std::vector<CheckedPost> spots; ///< those that hold first, then by λ
    std::string why;                ///< when there are none
};

/// `wishDeg`: tip angle asked with the support; the larger of the usual one and the project's tilt when 0. Errors of
/// calcCase.
base::Result<PostDesign> calcPosts(const Facts& facts, const PoseFacts& pose, double wishDeg = 0,
                                   base::Progress* progress = nullptr);

/// How a support of the project does, in the pose that asks most of it: where it is in the way, else where the model
/// tips first of those in which it helps, else of all.
struct KeptPost {
    const PoseFacts* pose = nullptr; ///< null: nothing stands on the ground
    stand::Post post;
    double tipDeg = 0, withoutDeg = 0; ///< with it and without it; when a part lies on it
    double restN = 0, tiltN = 0; ///< the most that it carries in any pose, level and with the base tilted by the wish
    bool needed = false;         ///< in some pose the wish is not reached without it
    bool helps = false;          ///< in some pose it tips later with it
};
/// Tip angle asked of a model on its supports: the larger of the usual one and the project's tilt.
[[nodiscard]] double getWishDeg(const model::Project& project);
/// By the project's supports. O(poses × supports × parts).
[[nodiscard]] std::vector<KeptPost> checkPosts(const Facts& facts);
/// A support whose top is there (world, mm), not yet in a project.
[[nodiscard]] model::Post makePost(const geometry::Vec3& top);
/// "Post 2".
[[nodiscard]] std::string namePost(std::size_t index);

} // namespace ivrant::study
