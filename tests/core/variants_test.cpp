// SPDX-License-Identifier: GPL-3.0-or-later
// Variants, what differs between them, and the notes beside a model: in memory and in the file.
#include "core/model/variants.h"

#include "core/files/project_file.h"
#include "core/verdict/compare.h"
#include "tests/support/figures.h"
#include "tests/support/near.h"

using namespace ivrant;
using test::HingeRun;
using test::must;

namespace {

/// A run of two in two variants: "A" stepped, "B" with a ball at its first joint; A is shown.
model::Project makeTwo() {
    HingeRun run(2, "brick 1x2 at 0 0 2");
    auto p = must(model::addVariant(run.project, "B"));
    p = must(model::exchangeJointKind(p, run.joints[0], "small ball and cup"));
    return must(model::showVariant(p, p.variants[0].id));
}

} // namespace

TEST(Variants, EachKeepsItsOwnAndSharesTheRest) {
    auto p = makeTwo();
    EXPECT_EQ(model::findShownVariant(p), 0);
    EXPECT_EQ(p.joints[0].kind->name, "stepped hinge small");
    p = must(model::renameProject(p, "Gate"));
    p = must(model::showVariant(p, p.variants[1].id));
    EXPECT_EQ(p.joints[0].kind->name, "small ball and cup");
    EXPECT_EQ(p.name, "Gate");
    EXPECT_EQ(model::takeVariant(p, 0).joints[0].kind->name, "stepped hinge small");
    EXPECT_EQ(model::takeVariant(p, 1).joints[0].kind->name, "small ball and cup"); // the shown one: as it is
}

TEST(Variants, NamesAndRemoval) {
    auto p = makeTwo();
    EXPECT_EQ(model::addVariant(p, "B").error().code, "edit.name");
    EXPECT_EQ(model::renameVariant(p, p.variants[1].id, "A").error().code, "edit.name");
    EXPECT_EQ(model::removeVariant(p, p.variants[0].id).error().code, "variant.shown");
    EXPECT_EQ(model::showVariant(p, {"v99"}).error().code, "edit.missing");
    p = must(model::removeVariant(p, p.variants[1].id));
    EXPECT_TRUE(p.variants.empty());
}

TEST(Variants, TheFileHoldsAllAndChecksAll) {
    const auto text = files::writeProject(makeTwo());
    const auto back = must(files::parseProject(text));
    EXPECT_EQ(files::writeProject(back), text);
    EXPECT_EQ(model::takeVariant(back, 1).joints[0].kind->name, "small ball and cup");
    // What waits is held to the same rules, and named with its place.
    auto bad = text;
    const auto at = bad.rfind("\"small ball and cup\"");
    bad.replace(at, 20, "\"smooth pin\"");
    const auto result = files::parseProject(bad);
    ASSERT_FALSE(result);
    EXPECT_EQ(result.error().place, "/variants/1/joints/0/kind");
    auto none = text;
    none.replace(none.find("\"name\": \"A\" }"), 13, "\"name\": \"A\", \"sections\": [] }");
    EXPECT_FALSE(files::parseProject(none));
}

