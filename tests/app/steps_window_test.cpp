// SPDX-License-Identifier: GPL-3.0-or-later
// Make's strip of steps through the window: pictures, dropping, notes and kept views, and what of it stands on the
// sheet.
#include <QFile>
#include <QProcess>

#include "app/stations/make/make_station.h"
#include "core/base/units.h"
#include "core/files/sheet_steps.h"
#include "tests/support/figures.h"
#include "tests/support/window_rig.h"

using namespace ivrant;
using test::WindowRig;

namespace {

struct StepsWindow : testing::Test {
    WindowRig rig;
    app::MakeStation* make = nullptr;
    QListWidget *steps = nullptr, *tray = nullptr;
    app::ScenePicture* picture = nullptr;

    void SetUp() override {
        rig.part("plate 6x6 gorse at 0 0 0");
        rig.part("brick 2x2 slate at 0 0 1");
        rig.part("brick 2x2 kelp at 2 0 1");
        rig.part("brick 2x2 slate at 4 0 1");
        int step = 1;
        rig.session().apply("Steps", [&](const model::Project& p) {
            model::EditResult next = p;
            for (const auto& part : p.sections[0]->parts)
                if (next) next = model::setStep(*next, {&part.id, 1}, step++);
            return next;
        });
        rig.window->goStation(rig.window->indexOf(verdict::Station::Make));
        rig.settle();
        make = static_cast<app::MakeStation*>(rig.window->station(rig.window->indexOf(verdict::Station::Make)));
        steps = rig.find<QListWidget>("makeSteps");
        tray = rig.find<QListWidget>("tray");
        picture = rig.find<app::ScenePicture>("stepPicture");
    }
    [[nodiscard]] int stepOf(std::size_t part) { return rig.window->session().project().sections[0]->parts[part].step; }
};

} // namespace

TEST_F(StepsWindow, EveryStepHasItsSmallPicture) {
    ASSERT_EQ(steps->count(), 4);
    ASSERT_TRUE(WindowRig::waitFor([&] {
        for (int row = 0; row < steps->count(); ++row)
            if (steps->item(row)->icon().isNull()) return false;
        return true;
    }));
    const auto image = [&](int row) { return steps->item(row)->icon().pixmap(steps->iconSize()).toImage(); };
    for (int row = 1; row < steps->count(); ++row)
        EXPECT_NE(image(row), image(row - 1)) << "it grows from step to step";
    steps->setCurrentRow(2);
    EXPECT_TRUE(WindowRig::waitFor([&] { return !picture->lastFrame().isNull(); }));
}

TEST_F(StepsWindow, PartsAndStepsAreDropped) {
    steps->setCurrentRow(3);
    tray->item(0)->setSelected(true);
    make->steps()->dropParts(1);
    rig.settle();
    EXPECT_EQ(stepOf(3), stepOf(1));
    EXPECT_EQ(steps->count(), 3);
    rig.session().undo();
    rig.settle();
    ASSERT_EQ(steps->count(), 4);
    steps->setCurrentRow(1);
    make->steps()->dropStep(3);
    rig.settle();
    EXPECT_EQ(stepOf(1), 4);
    EXPECT_EQ(stepOf(2), 2);
    EXPECT_EQ(stepOf(3), 3);
    EXPECT_EQ(steps->currentRow(), 3) << "the step that was moved stays marked";
    make->steps()->dropStep(0);
    rig.settle();
    EXPECT_EQ(stepOf(1), 1);
    EXPECT_EQ(stepOf(0), 2);
}

