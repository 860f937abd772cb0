// SPDX-License-Identifier: GPL-3.0-or-later
// Nothing is lost: copies of unsaved work, signals, files that others write, failures that stay on the screen, names
// that are text.
#include <QAction>
#include <QClipboard>
#include <QDir>
#include <QFile>
#include <QProcess>
#include <QProgressDialog>
#include <QToolTip>
#include <QXmlStreamReader>
#include <atomic>
#include <csignal>
#include <fcntl.h>
#include <sys/stat.h>
#include <thread>

#include "app/shell/live.h"
#include "app/shell/plain_labels.h"
#include "app/shell/safe_application.h"
#include "app/shell/table_tools.h"
#include "core/files/atomic_file.h"
#include "core/files/journal.h"
#include "core/files/project_file.h"
#include "core/model/edits.h"
#include "print/board_sheet.h"
#include "print/guide.h"
#include "tests/support/window_rig.h"

using namespace ivrant;
using test::WindowRig;
using What = app::CopyAnswer::What;

namespace {

/// A gate saved in the rig's folder; the path of the file.
QString saveGate(WindowRig& rig) {
    rig.buildGate();
    rig.answers.savePath = rig.folder.path() + "/gate.ivrant";
    rig.key(Qt::Key_S, Qt::ControlModifier);
    EXPECT_TRUE(QFile::exists(rig.answers.savePath));
    return rig.answers.savePath;
}

/// What a killed window left: a journal of the model with the name.
void leaveCopy(const QString& journals, const std::string& name, const std::string& path) {
    files::Journal journal(journals.toStdString(), name);
    ASSERT_TRUE(journal.write(model::makeEmptyProject(name), path, 1));
}

/// Runs the window as a second process and returns when it has edited the file, without a moment for a copy.
void startEditing(QProcess& program, const QString& file, const QString& journals) {
    program.start(QCoreApplication::applicationFilePath(), {"--edit-until-killed", file, journals});
    program.waitForReadyRead(test::kMostWaitMs);
    ASSERT_TRUE(program.readAllStandardOutput().contains("edited"));
}

} // namespace

TEST(Recovered, WorkStaysWhenAFileWasNamedAtTheStart) {
    WindowRig rig;
    const QString file = saveGate(rig), journals = rig.folder.path() + "/copies";
    leaveCopy(journals, "half an arm", "");
    WindowRig next(journals);
    next.answers.copies = {{What::Open, 0}};
    next.window->begin(file);
    EXPECT_EQ(next.project().name, "half an arm");
    EXPECT_TRUE(next.session().isModified());
    EXPECT_TRUE(next.window->message().contains("gate.ivrant")) << "what was not opened is said";
    ASSERT_EQ(files::listJournals(journals.toStdString()).size(), 1U) << "kept until it is saved";
    next.answers.savePath = rig.folder.path() + "/arm.ivrant";
    next.key(Qt::Key_S, Qt::ControlModifier);
    EXPECT_EQ(files::loadProject(next.answers.savePath.toStdString())->name, "half an arm");
    EXPECT_TRUE(files::listJournals(journals.toStdString()).empty());
    EXPECT_EQ(files::loadProject(file.toStdString())->partCount(), 6U) << "the file named is untouched";
}

TEST(Recovered, CopiesAreListedAndDiscardedOneByOne) {
    WindowRig rig;
    const QString journals = rig.folder.path() + "/copies";
    for (const char* name : {"one", "two", "three"}) leaveCopy(journals, name, "");
    WindowRig next(journals);
    next.answers.copies = {{What::Discard, 1}, {What::Discard, 0}, {What::Later, 0}};
    EXPECT_FALSE(next.window->offerJournals());
    ASSERT_EQ(next.answers.copiesAsked.size(), 3U);
    EXPECT_EQ(next.answers.copiesAsked[0].size(), 3);
    EXPECT_EQ(next.answers.copiesAsked[2].size(), 1);
    EXPECT_EQ(files::findJournals(journals.toStdString()).size(), 1U) << "what is left for later stays";
}

TEST(Recovered, TwoWindowsDoNotTakeEachOthersWork) {
    WindowRig rig;
    const QString journals = rig.folder.path() + "/copies";
    WindowRig one(journals);
    one.part("plate 2x4 at 0 0 0");
    ASSERT_TRUE(one.session().keepCopyNow());
    WindowRig two(journals);
    two.answers.copies = {{What::Open, 0}};
    EXPECT_FALSE(two.window->offerJournals()) << "its window is still there";
    EXPECT_TRUE(two.answers.copiesAsked.empty());
}