TEST(Variants, IdsThatWaitAreNotUsedAgain) {
    auto p = makeTwo();
    p = must(model::showVariant(p, p.variants[1].id));
    model::NewPart part;
    part.shape = must(parts::makeShape("plate 1x1"));
    part.place.atUm = {80'000, 0, 0};
    std::vector<model::PartId> ids;
    p = must(model::addParts(p, p.sections[0]->id, {&part, 1}, &ids));
    const auto back = must(files::parseProject(files::writeProject(must(model::showVariant(p, p.variants[0].id)))));
    EXPECT_EQ(back.nextId, p.nextId);
    EXPECT_LT(model::PartIndex(back).find(ids.front()).section, 0);
}

TEST(Compare, WhatDiffersAndWhatDoesNot) {
    const auto p = makeTwo();
    const auto report = [](model::Project q) {
        return verdict::calcReport(std::make_shared<const model::Project>(std::move(q)));
    };
    const auto a = report(p), b = report(model::takeVariant(p, 1));
    const auto c = verdict::compareReports(a, b, "A", "B");
    ASSERT_EQ(c.joints.size(), 2U);
    EXPECT_TRUE(c.joints[0].differs());
    EXPECT_EQ(c.joints[0].a->kind, "stepped hinge small");
    EXPECT_EQ(c.joints[0].b->kind, "small ball and cup");
    EXPECT_NEAR(c.joints[0].b->haveNmm, 18 * 0.6, test::kRounding);
    const auto figure = [&](const std::string& what) {
        return *std::find_if(c.figures.begin(), c.figures.end(), [&](const auto& f) { return f.what == what; });
    };
    EXPECT_EQ(figure("freedoms").a, 2);
    EXPECT_EQ(figure("freedoms").b, 4);
    EXPECT_EQ(figure("parts").a, figure("parts").b);
    ASSERT_EQ(c.lengths.size(), 1U);
    EXPECT_NEAR(c.lengths[0].aMm, std::hypot(24, 3.2), 1e-6);
    EXPECT_NEAR(c.lengths[0].bMm, c.lengths[0].aMm, 1e-6);
    // One fork and one tongue less, one ball and one cup more.
    int removed = 0, added = 0;
    for (const auto& part : c.parts)
        (part.countB < part.countA ? removed : added) += std::abs(part.countB - part.countA);
    EXPECT_EQ(removed, 2);
    EXPECT_EQ(added, 2);
    const auto same = verdict::compareReports(a, a, "A", "A");
    EXPECT_TRUE(same.parts.empty());
    EXPECT_FALSE(same.joints[0].differs());
    // Swapped, everything swaps.
    const auto back = verdict::compareReports(b, a, "B", "A");
    EXPECT_EQ(back.joints[0].a->kind, c.joints[0].b->kind);
    EXPECT_EQ(back.parts.size(), c.parts.size());
}

TEST(Notes, RoundTripWithUnknownKeys) {
    HingeRun run(1);
    model::Series series;
    series.kind = "stepped hinge small";
    series.joint = run.joints[0];
    series.readings = {20.5, 21, 19};
    series.date = "2026-11-25";
    auto p = must(model::putSeries(run.project, series));
    model::Ask ask;
    ask.measure = "mass";
    ask.value = 12;
    p = must(model::putAsk(p, ask));
    model::DiaryEntry entry;
    entry.kind = model::DiaryKind::Failure;
    entry.text = "came off after 40 moves";
    p = must(model::putDiaryEntry(p, entry));
    p = must(model::setTilt(p, 7.5));
    p = must(model::setShownOn(p, "2026-11-20"));
    auto text = files::writeProject(p);
    const auto at = text.find("\"quantity\"");
    text.insert(at, "\"room\": \"cold\", ");
    const auto back = must(files::parseProject(text));
    EXPECT_EQ(files::writeProject(back).find("\"room\": \"cold\"") != std::string::npos, true);
    EXPECT_EQ(back.measured[0].readings, series.readings);
    EXPECT_EQ(back.asks[0].measure, "mass");
    EXPECT_EQ(back.diary[0].kind, model::DiaryKind::Failure);
    EXPECT_EQ(back.tiltDeg, 7.5);
    EXPECT_EQ(back.shownOn, "2026-11-20");
    EXPECT_EQ(back.nextId, p.nextId);
}

TEST(Notes, NonsenseIsRefusedWithItsPlace) {
    HingeRun run(1);
    model::Series series;
    series.kind = "stepped hinge small";
    EXPECT_EQ(model::putSeries(run.project, series).error().code, "series.empty");
    series.readings = {-3};
    EXPECT_EQ(model::putSeries(run.project, series).error().place, "/measured/0/readings/0");
    series.readings = {3, 4};
    series.moves = {0};
    EXPECT_EQ(model::putSeries(run.project, series).error().code, "series.moves");
    series.moves.clear();
    series.kind = "rubber";
    EXPECT_EQ(model::putSeries(run.project, series).error().code, "series.kind");
    EXPECT_EQ(model::setTilt(run.project, 60).error().code, "project.tilt");
    EXPECT_EQ(model::putDiaryEntry(run.project, {}).error().code, "diary.text");
    model::DiaryEntry dated;
    dated.text = "x";
    dated.date = "2026-13-01";
    EXPECT_EQ(model::putDiaryEntry(run.project, dated).error().code, "project.date");
}

TEST(Notes, AnOpenFailureIsAFailingVerdictUntilItIsAnswered) {
    HingeRun run(1);
    model::DiaryEntry entry;
    entry.kind = model::DiaryKind::Failure;
    entry.text = "head came off";
    entry.joint = run.joints[0];
    auto p = must(model::putDiaryEntry(run.project, entry));
    const auto open = [](const model::Project& q) {
        const auto r = verdict::calcReport(std::make_shared<const model::Project>(q));
        return std::count_if(r.verdicts.begin(), r.verdicts.end(),
                             [](const auto& v) { return v.check == "failure" && v.state == verdict::State::Fail; });
    };
    EXPECT_EQ(open(p), 1);
    auto answered = p.diary[0];
    answered.answer = "a second stud";
    EXPECT_EQ(open(must(model::putDiaryEntry(p, answered))), 0);
}
