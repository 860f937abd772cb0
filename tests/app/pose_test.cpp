// SPDX-License-Identifier: GPL-3.0-or-later
// Pose: values typed, stepped and dragged; poses kept and played; the ladder and the holding table say what the core
// says.
#include <QAction>

#include "app/stations/pose/pose_station.h"
#include "tests/support/near.h"
#include "tests/support/window_rig.h"

#include "core/base/at.h"

using namespace ivrant;
using test::WindowRig;

namespace {

struct Pose : testing::Test {
    WindowRig rig;
    app::PoseStation* station = nullptr;

    void SetUp() override {
        ASSERT_TRUE(rig.window->openFile(test::demoFile("heron.ivrant")));
        rig.window->goStation(rig.window->indexOf(verdict::Station::Pose));
        rig.settle();
        station = static_cast<app::PoseStation*>(rig.window->station(rig.window->indexOf(verdict::Station::Pose)));
    }
    void pick(const char* joint) {
        for (const auto& j : rig.project().joints)
            if (j.name == joint) rig.session().setCurrentJoint(j.id);
        QCoreApplication::processEvents();
    }
    [[nodiscard]] const model::Joint& current() {
        return ivrant::at(rig.project().joints, rig.project().findJoint(rig.session().currentJoint()));
    }
};

} // namespace

TEST_F(Pose, ATypedValueIsTakenInSteps) {
    pick("Neck 1");
    rig.type("jointValue", "50");
    EXPECT_DOUBLE_EQ(current().value[0], 45);
    EXPECT_TRUE(rig.window->message().contains("22.5")) << rig.window->message().toStdString();
    rig.type("jointValue", "abc");
    EXPECT_DOUBLE_EQ(current().value[0], 45);
    EXPECT_EQ(rig.find<QLineEdit>("jointValue")->text(), "45") << "what cannot be read is put back";
}

TEST_F(Pose, BracketsStepTheJoint) {
    pick("Neck 2");
    const double before = current().value[0];
    station->focusTarget()->setFocus();
    QTest::keyClick(station->focusTarget(), Qt::Key_BracketRight);
    EXPECT_DOUBLE_EQ(current().value[0], before + 22.5);
    QTest::keyClick(station->focusTarget(), Qt::Key_BracketLeft);
    QTest::keyClick(station->focusTarget(), Qt::Key_BracketLeft);
    EXPECT_DOUBLE_EQ(current().value[0], before - 22.5);
}

TEST_F(Pose, WantedRangesAreTypedAndChecked) {
    pick("Head");
    rig.type("jointWanted", "-5..5; -10..10; 0..0");
    ASSERT_EQ(current().wanted.size(), 3U);
    EXPECT_EQ(current().wanted[1], (model::Range{-10, 10}));
    rig.type("jointWanted", "10..-10; 0..0; 0..0");
    EXPECT_EQ(current().wanted[1], (model::Range{-10, 10})) << "inside out is refused";
    EXPECT_TRUE(rig.window->message().contains("low not above high"));
    rig.type("jointWanted", "7");
    EXPECT_TRUE(rig.window->message().contains("low..high"));
}

TEST_F(Pose, DraggingALimbTurnsItsJointAndUndoTakesItBackAtOnce) {
    pick("Right wing");
    const auto tree = rig.session().tree();
    const auto wing = ivrant::at(tree.to, rig.project().findJoint(rig.session().currentJoint())).section;
    const auto before = current().value;
    // A part of the wing that is not covered by something else.
    QPoint from;
    for (const auto& part : ivrant::at(rig.project().sections, wing)->parts) {
        const QPoint at = rig.screenOf(part.id);
        const auto hit = rig.sheet()->pick(at);
        if (hit && hit->spot.section == wing) from = at;
    }
    ASSERT_FALSE(from.isNull());
    QTest::mousePress(rig.sheet(), Qt::LeftButton, {}, from);
    for (int i = 1; i <= 6; ++i) QTest::mouseMove(rig.sheet(), from + QPoint(0, -6 * i));
    QTest::mouseRelease(rig.sheet(), Qt::LeftButton, {}, from + QPoint(0, -36));
    EXPECT_EQ(current().name, "Right wing");
    EXPECT_NE(current().value, before);
    rig.settle();
    for (const auto& range : rig.session().report()->present.ranges)
        if (ivrant::at(rig.project().joints, range.joint).id == current().id) {
            EXPECT_FALSE(range.collides) << "a drag stays within what is free";
        }
    QTest::keyClick(station->focusTarget(), Qt::Key_Z, Qt::ControlModifier);
    EXPECT_EQ(current().value, before) << "one drag is one entry of the undo list";
}

