// SPDX-License-Identifier: GPL-3.0-or-later
// Make's modules and packing through the window: from selected parts to what lifts, a reach, boxes and the sheet.
#include <QFile>

#include "app/charts/box_chart.h"
#include "app/shell/table_tools.h"
#include "app/stations/make/make_station.h"
#include "tests/support/figures.h"
#include "tests/support/window_rig.h"

using namespace ivrant;
using test::WindowRig;

namespace {

struct ModulesWindow : testing::Test {
    WindowRig rig;
    app::MakeStation* make = nullptr;
    QTabWidget* tabs = nullptr;

    void SetUp() override {
        rig.part("plate 6x6 gorse at 0 0 0");
        rig.part("brick 2x2 slate at 2 2 1");
        rig.part("plate 2x2 kelp at 2 2 4");
        toMake("Modules");
    }
    void toMake(const char* tab) {
        rig.window->goStation(rig.window->indexOf(verdict::Station::Make));
        make = static_cast<app::MakeStation*>(rig.window->station(rig.window->indexOf(verdict::Station::Make)));
        tabs = rig.find<QTabWidget>("makeTabs");
        for (int i = 0; i < tabs->count(); ++i)
            if (tabs->tabText(i) == tab) tabs->setCurrentIndex(i);
        rig.settle();
    }
    [[nodiscard]] model::PartId part(std::size_t index) const {
        return rig.window->session().project().sections[0]->parts[index].id;
    }
    [[nodiscard]] QString cell(const char* table, int row, int column) {
        return rig.find<QTableWidget>(table)->item(row, column)->text();
    }
    bool waitForCell(const char* table, int row, int column, const QString& words) {
        return WindowRig::waitFor([&] {
            auto* item = rig.find<QTableWidget>(table)->item(row, column);
            return item && item->text().contains(words);
        });
    }
};

} // namespace

TEST_F(ModulesWindow, FromSelectedPartsToWhatLifts) {
    EXPECT_TRUE(rig.find<QLabel>("modulesAbout")->isVisible()) << "it says how to begin";
    rig.click("moduleNew");
    EXPECT_TRUE(rig.window->message().contains("Select what lifts off"));
    rig.session().select({part(2)});
    rig.click("moduleNew");
    ASSERT_EQ(rig.project().modules.list.size(), 1U);
    rig.type("moduleName", "Lid");
    rig.settle();
    EXPECT_EQ(rig.project().modules.list[0].name, "Lid");
    ASSERT_TRUE(waitForCell("moduleTable", 0, 1, "upward"));
    EXPECT_EQ(cell("moduleTable", 0, 2), "6 N");
    EXPECT_EQ(cell("moduleTable", 0, 3), "4 studs");
    EXPECT_TRUE(rig.text("moduleTold").contains("Lid lifts off"));
    // The picture shows the brick's studs once the lid is off: another frame than with it on.
    auto* picture = make->findChild<app::ScenePicture*>("modulePicture");
    ASSERT_TRUE(WindowRig::waitFor([&] { return !picture->lastFrame().isNull(); }));
    const QImage lifted = picture->lastFrame();
    QTest::keyClick(picture, Qt::Key_Left, Qt::ShiftModifier);
    ASSERT_TRUE(WindowRig::waitFor([&] { return picture->lastFrame() != lifted; })) << "it turns";
    // The brick below belongs to it as well: then four studs of the brick part it.
    rig.session().select({part(1)});
    rig.click("moduleAssign");
    rig.settle();
    EXPECT_EQ(rig.project().modules.list[0].parts.size(), 2U);
    rig.click("moduleRemove");
    rig.settle();
    EXPECT_TRUE(rig.project().modules.list.empty());
    rig.session().undo();
    EXPECT_EQ(rig.project().modules.list.size(), 1U);
}

