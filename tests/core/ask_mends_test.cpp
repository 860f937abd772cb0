// SPDX-License-Identifier: GPL-3.0-or-later
// Asks of balance, bonds and posts have the mends of the finding they are about, with their own limit.
#include <gtest/gtest.h>

#include "core/study/post_check.h"
#include "tests/support/reports.h"
#include "tests/support/stacks.h"

using namespace ivrant;
using test::must;
using test::reportOf;

namespace {

/// A tower of bricks on a narrow plate; asks are put to it.
model::Project makeTower() {
    test::Stack f;
    f.put(0, "plate 2x8 at 0 0 0");
    for (int k = 0; k < 4; ++k) f.put(0, "brick 2x2 at 0 3 " + std::to_string(1 + 3 * k));
    f.put(0, "plate 2x6 at 0 3 13");
    return f.project;
}
verdict::Report askOf(const model::Project& project, const std::string& measure, model::Comparison comparison,
                      double value) {
    model::Ask ask;
    ask.measure = measure;
    ask.comparison = comparison;
    ask.value = value;
    return reportOf(must(model::putAsk(project, ask)));
}
const verdict::Verdict& failingAsk(const verdict::Report& report) {
    for (const auto& v : report.verdicts)
        if (v.check == "ask" && v.state == verdict::State::Fail) return v;
    throw std::runtime_error("no ask fails");
}

} // namespace

TEST(AskMends, WhatIsAskedOfTheBalanceIsReached) {
    const auto tower = makeTower();
    const auto plain = reportOf(tower);
    const double now = plain.present.tipping->angleDeg;
    const double push = stand::calcTipPushN(*plain.present.tipping, plain.present.tipping->towardDeg,
                                            stand::calcTopMm(plain.present.placed));
    for (const auto& [measure, value] :
         {std::pair<std::string, double>{"tip-angle", now + 4}, {"tip-push", 1.3 * push}}) {
        const auto report = askOf(tower, measure, model::Comparison::AtLeast, value);
        const auto mends = verdict::listMends(report, failingAsk(report));
        ASSERT_FALSE(mends.empty()) << measure;
        int reached = 0;
        for (const auto& mend : mends) {
            const auto after = reportOf(must(mend.apply(*report.project)));
            const auto told = std::find_if(after.verdicts.begin(), after.verdicts.end(),
                                           [](const auto& v) { return v.check == "ask"; });
            reached += told->state == verdict::State::Good ? 1 : 0;
        }
        EXPECT_EQ(reached, static_cast<int>(mends.size())) << measure;
    }
    // What is asked as a limit from above has none of these mends.
    const auto other = askOf(tower, "tip-angle", model::Comparison::AtMost, now - 1);
    EXPECT_TRUE(verdict::listMends(other, failingAsk(other)).empty());
}

TEST(AskMends, WhatIsAskedOfTheBondsLowersLambda) {
    test::Overhang f;
    f.project = must(model::addBallast(f.project, f.project.sections[0]->id,
                                       {20, {0, 20'000, 17'600}})); // on the arm: below 1/20 λ is not sought
    const auto report = askOf(f.project, "bond-margin", model::Comparison::AtLeast, 1000);
    const double before = *report.poses.front().standing->equilibrium.lambda;
    const auto mends = verdict::listMends(report, failingAsk(report));
    ASSERT_FALSE(mends.empty());
    for (const auto& mend : mends)
        EXPECT_LT(reportOf(must(mend.apply(*report.project))).poses.front().standing->equilibrium.lambda.value_or(0),
                  before)
            << mend.text;
}

TEST(AskMends, APostThatCarriesTooMuchIsPutElsewhere) {
    test::Stack f;
    f.put(0, "brick 2x2 at 0 0 0");
    f.put(0, "plate 2x8 at 0 0 3");
    f.put(0, "brick 2x2 at 0 6 4");
    const auto near = must(model::putPost(f.project, {{}, {4000, 28'000, 9600}, nullptr}));
    const double carries = study::checkPosts(reportOf(near)).front().tiltN;
    const auto report = askOf(near, "support-force", model::Comparison::AtMost, 0.7 * carries);
    const auto mends = verdict::listMends(report, failingAsk(report));
    const auto moved = std::find_if(mends.begin(), mends.end(),
                                    [](const auto& mend) { return mend.text.starts_with("put it under"); });
    ASSERT_NE(moved, mends.end());
    const auto after = reportOf(must(moved->apply(*report.project)));
    ASSERT_EQ(after.project->posts.size(), 1U);
    EXPECT_LE(study::checkPosts(after).front().tiltN, 0.7 * carries);
}
