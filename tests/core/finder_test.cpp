// SPDX-License-Identifier: GPL-3.0-or-later
// Finders beyond the plain ratio: speed, torque, travel; a selector against one motor for each function.
#include <cmath>
#include <gtest/gtest.h>

#include "core/base/units.h"
#include "core/drive/board_line.h"
#include "core/drive/ratio_text.h"
#include "core/drive/selector_compare.h"
#include "core/drive/travel_finder.h"
#include "core/drive/wanted_ratio.h"
#include "core/files/project_file.h"
#include "tests/support/boards.h"
#include "tests/support/repo.h"

using namespace ivrant;
using test::must;

namespace {

drive::LoadedMotor loaded(double loadNmm, double efficiency = 1) {
    return {*drive::findStartingMotor("motor medium"), drive::getStartingBattery(), loadNmm, efficiency};
}

} // namespace

TEST(WantedRatio, ReachesTheSpeedAndTakesTheEasierOfBothRatios) {
    for (const double rpm : {1.0, 5.0, 12.0})
        for (const double load : {5.0, 100.0, 300.0}) {
            auto motor = loaded(load, 0.8);
            const auto ratio = drive::calcRatioForSpeed(motor, rpm);
            ASSERT_TRUE(ratio) << ratio.error().message;
            EXPECT_NEAR(drive::calcTrainOutput(motor, *ratio).rpm, rpm, 1e-9);
            // Any smaller ratio is slower: it is the first that gets there.
            for (double less = *ratio * 0.1; less < *ratio * 0.999; less *= 1.2)
                EXPECT_LT(drive::calcTrainOutput(motor, less).rpm, rpm);
        }
    const auto idle = loaded(0);
    EXPECT_NEAR(drive::calcRatioForSpeed(idle, 100).value(), 100 / drive::calcSpeedRpm(idle.motor, idle.battery, 0),
                1e-12);
}

TEST(WantedRatio, SaysTheQuickestThatALoadLeaves) {
    const auto motor = loaded(300, 0.8);
    const auto tooFast = drive::calcRatioForSpeed(motor, 500);
    ASSERT_FALSE(tooFast);
    EXPECT_EQ(tooFast.error().code, "ratio.slow");
    double quickest = 0; // by trying every ratio
    for (double ratio = 1e-4; ratio < 1; ratio += 1e-5)
        quickest = std::max(quickest, drive::calcTrainOutput(motor, ratio).rpm);
    EXPECT_NE(tooFast.error().message.find(base::formatNumber(quickest, 1)), std::string::npos)
        << tooFast.error().message;
    EXPECT_TRUE(drive::calcRatioForSpeed(motor, quickest * 0.999));
    EXPECT_EQ(drive::calcRatioForSpeed(motor, 0).error().code, "ratio.wish");
    EXPECT_EQ(drive::calcRatioForTorque(motor, 0).error().code, "ratio.wish");
}

TEST(WantedRatio, TorqueLeavesTheWantedMargin) {
    auto motor = loaded(250, 0.75);
    const double ratio = drive::calcRatioForTorque(motor, 250).value();
    EXPECT_NEAR(drive::calcTrainOutput(motor, ratio).margin, 1.5, 1e-9);
}

TEST(WantedRatio, APlacedTrainDoesWhatTheFinderSaid) {
    // The second route: the train laid out on a board, its function calculated from there.
    drive::RatioWish wish;
    wish.ratio = 1.0 / 15;
    const auto found = must(drive::searchRatios(wish));
    const auto& train = found.groups.front().trains.front();
    test::BoardFigure f;
    drive::BoardHand hand;
    hand.board = f.board;
    hand.ownThings = true;
    const auto placed = must(drive::placeTrain(f.project, hand, train));
    f.project = placed.project;
    f.motor(f.project.boards[0]->shafts.front().id);
    model::DriveFunction function;
    function.name = "Load";
    function.shaft = {placed.added};
    function.load = model::LoadKind::Friction;
    function.amount = 200;
    f.function(function);
    const auto report = f.report();
    const auto& state = report.positions[0].functions[0];
    const auto told =
        drive::calcTrainOutput(loaded(200, drive::calcTrainEfficiency(train)), found.groups.front().ratio.get_d());
    EXPECT_NEAR(state.speed, told.rpm, 1e-6);
    EXPECT_NEAR(state.margin.value(), told.margin, 1e-9);
}

TEST(RatioText, RatiosAndStock) {
    EXPECT_NEAR(must(drive::parseRatio("1:105")), 1.0 / 105, 1e-15);
    EXPECT_EQ(must(drive::parseRatio("-0.25")), -0.25);
    EXPECT_EQ(drive::parseRatio("1:0").error().code, "ratio.wish");
    for (const char* bad : {"", "x:y", "1:2:3", "1:"}) EXPECT_FALSE(drive::parseRatio(bad)) << bad;
    drive::RatioWish wish;
    ASSERT_TRUE(drive::parseStock("  ", wish));
    EXPECT_EQ(wish.worms, 1) << "nothing told: any number of each";
    ASSERT_TRUE(drive::parseStock("8:4, 24:2 40", wish));
    EXPECT_EQ(wish.stock, (std::vector<std::pair<int, int>>{{8, 4}, {24, 2}, {40, 1}}));
    EXPECT_EQ(wish.worms, 0) << "no worm among what there is";
    ASSERT_TRUE(drive::parseStock("worm:2", wish));
    EXPECT_EQ(wish.worms, 2);
    for (const char* bad : {"many", "8:", "8:2.5", "8:-1", "8.5:2", "worm:x"})
        EXPECT_EQ(drive::parseStock(bad, wish).error().code, "ratio.wish") << bad;
}

