// SPDX-License-Identifier: GPL-3.0-or-later
// Looking is not changing: verdicts, poses and moves are looked at, and the file, the undo list and the joints as they
// are set stay as they were.
#include "app/stations/stand/stand_station.h"
#include "core/base/at.h"
#include "core/files/project_file.h"
#include "core/model/variants.h"
#include "core/pose/kinematics.h"
#include "tests/support/stand_rig.h"

using namespace ivrant;

namespace {

struct Looking : test::StandRig {
    std::string before;
    void load() {
        ASSERT_TRUE(rig.session().load(test::demoFile("heron.ivrant")));
        rig.settle();
        before = files::writeProject(rig.session().asSet());
    }
    void goPose() {
        rig.window->goStation(rig.window->indexOf(verdict::Station::Pose));
        rig.settle();
    }
    QPushButton* chip(const QString& name) {
        for (auto* button : rig.window->findChildren<QPushButton*>("poseChip"))
            if (button->text().startsWith(name) && button->isVisible()) return button;
        ADD_FAILURE() << "no chip " << name.toStdString();
        return nullptr;
    }
    void expectUntouched() {
        EXPECT_EQ(files::writeProject(rig.session().asSet()), before);
        EXPECT_FALSE(rig.session().isModified());
        EXPECT_FALSE(rig.session().history().canUndo());
    }
};

} // namespace

TEST_F(Looking, AtEveryVerdictChangesNothing) {
    load();
    rig.openPassing();
    for (int row = 0; row < static_cast<int>(rig.window->slip()->shown().size()); ++row) {
        rig.pickVerdict(row);
        rig.settle();
    }
    expectUntouched();
}

TEST_F(Looking, AtPosesIsShownAndLedBackFrom) {
    load();
    goPose();
    const auto set = pose::getValues(rig.session().asSet(), nullptr);
    auto* look = rig.find<QPushButton>("look");
    EXPECT_FALSE(look->isVisible());
    EXPECT_TRUE(chip("as set")->isChecked());
    QTest::mouseClick(chip("Reach"), Qt::LeftButton);
    rig.settle();
    EXPECT_TRUE(look->isVisible());
    EXPECT_TRUE(look->text().contains("Reach"));
    EXPECT_TRUE(chip("Reach")->isChecked());
    EXPECT_FALSE(chip("as set")->isChecked());
    EXPECT_NE(pose::getValues(rig.project(), nullptr), set) << "it is seen so";
    EXPECT_EQ(rig.session().report()->present.values, pose::getValues(rig.project(), nullptr))
        << "and judged as it is seen";
    expectUntouched();
    rig.click("look");
    rig.settle();
    EXPECT_FALSE(look->isVisible());
    EXPECT_EQ(pose::getValues(rig.project(), nullptr), set);
    expectUntouched();
}

TEST_F(Looking, APoseIsPlayedWithoutATrace) {
    load();
    goPose();
    rig.click("playPoses");
    EXPECT_TRUE(rig.waitFor([&] {
        return rig.text("poseStatus").contains("nothing in the way") || rig.text("poseStatus").contains("collides");
    }));
    rig.settle();
    expectUntouched();
}

TEST_F(Looking, APartPutDownMeanwhileLeavesTheJointsAsSet) {
    load();
    const auto set = pose::getValues(rig.session().asSet(), nullptr);
    goPose();
    QTest::mouseClick(chip("Reach"), Qt::LeftButton);
    rig.settle();
    rig.part("plate 2x2 reed at 0 0 60");
    rig.settle();
    EXPECT_EQ(rig.session().looksAt(), "Reach") << "and it is still looked at";
    EXPECT_EQ(pose::getValues(rig.session().asSet(), nullptr), set);
    const QString path = rig.folder.path() + "/looked.ivrant";
    ASSERT_TRUE(rig.session().save(path));
    EXPECT_EQ(pose::getValues(*files::loadProject(path.toStdString()), nullptr), set) << "the file has them as set";
}

TEST_F(Looking, AJointMovedInAPoseSetsAllAsSeen) {
    load();
    goPose();
    QTest::mouseClick(chip("Reach"), Qt::LeftButton);
    rig.settle();
    auto expected = pose::getValues(rig.project(), nullptr);
    const int j = rig.project().findJoint(rig.session().currentJoint());
    ASSERT_GE(j, 0);
    auto value = at(rig.project().joints, j).value;
    value[0] += 1;
    rig.session().apply("Pose", [&](const model::Project& p) {
        return model::setJointValues(p, {{at(p.joints, j).id, value}});
    });
    rig.settle();
    at(expected, j) = value;
    EXPECT_TRUE(rig.session().looksAt().isEmpty());
    EXPECT_EQ(pose::getValues(rig.session().asSet(), nullptr), expected);
    rig.session().undo();
    rig.settle();
    EXPECT_EQ(files::writeProject(rig.session().asSet()), before);
    EXPECT_EQ(rig.session().looksAt(), "Reach") << "where it was taken from";
}

TEST_F(Looking, WhatIsSeenIsSetWhenAskedFor) {
    load();
    goPose();
    QTest::mouseClick(chip("Reach"), Qt::LeftButton);
    rig.settle();
    const auto seen = pose::getValues(rig.project(), nullptr);
    rig.click("setAsSeen");
    rig.settle();
    EXPECT_EQ(pose::getValues(rig.session().asSet(), nullptr), seen);
    EXPECT_TRUE(rig.session().isModified());
    EXPECT_TRUE(rig.session().looksAt().isEmpty());
}

TEST_F(Looking, AnotherVariantIsShownAsItIsSet) {
    load();
    const auto a = pose::getValues(rig.session().asSet(), nullptr);
    rig.session().apply("New variant", [](const model::Project& p) { return model::addVariant(p, "B"); });
    rig.settle();
    for (const auto& named : rig.project().poses)
        if (named.name == "Reach") rig.session().look(named.id);
    rig.settle();
    const auto first = rig.project().variants.front().id;
    rig.session().apply("Show", [&](const model::Project& p) { return model::showVariant(p, first); });
    const auto second = rig.project().variants.back().id;
    rig.session().apply("Show", [&](const model::Project& p) { return model::showVariant(p, second); });
    rig.settle();
    EXPECT_EQ(pose::getValues(rig.session().asSet(), nullptr), a) << "what was put away is the model as set";
}

TEST_F(Looking, AtAnotherModelBeforeItsVerdictsAreThere) {
    load();
    for (int s = 0; s < rig.window->stationCount(); ++s) {
        ASSERT_TRUE(rig.session().load(test::demoFile(s % 2 == 0 ? "bridge.ivrant" : "heron.ivrant")));
        ASSERT_EQ(rig.session().report(), nullptr) << "they are still being found";
        rig.window->goStation(s);
        EXPECT_EQ(rig.window->currentStation(), s);
        rig.settle();
        EXPECT_TRUE(rig.session().isReportCurrent());
    }
}

TEST_F(Looking, GoesOnWhenAnEditIsRefused) {
    load();
    goPose();
    QTest::mouseClick(chip("Reach"), Qt::LeftButton);
    rig.settle();
    const auto seen = pose::getValues(rig.project(), nullptr);
    EXPECT_FALSE(rig.session().apply("Pose and a name too long to be written", [](const model::Project& p) {
        model::Project next = p;
        next.joints.front().value[0] += 1;
        next.name = std::string(5000, 'x');
        return model::EditResult(next);
    }));
    EXPECT_EQ(rig.session().looksAt(), "Reach");
    EXPECT_EQ(pose::getValues(rig.project(), nullptr), seen);
    expectUntouched();
}
