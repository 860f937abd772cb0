// SPDX-License-Identifier: GPL-3.0-or-later
// Make: steps split, joined and moved; trays and parts list count what is there; sheets are written and stopped.
#include <QFile>

#include "app/shell/table_tools.h"
#include "app/stations/make/make_station.h"
#include "tests/support/near.h"
#include "tests/support/window_rig.h"

using namespace ivrant;
using test::WindowRig;

namespace {

struct Make : testing::Test {
    WindowRig rig;
    app::MakeStation* station = nullptr;
    QListWidget* steps = nullptr;

    void SetUp() override {
        rig.part("plate 4x4 at 0 0 0");
        rig.part("brick 2x2 at 0 0 1");
        rig.part("brick 2x2 at 2 0 1");
        rig.window->goStation(rig.window->indexOf(verdict::Station::Make));
        rig.settle();
        station = static_cast<app::MakeStation*>(rig.window->station(rig.window->indexOf(verdict::Station::Make)));
        steps = rig.find<QListWidget>("makeSteps");
    }
    [[nodiscard]] std::vector<int> stepsOfParts() {
        std::vector<int> out;
        for (const auto& part : rig.project().sections[0]->parts) out.push_back(part.step);
        return out;
    }
};

} // namespace

TEST_F(Make, StepsAreSplitJoinedAndMoved) {
    ASSERT_EQ(steps->count(), 1);
    auto* tray = rig.find<QListWidget>("tray");
    ASSERT_EQ(tray->count(), 3);
    tray->item(2)->setSelected(true);
    steps->setFocus();
    QTest::keyClick(steps, Qt::Key_B, Qt::ControlModifier);
    EXPECT_EQ(stepsOfParts(), (std::vector<int>{1, 1, 2}));
    ASSERT_EQ(steps->count(), 2);
    steps->setCurrentRow(1);
    EXPECT_EQ(rig.find<QListWidget>("tray")->count(), 1);
    QTest::keyClick(steps, Qt::Key_Up, Qt::AltModifier);
    EXPECT_EQ(stepsOfParts(), (std::vector<int>{2, 2, 1}));
    steps->setCurrentRow(0);
    QTest::keyClick(steps, Qt::Key_J, Qt::ControlModifier);
    EXPECT_EQ(stepsOfParts(), (std::vector<int>{1, 1, 1}));
    QTest::keyClick(steps, Qt::Key_B, Qt::ControlModifier);
    EXPECT_TRUE(rig.window->message().contains("a part that stays")) << "nothing chosen: says what is missing";
}

TEST_F(Make, ThePartsListCountsAndCopies) {
    station->findChild<QTabWidget*>()->setCurrentIndex(1);
    auto* table = rig.find<QTableWidget>("partsList");
    ASSERT_EQ(table->rowCount(), 2);
    int together = 0;
    for (int row = 0; row < table->rowCount(); ++row) together += table->item(row, 0)->text().toInt();
    EXPECT_EQ(together, 3);
    const QString csv = app::tableText(table, true);
    EXPECT_TRUE(csv.startsWith("Count,Part,Colour"));
    EXPECT_TRUE(csv.contains("2,brick 2x2,"));
    app::filterTable(table, "brick");
    EXPECT_EQ(app::tableText(table, false).count('\n'), 2) << "the head and one row";
}

TEST_F(Make, HtmlSheetsCarryTheirPictures) {
    const QString path = rig.folder.path() + "/figure.html";
    bool done = false;
    QObject::connect(station, &app::MakeStation::guideWritten, station, [&](const QString&, bool ok) { done = ok; });
    station->writeGuide(path);
    ASSERT_TRUE(WindowRig::waitFor([&] { return done; }));
    QFile file(path);
    ASSERT_TRUE(file.open(QIODevice::ReadOnly));
    const QString html = QString::fromUtf8(file.readAll());
    EXPECT_TRUE(html.contains("brick 2x2"));
    EXPECT_TRUE(html.contains("data:image/png;base64,"));
    EXPECT_FALSE(html.contains("http://") || html.contains("https://")) << "one file, nothing fetched";
}

