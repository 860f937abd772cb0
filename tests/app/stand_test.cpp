// SPDX-License-Identifier: GPL-3.0-or-later
// Stand through the window: the weakest bond found and mended, the counterweight dragged, the core left out, carried by
// what is chosen.
#include <QComboBox>
#include <QDoubleSpinBox>
#include <QSpinBox>

#include "core/model/mass.h"
#include "core/stand/brick_layers.h"
#include "tests/support/stand_rig.h"

using namespace ivrant;

namespace {

struct Stand : test::StandRig {
    void load(const char* demo) {
        EXPECT_TRUE(rig.session().load(test::demoFile(demo)));
        rig.settle();
    }
    /// A plate, a post and a heavy arm that hangs on one stud of the post.
    void buildArm() {
        for (const char* line : {"plate 8x8 slate at 0 0 0", "brick 1x1 slate at 3 0 1", "brick 1x8 reed at 3 0 4"})
            rig.part(line);
        rig.settle();
        rig.session().apply("Ballast", [](const model::Project& p) {
            return model::addBallast(p, p.sections[0]->id, {60, {24'000, 40'000, 14'000}});
        });
        rig.settle();
    }
    void chip(const QString& key) {
        for (auto* button : station->findChildren<QPushButton*>("caseChip"))
            if (button->property("key") == key) return QTest::mouseClick(button, Qt::LeftButton);
        FAIL() << key.toStdString();
    }
};

} // namespace

TEST_F(Stand, AnEmptyModelSaysSo) {
    rig.window->goStation(rig.window->indexOf(verdict::Station::Stand));
    rig.settle();
    EXPECT_TRUE(rig.text("caseOutcome").contains("nothing with weight")) << rig.text("caseOutcome").toStdString();
}

TEST_F(Stand, FindsTheWeakestBondAndMendsIt) {
    buildArm();
    const int row = rig.verdictRow("falls in Present");
    ASSERT_GE(row, 0);
    rig.pickVerdict(row);
    EXPECT_EQ(rig.window->currentStation(), rig.window->indexOf(verdict::Station::Stand));
    station = static_cast<app::StandStation*>(rig.window->station(rig.window->currentStation()));
    await();
    EXPECT_FALSE(station->shown()->result.equilibrium.stands);
    EXPECT_TRUE(rig.text("caseOutcome").contains("first lets go")) << rig.text("caseOutcome").toStdString();
    const double before = *station->shown()->result.equilibrium.lambda;
    EXPECT_GT(before, 1);
    const auto parts = rig.project().partCount();
    auto buttons = rig.window->findChildren<QPushButton*>("mend");
    ASSERT_FALSE(buttons.isEmpty());
    QTest::mouseClick(buttons.first(), Qt::LeftButton);
    ASSERT_TRUE(
        rig.waitFor([&] { return rig.window->findChild<QPushButton*>("mendApply") && !rig.window->jobs().isBusy(); }));
    rig.click("mendApply");
    await();
    EXPECT_EQ(rig.project().partCount(), parts + 1);
    EXPECT_LT(*station->shown()->result.equilibrium.lambda, before);
    rig.session().undo();
    rig.settle();
    EXPECT_EQ(rig.project().partCount(), parts);
}

TEST_F(Stand, CasesHaveTheirOwnResults) {
    load("heron.ivrant");
    go();
    EXPECT_TRUE(rig.text("caseOutcome").contains("holds"));
    EXPECT_GT(rig.find<QTableWidget>("bonds")->rowCount(), 5);
    const double atRest = *station->shown()->result.equilibrium.lambda;
    chip("slope");
    await();
    EXPECT_TRUE(rig.text("caseOutcome").contains("tips over as a whole"))
        << rig.text("caseOutcome").toStdString(); // it tips at 7.8°
    chip("standing");
    await();
    EXPECT_NEAR(*station->shown()->result.equilibrium.lambda, atRest, 1e-9);
    // Another pose, another answer.
    auto* poses = rig.find<QComboBox>("standPose");
    const int reach = poses->findText("Reach");
    ASSERT_GE(reach, 0);
    poses->setCurrentIndex(reach);
    emit poses->activated(reach);
    await();
    EXPECT_GT(std::abs(*station->shown()->result.equilibrium.lambda - atRest), 0.01);
}

TEST_F(Stand, ABondChosenMarksItsParts) {
    load("heron.ivrant");
    go();
    QTest::keyClick(station, Qt::Key_B);
    EXPECT_EQ(rig.session().marked().size(), 2u);
    const auto first = rig.session().marked();
    QTest::keyClick(station, Qt::Key_B);
    EXPECT_NE(rig.session().marked(), first);
}

TEST_F(Stand, ASortedBondStillMarksItsOwnParts) {
    load("heron.ivrant");
    go();
    auto* table = rig.find<QTableWidget>("bonds");
    ASSERT_GT(table->rowCount(), 2);
    for (const Qt::SortOrder order : {Qt::AscendingOrder, Qt::DescendingOrder}) {
        table->sortItems(2, order);
        for (int row = 1; row < table->rowCount(); ++row) {
            const double before = table->item(row - 1, 2)->text().toDouble(),
                         here = table->item(row, 2)->text().toDouble();
            EXPECT_TRUE(order == Qt::AscendingOrder ? before <= here : before >= here) << row;
        }
        for (int row = 0; row < table->rowCount(); ++row) {
            table->selectRow(row);
            // "brick 1x4 of Tail on plate 2x2 of Tail, one stud": the parts marked are of the shapes that are named.
            const std::string told = table->item(row, 0)->text().toStdString();
            ASSERT_FALSE(rig.session().marked().empty()) << told;
            for (const auto& id : rig.session().marked()) {
                const auto& part = model::getPart(rig.project(), model::PartIndex(rig.project()).find(id));
                EXPECT_NE(told.find(part.shape->name), std::string::npos) << told << ": " << part.shape->name;
            }
        }
    }
}

TEST_F(Stand, TheCounterweightShowsItsResultWhileDragged) {
    load("heron.ivrant");
    go();
    const double before = rig.session().report()->present.tipping->angleDeg;
    ASSERT_LT(before, 8);
    QTest::keyClick(station, Qt::Key_W);
    QCoreApplication::processEvents();
    auto* text = rig.find<QLabel>("weightText");
    ASSERT_TRUE(text->isVisible());
    const QString first = text->text();
    // Where it is drawn: a drag from there moves it.
    auto* sheet = station->sheet();
    const auto& tip = *rig.session().report()->present.tipping;
    const double away = base::degToRad(tip.towardDeg + 180);
    const QPoint at =
        sheet->toScreen(tip.centre + geometry::Vec3(40 * std::cos(away), 40 * std::sin(away), 0)).toPoint();
    QTest::mousePress(sheet, Qt::LeftButton, {}, at);
    QTest::mouseMove(sheet, at + QPoint(8, -4));
    QTest::mouseMove(sheet, at + QPoint(60, 30));
    QTest::mouseRelease(sheet, Qt::LeftButton, {}, at + QPoint(60, 30));
    QCoreApplication::processEvents();
    EXPECT_NE(text->text(), first);
    QTest::keyClick(station, Qt::Key_W);
    QTest::keyClick(station, Qt::Key_W); // anew, against the fall
    rig.click("smallestWeight");
    EXPECT_TRUE(text->text().contains("passes")) << text->text().toStdString();
    const double gram = rig.find<QDoubleSpinBox>("weightGram")->value();
    EXPECT_GT(gram, 1);
    rig.click("putWeight");
    rig.settle();
    EXPECT_GE(rig.session().report()->present.tipping->angleDeg, 8 - 1e-6);
    double ballast = 0;
    for (const auto& section : rig.project().sections)
        for (const auto& b : section->ballast) ballast += b.massG;
    EXPECT_NEAR(ballast, gram, 1e-9);
    EXPECT_FALSE(text->isVisible());
}

TEST_F(Stand, CarriedByWhatIsChosen) {
    load("heron.ivrant");
    go();
    QTest::keyClick(station, Qt::Key_C);                                  // nothing is chosen
    EXPECT_EQ(station->findChildren<QPushButton*>("caseChip").size(), 6); // one of them the heron's own
    rig.session().select({rig.partId(0, 0)});
    QTest::keyClick(station, Qt::Key_C);
    await();
    EXPECT_TRUE(rig.text("caseOutcome").contains("carried")) << rig.text("caseOutcome").toStdString();
    EXPECT_FALSE(station->shown()->of.ground);
    rig.session().select({rig.partId(0, 0), rig.partId(1, 0)});
    QTest::keyClick(station, Qt::Key_C);
    await();
    EXPECT_EQ(station->shown()->of.hands.size(), 2u);
}

TEST_F(Stand, HalfBuiltItIsTriedStepByStep) {
    buildArm();
    go();
    rig.click("everyStep");
    EXPECT_TRUE(
        rig.waitFor([&] { return !rig.window->jobs().isBusy() && !rig.text("caseOutcome").contains("step by step"); }));
    await();
    EXPECT_TRUE(rig.text("caseOutcome").contains("half-built at step")) << rig.text("caseOutcome").toStdString();
    EXPECT_FALSE(station->shown()->result.equilibrium.stands);
}

TEST_F(Stand, TheCoreOfABlockIsLeftOutAsAVariant) {
    stand::CellGrid grid{14, 14, 10, {}, {}, base::kBrickMm};
    grid.filled.assign(14 * 14 * 10, 1);
    const auto layers = stand::layBricks(grid, {{2, 4}, {2, 2}, {1, 2}});
    const auto block = stand::makeStatue("Block", *layers, 0);
    ASSERT_TRUE(block.ok());
    rig.session().reset(*block, "", false);
    rig.settle();
    go();
    const auto solid = rig.project().partCount();
    ASSERT_LT(solid, study::kMostPartsLive);
    const double heavy = model::calcMass(rig.session().placed()).massG;
    tab("shell");
    rig.click("leaveOutCore");
    EXPECT_TRUE(rig.waitFor([&] { return rig.project().partCount() < solid && !rig.window->jobs().isBusy(); }));
    tab("bonds");
    await();
    EXPECT_LT(model::calcMass(rig.session().placed()).massG, 0.8 * heavy);
    EXPECT_TRUE(station->shown()->result.equilibrium.stands);
    EXPECT_EQ(rig.project().variants.size(), 2u);
    rig.session().undo();
    rig.settle();
    EXPECT_EQ(rig.project().partCount(), solid);
}
