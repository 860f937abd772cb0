// SPDX-License-Identifier: GPL-3.0-or-later
// The shell: ask field, units, files that cannot be read or written, work that survives a kill.
#include <QDir>
#include <QFile>
#include <QMenu>
#include <QMenuBar>
#include <QProcess>
#include <csignal>

#include "app/shell/theme.h"
#include "core/base/at.h"
#include "core/files/atomic_file.h"
#include "core/files/journal.h"
#include "core/files/project_file.h"
#include "tests/support/near.h"
#include "tests/support/window_rig.h"

using namespace ivrant;
using test::WindowRig;

namespace {

void write(const QString& path, const QByteArray& content) {
    QFile file(path);
    ASSERT_TRUE(file.open(QIODevice::WriteOnly));
    file.write(content);
}

void ask(WindowRig& rig, const QString& words) {
    QTest::keyClick(rig.window.get(), Qt::Key_K, Qt::ControlModifier);
    auto* field = rig.find<QLineEdit>("ask");
    ASSERT_TRUE(WindowRig::waitFor([&] { return field->hasFocus(); }));
    QTest::keyClicks(field, words);
    QTest::keyClick(field, Qt::Key_Return);
}

} // namespace

TEST(Shell, AskReachesPlacesAndCommands) {
    WindowRig rig;
    ASSERT_TRUE(rig.window->openFile(test::demoFile("heron.ivrant")));
    rig.settle();
    ask(rig, "range neck 3");
    EXPECT_EQ(rig.window->currentStation(), rig.window->indexOf(verdict::Station::Pose));
    const auto& joint = at(rig.project().joints, rig.project().findJoint(rig.session().currentJoint()));
    EXPECT_EQ(joint.name, "Neck 3");
    ask(rig, "parts list");
    EXPECT_EQ(rig.window->currentStation(), rig.window->indexOf(verdict::Station::Make));
    ask(rig, "go tail");
    EXPECT_EQ(rig.window->currentStation(), rig.window->indexOf(verdict::Station::Shape));
    EXPECT_EQ(at(rig.project().sections, rig.project().findSection(rig.session().currentSection()))->name, "Tail");
    QTest::keyClick(rig.window.get(), Qt::Key_K, Qt::ControlModifier);
    QTest::keyClicks(rig.find<QLineEdit>("ask"), "no such thing");
    EXPECT_EQ(rig.find<QListWidget>("askPopup")->item(0)->text(), "nothing of that name");
    QTest::keyClick(rig.find<QLineEdit>("ask"), Qt::Key_Escape);
    EXPECT_FALSE(rig.find<QListWidget>("askPopup")->isVisible());
}

TEST(Shell, EveryMenuActionCanBeAskedFor) {
    WindowRig rig;
    QTest::keyClick(rig.window.get(), Qt::Key_K, Qt::ControlModifier);
    auto* field = rig.find<QLineEdit>("ask");
    ASSERT_TRUE(WindowRig::waitFor([&] { return field->hasFocus(); }));
    for (auto* menu : rig.window->menuBar()->findChildren<QMenu*>(QString(), Qt::FindDirectChildrenOnly))
        for (auto* action : menu->actions()) {
            if (action->isSeparator() || action->menu() || !action->isEnabled()) continue;
            const QString words = QString(action->text()).remove('&').remove(" …");
            field->selectAll();
            QTest::keyClicks(field, words);
            EXPECT_NE(rig.find<QListWidget>("askPopup")->item(0)->text(), "nothing of that name")
                << words.toStdString();
        }
}

TEST(Shell, UnitsThemeAndSlipSwitch) {
    WindowRig rig;
    rig.part("plate 2x2 at 0 0 0");
    QTest::keyClicks(rig.find<QLineEdit>("partLine"), "plate 1x1 at 1 0 1");
    EXPECT_TRUE(rig.text("partPlace").contains("1s")) << rig.text("partPlace").toStdString();
    QTest::keyClick(rig.window.get(), Qt::Key_F9);
    EXPECT_TRUE(rig.text("partPlace").contains("8 0 3.2 mm")) << rig.text("partPlace").toStdString();
    EXPECT_EQ(rig.find<QPushButton>("unitSwitch")->text(), "mm");
    QTest::keyClick(rig.window.get(), Qt::Key_F10);
    EXPECT_TRUE(app::theme().dark);
    QTest::keyClick(rig.window.get(), Qt::Key_F10);
    EXPECT_FALSE(app::theme().dark);
    QTest::keyClick(rig.window.get(), Qt::Key_F8);
    EXPECT_FALSE(rig.window->slip()->isVisible());
    QTest::keyClick(rig.window.get(), Qt::Key_F8);
    EXPECT_TRUE(rig.window->slip()->isVisible());
}

