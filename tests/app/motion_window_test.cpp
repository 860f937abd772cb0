// SPDX-License-Identifier: GPL-3.0-or-later
// Pose, tab Motion: a four-bar from the keyboard turns through a whole turn; plots and slider go to places; what was
// found is told, drawn and mended; a leg on its stand asks its motor.
#include <QContextMenuEvent>
#include <QSlider>
#include <QSpinBox>

#include "app/charts/turn_plots.h"
#include "app/shell/table_tools.h"
#include "app/stations/pose/motion_tab.h"
#include "app/stations/pose/pose_station.h"
#include "core/base/at.h"
#include "core/files/project_file.h"
#include "core/model/edits.h"
#include "core/study/motion_words.h"
#include "core/study/walk.h"
#include "tests/support/linkages.h"
#include "tests/support/window_rig.h"

using namespace ivrant;
using test::WindowRig;

namespace {

struct MotionTabs : testing::Test {
    WindowRig rig;

    app::PoseStation* station() {
        return static_cast<app::PoseStation*>(rig.window->station(rig.window->indexOf(verdict::Station::Pose)));
    }
    void openTab() {
        rig.window->goStation(rig.window->indexOf(verdict::Station::Pose));
        auto* tabs = rig.find<QTabWidget>("poseTabs");
        for (int i = 0; i < tabs->count(); ++i)
            if (tabs->tabText(i) == "Motion") tabs->setCurrentIndex(i);
        rig.settle();
    }
    void openLeg() {
        ASSERT_TRUE(rig.window->openFile(test::demoFile("crab-leg.ivrant")));
        openTab();
    }
    const study::MotionStudy& study() { return *rig.session().report()->motions.at(0); }
    void newSection() {
        const auto before = rig.project().sections.size();
        auto* line = rig.find<QLineEdit>("partLine");
        line->setFocus();
        QTest::keyClick(line, Qt::Key_N, Qt::ControlModifier | Qt::ShiftModifier);
        ASSERT_TRUE(WindowRig::waitFor([&] { return rig.project().sections.size() == before + 1; }));
        rig.settle();
    }
    void takeOffer() {
        auto* offer = rig.find<QPushButton>("jointOffer");
        ASSERT_TRUE(WindowRig::waitFor([&] { return offer->isVisible(); }))
            << rig.project().partCount() << " parts; " << rig.window->message().toStdString();
        const auto before = rig.project().joints.size();
        QTest::mouseClick(offer, Qt::LeftButton);
        ASSERT_EQ(rig.project().joints.size(), before + 1);
        rig.settle();
    }
};

} // namespace

TEST_F(MotionTabs, ACrankALinkAndARockerFromTheKeyboardTurnAllRound) {
    rig.window->goStation(rig.window->indexOf(verdict::Station::Shape));
    rig.part("beam 4 at 0 1 0");
    rig.part("beam 5 at 3 1 2.5 turn 10");
    rig.part("pin smooth at 0 0.5 0 turn 3");
    rig.part("pin smooth at 3 0.5 12.5 turn 3");
    newSection();
    rig.part("beam 3 at -2 0 0 turn 0"); // the crank, 16 mm
    takeOffer();
    rig.part("pin smooth at -2 -0.5 0 turn 3");
    newSection();
    rig.part("beam 6 at -2 0 12.5 turn 0"); // the rocker, 40 mm
    takeOffer();
    rig.part("pin smooth at -2 -0.5 12.5 turn 3");
    newSection();
    rig.part("beam 6 at -2 -1 0 turn 10"); // the link, upright, at a right angle to both
    takeOffer();
    takeOffer();
    ASSERT_EQ(rig.project().joints.size(), 4U);
    ASSERT_EQ(rig.session().tree().closing.size(), 1U);

    openTab();
    EXPECT_TRUE(rig.text("motionTold").contains("New motion")) << "an empty tab says how to begin";
    EXPECT_FALSE(rig.find<QPushButton>("motionPlay")->isEnabled());
    rig.session().setCurrentJoint(rig.project().joints[0].id);
    rig.click("motionNew");
    rig.settle();
    ASSERT_EQ(rig.project().motions.size(), 1U);
    EXPECT_TRUE(rig.text("motionTold").contains("goes all round")) << rig.text("motionTold").toStdString();
    // s + l = 16 + √(24² + 40²) < 40 + 40 (Grashof); least transmission where the crank lies along the base.
    const double base = std::hypot(24.0, 40.0);
    const auto muDeg = [&](double reach) {
        const double mu = std::acos((2 * 1600 - reach * reach) / (2 * 1600)) * 180 / 3.14159265358979;
        return std::min(mu, 180 - mu);
    };
    const double least = std::min(muDeg(base - 16), muDeg(base + 16));
    ASSERT_GE(study().leastSine, 0);
    EXPECT_NEAR(study::getTransmissionDeg(at(study().places, study().leastSine)), least, 0.3);

    // A whole turn on the screen: the crank's tip goes round, the project stays as it is.
    const auto before = rig.project().joints[0].value;
    auto* slider = rig.find<QSlider>("motionSlider");
    ASSERT_EQ(slider->maximum(), 72);
    slider->setValue(1); // as a person does who comes back
    std::vector<geometry::Vec3> tips;
    for (int k = 0; k <= 72; k += 18) {
        slider->setValue(k);
        const auto placed = station()->motionTab()->shownPlace();
        ASSERT_TRUE(placed.has_value());
        tips.push_back(at(placed->X_WS, 1).linear().col(0));
    }
    EXPECT_NEAR((tips[0] + tips[2]).norm(), 0, 1e-6) << "half a turn on it points the other way";
    EXPECT_NEAR((tips[0] - tips[4]).norm(), 0, 1e-6);
    EXPECT_EQ(rig.project().joints[0].value, before) << "looking changes nothing";
    rig.session().undo();
    rig.settle();
    EXPECT_TRUE(rig.project().motions.empty());
}

