// SPDX-License-Identifier: GPL-3.0-or-later
// Posts of the base: where they touch, what they do to balance and bonds, what is said of them and what mends them;
// kept in file and variants.
#include <cmath>
#include <gtest/gtest.h>

#include "core/files/project_file.h"
#include "core/files/results_stand.h"
#include "core/files/sheet_carry.h"
#include "core/model/variants.h"
#include "core/pose/stance.h"
#include "core/study/asked_tip.h"
#include "core/study/post_check.h"
#include "core/study/stand_cases.h"
#include "core/verdict/asks/asks.h"
#include "core/verdict/mends.h"
#include "tests/support/repo.h"
#include "tests/support/reports.h"
#include "tests/support/stacks.h"

using namespace ivrant;
using geometry::Vec3;
using stand::PostState;
using test::findCheck;
using test::must;
using test::reportOf;
using test::Stack;

namespace {

/// A brick with a long plate on it that overhangs towards +y: its underside is 9.6 mm up, from y = 12 to y = 60.
struct Shelf : Stack {
    Shelf() {
        put(0, "brick 2x2 at 0 0 0");
        put(0, "plate 2x8 at 0 0 3");
        put(0, "brick 2x2 at 0 6 4");
    }
    [[nodiscard]] model::Project with(const Vec3& top) const {
        return must(model::putPost(project, study::makePost(top)));
    }
};

/// After the mend whose text has those words.
verdict::Report mended(const verdict::Report& report, const verdict::Verdict& verdict, const std::string& words) {
    for (const auto& mend : verdict::listMends(report, verdict))
        if (mend.text.find(words) != std::string::npos) return reportOf(must(mend.apply(*report.project)));
    throw std::runtime_error("no mend says " + words);
}

} // namespace

TEST(Posts, TouchLieFreeOrAreInTheWay) {
    const Shelf f;
    const auto at = [&](const Vec3& top) {
        const auto project = f.with(top);
        const model::Placed placed{&project, f.placed().X_WS};
        return stand::placePosts(placed).front();
    };
    EXPECT_EQ(at({4, 44, 9.6}).state, PostState::Touches);
    EXPECT_EQ(at({4, 44, 9.6}).part.part, 1);
    const auto low = at({4, 44, 6.4});
    EXPECT_EQ(low.state, PostState::Free);
    EXPECT_NEAR(low.fitsMm, 9.6, 1e-9);
    EXPECT_EQ(at({4, 90, 9.6}).state, PostState::Free);
    EXPECT_EQ(at({4, 90, 9.6}).fitsMm, 0);
    const auto high = at({4, 44, 12});
    EXPECT_EQ(high.state, PostState::Blocked);
    EXPECT_EQ(high.part.part, 1);
    EXPECT_EQ(at({4, 4, 9.6}).part.part, 0) << "the foot stands where the post is";
    EXPECT_NEAR(high.fitsMm, 9.6, 1e-9) << "as high as it may be";
    EXPECT_EQ(at({14, 44, 9.6}).state, PostState::Free) << "an edge that is not over its middle does not lie on it";
    // Under the seam of two parts both lie on it.
    Stack pair;
    pair.put(0, "plate 1x2 at 0 0 3");
    pair.put(0, "plate 1x2 at 1 0 3");
    const auto seamed = must(model::putPost(pair.project, study::makePost({4, 4, 9.6})));
    EXPECT_EQ(stand::placePosts({&seamed, {geometry::Frame::Identity()}, {}}).front().state, PostState::Touches);
}

