// SPDX-License-Identifier: GPL-3.0-or-later
// The studies below Pose's sheet: choosing and exchanging a joint, the map, the chain, variants against each other,
// dragging a whole limb.
#include <QAction>
#include <QCheckBox>
#include <QFile>
#include <QSlider>

#include "app/charts/joint_map.h"
#include "app/stations/pose/pose_station.h"
#include "core/base/at.h"
#include "core/model/variants.h"
#include "core/pose/collide.h"
#include "print/compare_sheet.h"
#include "tests/support/linkages.h"
#include "tests/support/window_rig.h"

using namespace ivrant;
using test::WindowRig;

namespace {

struct Studies : testing::Test {
    WindowRig rig;
    app::PoseStation* station = nullptr;

    void SetUp() override {
        ASSERT_TRUE(rig.window->openFile(test::demoFile("heron.ivrant")));
        rig.window->goStation(rig.window->indexOf(verdict::Station::Pose));
        rig.settle();
        station = static_cast<app::PoseStation*>(rig.window->station(rig.window->currentStation()));
    }
    void pick(const std::string& joint) {
        for (const auto& j : rig.project().joints)
            if (j.name == joint) rig.session().setCurrentJoint(j.id);
        rig.settle();
    }
    void tab(const QString& name) {
        auto* tabs = rig.find<QTabWidget>("poseTabs");
        for (int i = 0; i < tabs->count(); ++i)
            if (tabs->tabText(i) == name) tabs->setCurrentIndex(i);
        rig.settle();
        ASSERT_EQ(tabs->tabText(tabs->currentIndex()), name);
    }
    [[nodiscard]] const model::Joint& joint(const std::string& name) {
        for (const auto& j : rig.project().joints)
            if (j.name == name) return j;
        throw std::runtime_error("no joint " + name);
    }
    [[nodiscard]] int rowOf(QTableWidget* table, const QString& begins, int column = 0) {
        for (int r = 0; r < table->rowCount(); ++r)
            if (table->item(r, column)->text().contains(begins)) return r;
        return -1;
    }
};

} // namespace

TEST_F(Studies, FromTheChooserToTheExchangedJointAndBack) {
    pick("Neck 3");
    tab("Choose");
    auto* table = rig.find<QTableWidget>("choices");
    ASSERT_EQ(table->rowCount(), static_cast<int>(parts::getJointKinds().size()));
    EXPECT_FALSE(table->item(rowOf(table, "small turntable"), 1)->text().isEmpty());
    table->selectRow(rowOf(table, "small turntable"));
    EXPECT_FALSE(rig.find<QPushButton>("useKind")->isEnabled()) << "its parts do not fit in place";
    EXPECT_TRUE(rig.text("choiceDetail").contains("take away"));
    table->selectRow(rowOf(table, "stepped hinge large"));
    ASSERT_TRUE(rig.find<QPushButton>("useKind")->isEnabled());
    rig.click("useKind");
    rig.settle();
    EXPECT_EQ(joint("Neck 3").kind->name, "stepped hinge large");
    EXPECT_GE(rowOf(table, "stepped hinge large (now)"), 0) << "the table follows";
    rig.session().undo();
    rig.settle();
    EXPECT_EQ(joint("Neck 3").kind->name, "stepped hinge small");
}

TEST_F(Studies, TheSliderSortsWithoutComputingAnew) {
    pick("Neck 5");
    tab("Choose");
    auto* table = rig.find<QTableWidget>("choices");
    auto* slider = rig.find<QSlider>("firmSlider");
    slider->setValue(slider->maximum());
    const int firmHinge = rowOf(table, "stepped hinge large"), firmBall = rowOf(table, "small ball and cup");
    slider->setValue(slider->minimum());
    EXPECT_FALSE(rig.window->jobs().isBusy());
    EXPECT_LT(firmHinge, firmBall);
    EXPECT_LT(rowOf(table, "small ball and cup"), rowOf(table, "stepped hinge large"));
}

TEST_F(Studies, AClickOnTheMapTakesBothValues) {
    pick("Neck 1");
    tab("Two joints");
    auto* map = rig.find<app::JointMap>("jointMap");
    ASSERT_TRUE(map->map());
    EXPECT_EQ(rig.find<QComboBox>("mapSecond")->currentText(), "Neck 2") << "the joint that it carries";
    const int n = map->map()->request.steps;
    QTest::mouseClick(map, Qt::LeftButton, {}, map->cellCentre(n / 2 + 9, n / 2 - 9)); // a quarter turn is 36 cells
    rig.settle();
    EXPECT_DOUBLE_EQ(joint("Neck 1").value[0], 22.5);
    EXPECT_DOUBLE_EQ(joint("Neck 2").value[0], -22.5);
    rig.session().undo();
    EXPECT_DOUBLE_EQ(joint("Neck 1").value[0], 45) << "one entry of the undo list";
    rig.settle();
    map->setFocus();
    QTest::keyClick(map, Qt::Key_Right);
    EXPECT_TRUE(rig.text("mapText").contains("Neck 1")) << rig.text("mapText").toStdString();
    const QString svg = rig.folder.path() + "/map.svg";
    EXPECT_TRUE(map->saveChart(svg));
    EXPECT_TRUE(QFile::exists(svg));
}

