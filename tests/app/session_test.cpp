// SPDX-License-Identifier: GPL-3.0-or-later
// The session without a window: edits, results that are stale, background work, copies of unsaved work.
#include <QDir>
#include <QSignalSpy>
#include <QTabBar>
#include <QThread>

#include "app/shell/session.h"
#include "core/files/journal.h"
#include "core/files/project_file.h"
#include "tests/support/figures.h"
#include "tests/support/near.h"
#include "tests/support/window_rig.h"

using namespace ivrant;
using app::Jobs;
using app::Session;
using test::Figure;
using test::must;
using test::WindowRig;

namespace {

struct SessionTest : testing::Test {
    QTemporaryDir folder;
    Jobs jobs;
    Session session{jobs, folder.path() + "/journal"};

    void settle() {
        ASSERT_TRUE(WindowRig::waitFor([&] { return session.isReportCurrent() && !jobs.isBusy(); }));
    }
    bool addBrick(int x) {
        model::NewPart part;
        part.shape = must(parts::makeShape("brick 2x2"));
        part.place.atUm = {x * 16000, 0, 0};
        return session.apply("Add brick", [&](const model::Project& p) {
            return model::addParts(p, p.sections.front()->id, {&part, 1});
        });
    }
};

} // namespace

TEST_F(SessionTest, AnEditIsShownAtOnceAndItsVerdictsFollow) {
    QSignalSpy changed(&session, &Session::projectChanged), reported(&session, &Session::reportChanged);
    ASSERT_TRUE(addBrick(0));
    EXPECT_EQ(changed.count(), 1);
    EXPECT_EQ(session.project().partCount(), 1U);
    EXPECT_FALSE(session.isReportCurrent()) << "the verdicts are still on their way";
    settle();
    EXPECT_GE(reported.count(), 1);
    EXPECT_EQ(session.report()->project->partCount(), 1U);
}

TEST_F(SessionTest, OnlyTheNewestOfManyEditsIsPublished) {
    settle();
    QSignalSpy reported(&session, &Session::reportChanged);
    QObject::connect(&session, &Session::reportChanged, [&] {
        EXPECT_EQ(session.report()->project->partCount(), session.project().partCount()) << "never a stale report";
    });
    for (int i = 0; i < 30; ++i) ASSERT_TRUE(addBrick(i));
    settle();
    EXPECT_EQ(session.report()->project->partCount(), 30U);
    EXPECT_LT(reported.count(), 30);
}

TEST_F(SessionTest, ARefusedEditLeavesEverythingAndSaysWhy) {
    ASSERT_TRUE(addBrick(0));
    QSignalSpy said(&session, &Session::said), changed(&session, &Session::projectChanged);
    EXPECT_FALSE(session.apply(
        "Bad", [](const model::Project& p) { return model::renameSection(p, model::SectionId{"s99"}, "x"); }));
    EXPECT_EQ(changed.count(), 0);
    ASSERT_EQ(said.count(), 1);
    EXPECT_TRUE(said[0][0].toString().contains("s99"));
    EXPECT_TRUE(said[0][1].toBool()) << "as an error";
    EXPECT_EQ(session.history().undoName(), "Add brick");
}

TEST_F(SessionTest, SelectionForgetsPartsThatAreGone) {
    ASSERT_TRUE(addBrick(0));
    const auto id = session.project().sections[0]->parts[0].id;
    session.select({id});
    session.setMarked({id});
    session.undo();
    EXPECT_TRUE(session.selection().empty());
    EXPECT_TRUE(session.marked().empty());
    session.redo();
    EXPECT_EQ(session.project().partCount(), 1U);
}

TEST_F(SessionTest, LiveEditsAreOneEntryAndSeparateOnesAreNot) {
    for (int i = 0; i < 5; ++i)
        session.applyLive(
            "Drag", [&](const model::Project& p) { return model::renameProject(p, "name " + std::to_string(i)); });
    session.apply("Other", [](const model::Project& p) { return model::renameProject(p, "other"); });
    session.undo();
    EXPECT_EQ(session.project().name, "name 4");
    session.undo();
    EXPECT_EQ(session.project().name, "New model");
    EXPECT_FALSE(session.history().canUndo());
}

TEST_F(SessionTest, SavingAndLoadingKeepsThePathAndClearsTheMark) {
    ASSERT_TRUE(addBrick(3));
    EXPECT_TRUE(session.isModified());
    const QString path = folder.path() + "/model.ivrant";
    ASSERT_TRUE(session.save(path));
    EXPECT_FALSE(session.isModified());
    EXPECT_EQ(session.path(), path);
    session.reset(model::makeEmptyProject("Other"), "", false);
    ASSERT_TRUE(session.load(path));
    EXPECT_EQ(session.project().partCount(), 1U);
    EXPECT_FALSE(session.history().canUndo()) << "a file begins its own history";
    EXPECT_FALSE(session.load(folder.path() + "/missing.ivrant"));
    EXPECT_EQ(session.project().partCount(), 1U);
}