TEST_F(MotionTabs, PlotsAndSliderGoToThePlacePointedAt) {
    openLeg();
    auto* plots = rig.find<app::TurnPlots>("turnPlots");
    ASSERT_TRUE(WindowRig::waitFor([&] { return plots->headOf(0).startsWith("Transmission"); }));
    auto* canvas = plots->findChild<QWidget*>();
    ASSERT_NE(canvas, nullptr);
    const QPoint first(canvas->width() / 4, canvas->height() / 4);
    QTest::mouseClick(canvas, Qt::LeftButton, {}, first);
    const int there = plots->place();
    EXPECT_GT(there, 5);
    EXPECT_LT(there, 67);
    EXPECT_EQ(rig.find<QSlider>("motionSlider")->value(), there);
    EXPECT_TRUE(
        rig.text("motionAt").startsWith(QString::fromStdString(base::formatNumber(at(study().places, there).at, 1))));
    plots->setFocus();
    rig.key(Qt::Key_Right);
    EXPECT_EQ(rig.find<QSlider>("motionSlider")->value(), there + 1);
    rig.key(Qt::Key_Home);
    EXPECT_EQ(plots->place(), 0);
    // The pointer reads without going there.
    QTest::mouseMove(canvas, QPoint(canvas->width() / 3, canvas->height() / 4));
    ASSERT_TRUE(WindowRig::waitFor([&] { return !plots->headOf(0).endsWith(" at " + rig.text("motionAt")); }));
    EXPECT_EQ(plots->place(), 0);
    const QString file = rig.folder.filePath("leg.svg");
    EXPECT_TRUE(plots->saveChart(file));
    EXPECT_GT(QFileInfo(file).size(), 1000);
}

TEST_F(MotionTabs, PlayingTurnsTheSheetAndPosingItHereSetsTheJoints) {
    openLeg();
    auto* slider = rig.find<QSlider>("motionSlider");
    rig.click("motionPlay");
    EXPECT_TRUE(station()->motionTab()->isPlaying());
    ASSERT_TRUE(WindowRig::waitFor([&] { return slider->value() > 3; }));
    rig.click("motionPlay");
    EXPECT_FALSE(station()->motionTab()->isPlaying());
    slider->setValue(24);
    const auto wanted = at(study().places, 24).values;
    rig.click("motionTake");
    rig.settle();
    for (std::size_t j = 0; j < wanted.size(); ++j)
        EXPECT_NEAR(std::remainder(rig.project().joints[j].value[0] - wanted[j][0], 360), 0, 1e-9);
    EXPECT_TRUE(rig.session().report()->present.rings.front().isClosed());
    rig.session().undo();
    rig.settle();
    EXPECT_EQ(rig.project().joints[0].value[0], 0);
}