TEST(Posts, WidenWhatItStandsOn) {
    const Shelf f;
    const auto bare = reportOf(f.project);
    EXPECT_LT(bare.present.tipping->angleDeg, 0);
    const auto report = reportOf(f.with({4, 44, 9.6}));
    const stand::Tipping& tip = *report.present.tipping;
    // By hand: the foot of the brick reaches from y = −3.9 to 11.9, that of the post to 48; the centre of gravity lies
    // between, and the sides are nearer.
    const double height = tip.centre.z();
    const auto edge = [&](double distance) { return base::radToDeg(std::atan2(distance, height)); };
    EXPECT_NEAR(stand::calcTipAngleToward(tip, 90), edge(48 - tip.centre.y()), 0.01);
    EXPECT_NEAR(stand::calcTipAngleToward(tip, 270), edge(tip.centre.y() + 3.9), 0.01);
    EXPECT_GT(tip.angleDeg, 8);
    ASSERT_TRUE(report.present.standing || report.poses.front().standing);
    EXPECT_TRUE(report.poses.front().standing->equilibrium.stands);
}

TEST(Posts, CarryWhatTheirLeverSays) {
    const Shelf f;
    const auto report = reportOf(f.with({4, 44, 9.6}));
    const auto kept = study::checkPosts(report);
    ASSERT_EQ(kept.size(), 1U);
    // Moments about the brick's edge at y = 11.9.
    const double weight = base::weightN(report.present.tipping->massG), arm = 44 - 11.9,
                 over = report.present.tipping->centre.y() - 11.9;
    EXPECT_NEAR(kept[0].restN, weight * over / arm, 1e-6);
    EXPECT_GT(kept[0].tiltN, kept[0].restN);
    EXPECT_LT(kept[0].withoutDeg, 0);
    // The second way: what presses on the post in the balance of all bonds is at least that (the brick may be lifted a
    // little less).
    const auto solved = must(study::calcStandCase(report, report.poses.front(), {}));
    double pressed = 0;
    for (std::size_t k = 0; k < solved.net.contacts.size(); ++k) {
        const auto& contact = solved.net.contacts[k];
        if (contact.kind == stand::ContactKind::Ground && contact.corners.front().z() > 1)
            pressed += solved.equilibrium.forces[k].pressN;
    }
    EXPECT_GE(pressed, kept[0].restN - 0.02 * weight);
    EXPECT_LE(pressed, weight);
}

TEST(Posts, VerdictsAndMends) {
    const Shelf f;
    // It falls: a post is offered, and it stands.
    const auto bare = reportOf(f.project);
    ASSERT_NE(findCheck(bare, "tip"), nullptr);
    const auto posted = mended(bare, *findCheck(bare, "tip"), "a post under");
    ASSERT_EQ(posted.project->posts.size(), 1U);
    EXPECT_NE(findCheck(posted, "tip")->state, verdict::State::Fail);
    ASSERT_NE(findCheck(posted, "support"), nullptr);
    EXPECT_NE(findCheck(posted, "support")->state, verdict::State::Fail);
    EXPECT_TRUE(findCheck(posted, "support")->margin);
    // Too low, and too high: made as high as what is above it.
    for (const double height : {6.4, 12.0}) {
        const auto wrong = reportOf(f.with({4, 44, height}));
        ASSERT_NE(findCheck(wrong, "support"), nullptr);
        EXPECT_EQ(findCheck(wrong, "support")->state, verdict::State::Fail) << height;
        const auto right = mended(wrong, *findCheck(wrong, "support"), "make it 9.6 mm high");
        EXPECT_NE(findCheck(right, "support")->state, verdict::State::Fail) << height;
        EXPECT_NE(findCheck(right, "tip")->state, verdict::State::Fail) << height;
        EXPECT_EQ(right.project->posts.size(), 1U);
    }
    // Too near the foot: put elsewhere.
    const auto near = reportOf(f.with({4, 16, 9.6}));
    EXPECT_EQ(findCheck(near, "support")->state, verdict::State::Fail);
    EXPECT_NE(findCheck(mended(near, *findCheck(near, "support"), "put it under"), "tip")->state, verdict::State::Fail);
    // On the wrong side: it falls the other way with the post as without.
    Stack falling;
    falling.put(0, "brick 1x8 at 0 0 0");
    falling.put(0, "plate 10x1 at -3 0 3"); // its middle lies at x = 12, beyond the brick
    const auto wrongSide = reportOf(must(model::putPost(falling.project, study::makePost({-24, 0, 9.6}))));
    ASSERT_NE(findCheck(wrongSide, "support"), nullptr);
    EXPECT_EQ(findCheck(wrongSide, "support")->state, verdict::State::Fail);
    EXPECT_NE(findCheck(wrongSide, "support")->text.find("does not help"), std::string::npos)
        << findCheck(wrongSide, "support")->text;
    EXPECT_NE(findCheck(mended(wrongSide, *findCheck(wrongSide, "support"), "put it under"), "tip")->state,
              verdict::State::Fail);
    // Where it stands by itself a post is idle.
    Stack stout;
    stout.put(0, "brick 4x8 at 0 0 0");
    stout.put(0, "plate 4x10 at 0 0 3");
    const auto idle = reportOf(must(model::putPost(stout.project, study::makePost({4, 72, 9.6}))));
    ASSERT_NE(findCheck(idle, "support"), nullptr);
    EXPECT_EQ(findCheck(idle, "support")->state, verdict::State::Thin);
    EXPECT_EQ(findCheck(mended(idle, *findCheck(idle, "support"), "take it away"), "support"), nullptr);
}

