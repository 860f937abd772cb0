// SPDX-License-Identifier: GPL-3.0-or-later
// Pose, tab Lines: a string threaded by clicks and by words, a band made enough, what was found told and mended.
#include "app/shell/table_tools.h"
#include "app/stations/pose/lines_tab.h"
#include "app/stations/pose/pose_station.h"
#include "core/base/at.h"
#include "core/verdict/groups.h"
#include "tests/support/window_rig.h"

using namespace ivrant;
using test::WindowRig;

namespace {

struct LineTabs : testing::Test {
    WindowRig rig;

    void openTab() {
        rig.window->goStation(rig.window->indexOf(verdict::Station::Pose));
        auto* tabs = rig.find<QTabWidget>("poseTabs");
        for (int i = 0; i < tabs->count(); ++i)
            if (tabs->tabText(i) == "Lines") tabs->setCurrentIndex(i);
        rig.settle();
    }
    void openBeak() {
        ASSERT_TRUE(rig.window->openFile(test::demoFile("heron-beak.ivrant")));
        openTab();
    }
    void type(const QString& words) {
        auto* field = rig.find<QLineEdit>("lineTyped");
        field->setFocus();
        field->selectAll();
        QTest::keyClicks(field, words);
        QTest::keyClick(field, Qt::Key_Return);
        rig.settle();
    }
    /// Chooses the line by its name.
    void choose(const QString& name) {
        auto* table = rig.find<QTableWidget>("lineTable");
        for (int row = 0; row < table->rowCount(); ++row)
            if (table->item(row, 0)->text() == name) table->selectRow(row);
        rig.settle();
    }
    const model::Line& line(const std::string& name) {
        for (const auto& one : rig.project().lines)
            if (one.name == name) return one;
        throw std::runtime_error("no line " + name);
    }
    const model::Part& eyeOf(const std::string& section) {
        for (const auto& one : rig.project().sections)
            if (one->name == section)
                for (const auto& part : one->parts)
                    if (part.shape->family == "eye plate") return part;
        throw std::runtime_error("no eye in " + section);
    }
};

} // namespace

TEST_F(LineTabs, TheHeronsStringAndBandAreToldPoseByPose) {
    openBeak();
    auto* lines = rig.find<QTableWidget>("lineTable");
    ASSERT_EQ(lines->rowCount(), 2);
    choose("Beak string");
    EXPECT_TRUE(rig.text("lineTold").contains("9 out through")) << rig.text("lineTold").toStdString();
    EXPECT_TRUE(rig.text("lineTold").contains("Cut "));
    auto* poses = rig.find<QTableWidget>("linePoses");
    ASSERT_EQ(poses->rowCount(), static_cast<int>(rig.project().poses.size()));
    EXPECT_EQ(poses->columnCount(), 5);
    EXPECT_TRUE(rig.find<QLineEdit>("lineTyped")->text().startsWith("string \"Beak string\" from "));
    EXPECT_FALSE(rig.find<QPushButton>("lineMore")->isEnabled()) << "strings are not counted";
    choose("Return band");
    EXPECT_EQ(poses->columnCount(), 4);
    EXPECT_TRUE(rig.text("lineTold").contains("not measured"));
    rig.click("lineMore");
    rig.settle();
    EXPECT_EQ(line("Return band").count, 2);
    rig.session().undo();
    rig.settle();
    EXPECT_EQ(line("Return band").count, 1);
}

TEST_F(LineTabs, WordsMakeChangeAndRemoveALine) {
    openBeak();
    rig.click("lineNew");
    type("rope Stay from a b to c d");
    EXPECT_TRUE(rig.window->message().contains("'string', 'band' or 'spring'")) << rig.window->message().toStdString();
    ASSERT_EQ(rig.project().lines.size(), 2U) << "nothing was put in";
    const QString from = QString::fromStdString(eyeOf("Neck 6").id.text),
                  to = QString::fromStdString(eyeOf("Neck 1").id.text);
    type("string Stay from " + from + " eye to " + to + " eye length 100");
    ASSERT_EQ(rig.project().lines.size(), 3U);
    EXPECT_EQ(line("Stay").lengthMm, 100);
    choose("Stay");
    type("string Stay from " + from + " eye to " + to + " eye length 150");
    ASSERT_EQ(rig.project().lines.size(), 3U) << "changed, not put beside it";
    EXPECT_EQ(line("Stay").lengthMm, 150);
    rig.click("lineRemove");
    rig.settle();
    EXPECT_EQ(rig.project().lines.size(), 2U);
    rig.session().undo();
    rig.settle();
    EXPECT_EQ(line("Stay").lengthMm, 150);
}

TEST_F(LineTabs, GuidesAreClickedInTheSheetOneAfterAnother) {
    openBeak();
    auto* sheet = rig.window->station(rig.window->indexOf(verdict::Station::Pose))->findChild<app::Sheet3d*>("sheet3d");
    ASSERT_TRUE(sheet);
    rig.click("lineClick");
    int clicked = 0;
    for (const char* section : {"Neck 2", "Neck 4", "Neck 6"}) {
        const auto& part = eyeOf(section);
        const model::PartSpot spot = model::PartIndex(rig.project()).find(part.id);
        const auto X = rig.session().placed().X_WP(spot);
        // A spot of the eye plate that nothing hides.
        for (const geometry::Vec3& p : {geometry::Vec3(0, 0, 7), geometry::Vec3(0, 2, 7), geometry::Vec3(1, -2, 6)}) {
            const QPointF at = sheet->toScreen(X * p);
            const auto hit = sheet->pick(at);
            if (!hit || hit->spot != spot) continue;
            QTest::mouseClick(sheet, Qt::LeftButton, Qt::NoModifier, at.toPoint());
            ++clicked;
            break;
        }
    }
    ASSERT_EQ(clicked, 3);
    auto* field = rig.find<QLineEdit>("lineTyped");
    EXPECT_TRUE(field->text().contains(" through ")) << field->text().toStdString();
    QTest::keyClick(field, Qt::Key_Return);
    rig.settle();
    ASSERT_EQ(rig.project().lines.size(), 3U) << rig.window->message().toStdString();
    const auto& made = rig.project().lines.back();
    ASSERT_EQ(made.guides.size(), 3U);
    EXPECT_EQ(made.guides[1].part, eyeOf("Neck 4").id);
    EXPECT_EQ(made.end, model::LineEnd::Tied);
    EXPECT_FALSE(rig.find<QPushButton>("lineClick")->isChecked());
}

TEST_F(LineTabs, AVerdictLeadsToItsLineAndLettingItOutMendsIt) {
    openBeak();
    const auto report = rig.session().report();
    const auto found = std::find_if(report->verdicts.begin(), report->verdicts.end(),
                                    [](const auto& v) { return v.check == "line-along"; });
    ASSERT_NE(found, report->verdicts.end());
    EXPECT_EQ(found->state, verdict::State::Fail);
    choose("Return band");
    auto* station = rig.window->station(rig.window->indexOf(verdict::Station::Pose));
    station->goTo(found->place);
    rig.settle();
    EXPECT_TRUE(rig.find<QLineEdit>("lineTyped")->text().startsWith("string \"Beak string\""));
    type(rig.find<QLineEdit>("lineTyped")->text() + " length 250");
    const auto after = rig.session().report();
    for (const auto& v : after->verdicts) {
        if (v.check != "line-along") continue;
        EXPECT_EQ(v.state, verdict::State::Good) << v.text;
    }
}
