// SPDX-License-Identifier: GPL-3.0-or-later
// The real window for tests: driven by keys and mouse, read by what it shows. Waits for conditions, never for time.
#pragma once

#include <QApplication>
#include <QComboBox>
#include <QElapsedTimer>
#include <QLabel>
#include <QLineEdit>
#include <QListWidget>
#include <QPushButton>
#include <QTabWidget>
#include <QTableWidget>
#include <QTemporaryDir>
#include <QTest>
#include <QTreeWidget>
#include <gtest/gtest.h>

#include "app/sheet3d/sheet3d.h"
#include "app/shell/main_window.h"
#include "app/shell/theme.h"
#include "app/stations/stations.h"
#include "tests/support/repo.h"

namespace ivrant::test {

inline constexpr int kMostWaitMs = 30'000; ///< a condition that has not come by then never will

/// Path of a file of the stored demo.
/// A machine on boards.
inline QString boardFile(const QString& name) { return QString::fromStdString(repo("/tests/fixtures/boards/")) + name; }
inline QString demoFile(const QString& name) { return QString::fromStdString(repo("/data/demo/")) + name; }

/// Answers to the questions the program asks; tests change them.
struct Answers {
    QString openPath, savePath;
    char keepChanges = 'n';
    std::vector<app::CopyAnswer> copies; ///< one after the other; then later
    std::vector<QStringList> copiesAsked;
    char changedOnDisk = 'c';
    QStringList changedAsked;
    bool sure = false;
    QStringList sureAsked;
};

class WindowRig {
public:
    explicit WindowRig(const QString& journalFolder = {}) {
        if (app::theme().dark) app::applyTheme(*qApp, false); // whatever a test before left
        app::Prompts prompts;
        prompts.openPath = [this](QWidget*) { return answers.openPath; };
        prompts.savePath = [this](QWidget*, const QString&) { return answers.savePath; };
        prompts.keepChanges = [this](QWidget*) { return answers.keepChanges; };
        prompts.copies = [this](QWidget*, const QStringList& lines) {
            answers.copiesAsked.push_back(lines);
            const auto at = answers.copiesAsked.size() - 1;
            return at < answers.copies.size() ? answers.copies[at] : app::CopyAnswer{};
        };
        prompts.changedOnDisk = [this](QWidget*, const QString& what) {
            answers.changedAsked << what;
            return answers.changedOnDisk;
        };
        prompts.sure = [this](QWidget*, const QString& what) {
            answers.sureAsked << what;
            return answers.sure;
        };
        window = std::make_unique<app::MainWindow>(
            prompts, journalFolder.isEmpty() ? folder.path() + "/journal" : journalFolder, app::makeStations);
        window->resize(1280, 800);
        window->show();
        EXPECT_TRUE(QTest::qWaitForWindowExposed(window.get()));
        QApplication::setActiveWindow(window.get()); // there is no window manager under a virtual display
        settle();
    }

    Answers answers;
    QTemporaryDir folder;
    std::unique_ptr<app::MainWindow> window;

    [[nodiscard]] app::Session& session() { return window->session(); }
    [[nodiscard]] const model::Project& project() { return window->session().project(); }

    static bool waitFor(const std::function<bool()>& condition) { return QTest::qWaitFor(condition, kMostWaitMs); }
    /// Until the verdicts shown are those of the project shown and nothing runs any more.
    void settle() {
        EXPECT_TRUE(waitFor([&] { return session().isReportCurrent() && !window->jobs().isBusy(); }))
            << "the window does not come to rest";
        QCoreApplication::processEvents();
    }

    template <class T> T* find(const QString& name) {
        auto* found = window->findChild<T*>(name);
        EXPECT_TRUE(found) << name.toStdString();
        if (!found) throw std::runtime_error("no widget " + name.toStdString());
        return found;
    }
    [[nodiscard]] QString text(const QString& label) { return find<QLabel>(label)->text(); }

    /// Types into the part line and presses Enter, as a person does in Shape.
    void part(const QString& typed) {
        auto* line = find<QLineEdit>("partLine");
        line->setFocus();
        QTest::keyClicks(line, typed);
        QTest::keyClick(line, Qt::Key_Return);
    }
    void key(Qt::Key k, Qt::KeyboardModifiers modifiers = Qt::NoModifier) {
        QTest::keyClick(QApplication::focusWidget() ? QApplication::focusWidget() : window.get(), k, modifiers);
    }
    /// Into a line edit, replacing what is there.
    void type(const QString& field, const QString& typed) {
        auto* line = find<QLineEdit>(field);
        line->setFocus();
        line->selectAll();
        QTest::keyClicks(line, typed);
        QTest::keyClick(line, Qt::Key_Return);
    }
    void click(const QString& button) { QTest::mouseClick(find<QPushButton>(button), Qt::LeftButton); }

    [[nodiscard]] app::Sheet3d* sheet() {
        return window->station(window->currentStation())->findChild<app::Sheet3d*>("sheet3d");
    }
    /// Screen point of a part's middle in the present sheet.
    [[nodiscard]] QPoint screenOf(const model::PartId& id) {
        const auto spot = model::PartIndex(project()).find(id);
        const auto& part = model::getPart(project(), spot);
        return sheet()->toScreen(session().placed().X_WP(spot) * part.shape->bounds.centre()).toPoint();
    }
    [[nodiscard]] model::PartId partId(std::size_t section, std::size_t index) {
        return project().sections.at(section)->parts.at(index).id;
    }
    /// Row of the verdict slip that begins with a text; −1 when there is none.
    [[nodiscard]] int verdictRow(const QString& words) {
        auto* list = window->slip()->list();
        for (int row = 0; row < list->count(); ++row)
            if (list->item(row)->text().contains(words)) return row;
        return -1;
    }
    /// Opens the line of checks that pass, so that its findings are rows too.
    void openPassing() {
        const int row = verdictRow("pass");
        if (row < 0) return;
        auto* list = window->slip()->list();
        list->setCurrentRow(row);
        QTest::keyClick(list, Qt::Key_Right);
    }
    void pickVerdict(int row) {
        auto* list = window->slip()->list();
        list->scrollToItem(list->item(row));
        QTest::mouseClick(list->viewport(), Qt::LeftButton, {}, list->visualItemRect(list->item(row)).center());
        settle();
    }

    /// Fork and tongue in two sections, each with a brick, joined by the small hinge: six parts by typing alone.
    void buildGate() {
        part("plate 4x8 slate at 0 0 0");
        part("2x2 brick slate at 1 2 1");
        part("hinge fork slate at 1 2 4");
        QTest::keyClick(find<QLineEdit>("partLine"), Qt::Key_N, Qt::ControlModifier | Qt::ShiftModifier);
        part("hinge tongue reed at 0 0 0");
        part("brick 1x6 reed at 0 0 1");
        part("plate 1x2 reed at 0 4 4");
        session().select({partId(0, 2), partId(1, 0)});
        find<QLineEdit>("partLine")->setFocus();
        key(Qt::Key_J, Qt::ControlModifier);
        settle();
    }
};

} // namespace ivrant::test
