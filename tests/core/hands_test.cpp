// SPDX-License-Identifier: GPL-3.0-or-later
// What must be held from below while it is pressed on: levers by hand, and the cut-out piece against the whole.
#include "core/study/hands.h"

#include <gtest/gtest.h>

#include <set>

#include "core/files/project_file.h"
#include "core/files/sheet_steps.h"
#include "core/study/fingers.h"
#include "core/trials/strengths.h"
#include "core/verdict/report.h"
#include "tests/support/figures.h"
#include "tests/support/repo.h"

using namespace ivrant;

namespace {

study::Facts factsOf(const model::Project& project) {
    study::Wanted wanted;
    wanted.facts = study::kAssembly;
    return study::calcFacts(std::make_shared<const model::Project>(project), wanted);
}

/// Every part in a step of its own.
struct Stepped : test::Figure {
    int step = 1;
    model::PartId then(const std::string& typed) {
        const auto id = put(0, typed);
        project = test::must(model::setStep(project, {&id, 1}, step++));
        return id;
    }
    /// Ids of the parts that ask for a finger below.
    [[nodiscard]] std::set<std::string> held() const {
        std::set<std::string> ids;
        for (const auto& hint : study::calcHolds(factsOf(project), 0))
            ids.insert(project.sections[0]->parts[static_cast<std::size_t>(hint.part)].id.text);
        return ids;
    }
};

} // namespace

TEST(Hands, ALongLeverNeedsAFingerBelow) {
    Stepped figure;
    figure.then("plate 4x4 at 0 0 0");
    figure.then("brick 2x2 at 1 1 1");
    figure.then("plate 2x10 at 1 1 4"); // its first two rows of studs over the brick, then 64 mm in the air
    const auto above = figure.then("brick 2x1 at 1 1 5");
    const auto far = figure.then("brick 2x1 at 1 10 5");
    // Above the brick nothing tips. At the end: 10 N times 60 mm from its edge to the middle of the last row, against
    // four studs that pull with at most 1.5 N at 4 and 12 mm: 600 N·mm against 2·1.5·(4 + 12) = 48 N·mm.
    EXPECT_EQ(figure.held(), (std::set<std::string>{far.text}));
    const auto hints = study::calcHolds(factsOf(figure.project), 0);
    ASSERT_EQ(hints.size(), 1U);
    ASSERT_EQ(hints[0].under.size(), 1U);
    EXPECT_EQ(figure.project.sections[0]->parts[static_cast<std::size_t>(hints[0].under[0])].shape->name, "plate 2x10");
    // With a post below the end it is carried.
    Stepped posted;
    posted.then("plate 4x16 at 0 0 0");
    posted.then("brick 2x2 at 1 1 1");
    posted.then("brick 2x2 at 1 9 1");
    posted.then("plate 2x10 at 1 1 4");
    posted.then("brick 2x1 at 1 10 5");
    EXPECT_TRUE(posted.held().empty());
    static_cast<void>(above);
}

TEST(Hands, WhatStandsOnTheTableNeedsNone) {
    Stepped figure;
    figure.then("plate 4x4 at 0 0 0");
    for (int layer = 0; layer < 6; ++layer) figure.then("brick 2x4 at 1 0 " + std::to_string(1 + 3 * layer));
    EXPECT_TRUE(figure.held().empty()) << "a tower on its plate carries every press";
}

TEST(Hands, PiecesAnswerAsTheWholeDoes) {
    // The demo's figure: cut out within four bonds, and within far more than it has.
    for (const char* name : {"heron", "fairgoer-captain"}) {
        const auto facts =
            factsOf(test::must(files::loadProject(test::repo("/data/demo/" + std::string(name) + ".ivrant"))));
        for (int s = 0; s < static_cast<int>(facts.project->sections.size()); ++s) {
            std::set<int> near, whole;
            for (const auto& hint : study::calcHolds(facts, s)) near.insert(hint.part);
            for (const auto& hint : study::calcHolds(facts, s, nullptr, 1000)) whole.insert(hint.part);
            // A held rim only helps: what fails near fails in the whole as well.
            for (const int part : near)
                EXPECT_TRUE(whole.count(part) > 0) << name << " section " << s << " part " << part;
        }
    }
}