TEST_F(StepsWindow, NotesAndViewsFollowTheirStepToTheSheet) {
    steps->setCurrentRow(2);
    ASSERT_TRUE(WindowRig::waitFor([&] { return !picture->lastFrame().isNull(); }));
    rig.type("stepNote", "The kelp one shows from the pier.");
    rig.settle();
    ASSERT_EQ(rig.project().making.notes.size(), 1U);
    auto* keep = rig.find<QPushButton>("stepKeepView");
    EXPECT_FALSE(keep->isChecked());
    const double before = picture->turn().yaw;
    QTest::keyClick(picture, Qt::Key_Left, Qt::ShiftModifier);
    EXPECT_NE(picture->turn().yaw, before);
    QTest::mouseClick(keep, Qt::LeftButton);
    rig.settle();
    ASSERT_TRUE(rig.project().making.notes[0].viewDeg);
    EXPECT_NEAR(base::degToRad((*rig.project().making.notes[0].viewDeg)[0]), picture->turn().yaw, 1e-9);
    // The step is moved: what was said goes along.
    steps->setFocus();
    QTest::keyClick(steps, Qt::Key_Down, Qt::AltModifier);
    rig.settle();
    EXPECT_EQ(stepOf(2), 4);
    steps->setCurrentRow(3);
    EXPECT_EQ(rig.find<QLineEdit>("stepNote")->text(), "The kelp one shows from the pier.");
    EXPECT_TRUE(keep->isChecked());
    steps->setCurrentRow(2);
    EXPECT_EQ(rig.find<QLineEdit>("stepNote")->text(), "");
    EXPECT_FALSE(keep->isChecked());
    const auto sheet = files::makeSheetSteps(*rig.session().report());
    EXPECT_EQ(sheet[3].notes.front(), "The kelp one shows from the pier.");
    EXPECT_EQ(sheet[3].viewDeg, rig.project().making.notes[0].viewDeg);
    // It is saved and read again, printed, and goes when it is emptied.
    const QString path = rig.folder.path() + "/noted.ivrant", pdf = rig.folder.path() + "/noted.pdf";
    ASSERT_TRUE(rig.session().save(path));
    ASSERT_TRUE(rig.window->openFile(path));
    rig.settle();
    ASSERT_EQ(rig.project().making.notes.size(), 1U);
    bool done = false;
    QObject::connect(make, &app::MakeStation::guideWritten, make, [&](const QString&, bool ok) { done = ok; });
    make->writeGuide(pdf);
    ASSERT_TRUE(WindowRig::waitFor([&] { return done; }));
    QProcess reader;
    reader.start("pdftotext", {pdf, "-"});
    ASSERT_TRUE(reader.waitForFinished());
    EXPECT_TRUE(QString::fromUtf8(reader.readAllStandardOutput()).simplified().contains("shows from the pier."));
    rig.window->goStation(rig.window->indexOf(verdict::Station::Make));
    rig.settle();
    steps->setCurrentRow(3);
    QTest::mouseClick(keep, Qt::LeftButton);
    auto* note = rig.find<QLineEdit>("stepNote");
    note->setFocus();
    note->selectAll();
    QTest::keyClick(note, Qt::Key_Delete);
    QTest::keyClick(note, Qt::Key_Return);
    EXPECT_TRUE(rig.project().making.notes.empty());
    rig.session().undo();
    EXPECT_EQ(rig.project().making.notes.size(), 1U);
}

TEST_F(StepsWindow, WhatIsTypedBelongsToTheStepThatItWasTypedAt) {
    steps->setCurrentRow(1);
    auto* note = rig.find<QLineEdit>("stepNote");
    note->setFocus();
    QTest::keyClicks(note, "first of the row");
    make->goToStep(4); // without leaving the field, as a click on the tide does
    ASSERT_EQ(rig.project().making.notes.size(), 1U);
    EXPECT_EQ(rig.project().making.notes[0].part, rig.project().sections[0]->parts[1].id);
    EXPECT_EQ(note->text(), "");
    steps->setCurrentRow(1);
    EXPECT_EQ(note->text(), "first of the row");
    // Another model gets nothing of what is being typed.
    note->setFocus();
    QTest::keyClicks(note, " and more");
    const model::Project other = test::Figure().project;
    rig.session().reset(other, "", false);
    rig.settle();
    EXPECT_TRUE(rig.project().making.notes.empty());
}

TEST_F(StepsWindow, PicturesOfAllStepsAreWritten) {
    const QString into = rig.folder.path() + "/steps";
    bool done = false;
    QObject::connect(make, &app::MakeStation::guideWritten, make, [&](const QString&, bool ok) { done = ok; });
    make->writePictures(into);
    ASSERT_TRUE(WindowRig::waitFor([&] { return done; }));
    EXPECT_TRUE(QFile::exists(into + "/step-0004.png"));
    EXPECT_TRUE(QFile::exists(into + "/steps.csv"));
    EXPECT_TRUE(rig.window->message().contains("Pictures of the steps written"));
}