TEST(Shell, ABrokenFileIsNamedWithItsPlaceAndTheDocumentStays) {
    WindowRig rig;
    rig.part("plate 2x2 at 0 0 0");
    const QString path = rig.folder.path() + "/bad.ivrant";
    write(
        path,
        R"({ "format": "ivrant-project", "version": 1, "name": "Bad", "sections": [ { "id": "s1", "name": "A", "parts": [ { "id": "p1", "shape": "plaid 2x2", "colour": "slate", "at": [0, 0, 0], "turn": 0 } ] } ] })");
    EXPECT_FALSE(rig.window->openFile(path));
    EXPECT_TRUE(rig.window->message().contains("/sections/0/parts/0/shape")) << rig.window->message().toStdString();
    EXPECT_EQ(rig.project().partCount(), 1U);
    write(path, "{ \"format\": \"ivrant-pro");
    EXPECT_FALSE(rig.window->openFile(path));
    EXPECT_TRUE(rig.window->message().contains("not valid JSON"));
    write(path, QByteArray(200'000, '['));
    EXPECT_FALSE(rig.window->openFile(path));
    EXPECT_TRUE(rig.window->message().contains("nested deeper"));
    EXPECT_EQ(rig.project().partCount(), 1U);
}

TEST(Shell, SavingWhereNothingCanBeWrittenSaysWhyAndKeepsTheWork) {
    WindowRig rig;
    rig.part("plate 2x2 at 0 0 0");
    rig.answers.savePath = "/proc/nowhere/gate.ivrant";
    QTest::keyClick(rig.window.get(), Qt::Key_S, Qt::ControlModifier);
    EXPECT_TRUE(rig.window->message().contains("Not saved")) << rig.window->message().toStdString();
    EXPECT_TRUE(rig.session().isModified());
    rig.answers.savePath = "/dev/full/gate.ivrant";
    QTest::keyClick(rig.window.get(), Qt::Key_S, Qt::ControlModifier);
    EXPECT_TRUE(rig.session().isModified());
    EXPECT_EQ(rig.project().partCount(), 1U);
}

TEST(Shell, UnsavedWorkOfAKilledProgramIsOffered) {
    WindowRig rig; // gives a folder; the killed program is another process
    const QString state = rig.folder.path() + "/state", file = rig.folder.path() + "/gate.ivrant";
    rig.buildGate();
    rig.answers.savePath = file;
    rig.key(Qt::Key_S, Qt::ControlModifier);
    ASSERT_TRUE(QFile::exists(file));

    const QString journals = state + "/ivrant/journal";
    QString found;
    {
        // Another window works on the file and is gone without closing.
        WindowRig other(journals);
        ASSERT_TRUE(other.window->openFile(file));
        other.part("brick 2x4 at 0 4 1");
        ASSERT_TRUE(WindowRig::waitFor([&] { return !QDir(journals).entryList({"*.journal"}).isEmpty(); }));
        found = journals + "/" + QDir(journals).entryList({"*.journal"}).first();
        ASSERT_TRUE(QFile::copy(found, found + ".kept"));
        other.window->close();
    }
    EXPECT_FALSE(QFile::exists(found)) << "closing in order leaves nothing behind";
    ASSERT_TRUE(QFile::rename(found + ".kept", found));
    WindowRig next(journals);
    next.answers.copies = {{app::CopyAnswer::What::Open, 0}};
    EXPECT_TRUE(next.window->offerJournals());
    ASSERT_EQ(next.answers.copiesAsked.size(), 1U);
    EXPECT_TRUE(next.answers.copiesAsked[0][0].contains(file));
    EXPECT_EQ(next.project().partCount(), 7U);
    EXPECT_TRUE(next.session().isModified());
    EXPECT_TRUE(next.session().path().isEmpty()) << "a model of its own";
    EXPECT_EQ(next.session().origin(), file);
    const auto left = QDir(journals).entryList({"*.journal"});
    ASSERT_FALSE(left.isEmpty()) << "restored work is not saved yet: a second crash must not lose it";
    const auto stored = files::readFile((journals + "/" + left.first()).toStdString(), 1 << 24);
    ASSERT_TRUE(stored);
    EXPECT_NE(stored->find("brick 2x4"), std::string::npos);
}

TEST(Shell, AKilledProgramLosesAtMostSeconds) {
    WindowRig rig;
    rig.buildGate();
    rig.answers.savePath = rig.folder.path() + "/gate.ivrant";
    rig.key(Qt::Key_S, Qt::ControlModifier);
    // A real second process on the same display, killed in the middle of its work.
    QProcess program;
    const QString journals = rig.folder.path() + "/state/ivrant/journal";
    program.start(QCoreApplication::applicationFilePath(), {"--edit-until-killed", rig.answers.savePath, journals});
    ASSERT_TRUE(WindowRig::waitFor([&] { return !QDir(journals).entryList({"*.journal"}).isEmpty(); }));
    ::kill(static_cast<pid_t>(program.processId()), SIGKILL);
    ASSERT_TRUE(program.waitForFinished(test::kMostWaitMs));
    const auto left = files::findJournals(journals.toStdString());
    ASSERT_EQ(left.size(), 1U);
    EXPECT_EQ(left[0].project.partCount(), 7U);
    EXPECT_EQ(files::loadProject(rig.answers.savePath.toStdString())->partCount(), 6U) << "the saved file is as it was";
}

TEST(Shell, ClosingAsksForUnsavedWork) {
    WindowRig rig;
    rig.part("plate 2x2 at 0 0 0");
    rig.answers.keepChanges = 'c';
    EXPECT_FALSE(rig.window->close());
    EXPECT_TRUE(rig.window->isVisible());
    rig.answers.keepChanges = 'y';
    rig.answers.savePath = rig.folder.path() + "/kept.ivrant";
    EXPECT_TRUE(rig.window->close());
    EXPECT_EQ(files::loadProject(rig.answers.savePath.toStdString())->partCount(), 1U);
}

TEST(Shell, EveryControlHasANameAndEveryStationTakesKeys) {
    WindowRig rig;
    ASSERT_TRUE(rig.window->openFile(test::demoFile("fairgoer-baker.ivrant")));
    rig.settle();
    for (int i = 0; i < rig.window->stationCount(); ++i) {
        QTest::keyClick(rig.window.get(), static_cast<Qt::Key>(Qt::Key_0 + rig.window->station(i)->number()),
                        Qt::ControlModifier);
        EXPECT_EQ(rig.window->currentStation(), i);
        EXPECT_TRUE(rig.window->station(i)->focusTarget()->hasFocus());
        for (auto* button : rig.window->station(i)->findChildren<QAbstractButton*>()) {
            if (!button->isVisible() || button->objectName().startsWith("qt_")) continue;
            EXPECT_FALSE(button->text().isEmpty() && button->accessibleName().isEmpty());
        }
    }
}

TEST(Shell, TheStartSheetLeadsToModels) {
    WindowRig rig;
    rig.window->begin("");
    auto* start = rig.find<app::StartSheet>("startSheet");
    ASSERT_TRUE(start->isVisible());
    EXPECT_FALSE(rig.window->slip()->isVisible());
    EXPECT_TRUE(rig.text("keys").contains("Enter opens"));
    auto* demos = rig.find<QListWidget>("startDemos");
    auto* frames = rig.find<QListWidget>("startTemplates");
    ASSERT_GE(demos->count(), 10);
    ASSERT_GE(frames->count(), 2);
    EXPECT_TRUE(rig.waitFor([&] { return frames->item(0)->text().contains("parts"); })) << "pictures come one by one";
    // A frame becomes a model of its own: saving it asks for a name.
    frames->setCurrentRow(0);
    QTest::keyClick(frames, Qt::Key_Return);
    EXPECT_FALSE(start->isVisible());
    EXPECT_GT(rig.project().partCount(), 5U);
    EXPECT_TRUE(rig.session().path().isEmpty());
    EXPECT_FALSE(rig.session().isModified());
    EXPECT_TRUE(rig.text("keys").contains("type to place"));
    // A demo is opened from its file, and is listed among the last ones then.
    rig.window->showStart(true);
    for (int i = 0; i < demos->count(); ++i)
        if (demos->item(i)->toolTip().endsWith("drum.ivrant")) demos->setCurrentRow(i);
    QTest::keyClick(demos, Qt::Key_Return);
    rig.settle();
    EXPECT_EQ(rig.project().name, "Cipher drum");
    rig.window->showStart(true);
    EXPECT_TRUE(rig.find<QListWidget>("startRecent")->item(0)->toolTip().endsWith("drum.ivrant"));
    rig.window->goStation(0);
    EXPECT_FALSE(start->isVisible());
    EXPECT_TRUE(rig.window->slip()->isVisible());
}

TEST(Shell, TextGrowsAndWithItWhatIsMeasuredByIt) {
    WindowRig rig;
    const int before = rig.find<QPushButton>("railShape")->fontMetrics().height();
    const int slip = rig.window->slip()->width();
    const auto trigger = [&](const char* name) {
        for (auto* action : rig.window->actions())
            if (action->text() == name) action->trigger();
        QCoreApplication::processEvents();
    };
    for (int i = 0; i < 3; ++i) trigger("Larger text");
    EXPECT_GT(rig.find<QPushButton>("railShape")->fontMetrics().height(), 1.2 * before);
    EXPECT_GT(rig.window->slip()->width(), slip);
    trigger("Text of the usual size");
    EXPECT_EQ(rig.find<QPushButton>("railShape")->fontMetrics().height(), before);
    for (int i = 0; i < 40; ++i) trigger("Smaller text");
    EXPECT_GE(app::theme().scale, app::kLeastScale) << "it stays readable";
    trigger("Text of the usual size");
}
