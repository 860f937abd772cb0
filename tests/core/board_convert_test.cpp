// SPDX-License-Identifier: GPL-3.0-or-later
// Boards of older files as parts: the same trains, ratios and margins, the same ids; what only a board could say is
// told.
#include <gtest/gtest.h>

#include <random>
#include <set>

#include "core/drive/board_convert.h"
#include "core/files/project_file.h"
#include "tests/support/boards.h"
#include "tests/support/repo.h"
#include "tests/support/reports.h"

namespace ivrant {
namespace {

using test::BoardFigure;
using test::must;

class OldBoards : public testing::TestWithParam<const char*> {
protected:
    model::Project project =
        must(files::loadProject(test::repo(std::string("/tests/fixtures/boards/") + GetParam() + ".ivrant")));
};

TEST_P(OldBoards, GiveTheSameFunctionsAsParts) {
    const auto made = must(drive::convertBoards(project));
    EXPECT_GT(made.parts, 0);
    for (const auto& board : made.project.boards)
        EXPECT_TRUE(board->shafts.empty() && board->gears.empty() && board->couplings.empty() &&
                    board->carrier.empty());
    const auto before = test::reportOf(project), after = test::reportOf(made.project);
    ASSERT_EQ(before.drive->positions.size(), after.drive->positions.size());
    for (std::size_t p = 0; p < before.drive->positions.size(); ++p) {
        const auto &old = before.drive->positions[p].functions, &now = after.drive->positions[p].functions;
        ASSERT_EQ(old.size(), now.size());
        for (std::size_t f = 0; f < old.size(); ++f) {
            const std::string what = old[f].function->name;
            EXPECT_EQ(old[f].function->id, now[f].function->id);
            ASSERT_EQ(old[f].motors.size(), now[f].motors.size()) << what;
            for (std::size_t m = 0; m < old[f].motors.size(); ++m)
                EXPECT_EQ(old[f].motors[m].ratio, now[f].motors[m].ratio) << what;
            EXPECT_EQ(old[f].margin.has_value(), now[f].margin.has_value()) << what;
            if (old[f].margin && now[f].margin) {
                EXPECT_NEAR(*old[f].margin, *now[f].margin, 1e-9 * *old[f].margin) << what;
            }
            EXPECT_EQ(old[f].travelS.has_value(), now[f].travelS.has_value()) << what;
            EXPECT_EQ(old[f].holds, now[f].holds) << what;
        }
    }
    EXPECT_EQ(before.drive->net.faults.size(), after.drive->net.faults.size());
    // The same matter: what is new are driving rings and connectors, which boards counted beside.
    double masses[2] = {0, 0};
    for (const auto& board : project.boards)
        for (const auto& part : model::listBoardParts(*board).parts) masses[0] += part.shape->massG;
    for (const auto& section : project.sections)
        for (const auto& part : section->parts) masses[0] += part.massG();
    for (const auto& section : made.project.sections)
        for (const auto& part : section->parts)
            if (part.shape->family != "driving ring" && part.shape->family != "straight connector")
                masses[1] += part.massG();
    EXPECT_NEAR(masses[0], masses[1], 1e-9 * masses[0]);
}

TEST_P(OldBoards, AreConvertedOnceAndSurviveTheFile) {
    const auto made = must(drive::convertBoards(project));
    EXPECT_EQ(drive::convertBoards(made.project).error().code, "convert.none");
    const auto read = must(files::parseProject(files::writeProject(made.project)));
    EXPECT_EQ(files::writeProject(read), files::writeProject(made.project));
    bool told = false;
    for (const std::string& note : made.notes) told |= note.find("without holes") != std::string::npos;
    EXPECT_TRUE(told) << "bearings that were only said";
}

INSTANTIATE_TEST_SUITE_P(Files, OldBoards, testing::Values("bridge", "cart", "neck-drive"));

TEST(BoardConvert, RandomBoardsTurnAlike) {
    std::mt19937 random(20261130);
    const int kTeeth[] = {8, 12, 16, 20, 24, 36, 40};
    int compared = 0;
    for (int round = 0; round < 400; ++round) {
        BoardFigure f;
        std::vector<model::ShaftId> shafts;
        std::set<std::pair<int, int>> places;
        for (int s = 0; s < 5; ++s) {
            const auto pick = [&](int low, int high) { return std::uniform_int_distribution<int>(low, high)(random); };
            const std::pair<int, int> place{pick(0, 9), pick(0, 5)};
            if (!places.insert(place).second) continue;
            shafts.push_back(
                f.shaft(place.first, place.second, 4, 0)); // with one wheel at least, else it drives nothing
            const int always = pick(1, 3);
            for (int layer = 1; layer <= 3; ++layer)
                if (layer == always || pick(0, 1) == 0)
                    f.spur(shafts.back(), kTeeth[static_cast<std::size_t>(pick(0, 6))], layer);
        }
        const auto old = f.net();
        // What runs into something else cannot be built: a shaft through a wheel is no longer beside it.
        if (!old.clashes.empty() || old.relations.empty()) continue;
        ++compared;
        const auto made = must(drive::convertBoards(f.project));
        const auto report = test::reportOf(made.project);
        const auto& now = report.drive->net;
        EXPECT_EQ(old.faults.size(), now.faults.size()) << round;
        for (const auto& a : shafts) {
            const int from = old.findRotor(a.text), fromNow = now.findRotor(a.text);
            ASSERT_GE(fromNow, 0) << round;
            for (const auto& b : shafts) ASSERT_GE(now.findRotor(b.text), 0) << round;
            const auto motion = drive::solveTrain(old.train, {from}),
                       motionNow = drive::solveTrain(now.train, {fromNow});
            for (const auto& b : shafts)
                EXPECT_EQ(drive::formatRatio(motion.ratio(old.findRotor(b.text), from)),
                          drive::formatRatio(motionNow.ratio(now.findRotor(b.text), fromNow)))
                    << round << ": " << a.text << " to " << b.text;
        }
    }
    EXPECT_GT(compared, 15);
}

TEST(BoardConvert, WhatNoPartIsLikeGoesAndIsTold) {
    BoardFigure f;
    const auto a = f.shaft(0, 0), b = f.shaft(3, 0);
    f.spur(a, 24);
    const auto odd = f.spur(b, 22); // there is no such wheel
    model::DriveFunction turn;
    turn.name = "Turn";
    turn.shaft = b;
    f.function(turn);
    const auto made = must(drive::convertBoards(f.project));
    ASSERT_FALSE(made.notes.empty());
    EXPECT_NE(made.notes.front().find("22"), std::string::npos) << made.notes.front();
    EXPECT_LT(model::PartIndex(made.project).find({odd.text}).section, 0);
    EXPECT_EQ(made.project.boards.front()->functions.size(), 1u) << "its shaft is there";
}

TEST(BoardConvert, TurntablesBecomeJointsAndCarryWhatStoodOnThem) {
    BoardFigure f;
    const auto post = f.shaft(0, 0, 4, 0, model::BoardAxis::Out, "Post");
    const auto table = f.gear(post, model::GearKind::Turntable, 56, 2);
    const model::BoardId below = f.board;
    f.addBoard({}, {});
    f.project = must(model::carryBoard(f.project, f.board, table));
    const auto rider = f.shaft(5, 0, 3, 4);
    f.spur(rider, 8);
    const auto made = must(drive::convertBoards(f.project));
    ASSERT_EQ(made.project.joints.size(), 1u);
    EXPECT_EQ(made.project.joints.front().kind->name, "large geared turntable");
    const model::PartIndex index(made.project);
    EXPECT_EQ(index.find({rider.text}).section, index.find({table.text}).section) << "it goes round with it";
    EXPECT_NE(index.find({post.text}).section, index.find({table.text}).section);
    EXPECT_EQ(made.project.boards[static_cast<std::size_t>(made.project.findBoard(below))]->section,
              made.project.sections[static_cast<std::size_t>(index.find({post.text}).section)]->id);
}

} // namespace
} // namespace ivrant
