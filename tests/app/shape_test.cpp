// SPDX-License-Identifier: GPL-3.0-or-later
// Shape: placing by typing and by pointing, selecting, changing, sections; what holds to what is seen at once.
#include <QAction>

#include "core/base/at.h"
#include "core/parts/palette.h"
#include "tests/support/near.h"
#include "tests/support/window_rig.h"

using namespace ivrant;
using test::WindowRig;

namespace {

struct Shape : testing::Test {
    WindowRig rig;

    [[nodiscard]] const model::Part& partAt(std::size_t section, std::size_t index) {
        return *(rig.project().sections.at(section)->parts.begin() + static_cast<long>(index));
    }
    [[nodiscard]] std::array<std::int64_t, 3> at(std::size_t index) { return partAt(0, index).place.atUm; }
    void shortcut(Qt::Key k, Qt::KeyboardModifiers m = Qt::ControlModifier) {
        rig.find<QLineEdit>("partLine")->setFocus();
        QTest::keyClick(rig.find<QLineEdit>("partLine"), k, m);
    }
};

} // namespace

TEST_F(Shape, TypedNumbersPlaceExactly) {
    rig.part("2x4 plate kelp at 2 0 3 turn 1");
    rig.part("plate 2 x 4 at 16mm 0.5s 2p");
    ASSERT_EQ(rig.project().partCount(), 2U);
    EXPECT_EQ(partAt(0, 0).shape->name, "plate 2x4");
    EXPECT_EQ(at(0), (std::array<std::int64_t, 3>{16000, 0, 9600}));
    EXPECT_EQ(std::get<int>(partAt(0, 0).place.attitude), 1);
    EXPECT_EQ(at(1), (std::array<std::int64_t, 3>{16000, 4000, 6400}));
    EXPECT_EQ(partAt(0, 1).colour, partAt(0, 0).colour) << "the colour last used is kept";
}

TEST_F(Shape, EnterKeepsAnotherOneReadyOnTop) {
    rig.part("brick 2x2 sand");
    auto* line = rig.find<QLineEdit>("partLine");
    QTest::keyClick(line, Qt::Key_Return);
    QTest::keyClick(line, Qt::Key_Return);
    ASSERT_EQ(rig.project().partCount(), 3U);
    EXPECT_EQ(at(2)[2] - at(0)[2], 2 * 9600);
    QTest::keyClick(line, Qt::Key_Escape);
    QTest::keyClick(line, Qt::Key_Return);
    EXPECT_EQ(rig.project().partCount(), 3U) << "Esc ended it";
    rig.settle();
    EXPECT_EQ(rig.window->slip()->countFails(verdict::Station::Shape), 0) << "a stack holds";
}

TEST_F(Shape, ThePartHangsAtThePortUnderThePointer) {
    rig.part("plate 4x4 at 0 0 0");
    auto* line = rig.find<QLineEdit>("partLine");
    line->setFocus();
    QTest::keyClicks(line, "brick 1x1 buoy");
    rig.settle();
    const QPoint stud = rig.sheet()->toScreen(rig.session().placed().X_WS[0] * geometry::Vec3(16, 8, 4.9)).toPoint();
    QTest::mouseMove(rig.sheet(), stud + QPoint(3, 0));
    QTest::mouseMove(rig.sheet(), stud);
    ASSERT_TRUE(WindowRig::waitFor([&] { return rig.text("partPlace").contains("stud 2,1"); }))
        << rig.text("partPlace").toStdString();
    QTest::keyClick(line, Qt::Key_Tab); // another fit on the same part
    EXPECT_TRUE(rig.text("partPlace").contains("fit 2 of")) << rig.text("partPlace").toStdString();
    QTest::keyClick(line, Qt::Key_Backtab);
    QTest::mouseClick(rig.sheet(), Qt::LeftButton, {}, stud);
    ASSERT_EQ(rig.project().partCount(), 2U);
    EXPECT_EQ(at(1), (std::array<std::int64_t, 3>{16000, 8000, 3200}));
    rig.settle();
    EXPECT_EQ(rig.window->slip()->countFails(verdict::Station::Shape), 0);
}