TEST_F(Studies, TheSmoothNeckSagsAndTheChainSaysWhatToMakeFirm) {
    for (auto* chip : rig.window->findChildren<QPushButton*>("variant"))
        if (chip->text() == "B smooth") QTest::mouseClick(chip, Qt::LeftButton);
    rig.settle();
    ASSERT_EQ(joint("Neck 1").kind->name, "small ball and cup");
    for (auto* chip : station->findChildren<QPushButton*>())
        if (chip->text() == "Reach") {
            QTest::mouseClick(chip, Qt::LeftButton);
            break;
        }
    tab("Chain");
    EXPECT_EQ(rig.find<QComboBox>("chainFirst")->currentText(), "Neck 1");
    EXPECT_EQ(rig.find<QComboBox>("chainLast")->currentText(), "Head");
    EXPECT_TRUE(rig.text("chainText").contains("Make firm first")) << rig.text("chainText").toStdString();
    auto* table = rig.find<QTableWidget>("chainTable");
    EXPECT_EQ(table->rowCount(), 7);
    EXPECT_TRUE(table->item(rowOf(table, "Neck 1"), 4)->text().contains("gives way"));
    const double before = joint("Neck 1").value[1];
    rig.click("chainSagged");
    rig.settle();
    EXPECT_LT(joint("Neck 1").value[1], before - 5) << "it sinks";
    rig.session().undo();
    EXPECT_DOUBLE_EQ(joint("Neck 1").value[1], before);
}

TEST_F(Studies, VariantsAreMadeShownAndCompared) {
    tab("A against B");
    auto* table = rig.find<QTableWidget>("comparison");
    const int row = rowOf(table, "Neck 1", 1);
    ASSERT_GE(row, 0);
    EXPECT_TRUE(table->item(row, 2)->text().startsWith("stepped hinge small"));
    EXPECT_TRUE(table->item(row, 3)->text().startsWith("small ball and cup"));
    const int part = rowOf(table, "stepped hinge small fork", 1);
    ASSERT_GE(part, 0);
    EXPECT_EQ(table->item(part, 4)->text(), "-4");
    EXPECT_EQ(rowOf(table, "Tail", 1), -1) << "what is the same is not shown";
    const QImage plain = rig.sheet()->grab().toImage();
    rig.find<QCheckBox>("compareOver")->setChecked(true);
    QCoreApplication::processEvents();
    EXPECT_NE(rig.sheet()->grab().toImage(), plain) << "the other variant is drawn over it";
    // The same comparison as one page.
    const auto b = verdict::calcReport(std::make_shared<const model::Project>(model::takeVariant(rig.project(), 1)));
    const auto comparison = verdict::compareReports(*rig.session().report(), b, "A firm", "B smooth");
    const QString pdf = rig.folder.path() + "/compare.pdf", html = rig.folder.path() + "/compare.html";
    ASSERT_TRUE(print::writeCompareSheet(*rig.session().report(), b, comparison, pdf.toStdString()));
    ASSERT_TRUE(print::writeCompareSheet(*rig.session().report(), b, comparison, html.toStdString()));
    QFile page(html);
    ASSERT_TRUE(page.open(QIODevice::ReadOnly));
    EXPECT_TRUE(page.readAll().contains("B smooth"));
    EXPECT_EQ(print::writeCompareSheet(*rig.session().report(), b, comparison, "x.doc").error().code, "output.kind");
}

TEST_F(Studies, EachFurtherStudySaysSomething) {
    tab("Reach");
    auto* study = rig.find<QComboBox>("study");
    pick("Tail");
    for (int i = 0; i < study->count(); ++i) {
        study->setCurrentIndex(i);
        emit study->activated(i);
        rig.settle();
        EXPECT_GT(rig.text("studyText").size(), 10) << i;
        EXPECT_FALSE(rig.text("studyText").startsWith("…")) << i;
    }
    study->setCurrentIndex(1); // turning past: the tail does not
    emit study->activated(1);
    rig.settle();
    EXPECT_TRUE(rig.text("studyText").contains("does not pass")) << rig.text("studyText").toStdString();
}