TEST_F(SessionTest, UnsavedWorkIsCopiedAndTheCopyGoesWhenSaved) {
    ASSERT_TRUE(addBrick(0));
    ASSERT_TRUE(
        WindowRig::waitFor([&] { return !files::listJournals((folder.path() + "/journal").toStdString()).empty(); }));
    ASSERT_TRUE(session.save(folder.path() + "/model.ivrant"));
    settle();
    EXPECT_TRUE(files::listJournals((folder.path() + "/journal").toStdString()).empty());
}

TEST_F(SessionTest, SteadyEditingDoesNotPutTheCopyOff) {
    // Edits closer together than the delay: the copy must come all the same.
    QElapsedTimer timer;
    timer.start();
    int edits = 0;
    ASSERT_TRUE(WindowRig::waitFor([&] {
        addBrick(edits++);
        return !files::listJournals((folder.path() + "/journal").toStdString()).empty();
    }));
    EXPECT_GT(edits, 3);
}

TEST_F(SessionTest, ACopyThatCannotBeKeptIsSaid) {
    Session elsewhere(jobs, "/proc/no/such/place");
    QSignalSpy said(&elsewhere, &Session::warned);
    EXPECT_FALSE(elsewhere.keepCopyNow());
    ASSERT_EQ(said.count(), 1);
    EXPECT_TRUE(said[0][0].toString().contains("unsaved work"));
}

TEST_F(SessionTest, WorkReportsProgressAndStops) {
    settle();
    std::atomic<bool> release{false};
    bool done = false;
    const auto progress = jobs.start(
        "long work",
        [&](base::Progress& p) {
            p.report(0.25);
            while (!p.stopped() && !release) QThread::msleep(1);
        },
        [&] { done = true; });
    ASSERT_TRUE(WindowRig::waitFor([&] { return jobs.shownName() == "long work"; })) << "shown once it takes a while";
    EXPECT_NEAR(jobs.shownFraction(), 0.25, 1e-9);
    jobs.stopShown();
    ASSERT_TRUE(WindowRig::waitFor([&] { return done; }));
    EXPECT_TRUE(progress->stopped());
    EXPECT_FALSE(jobs.isBusy());
    EXPECT_TRUE(jobs.shownName().isEmpty());
}

TEST_F(SessionTest, ShortWorkIsNotShown) {
    settle();
    QStringList names;
    QObject::connect(&jobs, &Jobs::changed, [&] { names << jobs.shownName(); });
    bool done = false;
    jobs.start(
        "short work", [](base::Progress&) {}, [&] { done = true; });
    ASSERT_TRUE(WindowRig::waitFor([&] { return done; }));
    EXPECT_FALSE(names.contains("short work"));
}

TEST_F(SessionTest, ProgressStaysWithinItsBounds) {
    base::Progress progress;
    progress.report(7);
    EXPECT_EQ(progress.fraction(), 1);
    progress.report(-1);
    EXPECT_EQ(progress.fraction(), 0);
    EXPECT_FALSE(progress.stopped());
}

TEST(Opening, AnotherModelInWhateverTabIsUp) {
    // What hears of the new model asks for places and sizes at once: they must be the new one's.
    test::WindowRig rig;
    ASSERT_TRUE(rig.session().load(test::demoFile("heron.ivrant")));
    const std::array files{"bridge.ivrant", "fairgoer-keeper.ivrant", "heron.ivrant"};
    std::size_t opened = 0;
    for (int s = 0; s < rig.window->stationCount(); ++s) {
        rig.window->goStation(s);
        rig.settle();
        for (auto* bar : rig.window->station(s)->findChildren<QTabBar*>())
            for (int tab = 0; bar->isVisible() && tab < bar->count(); ++tab) {
                bar->setCurrentIndex(tab);
                rig.settle();
                const auto where = (rig.window->station(s)->title() + ", " + bar->tabText(tab)).toStdString();
                const char* file = files[opened++ % files.size()];
                ASSERT_TRUE(rig.session().load(test::demoFile(file))) << where;
                EXPECT_EQ(rig.session().placed().project, &rig.session().project()) << where;
                rig.settle();
                EXPECT_TRUE(rig.session().report()) << where;
            }
    }
    EXPECT_GT(opened, 12u);
}

TEST(Opening, WhoHearsOfItFindsTheNewModel) {
    test::WindowRig rig;
    ASSERT_TRUE(rig.session().load(test::demoFile("heron.ivrant")));
    int heard = 0;
    QObject::connect(&rig.session(), &app::Session::projectOpened, &rig.session(), [&] {
        ++heard;
        EXPECT_EQ(rig.session().placed().project, &rig.session().project());
        EXPECT_EQ(rig.session().placed().X_WS.size(), rig.session().project().sections.size());
    });
    ASSERT_TRUE(rig.session().load(test::demoFile("bridge.ivrant")));
    EXPECT_EQ(heard, 1);
}
