// SPDX-License-Identifier: GPL-3.0-or-later
// Stand through the window: own cases, seams mended, supports, the statue desk, shells made firm.
#include <QApplication>
#include <QComboBox>
#include <QDialogButtonBox>
#include <QDoubleSpinBox>
#include <QSlider>
#include <QTimer>

#include "app/stations/stand/case_dialog.h"
#include "app/stations/stand/statue_desk.h"
#include "core/stand/brick_layers.h"
#include "tests/support/repo.h"
#include "tests/support/stand_rig.h"

using namespace ivrant;

namespace {

struct StandDesign : test::StandRig {
    void buildPost() {
        rig.part("plate 4x4 slate at 0 0 0");
        for (const char* up : {"1", "4", "7"}) rig.part("brick 1x1 reed at 1 1 " + QString(up));
        rig.settle();
    }
    /// Fills the dialog that the next action opens and says yes to it.
    template <typename Fill> void whenAsked(const Fill& fill) {
        QTimer::singleShot(0, [this, fill] {
            auto* dialog = qobject_cast<app::CaseDialog*>(QApplication::activeModalWidget());
            ASSERT_NE(dialog, nullptr);
            fill(*dialog);
            dialog->findChild<QDialogButtonBox*>()->button(QDialogButtonBox::Ok)->click();
            if (dialog->isVisible()) dialog->reject();
        });
    }
    static void set(QDialog& dialog, const char* name, double value) {
        dialog.findChild<QDoubleSpinBox*>(name)->setValue(value);
    }
    static model::Project makeBox() {
        stand::CellGrid grid{10, 10, 5, {}, {}, base::kBrickMm};
        grid.filled.assign(10 * 10 * 5, 1);
        return *stand::makeStatue("Box",
                                  *stand::layBricks(stand::makeHollow(grid, 1), {{1, 2}, {1, 3}, {1, 4}, {2, 4}}), 0);
    }
};

} // namespace

TEST_F(StandDesign, ACaseOfOnesOwnIsKeptTriedAndJudged) {
    buildPost();
    go();
    whenAsked([](QDialog& dialog) {
        dialog.findChild<QLineEdit*>("caseName")->setText("car boot");
        set(dialog, "caseAside", 12);
        set(dialog, "caseDown", 1.5);
        dialog.findChild<QComboBox*>("caseHeld")->setCurrentIndex(1);
    });
    QTest::keyClick(station, Qt::Key_K);
    await();
    ASSERT_EQ(rig.project().cases.size(), 1U);
    EXPECT_EQ(rig.project().cases[0].name, "car boot");
    EXPECT_TRUE(rig.project().cases[0].strapped);
    EXPECT_TRUE(rig.text("caseOutcome").contains("car boot")) << rig.text("caseOutcome").toStdString();
    EXPECT_GE(rig.verdictRow("car boot"), 0);
    // K again changes it.
    whenAsked([](QDialog& dialog) { dialog.findChild<QLineEdit*>("caseName")->setText("car boot, fast"); });
    QTest::keyClick(station, Qt::Key_K);
    await();
    ASSERT_EQ(rig.project().cases.size(), 1U);
    EXPECT_EQ(rig.project().cases[0].name, "car boot, fast");
    rig.session().undo();
    rig.session().undo();
    rig.settle();
    EXPECT_TRUE(rig.project().cases.empty());
}

TEST_F(StandDesign, ACaseWithoutANameIsRefused) {
    app::CaseDialog dialog(rig.project(), {}, {});
    dialog.show();
    dialog.findChild<QDialogButtonBox*>()->button(QDialogButtonBox::Ok)->click();
    EXPECT_TRUE(dialog.isVisible());
    EXPECT_TRUE(dialog.findChild<QLabel*>("caseWrong")->text().contains("name"));
    EXPECT_FALSE(dialog.findChild<QWidget*>("casePushChosen")->isEnabled()); // nothing is chosen
}