TEST_F(Make, SheetsThatCannotBeWrittenSayWhy) {
    bool finished = false, ok = true;
    QObject::connect(station, &app::MakeStation::guideWritten, station, [&](const QString&, bool done) {
        finished = true;
        ok = done;
    });
    station->writeGuide("/no/such/folder/figure.pdf");
    ASSERT_TRUE(WindowRig::waitFor([&] { return finished; }));
    EXPECT_FALSE(ok);
    EXPECT_TRUE(rig.window->message().contains("not written"));
    EXPECT_TRUE(rig.window->message().contains("/no/such/folder"));
}

TEST_F(Make, LongWorkIsStopped) {
    ASSERT_TRUE(rig.window->openFile(test::demoFile("heron.ivrant")));
    rig.settle();
    const QString path = rig.folder.path() + "/heron.pdf";
    bool finished = false, ok = true;
    QObject::connect(station, &app::MakeStation::guideWritten, station, [&](const QString&, bool done) {
        finished = true;
        ok = done;
    });
    station->writeGuide(path);
    auto* stop = rig.find<QPushButton>("stopJob");
    ASSERT_TRUE(WindowRig::waitFor([&] { return stop->isVisible() || finished; }));
    ASSERT_FALSE(finished) << "the sheet of the heron takes long enough to be stopped";
    QTest::mouseClick(stop, Qt::LeftButton);
    ASSERT_TRUE(WindowRig::waitFor([&] { return finished; }));
    EXPECT_FALSE(ok);
    EXPECT_FALSE(QFile::exists(path)) << "nothing half written is left";
}

TEST_F(Make, TheStepOfASectionThatIsGoneIsNoStep) {
    const model::Project small = rig.project();
    ASSERT_TRUE(rig.window->openFile(test::demoFile("heron.ivrant")));
    rig.settle();
    ASSERT_GT(rig.project().sections.size(), small.sections.size());
    rig.window->goStation(rig.window->indexOf(verdict::Station::Shape)); // out of sight the list does not follow
    rig.session().reset(small, "", false);
    for (int row = 0; row < steps->count(); ++row) steps->setCurrentRow(row);
    EXPECT_EQ(rig.find<QListWidget>("tray")->count(), 0) << "the last step is of a section that is gone";
    rig.window->goStation(rig.window->indexOf(verdict::Station::Make));
    rig.settle();
    EXPECT_EQ(steps->count(), 1);
    EXPECT_EQ(rig.find<QListWidget>("tray")->count(), 3);
}

TEST_F(Make, AnAttitudeWorkedOutOfAnotherModelIsNotShown) {
    rig.window->goStation(rig.window->indexOf(verdict::Station::Stand));
    rig.settle();
    const model::Project small = rig.project();
    ASSERT_TRUE(rig.window->openFile(test::demoFile("heron.ivrant")));
    rig.settle();
    model::Placed lifted = rig.session().placed();
    for (auto& X_WS : lifted.X_WS) X_WS.translation().z() += 100;
    const QImage plain = rig.sheet()->grab().toImage();
    rig.sheet()->showElsewhere(lifted);
    EXPECT_TRUE(WindowRig::waitFor([&] { return rig.sheet()->grab().toImage() != plain; })) << "lifted as asked";
    rig.session().reset(small, "", false);
    rig.settle();
    const QImage own = rig.sheet()->grab().toImage();
    rig.sheet()->showElsewhere(lifted); // as an answer that comes late does
    EXPECT_EQ(rig.sheet()->grab().toImage(), own);
}