TEST(EndSignals, KeepWhatWasEditedAMomentBefore) {
    WindowRig rig;
    const QString file = saveGate(rig);
    for (const int signal : {SIGTERM, SIGHUP, SIGINT}) {
        const QString journals = rig.folder.path() + QString("/signal%1").arg(signal);
        QProcess program;
        startEditing(program, file, journals);
        ::kill(static_cast<pid_t>(program.processId()), signal);
        ASSERT_TRUE(program.waitForFinished(test::kMostWaitMs)) << signal;
        EXPECT_EQ(program.exitCode(), 128 + signal);
        const auto left = files::findJournals(journals.toStdString());
        ASSERT_EQ(left.size(), 1U) << signal;
        EXPECT_EQ(left[0].project.partCount(), 7U);
    }
}

TEST(Overwriting, AChangeByAnotherIsAskedAbout) {
    WindowRig rig;
    const QString file = saveGate(rig);
    WindowRig other;
    ASSERT_TRUE(other.window->openFile(file));
    EXPECT_TRUE(other.window->message().contains("open elsewhere")) << other.window->message().toStdString();
    other.part("brick 2x4 at 0 4 1");
    other.key(Qt::Key_S, Qt::ControlModifier);
    EXPECT_EQ(files::loadProject(file.toStdString())->partCount(), 7U) << "whoever saves first is asked nothing";
    EXPECT_TRUE(other.answers.changedAsked.isEmpty());

    rig.window->activateWindow();
    ASSERT_TRUE(QTest::qWaitForWindowActive(rig.window.get(), test::kMostWaitMs));
    rig.part("plate 1x1 at 7 0 1");
    rig.answers.changedOnDisk = 'c';
    rig.key(Qt::Key_S, Qt::ControlModifier);
    ASSERT_EQ(rig.answers.changedAsked.size(), 1);
    EXPECT_TRUE(rig.session().isModified());
    EXPECT_EQ(files::loadProject(file.toStdString())->partCount(), 7U);

    rig.answers.changedOnDisk = 'k';
    rig.key(Qt::Key_S, Qt::ControlModifier);
    EXPECT_NE(rig.session().path(), file);
    EXPECT_FALSE(rig.session().isModified());
    EXPECT_EQ(files::loadProject(rig.session().path().toStdString())->name, rig.project().name);
    EXPECT_EQ(files::loadProject(file.toStdString())->partCount(), 7U) << "both are there";
}

TEST(Overwriting, ContentCountsNotTheTime) {
    WindowRig rig;
    const QString file = saveGate(rig);
    const auto text = files::readFile(file.toStdString(), 1 << 24);
    ASSERT_TRUE(text);
    ASSERT_TRUE(files::writeFileAtomically(file.toStdString(), *text)); // the same again, later
    rig.part("plate 1x1 at 7 0 1");
    rig.key(Qt::Key_S, Qt::ControlModifier);
    EXPECT_TRUE(rig.answers.changedAsked.isEmpty());
    // Another content with the time of before.
    struct stat before {};
    ASSERT_EQ(::stat(file.toLocal8Bit(), &before), 0);
    ASSERT_TRUE(files::writeFileAtomically(file.toStdString(), *text));
    const timespec times[2] = {before.st_atim, before.st_mtim};
    ASSERT_EQ(::utimensat(AT_FDCWD, file.toLocal8Bit(), times, 0), 0);
    rig.part("plate 1x1 at 7 1 1");
    rig.answers.changedOnDisk = 'o';
    rig.key(Qt::Key_S, Qt::ControlModifier);
    EXPECT_EQ(rig.answers.changedAsked.size(), 1);
    EXPECT_EQ(files::loadProject(file.toStdString())->partCount(), 8U);
}

TEST(Overwriting, ANameThatGetsItsEndingAfterwardsIsAskedAbout) {
    WindowRig rig;
    const QString file = saveGate(rig);
    WindowRig other;
    other.part("plate 2x2 at 0 0 0");
    other.answers.savePath = rig.folder.path() + "/gate"; // becomes gate.ivrant
    other.answers.sure = false;
    other.key(Qt::Key_S, Qt::ControlModifier);
    ASSERT_EQ(other.answers.sureAsked.size(), 1);
    EXPECT_EQ(files::loadProject(file.toStdString())->partCount(), 6U);
    EXPECT_TRUE(other.session().isModified());
    other.answers.sure = true;
    other.key(Qt::Key_S, Qt::ControlModifier);
    EXPECT_EQ(files::loadProject(file.toStdString())->partCount(), 1U);
}