TEST_F(StandDesign, ASeamIsFoundAndTiedAcross) {
    rig.part("plate 4x8 slate at 0 0 0");
    for (int i = 0; i < 4; ++i)
        for (const char* at : {"1 2 ", "1 4 "})
            rig.part("brick 2x2 reed at " + QString(at) + QString::number(1 + 3 * i));
    rig.settle();
    const int row = rig.verdictRow("Straight seam through 4 courses");
    ASSERT_GE(row, 0);
    rig.pickVerdict(row);
    const auto parts = rig.project().partCount();
    EXPECT_TRUE(rig.waitFor(
        [&] { return !rig.window->findChildren<QPushButton*>("mend").isEmpty() && !rig.window->jobs().isBusy(); }));
    QTest::mouseClick(rig.window->findChildren<QPushButton*>("mend").first(), Qt::LeftButton);
    ASSERT_TRUE(
        rig.waitFor([&] { return rig.window->findChild<QPushButton*>("mendApply") && !rig.window->jobs().isBusy(); }));
    rig.click("mendApply");
    rig.settle();
    EXPECT_EQ(rig.project().partCount(), parts - 1); // one 2x4 in the place of two 2x2
    EXPECT_LT(rig.verdictRow("Straight seam"), 0);
}

TEST_F(StandDesign, ASupportIsDesigned) {
    rig.part("brick 2x2 slate at 0 0 0");
    rig.part("plate 2x8 reed at 0 0 3");
    rig.settle();
    go();
    QTest::keyClick(station, Qt::Key_P);
    EXPECT_TRUE(rig.waitFor([&] { return rig.text("postsText").contains("Posts") && !rig.window->jobs().isBusy(); }));
    auto* table = rig.find<QTableWidget>("posts");
    ASSERT_GT(table->rowCount(), 0);
    EXPECT_TRUE(table->item(0, 0)->text().contains("plate 2x8")) << table->item(0, 0)->text().toStdString();
    EXPECT_GT(table->item(0, 2)->text().toDouble(), 0);
    table->selectRow(0);
    EXPECT_EQ(rig.session().marked(), std::set<model::PartId>{rig.partId(0, 1)});
}

TEST_F(StandDesign, APostIsKeptJudgedAndTakenAway) {
    rig.part("brick 2x2 slate at 0 0 0");
    rig.part("plate 2x8 reed at 0 0 3");
    rig.part("brick 2x2 reed at 0 6 4");
    rig.settle();
    go();
    EXPECT_GE(rig.verdictRow("Falls over"), 0);
    const auto design = [&] {
        return rig.waitFor([&] { return rig.text("postsText").contains("Posts") && !rig.window->jobs().isBusy(); });
    };
    QTest::keyClick(station, Qt::Key_P);
    ASSERT_TRUE(design());
    auto* keep = rig.find<QPushButton>("keepPost");
    auto* drop = rig.find<QPushButton>("dropPost");
    EXPECT_TRUE(keep->isVisible() && keep->isEnabled());
    EXPECT_FALSE(drop->isEnabled());
    rig.click("keepPost");
    rig.settle();
    ASSERT_TRUE(design());
    ASSERT_EQ(rig.project().posts.size(), 1U);
    EXPECT_LT(rig.verdictRow("Falls over"), 0);
    const int told = rig.verdictRow("Post 1 holds it up");
    ASSERT_GE(told, 0);
    auto* table = rig.find<QTableWidget>("posts");
    ASSERT_GT(table->rowCount(), 0);
    EXPECT_TRUE(table->item(0, 0)->text().startsWith("kept: Post 1 under plate 2x8"))
        << table->item(0, 0)->text().toStdString();
    table->selectRow(0);
    EXPECT_FALSE(keep->isEnabled());
    EXPECT_TRUE(drop->isEnabled());
    // Another case in its place; the verdict leads back to it.
    rig.find<QPushButton>("caseChip")->click();
    await();
    EXPECT_FALSE(keep->isVisible());
    rig.pickVerdict(told);
    ASSERT_TRUE(design());
    EXPECT_TRUE(drop->isVisible());
    table->selectRow(0);
    rig.click("dropPost");
    rig.settle();
    EXPECT_TRUE(rig.project().posts.empty());
    EXPECT_GE(rig.verdictRow("Falls over"), 0);
    rig.session().undo();
    rig.settle();
    EXPECT_EQ(rig.project().posts.size(), 1U);
    // Enter keeps the chosen place as well.
    rig.session().undo();
    rig.settle();
    ASSERT_TRUE(design());
    table->selectRow(0);
    QTest::keyClick(station, Qt::Key_Return);
    rig.settle();
    EXPECT_EQ(rig.project().posts.size(), 1U);
}