TEST(Posts, AreAskedForInJsonAndOnTheSheet) {
    const Shelf f;
    auto project = f.with({4, 44, 9.6});
    model::Ask ask;
    ask.comparison = model::Comparison::AtMost;
    for (const char* measure : {"supports", "support-force"}) {
        ask.measure = measure;
        ask.value = 0.001;
        project = must(model::putAsk(project, ask));
    }
    const auto report = reportOf(project);
    const auto results = verdict::measureAsks(report, project.asks);
    ASSERT_EQ(results.size(), 2U);
    EXPECT_NEAR(results[0].value.value(), 1, 0);
    EXPECT_NEAR(results[1].value.value(), study::checkPosts(report)[0].tiltN, 1e-12);
    const auto json = files::makeStandJson(report, report.present, {}, 3);
    ASSERT_EQ(json["posts"].size(), 1U);
    EXPECT_EQ(json["posts"][0]["state"], "touches");
    EXPECT_EQ(json["posts"][0]["part"], project.sections[0]->parts[1].id.text);
    const auto plan = files::planCarrying(report);
    EXPECT_TRUE(std::any_of(plan.rows.begin(), plan.rows.end(),
                            [](const auto& row) { return row.first.find("post 1") != std::string::npos; }));
}

TEST(Posts, StayInTheFileAndBelongToAVariant) {
    const Shelf f;
    auto project = must(model::addVariant(f.project, "B on a post", "A bare"));
    project = must(model::putPost(project, study::makePost({4, 44, 9.6})));
    const auto id = project.posts.front().id;
    const auto read = must(files::parseProject(files::writeProject(project)));
    ASSERT_EQ(read.posts.size(), 1U);
    EXPECT_EQ(read.posts[0].id, id);
    EXPECT_EQ(read.posts[0].atUm, (std::array<std::int64_t, 3>{4000, 44000, 9600}));
    const auto other = must(model::showVariant(read, read.variants[0].id));
    EXPECT_TRUE(other.posts.empty());
    const auto waits = must(files::parseProject(files::writeProject(other)));
    EXPECT_EQ(must(model::showVariant(waits, waits.variants[1].id)).posts.size(), 1U);
    EXPECT_TRUE(must(model::removePost(read, id)).posts.empty());
    EXPECT_EQ(model::removePost(other, id).error().code, "edit.missing");
}