TEST(Fingers, WellsTakeATipOrNothing) {
    Stepped figure;
    figure.then("plate 8x8 at 0 0 0");
    const auto open = figure.then("brick 2x2 at 0 0 1");
    for (const char* wall : {"brick 2x4 at 2 2 1", "brick 2x4 at 6 2 1", "brick 2x2 at 4 0 1", "brick 2x2 at 4 6 1",
                             "brick 2x4 at 2 2 4", "brick 2x4 at 6 2 4", "brick 2x2 at 4 0 4", "brick 2x2 at 4 6 4"})
        figure.then(wall);
    // A field of 2x4 between walls of two bricks: the first brick in has room beside it along y, the second on no side
    // with both pads, but a tip of 8 by 10 mm on its 16 mm.
    const auto first = figure.then("brick 2x2 at 4 2 1");
    const auto second = figure.then("plate 2x2 at 4 4 1");
    const auto grips = study::calcGrips(factsOf(figure.project), 0);
    const auto gripOf = [&](const model::PartId& id) {
        return grips[static_cast<std::size_t>(model::PartIndex(figure.project).find(id).part)];
    };
    EXPECT_EQ(gripOf(open), study::Grip::Pinch);
    EXPECT_EQ(gripOf(first), study::Grip::FingerTip) << "one side along y is a wall";
    EXPECT_EQ(gripOf(second), study::Grip::FingerTip);
    // A hole of one stud, two bricks deep, takes no finger.
    Stepped narrow;
    narrow.then("plate 6x6 at 0 0 0");
    for (const std::string z : {"1", "4"})
        for (const char* wall : {"brick 2x6 at 0 0 ", "brick 2x6 at 3 0 ", "brick 1x2 at 2 0 ", "brick 1x3 at 2 3 "})
            narrow.then(wall + z);
    const auto deep = narrow.then("plate 1x1 at 2 2 1");
    const auto tight = study::calcGrips(factsOf(narrow.project), 0);
    EXPECT_EQ(tight[static_cast<std::size_t>(model::PartIndex(narrow.project).find(deep).part)], study::Grip::None);
    // The sheet says so.
    const auto report = verdict::calcReport(std::make_shared<const model::Project>(narrow.project));
    const auto steps = files::makeSheetSteps(report);
    const auto& notes = steps.back().notes;
    EXPECT_TRUE(std::any_of(notes.begin(), notes.end(), [](const std::string& note) {
        return note.find("No room for fingers at plate 1x1") != std::string::npos;
    }));
}

TEST(Fingers, TheWayInDecidesFromWhereTheyCome) {
    // Put on from below: what stands above is no hindrance, what hangs below is.
    Stepped figure;
    figure.then("brick 2x2 at 0 0 3");
    figure.then("plate 6x2 at -2 0 2");
    const auto under = figure.then("plate 2x2 at 0 0 1");
    EXPECT_EQ(study::calcGrips(factsOf(figure.project), 0)[2], study::Grip::Pinch) << under.text;
    Stepped closed;
    closed.then("brick 2x2 at 0 0 6");
    closed.then("plate 6x6 at -2 -2 5");
    for (const char* leg : {"brick 2x2 at -2 0 2", "brick 2x2 at 2 0 2", "brick 2x2 at 0 -2 2", "brick 2x2 at 0 2 2"})
        closed.then(leg);
    closed.then("plate 2x2 at 0 0 4");
    EXPECT_EQ(study::calcGrips(factsOf(closed.project), 0).back(), study::Grip::FingerTip);
}