TEST_F(Shape, KeysTurnAndNudgeTheHangingPart) {
    rig.part("plate 8x8 at 0 0 0");
    auto* line = rig.find<QLineEdit>("partLine");
    QTest::keyClicks(line, "plate 1x4 reed");
    QTest::keyClick(line, Qt::Key_Comma);
    QTest::keyClick(line, Qt::Key_PageUp);
    QTest::keyClick(line, Qt::Key_Right);
    QTest::keyClick(line, Qt::Key_Right, Qt::ShiftModifier);
    QTest::keyClick(line, Qt::Key_Return);
    ASSERT_EQ(rig.project().partCount(), 2U);
    EXPECT_EQ(std::get<int>(partAt(0, 1).place.attitude), 1);
    EXPECT_EQ(std::abs(at(1)[0]) + std::abs(at(1)[1]), 12000) << "a pitch and half a pitch along the grid";
    EXPECT_EQ(at(1)[2], 3200);
}

TEST_F(Shape, ImpossibleSizesSayWhichExist) {
    rig.part("beam 40");
    EXPECT_EQ(rig.project().partCount(), 0U);
    EXPECT_TRUE(rig.window->message().contains("2 to 15")) << rig.window->message().toStdString();
    rig.find<QLineEdit>("partLine")->clear();
    rig.part("brick 0x-3");
    EXPECT_EQ(rig.project().partCount(), 0U);
    rig.find<QLineEdit>("partLine")->clear();
    rig.part("plate 2x4 at 1 1");
    EXPECT_EQ(rig.project().partCount(), 0U);
    EXPECT_TRUE(rig.window->message().contains("three numbers"));
}

TEST_F(Shape, ASuggestionIsTakenByTab) {
    auto* line = rig.find<QLineEdit>("partLine");
    line->setFocus();
    QTest::keyClicks(line, "turnt");
    EXPECT_TRUE(rig.text("partHint").contains("small turntable"));
    QTest::keyClick(line, Qt::Key_Tab);
    EXPECT_TRUE(line->text().startsWith("small turntable"));
}

TEST_F(Shape, ClickBoxAndTreeSelect) {
    rig.part("brick 2x2 at 0 0 0");
    rig.part("brick 2x2 at 6 0 0");
    rig.settle();
    QTest::mouseClick(rig.sheet(), Qt::LeftButton, {}, rig.screenOf(rig.partId(0, 1)));
    EXPECT_EQ(rig.session().selection(), std::set<model::PartId>{rig.partId(0, 1)});
    QTest::mouseClick(rig.sheet(), Qt::LeftButton, Qt::ControlModifier, rig.screenOf(rig.partId(0, 0)));
    EXPECT_EQ(rig.session().selection().size(), 2U);
    QTest::mouseClick(rig.sheet(), Qt::LeftButton, {}, QPoint(4, 4));
    EXPECT_TRUE(rig.session().selection().empty()) << "a click on the paper selects nothing";
    const QPoint a(6, 6), b = rig.sheet()->rect().bottomRight() - QPoint(6, 6);
    QTest::mousePress(rig.sheet(), Qt::LeftButton, {}, a);
    QTest::mouseMove(rig.sheet(), (a + b) / 2);
    QTest::mouseMove(rig.sheet(), b);
    QTest::mouseRelease(rig.sheet(), Qt::LeftButton, {}, b);
    EXPECT_EQ(rig.session().selection().size(), 2U);
    QTest::mouseClick(rig.sheet(), Qt::LeftButton, {}, QPoint(4, 4));
    auto* tree = rig.find<QTreeWidget>("sections");
    auto count = tree->visualItemRect(tree->topLevelItem(0));
    QTest::mouseClick(tree->viewport(), Qt::LeftButton, {}, QPoint(tree->viewport()->width() - 8, count.center().y()));
    EXPECT_EQ(rig.session().selection().size(), 2U) << "the count in the tree selects the section's parts";
}