TEST_F(StandDesign, TheLeastCounterweightIsFoundForTheWholeMove) {
    ASSERT_TRUE(rig.session().load(test::demoFile("bridge-span.ivrant")));
    go();
    QTest::keyClick(station, Qt::Key_W);
    rig.settle();
    EXPECT_TRUE(rig.text("weightText").contains("moving: least")) << rig.text("weightText").toStdString();
    rig.click("bestWeight");
    rig.settle();
    EXPECT_FALSE(rig.text("weightText").contains("too little")) << rig.text("weightText").toStdString();
    const double gram = rig.find<QDoubleSpinBox>("weightGram")->value();
    rig.find<QDoubleSpinBox>("weightGram")->setValue(gram - 1);
    EXPECT_TRUE(rig.text("weightText").contains("too little")) << rig.text("weightText").toStdString();
    rig.click("smallestWeight");
    EXPECT_EQ(rig.find<QDoubleSpinBox>("weightGram")->value(), gram);
    QTest::keyClick(station, Qt::Key_Return);
    rig.settle();
    ASSERT_EQ(rig.project().sections[0]->ballast.size(), 1U) << "low in the pier less is enough than in the tail";
    EXPECT_EQ(rig.project().sections[0]->ballast[0].massG, gram);
    EXPECT_LT(rig.verdictRow("falls over on the way"), 0);
}

TEST_F(StandDesign, TheStatueDeskComparesSizesAndLaysOne) {
    app::StatueDesk desk(rig.window->jobs());
    desk.show();
    EXPECT_FALSE(desk.findChild<QPushButton*>("deskCompare")->isEnabled());
    EXPECT_FALSE(desk.load(QString::fromStdString(test::repo("/README.md"))));
    EXPECT_FALSE(desk.findChild<QLabel*>("deskState")->text().isEmpty());
    ASSERT_TRUE(desk.load(test::demoFile("great-auk.obj")));
    desk.findChild<QLineEdit*>("deskHeights")->setText("abc");
    desk.findChild<QPushButton*>("deskCompare")->click();
    EXPECT_TRUE(desk.findChild<QLabel*>("deskState")->text().contains("abc"));
    desk.findChild<QLineEdit*>("deskHeights")->setText("120mm 160mm");
    desk.findChild<QPushButton*>("deskCompare")->click();
    auto* table = desk.findChild<QTableWidget*>("deskRows");
    ASSERT_TRUE(rig.waitFor([&] { return table->rowCount() == 2; }));
    const double plain = table->item(0, 1)->text().toDouble();
    // Colours laid over it from the front part the bricks; what is no picture is said, and the mesh stays one colour.
    EXPECT_FALSE(desk.loadColours(QString::fromStdString(test::repo("/README.md"))));
    EXPECT_TRUE(desk.findChild<QLabel*>("deskState")->text().contains("README"));
    const QString map = rig.folder.path() + "/front.png";
    QImage front(2, 1, QImage::Format_RGBA8888);
    front.setPixelColor(0, 0, Qt::black);
    front.setPixelColor(1, 0, Qt::white);
    ASSERT_TRUE(front.save(map));
    ASSERT_TRUE(desk.loadColours(map));
    EXPECT_EQ(desk.findChild<QPushButton*>("deskColours")->text(), "drop colours");
    desk.findChild<QPushButton*>("deskCompare")->click();
    EXPECT_TRUE(rig.waitFor([&] { return table->item(0, 1)->text().toDouble() > plain; }));
    const double parts = table->item(0, 1)->text().toDouble();
    EXPECT_NEAR(table->item(0, 3)->text().toDouble(), parts * verdict::kUsualPrice, 1);
    table->selectRow(0);
    desk.findChild<QPushButton*>("deskLay")->click();
    ASSERT_TRUE(desk.made());
    EXPECT_EQ(static_cast<double>(desk.made()->partCount()), parts);
    std::set<int> colours;
    for (const auto& part : desk.made()->sections[0]->parts) colours.insert(part.colour);
    EXPECT_GE(colours.size(), 2U);
}

