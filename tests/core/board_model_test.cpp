// SPDX-License-Identifier: GPL-3.0-or-later
// Gear boards as parts of the model: steps, parts list, what is in their way, motors' bodies, what stands on the
// sheets.
#include <algorithm>
#include <numeric>

#include "core/bonds/board_overlaps.h"
#include "core/files/mesh_files.h"
#include "core/files/project_file.h"
#include "core/files/results_json.h"
#include "core/files/sheet_drive.h"
#include "core/make/parts_list.h"
#include "core/make/steps.h"
#include "core/pose/stance.h"
#include "core/verdict/asks/asks.h"
#include "tests/support/boards.h"
#include "tests/support/near.h"
#include "tests/support/repo.h"

using namespace ivrant;
using geometry::Vec3;
using test::must;

namespace {

/// A board in the first section of a base of two plates, its holes 40 mm above them.
struct OnBase : test::Figure {
    model::BoardId board;
    model::ShaftId shaft;
    OnBase() {
        put(0, "plate 8x8 at 0 0 0");
        project = must(model::setStep(project, std::array{put(0, "plate 2x4 at 0 0 1")}, 2));
        model::Place place;
        place.atUm = {0, 0, 40'000};
        project = must(model::addBoard(project, "Winch", project.sections[0]->id, place, &board));
        shaft = addShaft(2, 2, 0, 4);
    }
    model::ShaftId addShaft(double x, double y, double z, double length) {
        model::Shaft added;
        added.atUm = {test::BoardFigure::um(x), test::BoardFigure::um(y), test::BoardFigure::um(z)};
        added.lengthUm = test::BoardFigure::um(length);
        model::ShaftId id;
        project = must(model::putShaft(project, board, added, &id));
        return id;
    }
    void addGear(const model::ShaftId& on, int teeth, double along, bool loose = false) {
        model::Gear gear;
        gear.teeth = teeth;
        gear.shaft = on;
        gear.alongUm = test::BoardFigure::um(along);
        gear.loose = loose;
        project = must(model::putGear(project, board, gear));
    }
    void addMotor(bool atEnd, const std::string& line = "motor small") {
        project = must(model::putMotor(project, board, {{}, "M", line, shaft, atEnd, {}}));
    }
    [[nodiscard]] std::vector<bonds::BoardOverlap> overlaps() const {
        const auto at = placed();
        return bonds::calcBoardOverlaps(at, bonds::calcBonds(project));
    }
    [[nodiscard]] std::vector<make::Step> steps() const { return make::listSteps(project, tree()); }
    /// The board's part with an id, its bounds in the board.
    [[nodiscard]] geometry::Bounds boundsOf(const std::string& id) const {
        geometry::Bounds bounds;
        for (const auto& part : model::listBoardParts(*project.boards[0]).parts)
            if (part.id == id)
                for (const auto& solid : part.shape->solids) {
                    const auto box = geometry::calcBounds(solid.solid, part.X_BP);
                    bounds.include(box.low);
                    bounds.include(box.high);
                }
        return bounds;
    }
};

int countIn(const std::vector<make::TrayLine>& tray) {
    return std::accumulate(tray.begin(), tray.end(), 0, [](int sum, const auto& line) { return sum + line.count; });
}

} // namespace

TEST(BoardSteps, ABoardIsAStepAfterTheOnesOfItsSection) {
    OnBase f;
    f.addGear(f.shaft, 24, 1);
    auto steps = f.steps();
    ASSERT_EQ(steps.size(), 3U);
    EXPECT_EQ(steps[2].board, 0);
    EXPECT_EQ(steps[2].number, 3);
    EXPECT_EQ(countIn(steps[2].tray), 2) << "an axle and a wheel";
    EXPECT_EQ(make::getStepName(f.project, steps[2]), "Winch");
    model::Board head = *f.project.boards[0];
    head.step = 1;
    head.colour = 2;
    f.project = must(model::changeBoardHead(f.project, head));
    steps = f.steps();
    ASSERT_EQ(steps.size(), 3U);
    EXPECT_EQ(steps[1].board, 0) << "after step 1, before step 2";
    EXPECT_EQ(steps[2].boards, std::vector<int>{0}) << "it is there when step 2 is built";
    for (const auto& line : steps[1].tray) EXPECT_EQ(line.colour, 2);
}

TEST(BoardSteps, ABoardOfItsOwnComesFirstAndEmptyOnesNever) {
    OnBase f;
    model::BoardId alone;
    f.project = must(model::addBoard(f.project, "Trial", {}, {}, &alone));
    EXPECT_EQ(f.steps().size(), 3U) << "nothing is on it yet";
    model::Shaft shaft;
    shaft.lengthUm = 32'000;
    f.project = must(model::putShaft(f.project, alone, shaft));
    const auto steps = f.steps();
    ASSERT_EQ(steps.size(), 4U);
    EXPECT_EQ(steps[0].board, 1);
    EXPECT_EQ(steps[0].section, -1);
    const auto json = files::makeStepsJson(f.project, f.tree());
    EXPECT_TRUE(json["steps"][0]["section"].is_null());
    EXPECT_EQ(json["steps"][0]["board"], alone.text);
    EXPECT_EQ(json["steps"][0]["tray"][0]["shape"], "axle 4");
}

TEST(BoardSteps, StepsTogetherAreThePartsList) {
    for (const char* name : {"bridge", "cart", "neck-drive"}) {
        const auto project =
            must(files::loadProject(test::repo(std::string("/tests/fixtures/boards/") + name + ".ivrant")));
        int inSteps = 0, inList = 0;
        for (const auto& step : make::listSteps(project, must(model::makeTree(project)))) inSteps += countIn(step.tray);
        for (const auto& line : make::listParts(project)) inList += line.count;
        EXPECT_EQ(inSteps, inList) << name;
        EXPECT_EQ(static_cast<std::size_t>(inList), project.partCount() + model::countBoardParts(project)) << name;
    }
}

TEST(BoardParts, MotorsLieBehindTheirShaftAPitchOverIt) {
    OnBase f;
    f.addMotor(false);
    f.addMotor(true);
    const auto& motors = f.project.boards[0]->motors;
    // A small motor is 4 pitches long and 3 wide; the shaft runs from z 0 to 32 mm at x = y = 16 mm.
    const auto start = f.boundsOf(motors[0].id.text), end = f.boundsOf(motors[1].id.text);
    EXPECT_NEAR(start.high.z(), 8, 0.2); // sides of bodies are inset by 0.1 mm
    EXPECT_NEAR(start.low.z(), 8 - 32, 0.2);
    EXPECT_NEAR(end.low.z(), 32 - 8, 0.2);
    EXPECT_NEAR(end.high.z(), 32 - 8 + 32, 0.2);
    for (const auto& body : {start, end}) EXPECT_NEAR(body.centre().y(), 16, 1.8) << "but for the studs on one side";
}

TEST(BoardParts, TurntablesLieAboutTheirShaft) {
    OnBase f;
    model::Gear table;
    table.kind = model::GearKind::Turntable;
    table.teeth = 56;
    table.shaft = f.shaft;
    table.alongUm = 24'000;
    model::GearId id;
    f.project = must(model::putGear(f.project, f.board, table, &id));
    const auto bounds = f.boundsOf(id.text); // both halves
    EXPECT_NEAR(bounds.size().x(), 56, 3);
    EXPECT_NEAR(bounds.size().y(), 56, 3);
    EXPECT_NEAR(bounds.high.z(), 28, 0.3) << "half a pitch over its plane";
    EXPECT_NEAR(bounds.low.z(), 12, 0.3);
}

TEST(BoardOverlaps, BricksInTheWayAreNamedWithTheirDepth) {
    OnBase f;
    f.addGear(f.shaft, 24, 1); // at 48 mm, radius 12 about (16, 16)
    EXPECT_TRUE(f.overlaps().empty());
    const auto brick = f.put(0, "brick 2x2 at 2 2 14"); // 44.8 to 54.4 mm high, round the shaft
    const auto found = f.overlaps();
    ASSERT_EQ(found.size(), 2U) << "the shaft and the wheel";
    for (const auto& overlap : found) {
        EXPECT_EQ(model::getPart(f.project, overlap.spot).id, brick);
        EXPECT_GT(overlap.depthMm, 1);
    }
}

TEST(BoardOverlaps, ShaftsGoThroughHolesOnTheirLineOnly) {
    OnBase f;
    // A shaft along x through the holes of a brick at height 5.6 mm over its underside.
    model::Shaft across;
    across.axis = model::BoardAxis::Right;
    across.lengthUm = 40'000;
    across.atUm = {-8'000, 4'000, 0};
    f.project = must(model::putShaft(f.project, f.board, across));
    f.put(0, "pin hole brick 1x2 at 0mm 0mm 34.4mm");
    EXPECT_TRUE(f.overlaps().empty()) << "through its hole";
    model::Part moved = f.project.sections[0]->parts.back();
    f.project = must(model::removeParts(f.project, std::array{moved.id}));
    f.put(0, "pin hole brick 1x2 at 0mm 0mm 32.4mm");
    EXPECT_EQ(f.overlaps().size(), 1U) << "2 mm beside it";
}

TEST(BoardOverlaps, MotorBodiesMeetOtherShaftsAndWheels) {
    OnBase f;
    f.addMotor(true); // from 24 mm on, 24 mm wide about (16, 16)
    f.addGear(f.shaft, 24, 1);
    EXPECT_TRUE(f.overlaps().empty());
    const auto beside = f.addShaft(3, 2, 0, 6); // 8 mm aside: into the body
    const auto found = f.overlaps();
    ASSERT_EQ(found.size(), 1U);
    EXPECT_EQ(found[0].other, beside.text);
    EXPECT_LT(found[0].spot.section, 0);
}

TEST(BoardSize, WhatABoardReachesCountsForHeightStandingAndExport) {
    OnBase f;
    f.addGear(f.shaft, 24, 1);
    // Two plates high without the board: the shaft ends 40 + 32 mm up.
    geometry::Bounds bounds;
    for (const auto& corner : pose::listCorners(f.placed())) bounds.include(corner);
    EXPECT_NEAR(bounds.high.z(), 72, 0.2);
    // Hung 20 mm under the base, the board's shaft is what it stands on: from -20 to 12 mm.
    model::Board head = *f.project.boards[0];
    head.place.atUm[2] = -20'000;
    f.project = must(model::changeBoardHead(f.project, head));
    auto placed = f.placed();
    pose::applyStance(placed, {model::Stance::Kind::Flat, f.project.sections[0]->id, {}});
    EXPECT_NEAR(placed.X_WS[0].translation().z(), 20, 0.2);
    EXPECT_FALSE(pose::listGroundCorners(placed, 0.05).empty());
    const std::string obj = files::makeObj(placed);
    EXPECT_NE(obj.find("o " + f.shaft.text + "\n"), std::string::npos);
}

TEST(BoardSize, ABoardInAnEmptySectionStandsOnTheGround) {
    test::BoardFigure f;
    model::Board head = *f.project.boards[0];
    head.section = f.project.sections[0]->id;
    head.place.atUm[2] = 50'000;
    f.project = must(model::changeBoardHead(f.project, head));
    f.shaft(0, 0);
    model::Placed placed{&f.project, {geometry::Frame::Identity()}};
    pose::applyStance(placed, {model::Stance::Kind::Flat, head.section, {}});
    EXPECT_NEAR(placed.X_WS[0].translation().z(), -50, 0.2);
}

TEST(BoardAsks, CountTheBoardsParts) {
    OnBase f;
    f.addGear(f.shaft, 24, 1);
    const auto valueOf = [&](const std::string& measure, const std::string& shape = "") {
        model::Ask ask;
        ask.measure = measure;
        ask.value = 1;
        ask.shape = shape;
        auto project = must(model::putAsk(f.project, ask));
        const auto report = verdict::calcReport(std::make_shared<const model::Project>(project));
        for (const auto& v : report.verdicts)
            if (v.check == "ask") return v.value;
        return -1.0;
    };
    EXPECT_EQ(valueOf("parts"), 4);
    EXPECT_EQ(valueOf("steps"), 3);
    EXPECT_EQ(valueOf("shape-count", "spur gear 24"), 1);
}

TEST(SheetDrive, TellsTheBridgesFunctionsWiringAndSpares) {
    const auto project = must(files::loadProject(test::repo("/tests/fixtures/boards/bridge.ivrant")));
    const auto report = verdict::calcReport(std::make_shared<const model::Project>(project));
    const auto sheet = files::makeSheetDrive(report);
    ASSERT_EQ(sheet.boards.size(), 2U);
    std::size_t wheels = 0;
    for (const auto& board : sheet.boards) wheels += board.wheels.size();
    std::size_t gears = 0;
    for (const auto& board : project.boards) gears += board->gears.size();
    EXPECT_EQ(wheels, gears);
    const auto& m1 = sheet.boards[0].wheels.front();
    EXPECT_EQ(m1.wheel, "spur gear 12");
    EXPECT_EQ(m1.hole, "6, 3");
    EXPECT_EQ(m1.layer, "-3");
    EXPECT_NE(m1.meshes.find("36"), std::string::npos);
    EXPECT_EQ(sheet.functions.size(), 4U) << "each in the one position that drives it";
    ASSERT_EQ(sheet.wires.size(), 2U);
    EXPECT_EQ(sheet.wires[0].port, "A");
    EXPECT_EQ(sheet.wires[1].port, "B");
    EXPECT_NE(sheet.wires[0].moves.find("Slew (Turn and lift)"), std::string::npos);
    EXPECT_NE(sheet.wires[0].moves.find("Gate (Signals)"), std::string::npos);
    ASSERT_EQ(sheet.reach.size(), 2U);
    EXPECT_NE(sheet.reach[0].find("No battery box"), std::string::npos);
    const auto has = [&](const std::string& part) {
        return std::any_of(sheet.spares.begin(), sheet.spares.end(),
                           [&](const auto& spare) { return spare.first == part; });
    };
    EXPECT_TRUE(has("worm gear"));
    EXPECT_TRUE(has("clutch gear 24"));
    EXPECT_TRUE(has("chain link"));
    EXPECT_FALSE(has("belt"));
    EXPECT_GE(sheet.cautions.size(), 2U);
}

TEST(SheetDrive, SaysWhereTheBatteryBoxIsAndCranksNeedNone) {
    OnBase f;
    f.addMotor(true);
    f.put(0, "battery box at 2 0 1");
    const auto sheet = files::makeSheetDrive(verdict::calcReport(std::make_shared<const model::Project>(f.project)));
    ASSERT_EQ(sheet.reach.size(), 1U);
    EXPECT_NE(sheet.reach[0].find("mm in from the"), std::string::npos) << sheet.reach[0];
    EXPECT_EQ(sheet.wires[0].moves, "nothing yet");
    const auto neck = must(files::loadProject(test::repo("/tests/fixtures/boards/neck-drive.ivrant")));
    const auto byHand = files::makeSheetDrive(verdict::calcReport(std::make_shared<const model::Project>(neck)));
    EXPECT_TRUE(byHand.reach.empty());
    EXPECT_EQ(byHand.wires[0].port, "by hand");
    for (const auto& caution : byHand.cautions) EXPECT_EQ(caution.find("Cells"), std::string::npos);
}