TEST_F(Studies, TheTiltOfTheBaseMakesTheWorstCaseWorse) {
    tab("Hold");
    auto* table = rig.find<QTableWidget>("holding");
    const auto most = [&] { return table->item(rowOf(table, "Neck 1"), 4)->text().toDouble(); };
    const double level = most();
    EXPECT_GT(level, 0);
    auto* tilt = rig.window->findChild<QWidget*>("baseTilt");
    ASSERT_TRUE(tilt);
    tilt->setFocus();
    QTest::keyClick(tilt, Qt::Key_A, Qt::ControlModifier);
    QTest::keyClicks(tilt, "20");
    QTest::keyClick(tilt, Qt::Key_Return);
    rig.settle();
    EXPECT_DOUBLE_EQ(rig.project().tiltDeg, 20);
    EXPECT_GE(most(), level);
    pick("Neck 1");
    rig.click("showWorst");
    rig.settle();
    EXPECT_EQ(pose::getValues(rig.project(), nullptr),
              at(rig.session().report()->worst, rig.project().findJoint(joint("Neck 1").id)).values);
}

TEST_F(Studies, DraggingTheHeadMovesTheWholeNeckAndNothingCollides) {
    for (auto* action : station->actions())
        if (action->text() == "Whole limb follows") action->trigger();
    rig.sheet()->look(render::View::Side);
    rig.settle();
    const auto before = pose::getValues(rig.project(), nullptr);
    const auto head =
        at(rig.project().sections, at(rig.session().tree().to, rig.project().findJoint(joint("Head").id)).section);
    const QPoint from = rig.screenOf(head->parts[1].id);
    ASSERT_TRUE(rig.sheet()->pick(from));
    QTest::mousePress(rig.sheet(), Qt::LeftButton, {}, from);
    for (int i = 1; i <= 12; ++i) QTest::mouseMove(rig.sheet(), from + QPoint(3 * i, 4 * i));
    QTest::mouseRelease(rig.sheet(), Qt::LeftButton, {}, from + QPoint(36, 48));
    rig.settle();
    const auto after = pose::getValues(rig.project(), nullptr);
    int moved = 0;
    for (std::size_t j = 0; j < after.size(); ++j) {
        moved += after[j] != before[j] ? 1 : 0;
        if (rig.project().joints[j].kind->stepDeg > 0) {
            EXPECT_NEAR(std::remainder(after[j][0], 22.5), 0, 1e-9);
        }
    }
    EXPECT_GE(moved, 2) << "more than one joint gives way";
    EXPECT_TRUE(rig.session().report()->present.collisions.empty());
    rig.session().undo();
    EXPECT_EQ(pose::getValues(rig.project(), nullptr), before) << "one drag is one entry of the undo list";
}

TEST_F(Studies, BothFeetStayWhileTheBodyIsDraggedDown) {
    rig.session().reset(test::Walker().project, {}, true);
    rig.settle();
    for (auto* action : station->actions())
        if (action->text() == "Whole limb follows") action->trigger();
    rig.sheet()->look(render::View::Front);
    rig.settle();
    const auto before = rig.session().placed();
    const QPoint from = rig.screenOf(rig.partId(0, 0)),
                 to = rig.sheet()->toScreen(before.X_WS[0] * geometry::Vec3(32, 0, -9)).toPoint();
    ASSERT_TRUE(rig.sheet()->pick(from));
    QTest::mousePress(rig.sheet(), Qt::LeftButton, {}, from);
    const geometry::Vec3 middle(32, 0, 0);
    const auto down = [&] { return (before.X_WS[0] * middle - rig.session().placed().X_WS[0] * middle).z(); };
    for (int i = 1; i <= 6; ++i) QTest::mouseMove(rig.sheet(), from + (to - from) * i / 6);
    EXPECT_TRUE(WindowRig::waitFor([&] { return down() > 8.5; })) << down();
    QTest::mouseRelease(rig.sheet(), Qt::LeftButton, {}, to);
    rig.settle();
    const auto& after = rig.session().placed();
    EXPECT_NEAR(down(), 9, 0.5);
    for (const std::size_t foot : {3, 6}) {
        EXPECT_LT((after.X_WS[foot].translation() - before.X_WS[foot].translation()).norm(), 0.3) << foot;
        EXPECT_LT((after.X_WS[foot].linear() - before.X_WS[foot].linear()).norm(), 0.02) << foot;
    }
    EXPECT_TRUE(rig.session().report()->present.collisions.empty());
}
