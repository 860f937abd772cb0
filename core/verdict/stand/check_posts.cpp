// SPDX-License-Identifier: GPL-3.0-or-later
// Verdicts on the posts of the base, and what would mend them. Part of check_stand.h.
#include <algorithm>
#include <cmath>
#include <limits>

#include "core/base/units.h"
#include "core/pose/stance.h"
#include "core/study/case_words.h"
#include "core/study/post_check.h"
#include "core/verdict/stand/check_stand.h"

namespace ivrant::verdict {
namespace {

using base::formatNumber;
using stand::PostState;

constexpr std::size_t kMostSpots = 2;

/// What keeps the post from carrying; empty: a part lies on it.
void tellTrouble(Verdict& v, const model::Project& project, const study::KeptPost& kept, const std::string& name) {
    v.state = State::Fail;
    v.basis = Basis::Geometry;
    if (!kept.pose) {
        v.text = name + " carries nothing";
        v.detail = "no pose stands on the ground";
    } else if (kept.post.state == PostState::Blocked) {
        v.text = name + " is in the way in " + kept.pose->name;
        v.detail = study::describePart(project, kept.post.part) + " is where it stands, " +
                   formatNumber(kept.post.top.z(), 1) + " mm high";
    } else {
        v.text = name + " carries nothing";
        const double gap = kept.post.fitsMm > 0 ? kept.post.fitsMm - kept.post.top.z() : 0;
        v.detail = gap > 0 ? "the lowest part above it lies " + formatNumber(gap, 1) + " mm higher"
                           : "no part is above its middle";
        v.value = gap;
        v.limit = stand::kPostTouchMm;
        v.unit = "mm";
    }
}

/// Places for a post in a pose, whose bonds hold with it where that does not take long to know.
std::vector<stand::PostSpot> listSpots(const Report& report, const study::PoseFacts& pose, double wish,
                                       double mostN = std::numeric_limits<double>::infinity()) {
    std::vector<stand::PostSpot> spots;
    if (report.project->partCount() > study::kMostPartsLive) {
        spots = stand::listPosts(pose.placed, *pose.tipping, wish, kMostSpots);
        std::erase_if(spots, [&](const stand::PostSpot& spot) { return spot.tiltN > mostN; });
        return spots;
    }
    const auto design = study::calcPosts(report, pose, wish);
    if (!design) return spots;
    for (const study::CheckedPost& checked : design->spots)
        if (checked.holds && checked.spot.tiltN <= mostN && spots.size() < kMostSpots) spots.push_back(checked.spot);
    return spots;
}

std::string describeSpot(const model::Project& project, const stand::PostSpot& spot) {
    return study::describePart(project, spot.part) + ", " + formatNumber(spot.at.z(), 1) + " mm high: tips at " +
           formatNumber(spot.tipDeg, 0) + "°, it carries up to " + formatNumber(spot.tiltN, 2) + " N";
}

/// The post at the height at which what is over it would lie on it.
void addHeight(const study::KeptPost& kept, const model::Post& support, std::vector<Mend>& mends) {
    if (kept.post.fitsMm < stand::kLowestPostMm) return;
    model::Post changed = support;
    changed.atUm[2] = base::mmToUm(kept.post.fitsMm);
    mends.push_back({"make it " + formatNumber(kept.post.fitsMm, 1) + " mm high",
                     [changed](const model::Project& p) { return model::putPost(p, changed); }});
}

} // namespace

void addPosts(const Report& report, const Verdict& verdict, std::vector<Mend>& mends) {
    const auto pose = std::find_if(report.poses.begin(), report.poses.end(),
                                   [&](const study::PoseFacts& p) { return p.id == verdict.place.pose && p.tipping; });
    if (pose == report.poses.end() || pose->stance.kind == model::Stance::Kind::Held) return;
    const double share = verdict.state == State::Fail
                             ? 1
                             : kGoodMargin; // what is thin passes already: there the post is to make it good
    for (const auto& spot :
         listSpots(report, *pose, share * std::max(study::getWishDeg(*report.project), verdict.limit)))
        mends.push_back(
            {"a post under " + describeSpot(*report.project, spot),
             [support = study::makePost(spot.at)](const model::Project& p) { return model::putPost(p, support); }});
}

void judgePosts(const study::Facts& facts, VerdictList& list) {
    const auto posts = study::checkPosts(facts);
    const double wish = study::getWishDeg(*facts.project);
    for (std::size_t i = 0; i < posts.size(); ++i) {
        const study::KeptPost& kept = posts[i];
        const std::string name = study::namePost(i);
        Verdict& v = list.add("support", facts.project->posts[i].id.text, Station::Stand);
        v.place.things = {facts.project->posts[i].id.text};
        if (kept.pose) v.place.pose = kept.pose->id;
        if (kept.pose && kept.post.state != PostState::Free)
            v.place.parts = {getPart(*facts.project, kept.post.part).id};
        if (!kept.pose || kept.post.state != PostState::Touches) {
            tellTrouble(v, *facts.project, kept, name);
            continue;
        }
        v.value = kept.tipDeg;
        v.limit = wish;
        v.unit = "deg";
        v.margin = kept.tipDeg / wish;
        v.basis = isWeighed(*facts.project) ? Basis::Measured : Basis::Starting;
        v.state = getStateOfMargin(v.margin);
        const std::string where = " under " + study::describePart(*facts.project, kept.post.part);
        v.text = name + (v.state == State::Fail ? " is not enough in " : " holds it up in ") + kept.pose->name;
        v.detail = formatNumber(kept.post.top.z(), 1) + " mm high" + where + ", carries " +
                   formatNumber(kept.restN, 2) + " N level and up to " + formatNumber(kept.tiltN, 2) +
                   " N with the base tilted by " + formatNumber(wish, 0) + "°; tips at " +
                   formatNumber(kept.tipDeg, 1) + "°, without it at " + formatNumber(kept.withoutDeg, 1) + "°" +
                   (v.basis == Basis::Measured ? "" : " (masses not weighed)");
        if (!kept.needed) {
            v.state = State::Thin;
            v.text = name + " is not needed: it stands without";
        } else if (!kept.helps) {
            v.state = State::Fail;
            v.text = name + " does not help in " + kept.pose->name;
        }
    }
}

void proposePostMends(const Report& report, const Verdict& verdict, std::vector<Mend>& mends) {
    const bool force = verdict.check == "support-force"; // asked for
    if (verdict.check != "support" && !force) return;
    const auto& posts = report.project->posts;
    const auto found = std::find_if(posts.begin(), posts.end(),
                                    [&](const model::Post& s) { return verdict.place.things.front() == s.id.text; });
    if (found == posts.end()) return;
    const auto index = static_cast<std::size_t>(found - posts.begin());
    const study::KeptPost kept = study::checkPosts(report)[index];
    if (kept.pose && kept.post.state != PostState::Touches) addHeight(kept, *found, mends);
    if (kept.pose && verdict.state == State::Fail) { // where would it do, if it were not there?
        const auto bare = model::removePost(*report.project, found->id);
        study::PoseFacts pose = *kept.pose;
        pose.placed.project = &*bare;
        pose.tipping = stand::calcTippingWithout(kept.pose->placed,
                                                 pose::listGroundCorners(kept.pose->placed, study::kGroundMm), index);
        const double mostN = force ? verdict.limit : std::numeric_limits<double>::infinity();
        for (const auto& spot : listSpots(report, pose, study::getWishDeg(*report.project), mostN)) {
            model::Post moved = study::makePost(spot.at);
            moved.id = found->id;
            mends.push_back({"put it under " + describeSpot(*report.project, spot),
                             [moved](const model::Project& p) { return model::putPost(p, moved); }});
        }
    }
    mends.push_back({"take it away", [id = found->id](const model::Project& p) { return model::removePost(p, id); }});
    markTried(mends);
}

} // namespace ivrant::verdict
