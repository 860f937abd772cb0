// SPDX-License-Identifier: GPL-3.0-or-later
// Drive in the real window: wheels typed and dragged into mesh, ratios read, a lock made and explained, a train found
// and placed, the bridge's selector.
#include <QAction>
#include <QApplication>
#include <QFile>
#include <QMenu>
#include <QSlider>
#include <QTabBar>
#include <QTimer>
#include <cmath>

#include "app/stations/drive/drive_station.h"
#include "app/stations/drive/walls_dialog.h"
#include "tests/support/drive_rig.h"

using namespace ivrant;
using test::WindowRig;

namespace {

struct Drive : test::DriveRig {};

} // namespace

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
    EXPECT_EQ(seen().shafts[1].atUm[0], 16000);
    EXPECT_EQ(seen().shafts[1].atUm[1], 0);
    EXPECT_EQ(function(0, 1), "-1:3");
    EXPECT_GE(rig.verdictRow("turn is driven"), 0);
    // One undo takes the whole drag back.
    rig.session().undo();
    rig.settle();
    EXPECT_EQ(seen().shafts[1].atUm[0], 40000);
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
    const double dx = static_cast<double>(seen().shafts[1].atUm[0]) / 1000,
                 dy = static_cast<double>(seen().shafts[1].atUm[1]) / 1000;
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
    const auto shafts = seen().shafts;
    for (const auto& [shaft, teeth] : {std::pair<std::size_t, const char*>{0, "8"}, {1, "24"}}) {
        board()->choose({shafts[shaft].id.text});
        put(QString(teeth));
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

TEST_F(Drive, TheBridgesSelectorChangesWhatIsDriven) {
    openBoards("bridge.ivrant");
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
    openBoards("cart.ivrant");
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
    openBoards("cart.ivrant");
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
    openBoards("cart.ivrant");
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
    EXPECT_EQ(seen().shafts[0].atUm[0], 8000);
    EXPECT_EQ(seen().shafts[0].atUm[1], 4000);
    const QString path = rig.folder.path() + "/board.svg";
    EXPECT_TRUE(board()->saveDrawing(path));
    QFile file(path);
    ASSERT_TRUE(file.open(QIODevice::ReadOnly));
    EXPECT_TRUE(file.readAll().contains("<svg"));
}

TEST_F(Drive, ADifferentialAndACrankAreTyped) {
    put("differential at 0 0");
    ASSERT_EQ(seen().shafts.size(), 2u);
    ASSERT_EQ(seen().gears.size(), 1u);
    EXPECT_EQ(seen().gears[0].kind, model::GearKind::Differential);
    EXPECT_EQ(seen().gears[0].teeth, 28);
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
    ASSERT_TRUE(rig.session().apply(
        "Travel", [&](const model::Project& p) { return model::putFunction(p, p.boards[0]->id, slew); }));
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
    ASSERT_EQ(seen().gears.size(), 1u);
    EXPECT_EQ(seen().gears[0].kind, model::GearKind::Actuator);
    put("function Tip");
    ASSERT_EQ(first().functions.size(), 1u);
    auto push = first().functions[0];
    EXPECT_EQ(push.gear, seen().gears[0].id);
    push.load = model::LoadKind::Friction;
    push.amount = 5;
    push.travel = 20;
    ASSERT_TRUE(rig.session().apply(
        "Push", [&](const model::Project& p) { return model::putFunction(p, p.boards[0]->id, push); }));
    rig.settle();
    EXPECT_GE(rig.verdictRow("Tip stays within its screw"), 0);
    bool speed = false;
    for (int column = 0; column < rig.find<QTableWidget>("functions")->columnCount(); ++column)
        speed |= function(0, column).contains("mm/s");
    EXPECT_TRUE(speed);
}

TEST_F(Drive, AMachineOfPartsIsSeenOnItsBoardAndMovedThere) {
    open("neck-drive.ivrant");
    EXPECT_EQ(function(0, 1), "-1:40");
    EXPECT_TRUE(first().shafts.empty()); // nothing lies on the board itself
    const auto findPart = [&](const std::string& name) -> const model::Part& {
        for (const auto& part : rig.project().sections.front()->parts)
            if (part.name == name) return part;
        throw std::runtime_error("no " + name);
    };
    // The motor's shaft, up its middle at 20 mm, is found where it is seen.
    clickAt(2.5, 10.5);
    ASSERT_EQ(board()->chosen(), std::vector<std::string>{findPart("Motor shaft").id.text});
    const auto before = findPart("Motor shaft").place.atUm;
    QTest::keyClick(board(), Qt::Key_Right);
    rig.settle();
    EXPECT_EQ(findPart("Motor shaft").place.atUm[0], before[0] + 8000);
    EXPECT_EQ(function(0, 1), "not driven"); // its wheel went along, out of mesh
    EXPECT_GE(rig.verdictRow("Raise the neck is never driven"), 0);
    rig.session().undo();
    rig.settle();
    EXPECT_EQ(function(0, 1), "-1:40");
    // Dragging is one step of the undo list, however far.
    drag(2.5, 10.5, 2.5, 12.5);
    EXPECT_EQ(findPart("Motor shaft").place.atUm[1], before[1] + 16'000);
    rig.session().undo();
    rig.settle();
    EXPECT_EQ(findPart("Motor shaft").place.atUm, before);
    // Taken away with all that is fixed to it.
    const std::size_t parts = rig.project().partCount();
    clickAt(2.5, 10.5);
    QTest::keyClick(board(), Qt::Key_Delete);
    rig.settle();
    EXPECT_EQ(rig.project().partCount(), parts - 2);
    EXPECT_GE(rig.verdictRow("Motor turns nothing"), 0);
}

TEST_F(Drive, AFunctionIsTypedOnAnAxleThatIsAPart) {
    open("neck-drive.ivrant");
    clickAt(2.5, 10.5);
    put("function wind up");
    ASSERT_EQ(first().functions.size(), 2u);
    EXPECT_EQ(first().functions[1].shaft.text, board()->chosen().front());
    EXPECT_EQ(function(1, 1), "1:1");
    // A wheel and a motor on it are parts as well.
    const std::size_t parts = rig.project().partCount();
    clickAt(2.5, 10.5);
    put("8");
    EXPECT_EQ(rig.project().partCount(), parts) << "that axle is full: told, not put in";
    EXPECT_EQ(rig.find<QLineEdit>("boardLine")->text(), "8");
    rig.find<QLineEdit>("boardLine")->clear();
    put("shaft 4 at 14 0");
    put("8");
    put("motor small");
    EXPECT_EQ(rig.project().partCount(), parts + 3);
    EXPECT_TRUE(first().gears.empty() && first().motors.empty());
    EXPECT_EQ(rig.project().sections.front()->parts.back().shape->name, "motor small");
}

TEST_F(Drive, WallsAreSeenBeforeTheyArePutIn) {
    put("8 at 0 0");
    put("motor medium");
    put("24 at 2 0");
    put("function Turn load friction 20 travel 90");
    EXPECT_EQ(function(0, 1), "-1:3") << "the ratio is told before there is a brick";
    EXPECT_GE(rig.verdictRow("2 shafts are not carried by two holes"), 0);
    const std::size_t parts = rig.project().partCount();
    bool seen = false;
    QTimer::singleShot(0, [&] {
        auto* dialog = qobject_cast<app::WallsDialog*>(QApplication::activeModalWidget());
        ASSERT_NE(dialog, nullptr);
        auto* list = dialog->findChild<QTableWidget*>("wallParts");
        EXPECT_GT(list->rowCount(), 2);
        EXPECT_TRUE(dialog->findChild<QLabel*>("wallSum")->text().contains("parts, "));
        // A height that is none is told, and nothing can be put in.
        auto* heights = dialog->findChild<QLineEdit*>("wallHeights");
        const QString before = heights->text();
        heights->setText("high");
        EXPECT_FALSE(dialog->findChild<QPushButton*>("wallPut")->isEnabled());
        EXPECT_FALSE(dialog->findChild<QLabel*>("wallNotes")->text().isEmpty());
        heights->setText(before);
        EXPECT_TRUE(dialog->findChild<QPushButton*>("wallPut")->isEnabled());
        seen = true;
        dialog->findChild<QPushButton*>("wallPut")->click();
    });
    for (QAction* action : rig.window->findChildren<QAction*>())
        if (action->text() == "Walls, seats and a lid round the board") action->trigger();
    rig.settle();
    ASSERT_TRUE(seen);
    EXPECT_GT(rig.project().partCount(), parts + 10);
    EXPECT_EQ(rig.verdictRow("not carried"), -1);
    EXPECT_EQ(rig.verdictRow("hangs on its shaft"), -1);
    EXPECT_EQ(function(0, 1), "-1:3");
    rig.session().undo();
    rig.settle();
    EXPECT_EQ(rig.project().partCount(), parts) << "one undo takes all of it out";
}

TEST_F(Drive, AWheelIsDraggedOutOfItsLayerInTheViewFromAbove) {
    put("24 at 0 0");
    put("24 at 3 0");
    board()->fit();
    ASSERT_TRUE(board()->hasElevation());
    const std::int64_t before = seen().shafts[1].atUm[2];
    const QPoint from = board()->elevationPixelOf(3, 0), to = board()->elevationPixelOf(3, 2);
    EXPECT_GT(to.y(), from.y()) << "further out is further down";
    drag(from, to);
    EXPECT_EQ(seen().shafts[1].atUm[2], before + 16'000);
    EXPECT_EQ(seen().shafts[0].atUm[2], before) << "the other one stays";
}

TEST_F(Drive, AnOldBoardBecomesPartsWithTheSameFunctions) {
    openBoards("cart.ivrant");
    const QString wheels = function(0, 1), basket = function(1, 1);
    for (QAction* action : rig.window->findChildren<QAction*>())
        if (action->text() == "Make parts of what lies on the boards") action->trigger();
    rig.settle();
    EXPECT_TRUE(first().shafts.empty() && first().gears.empty());
    EXPECT_EQ(seen().shafts.size(), 6u); // of both boards: they share the section and the plane
    EXPECT_EQ(function(0, 1), wheels);
    EXPECT_EQ(function(1, 1), basket);
    rig.session().undo();
    rig.settle();
    EXPECT_FALSE(first().shafts.empty());
}