TEST(Travel, RacksAndScrewsByHand) {
    const auto options = must(drive::listTravels({24, 3.0, 2}));
    // Actuator 9: stroke 24 mm, lead 4 mm: 6 turns, in 3 s 120 rpm; 2 N · 4 mm / 2π / 0.25 = 5.0930 N·mm.
    ASSERT_GE(options.size(), 3U);
    EXPECT_EQ(options[0].name, "linear actuator 9");
    EXPECT_NEAR(options[0].turns, 6, 1e-12);
    EXPECT_NEAR(*options[0].rpm, 120, 1e-9);
    EXPECT_NEAR(options[0].torqueNmm, 5.0930, 1e-4);
    EXPECT_TRUE(options[0].holds);
    EXPECT_NEAR(options[0].lengthMm, 72 + 24, 1e-12);
    // Pinion 8: 8π = 25.1327 mm for each turn; 2 N · 4 mm / 0.92 = 8.6957 N·mm. Rack 24 + 2π = 30.3 mm: 4 pitches.
    EXPECT_EQ(options[2].name, "pinion 8 on rack 4");
    EXPECT_NEAR(options[2].turns, 24 / 25.13274, 1e-5);
    EXPECT_NEAR(options[2].torqueNmm, 8.6957, 1e-4);
    for (const auto& option : options) { // work in = work out over the efficiency
        const double efficiency = option.holds ? drive::kActuatorEfficiency : drive::kSpurEfficiency;
        EXPECT_NEAR(option.torqueNmm * 2 * base::kPi * option.turns * efficiency, 2 * 24, 1e-9) << option.name;
    }
}

TEST(Travel, LongOnesNeedSeveralRacksAndNoScrewReaches) {
    const auto options = must(drive::listTravels({200, {}, 0}));
    EXPECT_EQ(options[0].name, "pinion 8 on 2 x rack 13");
    EXPECT_FALSE(options[0].rpm);
    for (const auto& option : options) EXPECT_FALSE(option.holds);
    EXPECT_EQ(must(drive::listTravels({30, {}, 0}))[0].name, "linear actuator 13");
    for (const drive::TravelWish& bad :
         {drive::TravelWish{0, {}, 0}, {-3, {}, 0}, {10, 0.0, 0}, {10, {}, -1}, {std::nan(""), {}, 0}})
        EXPECT_EQ(drive::listTravels(bad).error().code, "travel.wish");
}

TEST(SelectorCompare, BridgeAgainstOneMotorEach) {
    const auto project = must(files::loadProject(test::repo("/tests/fixtures/boards/bridge.ivrant")));
    const auto report = drive::calcDriveReport(
        project, drive::readBoards(project, model::calcBoardFrames({&project, {geometry::Frame::Identity()}, {}})));
    const auto both = drive::compareSelector(project, report);
    ASSERT_TRUE(both);
    EXPECT_EQ(both->asBuilt.motors, 2);
    EXPECT_EQ(both->asBuilt.functions, 4);
    EXPECT_EQ(both->asBuilt.together, 2);
    EXPECT_EQ(both->asBuilt.positions, 3);
    EXPECT_EQ(both->asBuilt.parts, static_cast<int>(model::countBoardParts(project)));
    EXPECT_EQ(both->oneEach.motors, 4);
    EXPECT_EQ(both->oneEach.together, 4);
    EXPECT_EQ(both->oneEach.parts, both->asBuilt.parts + 2 - 4) << "two motors more, four driving rings less";
    EXPECT_TRUE(both->oneEach.counted);
    // A second medium and a second small motor come; four clutch wheels become plain ones.
    const auto massOf = [](const char* shape) { return must(parts::makeShape(shape))->massG; };
    const double more = massOf("motor medium") + massOf("motor small") +
                        2 * (massOf("spur gear 24") - massOf("clutch gear 24")) +
                        2 * (massOf("spur gear 20") - massOf("clutch gear 20")) - 4 * massOf("driving ring");
    EXPECT_NEAR(both->oneEach.massG - both->asBuilt.massG, more, 1e-9);
}

TEST(SelectorCompare, NothingToCompareWhenEveryFunctionHasItsMotor) {
    test::BoardFigure f;
    const auto shaft = f.shaft(0, 0);
    EXPECT_FALSE(drive::compareSelector(f.project, f.report()));
    f.motor(shaft);
    model::DriveFunction function;
    function.name = "Turn";
    function.shaft = shaft;
    f.function(function);
    EXPECT_FALSE(drive::compareSelector(f.project, f.report()));
}