TEST_F(MotionTabs, WayAndPlacesAreTyped) {
    openLeg();
    rig.type("motionOver", "90..x");
    EXPECT_TRUE(rig.window->message().contains("two values"));
    EXPECT_FALSE(rig.project().motions[0].over.has_value());
    rig.type("motionOver", "180..270");
    rig.settle();
    ASSERT_TRUE(rig.project().motions[0].over.has_value());
    EXPECT_EQ(rig.project().motions[0].over->to, 270);
    EXPECT_FALSE(study().allRound);
    EXPECT_NEAR(study().places.back().at, 270, 1e-9);
    rig.find<QSpinBox>("motionPlaces")->setValue(24);
    rig.settle();
    EXPECT_EQ(study().places.size(), 25U);
    rig.type("motionName", "Half a step");
    EXPECT_EQ(rig.project().motions[0].name, "Half a step");
    rig.click("motionRemove");
    rig.settle();
    EXPECT_TRUE(rig.project().motions.empty());
    rig.session().undo();
    rig.settle();
    EXPECT_EQ(rig.project().motions.size(), 1U);
}

TEST_F(MotionTabs, APartThatIsSelectedIsFollowed) {
    openLeg();
    const auto rocker = rig.project().sections[2]->parts.front().id;
    const auto before = rig.project().motions[0].traced.size();
    rig.session().select({rocker});
    rig.click("motionTrace");
    rig.settle();
    EXPECT_EQ(rig.project().motions[0].traced.size(), before + 1);
    EXPECT_EQ(study().traces.size(), before + 1);
    rig.click("motionTrace");
    rig.settle();
    EXPECT_EQ(rig.project().motions[0].traced.size(), before) << "once more: no longer";
}

TEST_F(MotionTabs, AVerdictLeadsToWhereItMatters) {
    openLeg();
    rig.window->goStation(rig.window->indexOf(verdict::Station::Shape));
    rig.settle();
    const auto& verdicts = rig.session().report()->verdicts;
    const auto found =
        std::find_if(verdicts.begin(), verdicts.end(), [](const auto& v) { return v.check == "transmission"; });
    ASSERT_NE(found, verdicts.end());
    EXPECT_EQ(found->state, verdict::State::Thin) << found->detail;
    rig.window->goStation(rig.window->indexOf(verdict::Station::Pose));
    station()->goTo(found->place);
    EXPECT_EQ(rig.find<QSlider>("motionSlider")->value(), study().leastSine);
    EXPECT_TRUE(station()->motionTab()->shownPlace().has_value());
}

TEST_F(MotionTabs, TheLegsMotorIsAskedForWhatIsHardestOverTheTurn) {
    openLeg();
    const auto& drive = *rig.session().report()->drive;
    const auto& state = drive.positions.front().functions.front();
    EXPECT_NEAR(state.hardest.nmm, study().torqueAt(static_cast<std::size_t>(study().hardestUp), true), 0.05);
    ASSERT_TRUE(state.margin.has_value());
    EXPECT_GT(*state.margin, 1.5);
}

TEST_F(MotionTabs, FeetMakeAWalkThatIsToldPlottedAndPlayed) {
    test::Treader treader;
    treader.project =
        test::must(model::addPose(treader.project, "As it stands", {}, {model::Stance::Kind::Settle, {}, {0, 0, 1}}));
    model::Motion motion;
    motion.name = "Walking";
    motion.joint = treader.project.joints[0].id;
    treader.project = test::must(model::putMotion(treader.project, motion));
    const QString path = rig.folder.path() + "/treader.ivrant";
    ASSERT_TRUE(files::saveProject(treader.project, path.toStdString()));
    ASSERT_TRUE(rig.window->openFile(path));
    openTab();
    rig.click("motionFeet");
    EXPECT_TRUE(rig.window->message().contains("Select a part of each foot")) << "nothing is selected yet";
    rig.session().select({rig.project().sections[3]->parts.front().id, rig.project().sections[4]->parts.front().id});
    rig.click("motionFeet");
    rig.settle();
    ASSERT_EQ(rig.project().motions[0].feet.size(), 2U);
    ASSERT_TRUE(study().walk);
    ASSERT_EQ(study().walk->problem, "");
    EXPECT_TRUE(rig.text("motionTold").contains("walks 96 mm a turn")) << rig.text("motionTold").toStdString();
    // On the screen it gets further with every half turn.
    auto* slider = rig.find<QSlider>("motionSlider");
    slider->setValue(1);
    const auto first = station()->motionTab()->shownPlace();
    slider->setValue(slider->maximum());
    const auto last = station()->motionTab()->shownPlace();
    ASSERT_TRUE(first && last);
    const geometry::Vec3 way = last->X_WS[0].translation() - first->X_WS[0].translation();
    EXPECT_NEAR(way.head<2>().norm(), 4 * test::Treader::kCrankMm, 8);
    // Once more: no longer.
    rig.click("motionFeet");
    rig.settle();
    EXPECT_TRUE(rig.project().motions[0].feet.empty());
    EXPECT_FALSE(study().walk);
}
