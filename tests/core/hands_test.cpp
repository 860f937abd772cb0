// SPDX-License-Identifier: GPL-3.0-or-later
// What must be held from below while it is pressed on: levers by hand, and the cut-out piece against the whole.
#include "core/study/hands.h"

#include <gtest/gtest.h>

#include <set>

#include "core/files/project_file.h"
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
