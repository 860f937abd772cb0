// SPDX-License-Identifier: GPL-3.0-or-later
// Dialogs of Drive: a function's load, a board in a section, positions of a selector.
#include <QApplication>
#include <QCheckBox>
#include <algorithm>
#include <cmath>

#include "app/stations/drive/board_dialog.h"
#include "app/stations/drive/drive_station.h"
#include "app/stations/drive/function_dialog.h"
#include "app/stations/drive/selector_dialog.h"
#include "tests/support/drive_rig.h"

using namespace ivrant;

namespace {

struct DriveDialog : test::DriveRig {
    static model::DriveFunction named(const char* name) {
        model::DriveFunction function;
        function.name = name;
        return function;
    }
    static model::Joint neck() {
        model::Joint joint;
        joint.id = {"j7"};
        joint.name = "Neck";
        return joint;
    }
};

} // namespace

TEST_F(DriveDialog, AFunctionsLoadIsSetInItsDialog) {
    app::FunctionDialog dialog(named("Lift"), {neck()});
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

TEST_F(DriveDialog, ABoardIsPlacedInASectionWithItsDialog) {
    put("24 at 0 0");
    ASSERT_FALSE(first().section.empty()) << "what is typed are parts of a section";
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
    ASSERT_TRUE(rig.session().apply("Change the board",
                                    [&](const model::Project& p) { return model::changeBoardHead(p, changed); }));
    rig.settle();
    EXPECT_EQ(first().section, rig.project().sections[0]->id);
    EXPECT_EQ(first().place.atUm, (std::array<std::int64_t, 3>{8'000, 16'000, 12'000}));
    EXPECT_EQ(first().wallsUm, (std::vector<std::int64_t>{-4'000, 16'000}));
    EXPECT_EQ(first().step, 3);
    // Up on the board is up in the model, out of it towards the one who looks from the front.
    const geometry::Mat3 turn = first().place.frame().linear();
    EXPECT_TRUE((turn * geometry::Vec3::UnitY()).isApprox(geometry::Vec3::UnitZ()));
    EXPECT_TRUE((turn * geometry::Vec3::UnitZ()).isApprox(-geometry::Vec3::UnitY()));
}

TEST_F(DriveDialog, PositionsOfASelectorAreTicked) {
    openBoards("bridge.ivrant");
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
    ASSERT_TRUE(rig.session().apply("Change the selector", [&](const model::Project& p) {
        return model::putSelector(p, p.boards[0]->id, dialog.selector());
    }));
    rig.settle();
    EXPECT_GE(rig.verdictRow("One motor moves several functions"), 0);
    rig.find<QTabWidget>("driveTabs")->setCurrentIndex(2);
    auto* compare = rig.find<QTableWidget>("selectorCompare");
    EXPECT_EQ(compare->item(0, 1)->text(), "2");
    EXPECT_EQ(compare->item(0, 2)->text(), "4");
}

TEST_F(DriveDialog, TwoFunctionsOfOneMotorAreMeantWhenBothSaySo) {
    openBoards("bridge.ivrant");
    model::Selector selector = first().selectors.at(0);
    for (const auto& position : selector.positions)
        for (const model::GearId& wheel : position.engaged)
            if (std::find(selector.positions[0].engaged.begin(), selector.positions[0].engaged.end(), wheel) ==
                selector.positions[0].engaged.end())
                selector.positions[0].engaged.push_back(wheel);
    ASSERT_TRUE(rig.session().apply(
        "Engage all", [&](const model::Project& p) { return model::putSelector(p, p.boards[0]->id, selector); }));
    rig.settle();
    ASSERT_GE(rig.verdictRow("One motor moves several functions"), 0);
    for (std::size_t b = 0; b < rig.project().boards.size(); ++b) {
        const auto functions = rig.project().boards[b]->functions;
        for (const model::DriveFunction& function : functions) {
            app::FunctionDialog dialog(function, {});
            dialog.show();
            dialog.findChild<QCheckBox*>("functionTogether")->click();
            for (auto* button : dialog.findChildren<QPushButton*>())
                if (button->text().contains("OK")) button->click();
            ASSERT_TRUE(dialog.function().withOthers);
            ASSERT_TRUE(rig.session().apply("Meant", [&](const model::Project& p) {
                return model::putFunction(p, p.boards[b]->id, dialog.function());
            }));
        }
    }
    rig.settle();
    EXPECT_EQ(rig.verdictRow("One motor moves several functions"), -1) << "it is among those that pass";
}

TEST_F(DriveDialog, AJointOfTheModelLoadsAFunction) {
    app::FunctionDialog dialog(named("Raise"), {neck()});
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