TEST(Failures, OfSavingStayUntilTheyAreAnswered) {
    WindowRig rig;
    rig.part("plate 2x2 at 0 0 0");
    rig.answers.savePath = "/proc/nowhere/gate.ivrant";
    rig.key(Qt::Key_S, Qt::ControlModifier);
    auto* text = rig.find<QLabel>("noticeText");
    EXPECT_TRUE(text->isVisible());
    rig.part("plate 2x2 at 4 0 0"); // other work, other messages
    rig.session().say("something else");
    EXPECT_TRUE(text->isVisible());
    EXPECT_TRUE(text->text().contains("Not saved"));
    rig.answers.savePath = rig.folder.path() + "/kept.ivrant";
    rig.click("noticeSave");
    EXPECT_FALSE(text->isVisible());
    EXPECT_TRUE(QFile::exists(rig.answers.savePath));
}

TEST(Failures, AreReadFromTheirBeginning) {
    WindowRig rig;
    rig.session().say("The beginning matters most, " + QString("and then it goes on ").repeated(20), true);
    rig.settle();
    EXPECT_TRUE(rig.find<QLabel>("message")->text().startsWith("▼ The beginning"))
        << rig.find<QLabel>("message")->text().toStdString();
    EXPECT_LE(rig.find<QLabel>("message")->sizeHint().width(), rig.find<QLabel>("message")->width());
}

TEST(Opening, IsGivenUpWhenTheDiskDoesNotAnswer) {
    WindowRig rig;
    const QString file = saveGate(rig);
    std::atomic<bool> answers = false;
    rig.session().readProjectFile = [&answers](const std::string& path) {
        while (!answers) std::this_thread::sleep_for(std::chrono::milliseconds(5));
        return files::readFile(path, 1 << 24);
    };
    QTimer look;
    QObject::connect(&look, &QTimer::timeout, [&] {
        if (auto* dialog = rig.window->findChild<QProgressDialog*>("opening"); dialog && dialog->isVisible())
            QTest::mouseClick(dialog->findChild<QPushButton*>(), Qt::LeftButton);
    });
    look.start(20);
    EXPECT_FALSE(rig.window->openFile(file));
    EXPECT_EQ(rig.project().partCount(), 6U);
    EXPECT_TRUE(rig.window->message().contains("Given up"));
    answers = true;
    rig.part("plate 1x1 at 7 0 1"); // the window is as it was
    EXPECT_EQ(rig.project().partCount(), 7U);
}

TEST(Opening, APipeIsRefusedAtOnce) {
    WindowRig rig;
    const QString pipe = rig.folder.path() + "/pipe.ivrant";
    ASSERT_EQ(::mkfifo(pipe.toLocal8Bit(), 0600), 0);
    EXPECT_FALSE(rig.window->openFile(pipe));
    EXPECT_TRUE(rig.window->message().contains("no regular file"));
}

TEST(Names, AreTextInEveryLabelAndTip) {
    WindowRig rig;
    rig.buildGate();
    const std::string name = "<b>Arm</b> & <img src=\"/dev/zero\">";
    ASSERT_TRUE(rig.session().apply("Rename", [&](const model::Project& p) { return model::renameProject(p, name); }));
    ASSERT_TRUE(rig.session().apply(
        "Rename", [&](const model::Project& p) { return model::renameSection(p, p.sections[0]->id, name); }));
    for (int i = 0; i < rig.window->stationCount(); ++i) {
        rig.window->goStation(i);
        rig.settle();
        for (auto* label : rig.window->findChildren<QLabel*>()) {
            if (label->textFormat() == Qt::RichText) {
                EXPECT_FALSE(label->text().contains("<img"))
                    << label->objectName().toStdString() << label->text().toStdString();
            } else if (label->isVisible()) {
                EXPECT_EQ(label->textFormat(), Qt::PlainText)
                    << label->objectName().toStdString() << ": " << label->text().toStdString();
            }
        }
    }
    QToolTip::showText({10, 10}, QString::fromStdString(name), rig.window.get());
    for (auto* widget : QApplication::topLevelWidgets())
        if (auto* tip = qobject_cast<QLabel*>(widget); tip && tip->inherits("QTipLabel")) {
            EXPECT_EQ(tip->textFormat(), Qt::PlainText);
        }
    QToolTip::hideText();
}

