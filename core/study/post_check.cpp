// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/study/post_check.h"

#include <algorithm>
#include <cmath>
#include <limits>

#include "core/base/at.h"
#include "core/base/units.h"
#include "core/pose/stance.h"
#include "core/study/asked_tip.h"
#include "core/study/case_words.h"
#include "core/study/stand_cases.h"

namespace ivrant::study {
namespace {

constexpr double kHelpDeg = 0.01; ///< later tipping than that is help

} // namespace

double getWishDeg(const model::Project& project) { return getAskedTipDeg(project); }

std::string namePost(std::size_t index) { return "Post " + std::to_string(index + 1); }

model::Post makePost(const geometry::Vec3& top) {
    model::Post support;
    for (int k = 0; k < 3; ++k) at(support.atUm, k) = base::mmToUm(top[k]);
    return support;
}

std::vector<KeptPost> checkPosts(const Facts& facts) {
    using stand::PostState;
    std::vector<KeptPost> kept(facts.project->posts.size());
    if (kept.empty()) return kept;
    const double wish = getWishDeg(*facts.project);
    for (const PoseFacts& pose : facts.poses) {
        if (!pose.tipping || pose.stance.kind == model::Stance::Kind::Held) continue;
        const auto posts = stand::placePosts(pose.placed);
        const auto corners = pose::listGroundCorners(pose.placed, kGroundMm);
        for (std::size_t i = 0; i < kept.size(); ++i) {
            KeptPost& support = kept[i];
            const stand::Post& post = posts[i];
            if (post.state != PostState::Touches) {
                // The first pose it is in the way in is told; that nothing lies on it only when that is so in all of
                // them.
                if (!support.pose || (post.state == PostState::Blocked && support.post.state != PostState::Blocked)) {
                    support.pose = &pose;
                    support.post = post;
                }
                continue;
            }
            const auto without = stand::calcTippingWithout(pose.placed, corners, i);
            support.needed = support.needed || without->angleDeg < wish;
            support.restN = std::max(support.restN, stand::calcPostN(*without, post.top.head<2>(), 0));
            support.tiltN = std::max(support.tiltN, stand::calcPostN(*without, post.top.head<2>(), wish));
            if (support.post.state == PostState::Blocked) continue;
            const bool helps = pose.tipping->angleDeg > without->angleDeg + kHelpDeg;
            if (support.pose && support.post.state == PostState::Touches &&
                (support.helps != helps ? support.helps : support.tipDeg <= pose.tipping->angleDeg))
                continue;
            support.helps = helps;
            support.pose = &pose;
            support.post = post;
            support.tipDeg = pose.tipping->angleDeg;
            support.withoutDeg = without->angleDeg;
        }
    }
    return kept;
}

base::Result<PostDesign> calcPosts(const Facts& facts, const PoseFacts& pose, double wishDeg,
                                   base::Progress* progress) {
    PostDesign design;
    design.wishDeg = wishDeg > 0 ? wishDeg : getWishDeg(*facts.project);
    if (!pose.tipping || pose.stance.kind == model::Stance::Kind::Held) {
        design.why = "this pose is held, not standing: there is no ground for a support";
        return design;
    }
    const bool falls = pose.standing && !pose.standing->equilibrium.stands;
    design.needed = pose.tipping->angleDeg < design.wishDeg || falls;
    const auto spots = stand::listPosts(pose.placed, *pose.tipping, design.wishDeg);
    if (spots.empty() && !design.needed) design.why = "no post is needed: it would carry nothing";
    if (spots.empty() && design.needed)
        design.why = "no underside that a post reaches from the ground brings the tip angle to " +
                     base::formatNumber(design.wishDeg, 0) + "°";
    for (std::size_t i = 0; i < spots.size(); ++i) {
        if (progress) {
            if (progress->stopped()) return base::Error{"stopped", "stopped", ""};
            progress->report(static_cast<double>(i) / static_cast<double>(spots.size()));
        }
        // Bonds with the base tilted the way the figure tips first without it.
        stand::StandCase tilted;
        const double toward = base::degToRad(pose.tipping->towardDeg), tilt = base::degToRad(design.wishDeg);
        tilted.accelerationG = std::sin(tilt) * geometry::Vec3(std::cos(toward), std::sin(toward), 0) -
                               std::cos(tilt) * geometry::Vec3::UnitZ();
        tilted.props = {{spots[i].part, spots[i].at}};
        stand::EquilibriumRequest request;
        request.use = false;
        request.progress = progress;
        const auto solved = calcStandCase(facts, pose, tilted, request);
        if (!solved) return solved.error();
        design.spots.push_back({spots[i], solved->equilibrium.stands, solved->equilibrium.lambda});
    }
    const auto worth = [](const CheckedPost& s) {
        return std::pair(!s.holds, s.lambda.value_or(std::numeric_limits<double>::infinity()));
    };
    std::stable_sort(design.spots.begin(), design.spots.end(),
                     [&](const CheckedPost& l, const CheckedPost& r) { return worth(l) < worth(r); });
    return design;
}

} // namespace ivrant::study
