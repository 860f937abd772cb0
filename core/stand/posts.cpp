// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/stand/posts.h"

#include <algorithm>
#include <cmath>

#include "core/base/units.h"
#include "core/parts/body_box.h"

namespace ivrant::stand {
namespace {

using geometry::Bounds;
using geometry::Vec3;

constexpr double kPostSlackMm = 0.3;

bool isOver(const Bounds& box, const Vec3& top, double half) {
    return box.low.x() < top.x() + half && box.high.x() > top.x() - half && box.low.y() < top.y() + half &&
           box.high.y() > top.y() - half;
}
constexpr double kHalfMm = kPostMm / 2 - kPostSlackMm, kMiddleMm = 0.2; ///< it may stand under the seam of two parts

} // namespace

PartBoxes listPartBoxes(const model::Placed& placed) {
    PartBoxes boxes;
    for (std::size_t s = 0; s < placed.X_WS.size(); ++s)
        for (std::size_t p = 0; p < placed.project->sections[s]->parts.size(); ++p) {
            const model::PartSpot spot{static_cast<int>(s), static_cast<int>(p)};
            const Bounds box = parts::calcBodyBox(*getPart(*placed.project, spot).shape, placed.X_WP(spot));
            if (!box.empty()) boxes.emplace_back(spot, box);
        }
    return boxes;
}

std::vector<Post> placePosts(const model::Placed& placed) {
    std::vector<Post> posts;
    const auto& kept = placed.project->posts;
    if (kept.empty()) return posts;
    posts.reserve(kept.size());
    for (const model::Post& support : kept) {
        Post post;
        post.top = {base::umToMm(support.atUm[0]), base::umToMm(support.atUm[1]), base::umToMm(support.atUm[2])};
        posts.push_back(post);
    }
    const PartBoxes boxes = listPartBoxes(placed);
    for (Post& post : posts) {
        const PartBoxes::value_type *lowest = nullptr, *middle = nullptr; // of what is over any of it, over its middle
        for (const auto& entry : boxes) {
            if (!isOver(entry.second, post.top, kHalfMm)) continue;
            if (!lowest || entry.second.low.z() < lowest->second.low.z()) lowest = &entry;
            if (isOver(entry.second, post.top, kMiddleMm) && (!middle || entry.second.low.z() < middle->second.low.z()))
                middle = &entry;
        }
        if (!lowest) continue;
        const double low = lowest->second.low.z();
        if (middle && middle->second.low.z() <= low + kPostSlackMm) post.fitsMm = middle->second.low.z();
        if (low < post.top.z() - kPostSlackMm) {
            post.state = PostState::Blocked;
            post.part = lowest->first;
        } else if (middle && std::abs(middle->second.low.z() - post.top.z()) <= kPostTouchMm) {
            post.state = PostState::Touches;
            post.part = middle->first;
        }
    }
    return posts;
}

bool isWayFree(const PartBoxes& boxes, const Vec3& top) {
    return std::none_of(boxes.begin(), boxes.end(), [&](const auto& entry) {
        return entry.second.low.z() < top.z() - kPostSlackMm && isOver(entry.second, top, kHalfMm);
    });
}

} // namespace ivrant::stand
