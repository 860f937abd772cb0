// SPDX-License-Identifier: GPL-3.0-or-later
// Make's options through the window: from selected parts to the matrix and the sheet.
#include <QFile>

#include "app/shell/table_tools.h"
#include "app/stations/make/make_station.h"
#include "tests/support/figures.h"
#include "tests/support/window_rig.h"

using namespace ivrant;
using test::WindowRig;

namespace {

struct OptionsWindow : testing::Test {
    WindowRig rig;
    app::MakeStation* make = nullptr;
    QTreeWidget* tree = nullptr;

    void SetUp() override {
        rig.part("plate 4x4 gorse at 0 0 0");
        rig.part("brick 2x2 slate at 1 1 1");
        rig.part("plate 2x2 kelp at 1 1 4");
        const auto& parts = rig.project().sections[0]->parts;
        rig.session().select({parts[2].id});
        rig.window->goStation(rig.window->indexOf(verdict::Station::Make));
        rig.settle();
        make = static_cast<app::MakeStation*>(rig.window->station(rig.window->indexOf(verdict::Station::Make)));
        auto* tabs = rig.find<QTabWidget>("makeTabs");
        for (int i = 0; i < tabs->count(); ++i)
            if (tabs->tabText(i) == "Options") tabs->setCurrentIndex(i);
        rig.settle();
        tree = rig.find<QTreeWidget>("optionTree");
    }
    void mark(int option, int alternative) {
        auto* group = tree->topLevelItem(option);
        tree->setCurrentItem(alternative < 0 ? group : group->child(alternative));
    }
};

} // namespace

TEST_F(OptionsWindow, FromSelectedPartsToTheMatrix) {
    rig.click("optionNew");
    ASSERT_EQ(tree->topLevelItemCount(), 1);
    rig.type("optionName", "Hat");
    rig.settle();
    EXPECT_EQ(rig.project().options.list[0].name, "Hat");
    EXPECT_EQ(tree->topLevelItem(0)->childCount(), 2);
    rig.click("optionAdd");
    rig.type("optionName", "wide");
    rig.settle();
    EXPECT_EQ(rig.project().partCount(), 2U) << "the first hat waits";
    // Built in Shape, then it belongs here.
    rig.window->goStation(rig.window->indexOf(verdict::Station::Shape));
    rig.part("plate 4x4 kelp at 0 0 4");
    rig.session().select({rig.project().sections[0]->parts.back().id});
    rig.window->goStation(rig.window->indexOf(verdict::Station::Make));
    rig.settle();
    mark(0, 2);
    rig.click("optionAssign");
    EXPECT_EQ(rig.project().options.list[0].alternatives[2].parts.size(), 1U);
    mark(0, 0);
    rig.click("optionChoose");
    rig.settle();
    EXPECT_EQ(rig.project().options.list[0].chosen, 0);
    EXPECT_EQ(rig.project().sections[0]->parts.back().shape->name, "plate 2x2");
    auto* price = rig.find<QDoubleSpinBox>("optionPrice");
    mark(0, 0);
    price->setFocus();
    price->selectAll();
    QTest::keyClicks(price, "2.5");
    QTest::keyClick(price, Qt::Key_Return);
    EXPECT_DOUBLE_EQ(rig.project().options.list[0].alternatives[0].price, 2.5);
    rig.settle();
    bool done = false;
    QObject::connect(make->options(), &app::OptionsTab::checked, make, [&] { done = true; });
    rig.click("optionCheck");
    ASSERT_TRUE(WindowRig::waitFor([&] { return done; }));
    auto* matrix = rig.find<QTableWidget>("optionMatrix");
    EXPECT_EQ(matrix->rowCount(), 3);
    EXPECT_TRUE(rig.text("optionTold").startsWith("3 combinations, all that the rules allow:"))
        << rig.text("optionTold").toStdString();
    // A combination is taken by its row.
    for (int r = 0; r < matrix->rowCount(); ++r)
        if (matrix->item(r, 0)->text() == "wide") matrix->selectRow(r);
    rig.click("optionTake");
    rig.settle();
    EXPECT_EQ(rig.project().options.list[0].chosen, 2);
    rig.session().undo();
    EXPECT_EQ(rig.project().options.list[0].chosen, 0);
    mark(0, -1);
    rig.click("optionRemove");
    EXPECT_TRUE(rig.project().options.list.empty());
    EXPECT_EQ(rig.project().partCount(), 3U);
}

TEST_F(OptionsWindow, SaysWhatIsMissing) {
    rig.click("optionChoose");
    EXPECT_TRUE(rig.window->message().contains("Mark an alternative first"));
    rig.session().select({});
    rig.click("optionNew");
    EXPECT_TRUE(rig.window->message().contains("Select the parts"));
    EXPECT_TRUE(rig.project().options.list.empty());
    EXPECT_FALSE(rig.find<QPushButton>("optionCheck")->isEnabled());
}

TEST_F(OptionsWindow, RulesAreAddedAndTaken) {
    rig.click("optionNew");
    EXPECT_FALSE(rig.find<QComboBox>("ruleFirst")->isVisible()) << "one option needs no rules";
    const auto& parts = rig.project().sections[0]->parts;
    rig.session().select({parts[1].id});
    rig.click("optionNew");
    rig.settle();
    ASSERT_EQ(rig.project().options.list.size(), 2U);
    auto *first = rig.find<QComboBox>("ruleFirst"), *second = rig.find<QComboBox>("ruleSecond");
    ASSERT_TRUE(first->isVisible());
    ASSERT_EQ(first->count(), 4);
    rig.click("ruleAdd"); // the same on both sides
    EXPECT_TRUE(rig.project().options.rules.empty());
    EXPECT_TRUE(rig.window->message().contains("exclude each other anyhow"));
    second->setCurrentIndex(3);
    rig.click("ruleAdd");
    ASSERT_EQ(rig.project().options.rules.size(), 1U);
    EXPECT_TRUE(rig.project().options.rules[0].excludes);
    auto* rules = rig.find<QListWidget>("optionRules");
    ASSERT_EQ(rules->count(), 1);
    EXPECT_EQ(rules->item(0)->text(), "Option 1: as built excludes Option 2: none");
    rig.click("ruleAdd");
    EXPECT_TRUE(rig.window->message().contains("there already"));
    rules->setFocus();
    QTest::keyClick(rules, Qt::Key_Delete);
    EXPECT_TRUE(rig.project().options.rules.empty());
    rig.session().undo();
    EXPECT_EQ(rig.project().options.rules.size(), 1U);
}