TEST(MakeOrder, AWrongOrderIsToldMendedAndUndone) {
    WindowRig rig;
    for (const char* part : {"plate 8x2 at 0 0 0", "plate 1x2 at 0 0 1", "plate 1x2 at 7 0 1", "plate 1x2 at 0 0 2",
                             "plate 1x2 at 7 0 2", "plate 4x2 at 2 0 2", "plate 8x2 at 0 0 3"})
        rig.part(part);
    rig.window->goStation(rig.window->indexOf(verdict::Station::Make));
    rig.settle();
    auto* steps = rig.find<QListWidget>("makeSteps");
    auto* tray = rig.find<QListWidget>("tray");
    auto* faults = rig.find<QLabel>("stepFaults");
    const auto stepOf = [&](std::size_t part) { return rig.project().sections[0]->parts.at(part).step; };
    ASSERT_EQ(tray->count(), 7);
    EXPECT_FALSE(faults->isVisible());
    // The deck one step later: what hangs under it has nothing to hold to.
    tray->item(6)->setSelected(true);
    steps->setFocus();
    QTest::keyClick(steps, Qt::Key_Right, Qt::AltModifier);
    EXPECT_EQ(stepOf(6), 2);
    rig.settle();
    ASSERT_TRUE(WindowRig::waitFor([&] { return faults->isVisible(); }));
    EXPECT_TRUE(faults->text().contains("plate 4x2 of ")) << faults->text().toStdString();
    EXPECT_TRUE(faults->text().contains("nothing to hold to at step 1"));
    EXPECT_TRUE(steps->item(0)->text().contains("does not go in"));
    EXPECT_FALSE(steps->item(1)->text().contains("does not go in"));
    QTest::mouseClick(rig.find<QPushButton>("mendOrder"), Qt::LeftButton);
    EXPECT_EQ(stepOf(5), 2) << "it goes in with the deck";
    EXPECT_TRUE(rig.window->message().contains("1 part moved"));
    ASSERT_TRUE(WindowRig::waitFor([&] { return !faults->isVisible(); }));
    QTest::keyClick(steps, Qt::Key_M, Qt::ControlModifier);
    EXPECT_TRUE(rig.window->message().contains("Nothing to move"));
    // Worked out anew, and undone as one edit.
    QTest::keyClick(steps, Qt::Key_M, Qt::ControlModifier | Qt::ShiftModifier);
    EXPECT_EQ(stepOf(0), 1);
    EXPECT_EQ(stepOf(5), stepOf(6));
    rig.settle();
    EXPECT_FALSE(faults->isVisible());
    QTest::keyClick(steps, Qt::Key_M, Qt::ControlModifier | Qt::ShiftModifier);
    EXPECT_TRUE(rig.window->message().contains("worked out already"));
    // Without a choice the keys say what they need.
    steps->setCurrentRow(0);
    QTest::keyClick(steps, Qt::Key_Left, Qt::AltModifier);
    EXPECT_TRUE(rig.window->message().contains("Choose parts in the tray first"));
}

TEST(MakeOrder, WhatWaitsIsShownInTheWholeAndComesBack) {
    WindowRig rig;
    ASSERT_TRUE(rig.window->openFile(test::demoFile("neck-drive.ivrant")));
    rig.window->goStation(rig.window->indexOf(verdict::Station::Make));
    rig.settle();
    auto* steps = rig.find<QListWidget>("makeSteps");
    auto* tray = rig.find<QListWidget>("tray");
    const auto waiting = [&] {
        int count = 0;
        for (const auto& section : rig.project().sections)
            for (const auto& part : section->parts) count += part.after.empty() ? 0 : 1;
        return count;
    };
    ASSERT_EQ(waiting(), 4);
    steps->setCurrentRow(steps->count() - 1);
    ASSERT_TRUE(steps->currentItem()->text().contains("Base, once Neck is on"));
    ASSERT_EQ(tray->count(), 4);
    // The picture has the yellow wheel in full colour.
    auto* picture = rig.find<app::ScenePicture>("stepPicture");
    const auto countYellow = [&] {
        const QImage& image = picture->lastFrame();
        int count = 0;
        for (int y = 0; y < image.height(); ++y)
            for (int x = 0; x < image.width(); ++x) {
                const QColor c = image.pixelColor(x, y);
                count += c.red() > 150 && c.green() > 110 && c.blue() < 90 ? 1 : 0;
            }
        return count;
    };
    EXPECT_TRUE(WindowRig::waitFor([&] { return !picture->lastFrame().isNull() && countYellow() > 200; }));
    steps->setFocus();
    for (int i = 0; i < tray->count(); ++i) tray->item(i)->setSelected(true);
    QTest::keyClick(steps, Qt::Key_Right, Qt::AltModifier);
    EXPECT_TRUE(rig.window->message().contains("come last"));
    QTest::keyClick(steps, Qt::Key_Left, Qt::AltModifier);
    EXPECT_EQ(waiting(), 0);
}