TEST_F(StandDesign, AFirmShellIsSaidToNeedNothing) {
    rig.session().reset(makeBox(), "", false);
    rig.settle();
    go();
    const auto before = rig.project().partCount();
    tab("shell");
    rig.click("makeFirm");
    EXPECT_TRUE(rig.waitFor([&] {
        return !rig.window->jobs().isBusy() && rig.text("shellText").contains("nothing needs to go in");
    })) << rig.text("shellText").toStdString();
    EXPECT_EQ(rig.project().partCount(), before);
}

TEST_F(StandDesign, WhatIsNeverSeenIsChosen) {
    stand::CellGrid grid{8, 8, 5, {}, {}, base::kBrickMm};
    grid.filled.assign(8 * 8 * 5, 1);
    rig.session().reset(*stand::makeStatue("Block", *stand::layBricks(grid, {{2, 2}}), 0), "", false);
    rig.settle();
    go();
    for (auto* action : station->commands())
        if (action->text() == "Choose what is never seen") action->trigger();
    EXPECT_TRUE(
        rig.waitFor([&] { return rig.text("shellText").contains("Never seen") && !rig.window->jobs().isBusy(); }));
    EXPECT_FALSE(rig.session().selection().empty());
    for (const auto& id : rig.session().selection()) {
        const model::PartIndex index(rig.project());
        const auto& at = model::getPart(rig.project(), index.find(id)).place.atUm;
        EXPECT_GT(at[2], 0) << "a brick of the lowest layer is seen from below";
        EXPECT_LT(at[2], 4 * 9600);
    }
}

