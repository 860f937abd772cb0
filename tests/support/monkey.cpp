// SPDX-License-Identifier: GPL-3.0-or-later
#include "tests/support/monkey.h"

#include <QAction>
#include <QDialog>
#include <QDir>
#include <QFileDialog>
#include <QInputDialog>
#include <QMenu>
#include <QMessageBox>
#include <QPointer>
#include <algorithm>

#include "core/base/at.h"

namespace ivrant::test {
namespace {

constexpr int kDialogLookMs = 40;

QPoint pointIn(std::mt19937& random, const QWidget* widget) {
    std::uniform_int_distribution<int> x(0, std::max(0, widget->width() - 1)), y(0, std::max(0, widget->height() - 1));
    return {x(random), y(random)};
}

} // namespace

Monkey::Monkey(WindowRig& rig, const QString& folder, unsigned seed) : m_rig(rig), m_folder(folder), m_random(seed) {
    // Dialogs and menus run loops of their own: what is typed into them, or that they are given up, comes from a timer.
    // It is started anew before it answers, since an answer may open the next dialog, and a timer does not fire inside
    // itself.
    m_dialogs.setSingleShot(true);
    QObject::connect(&m_dialogs, &QTimer::timeout, [this] {
        m_dialogs.start();
        answerDialogs();
    });
    m_dialogs.start(kDialogLookMs);
}

Monkey::~Monkey() { m_dialogs.stop(); }

void Monkey::answerDialogs() {
    if (auto* popup = QApplication::activePopupWidget()) return (void)popup->close();
    auto* dialog = QApplication::activeModalWidget();
    if (!dialog) return;
    if (auto* input = qobject_cast<QInputDialog*>(dialog)) {
        static const QStringList kTexts{"", "7", "-3,5", "<b>&\"x\"</b>", "Neck 3", "λ ü", QString(300, 'w')};
        input->setTextValue(kTexts[pick(static_cast<int>(kTexts.size()))]);
        return pick(2) == 0 ? input->accept() : input->reject();
    }
    if (auto* file = qobject_cast<QFileDialog*>(dialog)) {
        if (pick(2) == 0 && file->acceptMode() == QFileDialog::AcceptSave) {
            file->setDirectory(m_folder);
            file->selectFile(QString("out%1").arg(pick(5)));
            if (auto* line = file->findChild<QLineEdit*>()) QTest::keyClick(line, Qt::Key_Return);
        }
        if (file->isVisible()) file->reject();
        return;
    }
    if (auto* plain = qobject_cast<QDialog*>(dialog)) return pick(2) == 0 ? plain->accept() : plain->reject();
    dialog->close();
}

QWidget* Monkey::somewhere() {
    QWidget* root = m_rig.window.get();
    auto all = root->findChildren<QWidget*>();
    all.erase(std::remove_if(all.begin(), all.end(),
                             [](const QWidget* w) { return !w->isVisible() || w->width() < 2 || w->height() < 2; }),
              all.end());
    return all.isEmpty() ? root : all[pick(static_cast<int>(all.size()))];
}

void Monkey::press() {
    static const std::vector<Qt::Key> kKeys{
        Qt::Key_Return, Qt::Key_Escape, Qt::Key_Delete, Qt::Key_Tab,  Qt::Key_Space, Qt::Key_Left,
        Qt::Key_Right,  Qt::Key_Up,     Qt::Key_Down,   Qt::Key_F8,   Qt::Key_F9,    Qt::Key_F10,
        Qt::Key_Home,   Qt::Key_End,    Qt::Key_PageUp, Qt::Key_Plus, Qt::Key_Minus, Qt::Key_Comma};
    static const std::vector<Qt::KeyboardModifiers> kModifiers{
        Qt::NoModifier,    Qt::NoModifier,  Qt::ControlModifier,
        Qt::ShiftModifier, Qt::AltModifier, Qt::ControlModifier | Qt::ShiftModifier};
    Qt::Key key = pick(2) == 0 ? ivrant::at(kKeys, pick(static_cast<int>(kKeys.size())))
                               : static_cast<Qt::Key>(Qt::Key_A + pick(26));
    if (pick(8) == 0) key = static_cast<Qt::Key>(Qt::Key_0 + pick(10));
    const auto modifiers = ivrant::at(kModifiers, pick(static_cast<int>(kModifiers.size())));
    if (key == Qt::Key_Q && modifiers.testFlag(Qt::ControlModifier)) return;
    m_last = "key " + QKeySequence(static_cast<int>(key) | static_cast<int>(modifiers)).toString().toStdString();
    QWidget* focus = QApplication::focusWidget();
    QTest::keyClick(focus ? focus : m_rig.window.get(), key, modifiers);
}

void Monkey::click() {
    QWidget* at = somewhere();
    m_last = "click " + at->objectName().toStdString() + " " + at->metaObject()->className();
    const auto button = pick(5) == 0 ? Qt::RightButton : Qt::LeftButton;
    const auto modifiers = pick(4) == 0 ? Qt::ControlModifier : Qt::NoModifier;
    const QPoint point = pointIn(m_random, at);
    pick(6) == 0 ? QTest::mouseDClick(at, Qt::LeftButton, modifiers, point)
                 : QTest::mouseClick(at, button, modifiers, point);
}

void Monkey::drag() {
    const QPointer<QWidget> at = somewhere(); // what is dragged may go away under the pointer
    m_last = "drag " + at->objectName().toStdString() + " " + at->metaObject()->className();
    QTest::mousePress(at, pick(3) == 0 ? Qt::RightButton : Qt::LeftButton, Qt::NoModifier, pointIn(m_random, at));
    for (int i = 0; i < 3 && at; ++i) QTest::mouseMove(at, pointIn(m_random, at));
    for (const auto button : {Qt::LeftButton, Qt::RightButton})
        if (at) QTest::mouseRelease(at, button, Qt::NoModifier, pointIn(m_random, at));
}

void Monkey::trigger() {
    auto actions = m_rig.window->findChildren<QAction*>();
    actions.erase(std::remove_if(actions.begin(), actions.end(),
                                 [](const QAction* a) {
                                     return !a->isEnabled() || a->menu() || a->text().isEmpty() || a->text() == "Quit";
                                 }),
                  actions.end());
    if (actions.isEmpty()) return;
    QAction* action = actions[pick(static_cast<int>(actions.size()))];
    m_last = "action " + action->text().toStdString();
    action->trigger();
}

void Monkey::openSomething() {
    const auto files = QDir(m_folder).entryList({"*.ivrant"}, QDir::Files);
    const QString file = files[pick(static_cast<int>(files.size()))];
    m_last = "open " + file.toStdString();
    (void)m_rig.window->openFile(m_folder + "/" + file);
}

void Monkey::everyTableAction() {
    auto tables = m_rig.window->findChildren<QTableWidget*>();
    if (tables.isEmpty()) return;
    auto* table = tables[pick(static_cast<int>(tables.size()))];
    for (QAction* action : table->actions()) {
        m_last = "table " + table->objectName().toStdString() + ": " + action->text().toStdString();
        action->trigger();
    }
}

void Monkey::act() {
    m_rig.answers.keepChanges = "ync"[pick(3)];
    m_rig.answers.changedOnDisk = "okc"[pick(3)];
    m_rig.answers.sure = pick(2) == 0;
    m_rig.answers.savePath =
        pick(4) == 0 ? QString() : m_folder + QString("/saved%1").arg(pick(3)) + (pick(2) == 0 ? ".ivrant" : "");
    const int what = pick(100);
    if (what < 42)
        press();
    else if (what < 70)
        click();
    else if (what < 80)
        drag();
    else if (what < 92)
        trigger();
    else if (what < 94)
        openSomething();
    else if (what < 96)
        everyTableAction();
    else if (what < 98)
        m_rig.window->resize(1100 + pick(500), 700 + pick(300));
    else
        m_rig.window->goStation(pick(m_rig.window->stationCount()));
    QCoreApplication::processEvents();
}

} // namespace ivrant::test