TEST_F(Shape, SelectedPartsAreChangedAndUndone) {
    rig.part("brick 1x2 slate at 0 0 0");
    rig.session().select({rig.partId(0, 0)});
    shortcut(Qt::Key_D);
    ASSERT_EQ(rig.project().partCount(), 2U);
    shortcut(Qt::Key_M);
    ASSERT_EQ(rig.project().partCount(), 3U);
    rig.part("colour gorse");
    EXPECT_EQ(parts::getColourName(partAt(0, 2).colour), "gorse");
    const auto before = at(2);
    shortcut(Qt::Key_PageUp, Qt::NoModifier);
    EXPECT_EQ(at(2)[2], before[2] + 3200);
    shortcut(Qt::Key_Delete, Qt::NoModifier);
    EXPECT_EQ(rig.project().partCount(), 2U);
    for (int i = 0; i < 5; ++i) shortcut(Qt::Key_Z);
    EXPECT_EQ(rig.project().partCount(), 1U) << "five edits taken back";
    for (int i = 0; i < 5; ++i) shortcut(Qt::Key_Z, Qt::ControlModifier | Qt::ShiftModifier);
    EXPECT_EQ(rig.project().partCount(), 2U) << "and done again";
}

TEST_F(Shape, PartsMoveToAnotherSectionAndStayWhereTheyAre) {
    rig.part("plate 4x4 at 0 0 0");
    rig.part("brick 2x2 at 1 1 1");
    shortcut(Qt::Key_N, Qt::ControlModifier | Qt::ShiftModifier);
    ASSERT_EQ(rig.project().sections.size(), 2U);
    const auto id = rig.partId(0, 1);
    const geometry::Vec3 before = rig.session().placed().X_WP(model::PartIndex(rig.project()).find(id)).translation();
    rig.session().select({id});
    shortcut(Qt::Key_V, Qt::ControlModifier | Qt::ShiftModifier);
    const auto spot = model::PartIndex(rig.project()).find(id);
    EXPECT_EQ(spot.section, 1);
    EXPECT_LT((rig.session().placed().X_WP(spot).translation() - before).norm(), test::kMicrometre);
}

TEST_F(Shape, SectionsAreRenamedInTheTree) {
    rig.part("plate 2x2 at 0 0 0");
    auto* tree = rig.find<QTreeWidget>("sections");
    tree->setFocus();
    tree->editItem(tree->topLevelItem(0), 0);
    auto* editor = tree->findChild<QLineEdit*>();
    ASSERT_TRUE(editor);
    editor->selectAll();
    QTest::keyClicks(editor, "Pedestal");
    QTest::keyClick(editor, Qt::Key_Return);
    ASSERT_TRUE(WindowRig::waitFor([&] { return rig.project().sections[0]->name == "Pedestal"; }));
}

TEST_F(Shape, TwoMeetingPortsOfferTheirJoint) {
    rig.part("hinge fork at 0 0 0");
    shortcut(Qt::Key_N, Qt::ControlModifier | Qt::ShiftModifier);
    rig.part("hinge tongue at 0 3 0"); // the tongue's axis lies one pitch before its first cell: 16 mm out, where the
                                       // fork's is
    auto* offer = rig.find<QPushButton>("jointOffer");
    ASSERT_TRUE(WindowRig::waitFor([&] { return offer->isVisible(); }));
    EXPECT_TRUE(offer->text().contains("stepped hinge small")) << offer->text().toStdString();
    QTest::mouseClick(offer, Qt::LeftButton);
    ASSERT_EQ(rig.project().joints.size(), 1U);
    EXPECT_DOUBLE_EQ(rig.project().joints[0].value[0], 0);
    EXPECT_FALSE(offer->isVisible());
    auto* tree = rig.find<QTreeWidget>("sections");
    ASSERT_EQ(tree->topLevelItemCount(), 1);
    EXPECT_EQ(tree->topLevelItem(0)->childCount(), 1) << "the joined section hangs under its carrier";
}

TEST_F(Shape, AJointInTheWayOfDeletingSaysSo) {
    rig.buildGate();
    rig.session().select({rig.partId(1, 0)});
    shortcut(Qt::Key_Delete, Qt::NoModifier);
    EXPECT_EQ(rig.project().partCount(), 6U);
    EXPECT_TRUE(rig.window->message().contains("remove the joint first"));
}