TEST_F(StandDesign, AMoveIsLookedAtPlaceByPlace) {
    ASSERT_TRUE(rig.session().load(test::demoFile("bridge-span.ivrant")));
    go();
    const QImage still = station->sheet()->lastFrame().copy();
    QTest::keyClick(station, Qt::Key_M);
    rig.settle();
    auto* chart = rig.find<app::TipWay>("tipWay");
    ASSERT_TRUE(chart->isVisible());
    EXPECT_FALSE(rig.find<app::TipRose>("tipRose")->isVisible());
    const auto& move = rig.session().report()->moves.at(0);
    EXPECT_TRUE(rig.text("moveTold").contains("it falls over"))
        << "it begins where it is worst: " << rig.text("moveTold").toStdString();
    // A press at the chart's left end: the start, which stands.
    QTest::mouseClick(chart, Qt::LeftButton, {}, QPoint(30, chart->height() / 2));
    EXPECT_EQ(rig.find<QSlider>("moveShare")->value(), 0);
    EXPECT_TRUE(rig.text("moveTold").contains(QString::number(move.anglesDeg.front(), 'f', 1)))
        << rig.text("moveTold").toStdString();
    EXPECT_FALSE(rig.text("moveTold").contains("falls over"));
    // By keys to the next hundredth; the sheet shows the model there, the project stays as it was.
    const auto before = rig.project().joints[0].value;
    for (int k = 0; k < 40; ++k) QTest::keyClick(rig.find<QSlider>("moveShare"), Qt::Key_Right);
    EXPECT_TRUE(rig.text("moveTold").startsWith("<b>40 %")) << rig.text("moveTold").toStdString();
    EXPECT_TRUE(rig.waitFor([&] { return station->sheet()->lastFrame() != still; }));
    EXPECT_EQ(rig.project().joints[0].value, before);
    // It plays to its end and stops there.
    rig.click("movePlay");
    EXPECT_TRUE(rig.waitFor([&] {
        return rig.find<QSlider>("moveShare")->value() == 100 && !rig.find<QPushButton>("movePlay")->isChecked();
    }));
    // A counterweight is tried on what stands still: the rose comes back.
    QTest::keyClick(station, Qt::Key_W);
    EXPECT_TRUE(rig.find<app::TipRose>("tipRose")->isVisible());
    EXPECT_FALSE(chart->isVisible());
    QTest::keyClick(station, Qt::Key_W);
    // The verdict on a move leads to it.
    verdict::Place place;
    place.things = {move.key};
    station->goTo(place);
    EXPECT_TRUE(chart->isVisible());
    station->goTo({});
    EXPECT_FALSE(chart->isVisible());
}

TEST_F(StandDesign, SectionsAreWeighedAndTheLoadGoesItsWay) {
    ASSERT_TRUE(rig.session().load(test::demoFile("bridge-span.ivrant")));
    go();
    QTest::keyClick(station, Qt::Key_S);
    auto* table = rig.find<QTableWidget>("sectionWeights");
    ASSERT_TRUE(table->isVisible());
    ASSERT_EQ(table->columnCount(), 4);
    ASSERT_EQ(table->rowCount(), 2);
    double gram = 0;
    for (int row = 0; row < 2; ++row) gram += table->item(row, 1)->text().toDouble();
    EXPECT_NEAR(gram, rig.session().report()->present.tipping->massG, 0.11);
    for (int row = 0; row < 2; ++row)
        if (table->item(row, 0)->text() == "Span") table->selectRow(row);
    EXPECT_EQ(rig.session().marked().size(), rig.project().sections[1]->parts.size());
    QTest::keyClick(station, Qt::Key_S);
    EXPECT_FALSE(table->isVisible());
    EXPECT_TRUE(rig.find<QTableWidget>("bonds")->isVisible()) << "the bonds are back";
    // The way of the load of a chosen part is drawn over the sheet.
    rig.session().setMarked({});
    station->sheet()->update();
    rig.settle();
    const QImage before = station->sheet()->grab().toImage();
    rig.session().select({rig.partId(1, static_cast<int>(rig.project().sections[1]->parts.size()) - 1)});
    EXPECT_TRUE(rig.waitFor([&] { return station->sheet()->grab().toImage() != before; }));
    QTest::keyClick(station, Qt::Key_S);
    QTest::keyClick(station, Qt::Key_N); // a case brings the bonds back too
    await();
    EXPECT_FALSE(table->isVisible());
}

TEST_F(StandDesign, WhatIsNotLookedAtDoesNoWork) {
    ASSERT_TRUE(rig.session().load(test::demoFile("bridge-span.ivrant")));
    go();
    rig.window->goStation(rig.window->indexOf(verdict::Station::Shape));
    rig.part("plate 2x2 reed at 0 0 40");
    rig.settle();
    EXPECT_EQ(station->shown(), nullptr) << "nobody looks at its cases";
    go(); // which waits until the case is there
    // Behind another tab of the same station neither.
    QTest::keyClick(station, Qt::Key_S);
    rig.session().undo();
    rig.settle();
    EXPECT_EQ(station->shown(), nullptr);
    tab("bonds");
    await();
}
