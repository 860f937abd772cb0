// SPDX-License-Identifier: GPL-3.0-or-later
// What Drive finds: trains for ratios, speeds, torques and travels, and offsets that fit.
#include <QApplication>
#include <cmath>

#include "app/stations/drive/drive_station.h"
#include "tests/support/drive_rig.h"

using namespace ivrant;

namespace {

struct DriveFinder : test::DriveRig {};

} // namespace

TEST_F(DriveFinder, AFoundTrainIsPlaced) {
    rig.find<QTabWidget>("driveTabs")->setCurrentIndex(1);
    rig.type("ratio", "1:15");
    auto* trains = rig.find<QTableWidget>("trains");
    ASSERT_GT(trains->rowCount(), 0);
    EXPECT_EQ(trains->item(0, 0)->text(), "1:15");
    EXPECT_EQ(trains->item(0, 1)->text(), "exact");
    rig.click("placeTrain");
    rig.settle();
    ASSERT_EQ(rig.project().boards.size(), 1u);
    EXPECT_EQ(rig.verdictRow("bind"), -1);
    EXPECT_EQ(rig.verdictRow("in the way"), -1);
    EXPECT_EQ(board()->chosen().size(), 1u);
    // The chosen last shaft tells its ratio to the first.
    EXPECT_TRUE(rig.text("trainText").contains("1:15")) << rig.text("trainText").toStdString();
    rig.type("ratio", "none");
    EXPECT_EQ(trains->rowCount(), 0);
    EXPECT_TRUE(rig.text("ratioFound").contains("turns out for turns in"));
    rig.type("ratio", "11:13");
    rig.type("ratioTolerance", "0");
    EXPECT_TRUE(rig.text("ratioFound").contains("nearest there is"));
    EXPECT_EQ(trains->rowCount(), 1);
}

TEST_F(DriveFinder, FitFinderListsOffsets) {
    rig.find<QTabWidget>("driveTabs")->setCurrentIndex(1);
    rig.type("fitPair", "12 20");
    auto* fits = rig.find<QTableWidget>("fits");
    ASSERT_GT(fits->rowCount(), 0);
    EXPECT_EQ(fits->item(0, 2)->text(), "0");
    EXPECT_EQ(fits->item(0, 3)->text(), "holes");
    rig.type("fitPair", "0 20");
    EXPECT_EQ(fits->rowCount(), 0);
    EXPECT_TRUE(rig.text("fitText").contains("4 to 200"));
}

TEST_F(DriveFinder, SpeedsAndTorquesFindTrainsToo) {
    auto* wish = rig.find<QLineEdit>("ratio");
    const auto ask = [&](const char* text) {
        wish->setFocus();
        wish->selectAll();
        QTest::keyClicks(wish, text);
    };
    auto* trains = rig.find<QTableWidget>("trains");
    rig.find<QLineEdit>("finderLoad")->setText("100");
    ask("20 rpm");
    EXPECT_TRUE(rig.text("ratioFound").startsWith("With spur wheels about 1:")) << rig.text("ratioFound").toStdString();
    ASSERT_GT(trains->rowCount(), 0);
    EXPECT_NEAR(trains->item(0, 4)->text().toDouble(), 20, 1.5)
        << "with its own losses, within two percent of the ratio";
    ask("5000 rpm");
    EXPECT_TRUE(rig.text("ratioFound").contains("is the most"));
    ask("300 Nmm");
    EXPECT_GT(trains->rowCount(), 0);
    ask("fast");
    EXPECT_EQ(trains->rowCount(), 0);
}

TEST_F(DriveFinder, TheFinderKeepsToTheStock) {
    auto* wish = rig.find<QLineEdit>("ratio");
    wish->selectAll();
    QTest::keyClicks(wish, "1:9");
    auto* stock = rig.find<QLineEdit>("finderStock");
    QTest::keyClicks(stock, "8:2 24:2");
    auto* trains = rig.find<QTableWidget>("trains");
    ASSERT_EQ(trains->rowCount(), 1) << "8:24 twice is all there is";
    EXPECT_EQ(trains->item(0, 2)->text(), "8:24 · 8:24");
    stock->selectAll();
    QTest::keyClicks(stock, "8:1 24:1");
    EXPECT_TRUE(rig.text("ratioFound").contains("nearest there is"));
    stock->selectAll();
    QTest::keyClicks(stock, "many");
    EXPECT_TRUE(rig.text("ratioFound").contains("'many' is no wheel"));
}

TEST_F(DriveFinder, TravelsListRacksAndScrews) {
    auto* travel = rig.find<QLineEdit>("travel");
    travel->setFocus();
    travel->selectAll();
    QTest::keyClicks(travel, "24mm");
    auto* table = rig.find<QTableWidget>("travels");
    ASSERT_GT(table->rowCount(), 2);
    EXPECT_EQ(table->item(0, 0)->text(), "linear actuator 9");
    EXPECT_EQ(table->item(0, 1)->text(), "6");
    QTest::keyClicks(travel, "x");
    EXPECT_EQ(table->rowCount(), 0);
    EXPECT_TRUE(rig.text("travelText").contains("expected"));
}