TEST_F(Shape, LooseAndOverlappingPartsFailAtOnce) {
    rig.part("plate 2x4 at 0 0 0");
    rig.part("plate 2x4 at 0 20 0");
    rig.settle();
    EXPECT_GE(rig.verdictRow("loose"), 0);
    EXPECT_EQ(rig.window->slip()->countFails(verdict::Station::Shape), 1);
    EXPECT_TRUE(rig.find<QPushButton>("railShape")->text().contains("▼1")) << "the rail counts failing verdicts";
    rig.part("brick 2x2 at 0 1 0");
    rig.settle();
    EXPECT_GE(rig.verdictRow("overlap"), 0);
    // The mend for the loose one is previewed and done.
    rig.pickVerdict(rig.verdictRow("loose"));
    rig.click("mend");
    ASSERT_TRUE(WindowRig::waitFor([&] { return rig.window->findChild<QPushButton*>("mendApply"); }));
    rig.click("mendApply");
    rig.settle();
    EXPECT_LT(rig.verdictRow("part is loose"), 0);
}

TEST_F(Shape, GhostAndIsolateChangeThePicture) {
    rig.buildGate();
    const auto settled = [&] {
        EXPECT_TRUE(QTest::qWaitFor([&] { return !rig.sheet()->lastFrame().isNull(); }));
        QCoreApplication::processEvents();
        return rig.sheet()->grab().toImage();
    };
    const QImage all = settled();
    shortcut(Qt::Key_F7, Qt::NoModifier);
    const QImage ghosted = settled();
    shortcut(Qt::Key_F6, Qt::NoModifier);
    const QImage alone = settled();
    EXPECT_NE(all, ghosted);
    EXPECT_NE(ghosted, alone);
}

TEST_F(Shape, TwentyPartsInAMinuteAreWithinReach) {
    // Three short words and Enter a part: the line accepts them as fast as they are typed, without a pause in between.
    for (int i = 0; i < 20; ++i) rig.part("brick 2x2 at 0 0 " + QString::number(3 * i));
    EXPECT_EQ(rig.project().partCount(), 20U);
}

TEST_F(Shape, WeighedMassesAreTypedAndChangeTheBasis) {
    rig.part("plate 4x4 at 0 0 0");
    rig.settle();
    const int tip = rig.verdictRow("Stands in Present");
    ASSERT_GE(tip, 0);
    EXPECT_EQ(ivrant::at(rig.window->slip()->shown(), tip).basis, verdict::Basis::Starting);
    rig.session().select({rig.partId(0, 0)});
    rig.part("weighs 3.1 g");
    EXPECT_EQ(partAt(0, 0).weighedG, 3.1);
    rig.settle();
    EXPECT_EQ(ivrant::at(rig.window->slip()->shown(), rig.verdictRow("Stands in Present")).basis,
              verdict::Basis::Measured);
    rig.part("weighs much");
    EXPECT_TRUE(rig.window->message().contains("how many grams"));
    rig.find<QLineEdit>("partLine")->clear();
    rig.part("weighs -2");
    EXPECT_TRUE(rig.window->message().contains("between 0 and"));
    EXPECT_EQ(partAt(0, 0).weighedG, 3.1);
    rig.find<QLineEdit>("partLine")->clear();
    rig.part("weighs nothing");
    EXPECT_FALSE(partAt(0, 0).weighedG.has_value());
}

TEST_F(Shape, ANewSectionIsNamedInItsPlace) {
    QTest::keyClick(rig.find<QLineEdit>("partLine"), Qt::Key_N, Qt::ControlModifier | Qt::ShiftModifier);
    ASSERT_EQ(rig.project().sections.size(), 2U);
    auto* tree = rig.find<QTreeWidget>("sections");
    ASSERT_TRUE(rig.waitFor([&] { return tree->findChild<QLineEdit*>() != nullptr; }));
    auto* editor = tree->findChild<QLineEdit*>();
    EXPECT_EQ(editor->text(), "Section 2");
    QTest::keyClicks(editor, "Arm");
    QTest::keyClick(editor, Qt::Key_Return);
    EXPECT_TRUE(rig.waitFor([&] { return rig.project().sections[1]->name == "Arm"; }));
    rig.part("plate 2x2 reed at 0 0 0"); // and typing goes on
    EXPECT_EQ(rig.project().sections[1]->parts.size(), 1U);
}