TEST(Posts, WrongOnesAreRefused) {
    const Shelf f;
    for (const double height : {0.0, -5.0, 2500.0})
        EXPECT_EQ(model::putPost(f.project, study::makePost({0, 0, height})).error().code, "support.height");
    auto text = files::writeProject(f.with({4, 44, 9.6}));
    const auto swap = [&](const std::string& from, const std::string& to) {
        auto changed = text;
        const auto place = changed.find(from);
        EXPECT_NE(place, std::string::npos);
        return files::parseProject(changed.replace(place, from.size(), to));
    };
    EXPECT_EQ(swap("44000", "\"near\"").error().place.substr(0, 12), "/supports/0/");
    EXPECT_EQ(swap("44000, 9600", "44000, 100").error().place, "/supports/0/at/2");
    EXPECT_FALSE(swap("44000, 9600", "44000").ok());
}

TEST(Posts, AModelWithoutGroundHasNoUseForThem) {
    Stack f;
    auto project = must(model::putPost(f.project, study::makePost({0, 0, 9.6})));
    const auto empty = reportOf(project);
    ASSERT_NE(findCheck(empty, "support"), nullptr);
    EXPECT_EQ(findCheck(empty, "support")->state, verdict::State::Fail);
    EXPECT_FALSE(verdict::listMends(empty, *findCheck(empty, "support")).empty());
}

TEST(Posts, TheHeronOfTheDemoStandsOnOne) {
    const auto study = must(files::loadProject(test::repo("/data/demo/heron-stand.ivrant")));
    const auto with = std::find_if(study.variants.begin(), study.variants.end(),
                                   [](const auto& v) { return v.name == "D on a post"; });
    ASSERT_NE(with, study.variants.end());
    const auto before = reportOf(study), after = reportOf(must(model::showVariant(study, with->id)));
    for (std::size_t q = 0; q < before.poses.size(); ++q) {
        const std::string& pose = before.poses[q].name;
        if (pose != "Standing" && pose != "Asleep" && pose != "Wings out") continue;
        EXPECT_LT(before.poses[q].tipping->angleDeg, study::kUsualTipDeg) << pose;
        EXPECT_GE(after.poses[q].tipping->angleDeg, study::kUsualTipDeg) << pose;
    }
    EXPECT_TRUE(study::checkPosts(after)[0].needed);
}

TEST(Support, APostTakesWhatTheFeetCannot) {
    // A plate 2x8 on a brick 2x2 under its first cells: its centre lies outside the foot.
    Stack f;
    f.put(0, "brick 2x2 at 0 0 0");
    f.put(0, "plate 2x8 at 0 0 3");
    const auto report = verdict::calcReport(std::make_shared<const model::Project>(f.project));
    ASSERT_TRUE(report.present.tipping);
    EXPECT_LT(report.present.tipping->angleDeg, 8);
    const auto design = must(study::calcPosts(report, report.present));
    EXPECT_TRUE(design.needed);
    ASSERT_FALSE(design.spots.empty());
    for (const auto& support : design.spots) {
        EXPECT_GE(support.spot.tipDeg, design.wishDeg);
        EXPECT_EQ(support.spot.part.part, 1);
        EXPECT_NEAR(support.spot.at.z(), 9.6, 0.2);
        EXPECT_TRUE(support.holds);
        // Level: moments about the foot's edge at y = 12.
        const auto& tip = *report.present.tipping;
        const double w = base::weightN(tip.massG), edge = 11.9; // sides are inset by 0.1 mm
        EXPECT_NEAR(support.spot.restN, std::max(0.0, w * (tip.centre.y() - edge) / (support.spot.at.y() - edge)),
                    0.02 * w);
        EXPECT_GE(support.spot.tiltN, support.spot.restN);
    }
}

TEST(Support, NothingReachesThroughOtherParts) {
    Stack f;
    f.put(0, "plate 8x8 at 0 0 0");
    f.put(0, "brick 1x1 at 3 3 1");
    f.put(0, "plate 2x8 at 3 0 4");
    const auto report = verdict::calcReport(std::make_shared<const model::Project>(f.project));
    const auto design = must(study::calcPosts(report, report.present, 8));
    EXPECT_FALSE(design.needed);
    EXPECT_TRUE(design.spots.empty()); // all undersides lie over the base plate
    EXPECT_FALSE(design.why.empty());
}
