// SPDX-License-Identifier: GPL-3.0-or-later
// The whole path once: type a figure, join it, see how far it moves, mend what fails, save, open, print, ask the
// command line.
#include <QFile>
#include <QProcess>
#include <cmath>
#include <nlohmann/json.hpp>

#include "app/stations/make/make_station.h"
#include "app/stations/pose/pose_station.h"
#include "core/base/units.h"
#include "tests/support/near.h"
#include "tests/support/repo.h"
#include "tests/support/window_rig.h"

using namespace ivrant;
using test::WindowRig;

namespace {

QString run(const QString& program, const QStringList& arguments, int expected = 0) {
    QProcess process;
    process.start(program, arguments);
    EXPECT_TRUE(process.waitForFinished(test::kMostWaitMs)) << program.toStdString();
    EXPECT_EQ(process.exitCode(), expected) << process.readAllStandardError().toStdString();
    return QString::fromUtf8(process.readAllStandardOutput());
}

} // namespace

TEST(FirstPath, FromAnEmptySheetToAPrintedOne) {
    WindowRig rig;
    rig.buildGate();
    ASSERT_EQ(rig.project().partCount(), 6U);
    ASSERT_EQ(rig.project().joints.size(), 1U);
    EXPECT_EQ(rig.project().joints[0].kind->name, "stepped hinge small");

    // Pose: the wanted range is typed, the ladder shows where the sweep stops.
    rig.window->goStation(rig.window->indexOf(verdict::Station::Pose));
    rig.type("jointWanted", "-45..90");
    rig.settle();
    auto* ladder =
        static_cast<app::PoseStation*>(rig.window->station(rig.window->indexOf(verdict::Station::Pose)))->ladder();
    ASSERT_EQ(ladder->rowCount(), 1);
    const auto range = ladder->row(0);
    // Lengths from the axis, which is 32 out and 16 up. The brick 1x6 lies on the tongue, its underside level with the
    // axis, from 4.1 to 51.9 out; nothing is in its way upwards but the joint's own limit. Below it is the base plate
    // 4x8: its last stud in the arm's row is 24 out, radius 2.4, top at 3.2 + 1.7 = 4.9 up, 11.1 below the axis. The
    // first point of it that a plane through the axis meets on its way down is the rim's farthest, (26.4, −11.1). The
    // tongue's own far lower corner (19.9, −3.2) would reach the studs' tops only at asin(11.1 / 20.156) − atan(3.2
    // / 19.9) = 24.3°.
    EXPECT_DOUBLE_EQ(range.free.high, 90);
    EXPECT_NEAR(range.free.low, -base::radToDeg(std::atan2(11.1, 26.4)), test::kRangeDeg);
    EXPECT_EQ(range.low.by, pose::StopBy::Contact);

    // A click on the ladder's low end names the two parts.
    QTest::mouseClick(ladder->viewport(), Qt::LeftButton, {}, ladder->endPoint(0, false));
    EXPECT_TRUE(rig.text("stopText").contains("brick 1x6")) << rig.text("stopText").toStdString();
    EXPECT_TRUE(rig.text("stopText").contains("plate 4x8"));

    // The verdict fails, a mend is previewed and done.
    const int failing = rig.verdictRow("fail: ");
    ASSERT_GE(failing, 0);
    EXPECT_EQ(failing, 0) << "failing verdicts come first";
    rig.pickVerdict(failing);
    const auto mends = rig.window->findChildren<QPushButton*>("mend");
    ASSERT_FALSE(mends.isEmpty());
    EXPECT_TRUE(mends[0]->text().startsWith("want only")) << mends[0]->text().toStdString();
    QTest::mouseClick(mends[0], Qt::LeftButton);
    ASSERT_TRUE(WindowRig::waitFor([&] { return rig.window->findChild<QPushButton*>("mendApply"); }));
    EXPECT_TRUE(rig.text("mendPreview").contains("0 fail"));
    EXPECT_EQ(rig.project().joints[0].wanted[0].low, -45) << "a preview changes nothing";
    rig.click("mendApply");
    rig.settle();
    EXPECT_GT(rig.project().joints[0].wanted[0].low, -22.9);
    EXPECT_EQ(rig.window->slip()->countFails(verdict::Station::Pose), 0);
    rig.key(Qt::Key_Z, Qt::ControlModifier);
    rig.settle();
    EXPECT_EQ(rig.project().joints[0].wanted[0].low, -45) << "undo takes the mend back";
    rig.key(Qt::Key_Z, Qt::ControlModifier | Qt::ShiftModifier);
    rig.settle();

    // Save and open again.
    const QString path = rig.folder.path() + "/gate.ivrant";
    rig.answers.savePath = path;
    rig.key(Qt::Key_S, Qt::ControlModifier);
    ASSERT_TRUE(QFile::exists(path));
    const auto before = rig.project();
    ASSERT_TRUE(rig.window->openFile(path));
    rig.settle();
    EXPECT_EQ(rig.project().partCount(), before.partCount());
    EXPECT_EQ(rig.project().joints[0].wanted, before.joints[0].wanted);

    // The command line prints the same numbers.
    const auto json = nlohmann::json::parse(
        run(QString::fromStdString(test::commandLine()), {"range", path, "--json"}).toStdString());
    const auto& freedom = json["joints"][0]["freedoms"][0];
    EXPECT_NEAR(freedom["free"][0].get<double>(), range.free.low, 1e-3);
    EXPECT_NEAR(freedom["free"][1].get<double>(), range.free.high, 1e-3);
    EXPECT_EQ(freedom["stops"]["low"]["by"], "contact");

    // Print: the sheet says what the screen says.
    rig.window->goStation(rig.window->indexOf(verdict::Station::Make));
    const QString pdf = rig.folder.path() + "/gate.pdf";
    bool written = false;
    QObject::connect(static_cast<app::MakeStation*>(rig.window->station(rig.window->indexOf(verdict::Station::Make))),
                     &app::MakeStation::guideWritten, rig.window.get(),
                     [&](const QString&, bool done) { written = done; });
    static_cast<app::MakeStation*>(rig.window->station(rig.window->indexOf(verdict::Station::Make)))->writeGuide(pdf);
    ASSERT_TRUE(WindowRig::waitFor([&] { return written; }));
    const QString sheet = run("pdftotext", {"-layout", pdf, "-"});
    for (const char* words : {"Known weak points", "stepped hinge small", "findings pass", "Starting values",
                              "brick 1x6", "plate 4x8", "Small parts", "not weighed"})
        EXPECT_TRUE(sheet.simplified().contains(words)) << words << "\n" << sheet.toStdString();
}