TEST_F(ModulesWindow, AReachCountsItsMovesAndAVerdictLeadsThere) {
    rig.session().select({part(1)});
    rig.click("reachNew");
    rig.type("moduleName", "Battery");
    rig.settle();
    ASSERT_EQ(rig.project().modules.reaches.size(), 1U);
    ASSERT_TRUE(waitForCell("reachTable", 0, 2, "never"));
    const int row = rig.verdictRow("No finger gets to Battery");
    ASSERT_GE(row, 0);
    rig.session().select({part(2)});
    rig.click("moduleNew");
    rig.settle();
    ASSERT_TRUE(waitForCell("reachTable", 0, 2, "1"));
    EXPECT_TRUE(cell("reachTable", 0, 3).contains("lift off Module 1"));
    // None at most: it fails, and the slip leads to this tab.
    rig.find<QTableWidget>("reachTable")->selectRow(0);
    auto* most = rig.find<QSpinBox>("reachMost");
    most->setFocus();
    most->selectAll();
    QTest::keyClicks(most, "0");
    QTest::keyClick(most, Qt::Key_Return);
    rig.settle();
    EXPECT_EQ(rig.project().modules.reaches[0].mostMoves, 0);
    tabs->setCurrentIndex(0);
    const int far = rig.verdictRow("Battery is 1 move away");
    ASSERT_GE(far, 0);
    auto* list = rig.window->slip()->list();
    list->setFocus();
    list->setCurrentRow(far);
    QTest::keyClick(list, Qt::Key_Return);
    EXPECT_TRUE(WindowRig::waitFor([&] { return tabs->tabText(tabs->currentIndex()) == "Modules"; }));
    auto* side = rig.find<QComboBox>("reachSide");
    side->setCurrentIndex(side->findText("right"));
    emit side->activated(side->currentIndex());
    rig.settle();
    EXPECT_EQ(rig.project().modules.reaches[0].side, model::Side::Right);
    EXPECT_TRUE(waitForCell("reachTable", 0, 2, "0"));
}

TEST_F(ModulesWindow, OneForEachOption) {
    ASSERT_TRUE(rig.window->openFile(test::demoFile("fairgoer-choices.ivrant")));
    rig.settle();
    toMake("Modules");
    ASSERT_TRUE(waitForCell("moduleTable", 0, 1, "upward"));
    rig.click("moduleOptions");
    EXPECT_TRUE(rig.window->message().contains("a module already"));
    for (int k = 0; k < 3; ++k) {
        rig.find<QTableWidget>("moduleTable")->selectRow(0);
        rig.click("moduleRemove");
    }
    ASSERT_TRUE(rig.project().modules.list.empty());
    rig.click("moduleOptions");
    ASSERT_EQ(rig.project().modules.list.size(), 2U);
    EXPECT_EQ(rig.project().modules.list[0].name, "Hat");
    EXPECT_FALSE(rig.project().modules.list[0].option.empty());
}

TEST_F(ModulesWindow, BoxesFollowTheWishes) {
    toMake("Packing");
    auto* chart = rig.find<app::BoxChart>("boxChart");
    ASSERT_TRUE(WindowRig::waitFor([&] { return rig.text("packTold").startsWith("One box"); }));
    EXPECT_TRUE(chart->describe(QPointF(chart->rect().center())).contains("48 × 48") ||
                chart->describe(QPointF(chart->width() / 3.0, chart->height() / 3.0)).contains("g,"));
    EXPECT_GT(rig.find<QTableWidget>("putUpTable")->rowCount(), 1);
    auto* high = rig.find<QDoubleSpinBox>("packHigh");
    high->setFocus();
    high->selectAll();
    QTest::keyClicks(high, "50");
    QTest::keyClick(high, Qt::Key_Return);
    rig.settle();
    EXPECT_DOUBLE_EQ(rig.project().making.packing.boxMm[2], 50);
    ASSERT_TRUE(WindowRig::waitFor([&] { return rig.text("packTold").contains("Not all of it fits"); }));
    EXPECT_TRUE(rig.text("packTold").contains("say in Modules what lifts off"));
    const QString csv = rig.folder.path() + "/packing.csv", svg = rig.folder.path() + "/packing.svg";
    make->packing()->writePlan(csv);
    make->packing()->writePlan(svg);
    QFile file(csv), drawing(svg);
    ASSERT_TRUE(file.open(QIODevice::ReadOnly));
    EXPECT_TRUE(file.readAll().contains("too large for the box"));
    ASSERT_TRUE(drawing.open(QIODevice::ReadOnly));
    EXPECT_TRUE(drawing.readAll().contains("<svg"));
    rig.session().undo();
    rig.settle();
    EXPECT_TRUE(WindowRig::waitFor([&] { return rig.text("packTold").startsWith("One box"); }));
    EXPECT_DOUBLE_EQ(high->value(), 300);
}