TEST_F(Pose, PosesAreKeptTakenAndPlayed) {
    const auto poses = rig.project().poses.size();
    pick("Left wing");
    rig.type("jointValue", "20; 0");
    station->focusTarget()->setFocus();
    QTest::keyClick(station->focusTarget(), Qt::Key_C);
    ASSERT_EQ(rig.project().poses.size(), poses + 1);
    EXPECT_DOUBLE_EQ(rig.project().poses.back().values.at(current().id)[0], 20);
    // The first chip goes back to Standing.
    for (auto* chip : station->findChildren<QPushButton*>())
        if (chip->text() == "Standing") {
            QTest::mouseClick(chip, Qt::LeftButton);
            break;
        }
    EXPECT_DOUBLE_EQ(current().value[0], 0);
    station->focusTarget()->setFocus();
    QTest::keyClick(station->focusTarget(), Qt::Key_Space);
    EXPECT_TRUE(station->isPlaying());
    ASSERT_TRUE(WindowRig::waitFor([&] { return !station->isPlaying(); }));
    const auto reach = std::find_if(rig.project().poses.begin(), rig.project().poses.end(),
                                    [](const auto& p) { return p.name == "Reach"; });
    EXPECT_EQ(pose::getValues(rig.project(), nullptr), pose::getValues(rig.project(), &*reach))
        << "it arrives in the next pose exactly";
    EXPECT_TRUE(rig.text("poseStatus").contains("Reach"));
}

TEST_F(Pose, LadderShowsFailingRowsFirstAndExplainsItsEnds) {
    auto* ladder = station->ladder();
    ASSERT_GT(ladder->rowCount(), 12);
    bool sawGood = false;
    for (int i = 0; i < ladder->rowCount(); ++i) {
        const auto& r = ladder->row(i);
        const bool bad = r.collides || (r.wanted && !r.endless &&
                                        (r.wanted->low < r.free.low - 0.05 || r.wanted->high > r.free.high + 0.05));
        EXPECT_FALSE(bad && sawGood) << "row " << i;
        sawGood = sawGood || !bad;
    }
    QTest::mouseClick(ladder->viewport(), Qt::LeftButton, {}, ladder->rowCentre(0));
    ladder->setFocus();
    QTest::keyClick(ladder, Qt::Key_Home);
    const auto& range = ladder->row(0);
    if (range.low.by == pose::StopBy::Contact) {
        EXPECT_TRUE(rig.text("stopText").contains("meets"));
        EXPECT_EQ(rig.session().marked().size(), 2U);
    } else {
        EXPECT_TRUE(rig.text("stopText").contains("limit") || rig.text("stopText").contains("all round"));
    }
}

TEST_F(Pose, HoldingTableShowsTheCoresNumbers) {
    rig.find<QTabWidget>("poseTabs")->setCurrentIndex(1);
    auto* table = rig.find<QTableWidget>("holding");
    const auto report = rig.session().report();
    ASSERT_EQ(table->rowCount(), static_cast<int>(rig.project().joints.size()));
    for (int row = 0; row < table->rowCount(); ++row) {
        const QString name = table->item(row, 0)->text();
        for (const auto& load : report->present.loads) {
            if (ivrant::at(rig.project().joints, load.joint).name != name.toStdString()) continue;
            EXPECT_NEAR(table->item(row, 1)->text().toDouble(), load.needNmm, 0.051) << name.toStdString();
            EXPECT_NEAR(table->item(row, 2)->text().toDouble(), load.have.value, 0.051) << name.toStdString();
        }
    }
    EXPECT_TRUE(rig.text("poseStatus").contains("tips at") || rig.text("poseStatus").contains("falls over"));
}

TEST_F(Pose, AKindIsExchangedInPlace) {
    pick("Neck 2");
    auto* kinds = rig.find<QComboBox>("jointKind");
    ASSERT_GT(kinds->count(), 1);
    const int large = kinds->findText("stepped hinge large");
    ASSERT_GT(large, 0);
    kinds->setFocus();
    kinds->setCurrentIndex(large);
    emit kinds->activated(large);
    EXPECT_EQ(current().kind->name, "stepped hinge large");
    rig.settle();
}

TEST_F(Pose, ASaggingJointIsMendedByTheProgramsOwnProposal) {
    const int row = rig.verdictRow("sags");
    ASSERT_GE(row, 0);
    rig.pickVerdict(row);
    const auto before = verdict::countStates(rig.window->slip()->shown());
    const auto mends = rig.window->findChildren<QPushButton*>("mend");
    ASSERT_FALSE(mends.isEmpty());
    QTest::mouseClick(mends.first(), Qt::LeftButton);
    ASSERT_TRUE(WindowRig::waitFor([&] { return rig.window->findChild<QPushButton*>("mendApply"); }));
    rig.click("mendApply");
    rig.settle();
    EXPECT_LT(verdict::countStates(rig.window->slip()->shown()).fail, before.fail);
}