TEST(Names, AreTextOnTheSheets) {
    WindowRig rig;
    ASSERT_TRUE(rig.window->openFile(test::demoFile("neck-drive.ivrant")));
    const std::string name = "</title><script>alert(1)</script> & \"board\" \x01";
    ASSERT_TRUE(rig.session().apply("Rename", [&](const model::Project& p) { return model::renameProject(p, name); }));
    for (const auto& section : rig.project().sections)
        ASSERT_TRUE(rig.session().apply("Rename", [&](const model::Project& p) {
            return model::renameSection(p, section->id, name + section->id.text);
        }));
    ASSERT_TRUE(rig.session().apply(
        "Rename", [&](const model::Project& p) { return model::renameBoard(p, p.boards[0]->id, name); }));
    rig.settle();
    const QByteArray svg = print::makeBoardSvg(*print::makeDriveState(*rig.session().report()), 0);
    QXmlStreamReader xml(svg);
    while (!xml.atEnd()) EXPECT_NE(xml.readNext(), QXmlStreamReader::Invalid) << xml.errorString().toStdString();
    EXPECT_FALSE(svg.contains("<script"));
    const std::string path = (rig.folder.path() + "/sheets.html").toStdString();
    ASSERT_TRUE(print::writeGuideHtml(*rig.session().report(), path));
    const auto html = files::readFile(path, 64 << 20);
    ASSERT_TRUE(html);
    EXPECT_EQ(html->find("<script>alert"), std::string::npos);
    EXPECT_NE(html->find("&lt;script&gt;"), std::string::npos);
}

TEST(Tables, EveryActionWorksOnEveryTableEmptyChosenOrNot) {
    WindowRig rig;
    const auto driveAll = [&](const char* when) {
        for (int i = 0; i < rig.window->stationCount(); ++i) {
            rig.window->goStation(i);
            rig.settle();
            for (auto* table : rig.window->station(i)->findChildren<QTableWidget*>())
                for (const bool chosen : {false, true}) {
                    chosen ? table->selectAll() : table->clearSelection();
                    for (auto* action : table->actions()) {
                        if (action->text().endsWith("…")) continue; // asks where to write; below
                        action->trigger();
                    }
                    EXPECT_NO_THROW((void)app::tableText(table, true)) << when << table->objectName().toStdString();
                    EXPECT_NO_THROW(app::filterTable(table, "x"));
                    app::filterTable(table, "");
                }
        }
    };
    driveAll("empty");
    QTableWidget bare(3, 2); // without headings and items
    app::setUpTable(&bare, "bare");
    EXPECT_EQ(app::tableText(&bare, false), "\t\n\t\n\t\n\t\n");
    for (auto* action : bare.actions())
        if (!action->text().endsWith("…")) action->trigger();
    ASSERT_TRUE(rig.window->openFile(test::demoFile("heron.ivrant")));
    driveAll("heron");
}

TEST(Failure, InsideAnActionLeavesTheWindowAndKeepsACopy) {
    WindowRig rig;
    rig.buildGate();
    auto& app = *static_cast<app::SafeApplication*>(qApp);
    app.setOnFailure([&](const QString& what) { rig.window->tellFailure(what); });
    const auto parts = rig.project().partCount();
    QTimer::singleShot(0, rig.window.get(), [] { throw std::logic_error("thrown on purpose"); });
    ASSERT_TRUE(WindowRig::waitFor([&] { return rig.text("noticeText").contains("thrown on purpose"); }));
    app.setOnFailure({});
    EXPECT_EQ(rig.project().partCount(), parts);
    EXPECT_TRUE(rig.find<QPushButton>("noticeSave")->isVisible());
    EXPECT_FALSE(files::listJournals((rig.folder.path() + "/journal").toStdString()).empty())
        << "a copy is kept at once";
    rig.part("brick 2x4 kelp at 0 9 1");
    EXPECT_EQ(rig.project().partCount(), parts + 1) << "and work goes on";
}

TEST(Failure, InsideAnAnalysisLeavesTheOtherVerdicts) {
    WindowRig rig;
    rig.buildGate();
    rig.settle();
    study::breakFacts(study::kStructure);
    rig.part("brick 2x4 kelp at 0 9 1");
    rig.settle();
    study::breakFacts(0);
    const auto& verdicts = rig.session().report()->verdicts;
    EXPECT_TRUE(std::any_of(verdicts.begin(), verdicts.end(), [](const auto& v) { return v.check == "not-judged"; }));
    EXPECT_GT(verdicts.size(), 3U);
    rig.part("brick 2x4 kelp at 0 12 1");
    rig.settle();
    const auto& after = rig.session().report()->verdicts;
    EXPECT_TRUE(std::none_of(after.begin(), after.end(), [](const auto& v) { return v.check == "not-judged"; }))
        << "the next edit is looked at whole";
}

TEST(Failure, OfAStudyEndsIt) {
    WindowRig rig;
    app::Live<int> live(rig.window->jobs());
    live.ask(
        "a study", [](base::Progress&) -> std::optional<int> { throw std::runtime_error("thrown on purpose"); },
        [](int) { ADD_FAILURE() << "there is nothing to show"; });
    EXPECT_TRUE(live.isBusy());
    EXPECT_TRUE(WindowRig::waitFor([&] { return !live.isBusy(); }));
    EXPECT_TRUE(rig.window->message().contains("thrown on purpose")) << rig.window->message().toStdString();
}
