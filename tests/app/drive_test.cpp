// Drive in the real window: wheels typed and dragged into mesh, ratios read, a lock made and explained, a train found and placed, the bridge's selector.
#include <QAction>
#include <QApplication>
#include <QFile>
#include <QMenu>
#include <QSlider>
#include <QTabBar>
#include <cmath>

#include "app/stations/drive/board_dialog.h"
#include "app/stations/drive/drive_station.h"
#include "app/stations/drive/function_dialog.h"
#include "app/stations/drive/selector_dialog.h"
#include "tests/support/window_rig.h"

using namespace ivrant;
using test::WindowRig;

namespace {

struct Drive : testing::Test {
    WindowRig rig;

    void SetUp() override { rig.window->goStation(rig.window->indexOf(verdict::Station::Drive)); }
    void open(const char* file) {
        ASSERT_TRUE(rig.session().load(test::demoFile(file)));
        rig.settle();
        rig.window->goStation(rig.window->indexOf(verdict::Station::Drive));
        rig.settle();
    }
    app::BoardWidget* board() { return rig.find<app::BoardWidget>("board"); }
    /// From anywhere in the station: letters go to the typed line.
    void put(const QString& typed) {
        board()->setFocus();
        QTest::keyClicks(board(), typed.left(1));
        auto* line = rig.find<QLineEdit>("boardLine");
        QTest::keyClicks(line, typed.mid(1));
        QTest::keyClick(line, Qt::Key_Return);
        rig.settle();
    }
    void clickAt(double x, double y, Qt::KeyboardModifiers modifiers = {}) { QTest::mouseClick(board(), Qt::LeftButton, modifiers, board()->pixelOf(x, y)); }
    void drag(double x, double y, double toX, double toY) {
        const QPoint from = board()->pixelOf(x, y), to = board()->pixelOf(toX, toY);
        QTest::mousePress(board(), Qt::LeftButton, {}, from);
        for (int i = 1; i <= 8; ++i) {
            const QPoint at = from + (to - from) * i / 8;
            QMouseEvent move(QEvent::MouseMove, at, board()->mapToGlobal(at), Qt::NoButton, Qt::LeftButton, {});
            QApplication::sendEvent(board(), &move);
        }
        QTest::mouseRelease(board(), Qt::LeftButton, {}, to);
        rig.settle();
    }
    [[nodiscard]] const model::Board& first() { return *rig.project().boards.at(0); }
    [[nodiscard]] QString function(int row, int column) { return rig.find<QTableWidget>("functions")->item(row, column)->text(); }
};

TEST_F(Drive, FromNothingToARatioByTypingAndDragging) {
    EXPECT_TRUE(rig.text("trainText").contains("No gear board yet"));
    put("8 at 0 0");
    ASSERT_EQ(rig.project().boards.size(), 1u);
    put("motor medium");
    put("24 at 5 1");
    put("function turn");
    board()->fit();
    EXPECT_EQ(function(0, 1), "not driven");
    EXPECT_GE(rig.verdictRow("turn is never driven"), 0);
    // Into mesh: two pitches from the 8.
    drag(5, 1, 2, 0);
    EXPECT_EQ(first().shafts[1].atUm[0], 16000);
    EXPECT_EQ(first().shafts[1].atUm[1], 0);
    EXPECT_EQ(function(0, 1), "-1:3");
    EXPECT_GE(rig.verdictRow("turn is driven"), 0);
    // One undo takes the whole drag back.
    rig.session().undo();
    rig.settle();
    EXPECT_EQ(first().shafts[1].atUm[0], 40000);
    EXPECT_EQ(function(0, 1), "not driven");
}

TEST_F(Drive, BindingIsShownAndMendedByMoving) {
    put("24 at 0 0");
    put("20 at 3 0");
    board()->fit();
    EXPECT_EQ(rig.verdictRow("bind"), -1);
    drag(3, 0, 2.5, 0); // 20 mm where 22 are wanted
    const int row = rig.verdictRow("24 and 20 bind");
    ASSERT_GE(row, 0);
    rig.pickVerdict(row);
    EXPECT_FALSE(board()->look().marked.empty());
    const auto mends = rig.window->findChildren<QPushButton*>("mend");
    ASSERT_FALSE(mends.isEmpty());
    EXPECT_TRUE(mends.first()->text().contains("move the 20")) << mends.first()->text().toStdString();
    QTest::mouseClick(mends.first(), Qt::LeftButton);
    rig.settle();
    rig.click("mendApply");
    rig.settle();
    EXPECT_EQ(rig.verdictRow("24 and 20 bind"), -1);
    const double dx = static_cast<double>(first().shafts[1].atUm[0]) / 1000, dy = static_cast<double>(first().shafts[1].atUm[1]) / 1000;
    EXPECT_NEAR(std::hypot(dx, dy), 22, 0.25);
}

TEST_F(Drive, ALockIsExplained) {
    put("16 at 0 0");
    put("motor small");
    put("16 at 2 0");
    put("16 at 1 0"); // between them: binds, but its teeth touch both
    clickAt(-3, -3);
    rig.session().undo();
    rig.settle();
    EXPECT_FALSE(rig.text("trainText").startsWith("Locked"));
    // Two paths of other ratio between the same shafts: 16:16 and 8:24 a layer higher.
    board()->choose({first().shafts[0].id.text});
    for (const auto& [shaft, teeth] : {std::pair<std::size_t, int>{0, 8}, {1, 24}}) {
        model::Gear gear;
        gear.teeth = teeth;
        gear.shaft = first().shafts[shaft].id;
        gear.alongUm = first().gears[shaft].alongUm + 8000;
        ASSERT_TRUE(rig.session().apply("Second path", [&](const model::Project& p) { return model::putGear(p, first().id, gear); }));
    }
    rig.settle();
    board()->choose({});
    const int row = rig.verdictRow("Nothing can turn");
    ASSERT_GE(row, 0);
    EXPECT_TRUE(rig.text("trainText").startsWith("Locked")) << rig.text("trainText").toStdString();
    EXPECT_TRUE(rig.text("trainText").contains("16 on"));
    EXPECT_TRUE(rig.text("trainText").contains("24 on"));
    rig.pickVerdict(row);
    EXPECT_GE(board()->look().marked.size(), 4u);
}

TEST_F(Drive, AFoundTrainIsPlaced) {
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

TEST_F(Drive, FitFinderListsOffsets) {
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

TEST_F(Drive, TheBridgesSelectorChangesWhatIsDriven) {
    open("bridge.ivrant");
    EXPECT_EQ(rig.find<QTabBar>("boards")->count(), 2);
    EXPECT_EQ(function(0, 1), "-1:63");
    EXPECT_EQ(function(1, 1), "not driven");
    EXPECT_EQ(function(2, 1), "-3:280");
    // Every position at once: function by position.
    rig.find<QTabWidget>("driveTabs")->setCurrentIndex(2);
    auto* table = rig.find<QTableWidget>("selectorTable");
    ASSERT_EQ(table->columnCount(), 4);
    ASSERT_EQ(table->rowCount(), 4);
    EXPECT_TRUE(table->item(1, 2)->text().contains("M1 -1:27"));
    EXPECT_EQ(table->item(1, 1)->text(), "");
    EXPECT_TRUE(rig.text("selectorText").contains("Turn and lift: Slew, Span lift"));
    EXPECT_TRUE(rig.text("selectorText").contains("Span lift creeps"));
    EXPECT_TRUE(rig.text("selectorText").contains("Off: nothing moves"));
    rig.click("position1");
    ASSERT_TRUE(WindowRig::waitFor([&] { return function(1, 1) != "not driven"; }));
    rig.settle();
    EXPECT_EQ(function(0, 1), "not driven");
    EXPECT_EQ(function(1, 1), "-1:27");
    EXPECT_EQ(rig.project().boards[0]->selectors[0].at, 1);
    EXPECT_GE(rig.verdictRow("off the axis"), 0);
    rig.session().undo();
    rig.settle();
    EXPECT_EQ(function(0, 1), "-1:63");
}

TEST_F(Drive, AFunctionCanBeAskedForInBrief) {
    open("cart.ivrant");
    rig.window->goStation(rig.window->indexOf(verdict::Station::Brief));
    auto* measure = rig.find<QComboBox>("askMeasure");
    measure->setCurrentIndex(measure->findData("function-time"));
    auto* function = rig.find<QComboBox>("askFunction");
    ASSERT_TRUE(function->isVisible());
    function->setCurrentIndex(function->findText("Tip the basket"));
    auto* compare = rig.find<QComboBox>("askCompare");
    compare->setCurrentIndex(compare->findText("at most"));
    rig.type("askValue", "0.1");
    rig.settle();
    EXPECT_GE(rig.verdictRow("The travel time of Tip the basket must be at most 0.1 s"), 0);
    ASSERT_EQ(rig.project().asks.size(), 1u);
    EXPECT_FALSE(rig.project().asks[0].function.empty());
}

TEST_F(Drive, PlayingTurnsTheTrain) {
    open("cart.ivrant");
    rig.find<QTabBar>("boards")->setCurrentIndex(1);
    const QImage before = board()->grab().toImage();
    board()->setFocus();
    rig.key(Qt::Key_F5);
    ASSERT_TRUE(WindowRig::waitFor([&] { return rig.find<QSlider>("time")->value() > 20; }));
    rig.key(Qt::Key_F5);
    EXPECT_NE(board()->grab().toImage(), before);
    const int stopped = rig.find<QSlider>("time")->value();
    rig.find<QSlider>("time")->setValue(0);
    EXPECT_GT(stopped, 20);
    EXPECT_EQ(board()->grab().toImage(), before);
}

TEST_F(Drive, LayersNamesRemovalAndBadLines) {
    open("cart.ivrant");
    auto* layer = rig.find<QComboBox>("layer");
    rig.find<QTabBar>("boards")->setCurrentIndex(1);
    ASSERT_EQ(layer->count(), 3); // all, and the two layers of the basket's train
    board()->setFocus();
    rig.key(Qt::Key_PageUp);
    EXPECT_EQ(layer->currentIndex(), 1);
    EXPECT_TRUE(board()->look().layerUm.has_value());
    rig.key(Qt::Key_PageDown);
    EXPECT_FALSE(board()->look().layerUm.has_value());
    const std::size_t shafts = rig.project().boards[1]->shafts.size();
    clickAt(5, 0);
    ASSERT_EQ(board()->chosen().size(), 1u);
    rig.key(Qt::Key_Delete);
    rig.settle();
    EXPECT_EQ(rig.project().boards[1]->shafts.size(), shafts - 1);
    EXPECT_TRUE(rig.project().boards[1]->functions.empty()) << "what it moved is gone";
    const auto boards = rig.project().boards;
    put("banana");
    EXPECT_EQ(rig.project().boards, boards);
    EXPECT_EQ(rig.find<QLineEdit>("boardLine")->text(), "banana") << "what was typed stays to be mended";
}

TEST_F(Drive, ArrowsMoveTheChosenAndTheDrawingIsWritten) {
    put("24 at 0 0");
    board()->setFocus();
    rig.key(Qt::Key_Right);
    rig.key(Qt::Key_Up, Qt::ShiftModifier);
    rig.settle();
    EXPECT_EQ(first().shafts[0].atUm[0], 8000);
    EXPECT_EQ(first().shafts[0].atUm[1], 4000);
    const QString path = rig.folder.path() + "/board.svg";
    EXPECT_TRUE(board()->saveDrawing(path));
    QFile file(path);
    ASSERT_TRUE(file.open(QIODevice::ReadOnly));
    EXPECT_TRUE(file.readAll().contains("<svg"));
}

TEST_F(Drive, AFunctionsLoadIsSetInItsDialog) {
    model::DriveFunction function;
    function.name = "Lift";
    model::Joint neck;
    neck.id = {"j7"};
    neck.name = "Neck";
    app::FunctionDialog dialog(function, {neck});
    dialog.show();
    auto* load = dialog.findChild<QComboBox*>("functionLoad");
    EXPECT_FALSE(dialog.findChild<QLineEdit*>("functionAmount")->isVisible());
    EXPECT_FALSE(dialog.findChild<QComboBox*>("functionJoint")->isVisible());
    load->setCurrentIndex(load->findData("arm"));
    const auto set = [&](const char* name, const char* text) { dialog.findChild<QLineEdit*>(name)->setText(text); };
    set("functionAmount", "heavy");
    dialog.findChild<QPushButton*>()->click();
    EXPECT_TRUE(dialog.isVisible()) << "what is no number is refused";
    set("functionAmount", "150");
    set("functionRadius", "80");
    set("functionTravel", "60");
    set("functionWithin", "3");
    for (auto* button : dialog.findChildren<QPushButton*>())
        if (button->text().contains("OK")) button->click();
    EXPECT_EQ(dialog.result(), QDialog::Accepted);
    EXPECT_EQ(dialog.function().load, model::LoadKind::Arm);
    EXPECT_EQ(dialog.function().amount, 150);
    EXPECT_EQ(dialog.function().withinS, 3);
}

TEST_F(Drive, AJointOfTheModelLoadsAFunction) {
    model::DriveFunction function;
    function.name = "Raise";
    model::Joint neck;
    neck.id = {"j7"};
    neck.name = "Neck";
    app::FunctionDialog dialog(function, {neck});
    dialog.show();
    auto* load = dialog.findChild<QComboBox*>("functionLoad");
    load->setCurrentIndex(load->findData("joint"));
    auto* joint = dialog.findChild<QComboBox*>("functionJoint");
    ASSERT_TRUE(joint->isVisible());
    const auto accept = [&] {
        for (auto* button : dialog.findChildren<QPushButton*>())
            if (button->text().contains("OK")) button->click();
    };
    accept();
    EXPECT_TRUE(dialog.isVisible()) << "which joint?";
    joint->setCurrentIndex(joint->findText("Neck"));
    dialog.findChild<QLineEdit*>("functionFrom")->setText("-30");
    accept();
    EXPECT_EQ(dialog.function().load, model::LoadKind::Joint);
    EXPECT_EQ(dialog.function().joint.text, "j7");
    EXPECT_EQ(dialog.function().fromDeg, -30);
}

TEST_F(Drive, ABoardIsPlacedInASectionWithItsDialog) {
    put("24 at 0 0");
    ASSERT_TRUE(first().section.empty());
    app::BoardDialog dialog(rig.project(), 0);
    dialog.show();
    const auto accept = [&] {
        for (auto* button : dialog.findChildren<QPushButton*>())
            if (button->text().contains("OK")) button->click();
    };
    auto* section = dialog.findChild<QComboBox*>("boardSection");
    section->setCurrentIndex(1);
    auto* at = dialog.findChild<QLineEdit*>("boardAt");
    at->setText("1 2");
    accept();
    EXPECT_TRUE(dialog.isVisible()) << "two lengths are no place";
    EXPECT_TRUE(dialog.findChild<QLabel*>("boardWrong")->text().contains("Three lengths"));
    at->setText("1 2 12mm");
    auto* stands = dialog.findChild<QComboBox*>("boardAttitude");
    stands->setCurrentIndex(stands->findText("upright, seen from the front"));
    dialog.findChild<QLineEdit*>("boardWalls")->setText("-0.5 2");
    dialog.findChild<QSpinBox*>("boardStep")->setValue(3);
    accept();
    EXPECT_EQ(dialog.result(), QDialog::Accepted);
    const model::Board changed = dialog.board();
    ASSERT_TRUE(rig.session().apply("Change the board", [&](const model::Project& p) { return model::changeBoardHead(p, changed); }));
    rig.settle();
    EXPECT_EQ(first().section, rig.project().sections[0]->id);
    EXPECT_EQ(first().place.atUm, (std::array<std::int64_t, 3>{8'000, 16'000, 12'000}));
    EXPECT_EQ(first().wallsUm, (std::vector<std::int64_t>{-4'000, 16'000}));
    EXPECT_EQ(first().step, 3);
    // Up on the board is up in the model, out of it towards the one who looks from the front.
    const geometry::Mat3 turn = first().place.pose().linear();
    EXPECT_TRUE((turn * geometry::Vec3::UnitY()).isApprox(geometry::Vec3::UnitZ()));
    EXPECT_TRUE((turn * geometry::Vec3::UnitZ()).isApprox(-geometry::Vec3::UnitY()));
}

TEST_F(Drive, PositionsOfASelectorAreTicked) {
    open("bridge.ivrant");
    const model::Selector selector = first().selectors.at(0);
    app::SelectorDialog dialog(rig.project(), selector);
    dialog.show();
    auto* table = dialog.findChild<QTableWidget*>("selectorPositions");
    ASSERT_EQ(table->rowCount(), 3);
    ASSERT_EQ(table->columnCount(), 5) << "a name and four clutch wheels";
    dialog.findChild<QPushButton*>("selectorAdd")->click();
    ASSERT_EQ(table->rowCount(), 4);
    table->item(3, 0)->setText("All");
    for (int c = 1; c < 5; ++c) table->item(3, c)->setCheckState(Qt::Checked);
    for (auto* button : dialog.findChildren<QPushButton*>())
        if (button->text().contains("OK")) button->click();
    EXPECT_EQ(dialog.selector().positions.at(3).engaged.size(), 4U);
    ASSERT_TRUE(rig.session().apply("Change the selector", [&](const model::Project& p) { return model::putSelector(p, p.boards[0]->id, dialog.selector()); }));
    rig.settle();
    EXPECT_GE(rig.verdictRow("One motor moves several functions"), 0);
    rig.find<QTabWidget>("driveTabs")->setCurrentIndex(2);
    auto* compare = rig.find<QTableWidget>("selectorCompare");
    EXPECT_EQ(compare->item(0, 1)->text(), "2");
    EXPECT_EQ(compare->item(0, 2)->text(), "4");
}

TEST_F(Drive, SpeedsAndTorquesFindTrainsToo) {
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
    EXPECT_NEAR(trains->item(0, 4)->text().toDouble(), 20, 1.5) << "with its own losses, within two percent of the ratio";
    ask("5000 rpm");
    EXPECT_TRUE(rig.text("ratioFound").contains("is the most"));
    ask("300 Nmm");
    EXPECT_GT(trains->rowCount(), 0);
    ask("fast");
    EXPECT_EQ(trains->rowCount(), 0);
}

TEST_F(Drive, TheFinderKeepsToTheStock) {
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

TEST_F(Drive, TravelsListRacksAndScrews) {
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

TEST_F(Drive, ADifferentialAndACrankAreTyped) {
    put("differential at 0 0");
    ASSERT_EQ(first().shafts.size(), 2u);
    ASSERT_EQ(first().gears.size(), 1u);
    EXPECT_EQ(first().gears[0].kind, model::GearKind::Differential);
    EXPECT_EQ(first().gears[0].teeth, 28);
    put("crank");
    ASSERT_EQ(first().motors.size(), 1u);
    EXPECT_EQ(first().motors[0].line, "hand crank");
}

TEST_F(Drive, AStringOverATurntableLimitsIt) {
    put("turntable 56 at 0 0");
    put("function Slew");
    clickAt(0, 0);
    put("string off 3 gap 2 slack 1");
    ASSERT_EQ(first().strands.size(), 1u);
    EXPECT_GE(rig.verdictRow("String 1 limits Slew"), 0); // it has no end of its travel
    auto slew = first().functions[0];
    slew.travel = 20;
    ASSERT_TRUE(rig.session().apply("Travel", [&](const model::Project& p) { return model::putFunction(p, p.boards[0]->id, slew); }));
    rig.settle();
    EXPECT_GE(rig.verdictRow("String 1 follows Slew"), 0);
    // Taken off again from the menu of what hangs on the shaft.
    clickAt(0, 0);
    QTest::keyClick(board(), Qt::Key_Delete, Qt::ShiftModifier);
    QMenu* menu = nullptr;
    ASSERT_TRUE(rig.waitFor([&] { return (menu = rig.window->findChild<QMenu*>("takeOff")) != nullptr; }));
    for (QAction* action : menu->actions())
        if (action->text() == "Take off String 1") action->trigger();
    menu->close();
    rig.settle();
    EXPECT_TRUE(first().strands.empty());
    EXPECT_EQ(first().functions.size(), 1u);
}

TEST_F(Drive, AScrewPushesInMillimetres) {
    put("actuator 9 at 0 0");
    put("motor medium");
    ASSERT_EQ(first().gears.size(), 1u);
    EXPECT_EQ(first().gears[0].kind, model::GearKind::Actuator);
    put("function Tip");
    ASSERT_EQ(first().functions.size(), 1u);
    auto push = first().functions[0];
    EXPECT_EQ(push.gear, first().gears[0].id);
    push.load = model::LoadKind::Friction;
    push.amount = 5;
    push.travel = 20;
    ASSERT_TRUE(rig.session().apply("Push", [&](const model::Project& p) { return model::putFunction(p, p.boards[0]->id, push); }));
    rig.settle();
    EXPECT_GE(rig.verdictRow("Tip stays within its screw"), 0);
    bool speed = false;
    for (int column = 0; column < rig.find<QTableWidget>("functions")->columnCount(); ++column) speed |= function(0, column).contains("mm/s");
    EXPECT_TRUE(speed);
}

} // namespace
