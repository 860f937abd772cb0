// SPDX-License-Identifier: GPL-3.0-or-later
// The window's menus, the recent files, and what the command field can reach.
#include <QCoreApplication>
#include <QDir>
#include <QFileInfo>
#include <QInputDialog>
#include <QMenuBar>
#include <QMessageBox>
#include <QTabWidget>

#include "app/shell/main_window.h"
#include "app/shell/plain_labels.h"
#include "app/shell/theme.h"
#include "app/shell/variant_chips.h"

#include "core/base/at.h"

namespace ivrant::app {
namespace {
/// Projects that come with the program, installed or beside its sources.
QStringList listShipped(const QString& kind) {
    QStringList paths;
    const QString here = QCoreApplication::applicationDirPath();
    for (const QString& folder :
         {here + "/../share/ivrant/" + kind, here + "/../data/" + kind, QString(IVRANT_DATA_DIR "/") + kind}) {
        for (const QFileInfo& file : QDir(folder).entryInfoList({"*.ivrant"}, QDir::Files))
            paths << file.absoluteFilePath();
        if (!paths.isEmpty()) break;
    }
    return paths;
}
} // namespace

void MainWindow::makeMenus() {
    const auto add = [&](QMenu* menu, const QString& text, const QKeySequence& keys, auto slot) {
        auto* action = menu->addAction(text);
        action->setShortcut(keys);
        connect(action, &QAction::triggered, this, slot);
        addAction(action);
        return action;
    };
    QMenu* file = menuBar()->addMenu("&File");
    add(file, "New", QKeySequence::New, [this] { m_documents->newModel(); });
    add(file, "Start sheet", {}, [this] { showStart(true); });
    add(file, "Open …", QKeySequence::Open, [this] { m_documents->openAsked(); });
    m_recent = file->addMenu("Open recent");
    QMenu* demo = file->addMenu("Open demo");
    connect(demo, &QMenu::aboutToShow, this, [this, demo] {
        demo->clear();
        for (const QString& path : listShipped("demo"))
            demo->addAction(QFileInfo(path).baseName(), this, [this, path] { openFile(path); });
    });
    add(file, "Save", QKeySequence::Save, [this] { m_documents->save(); });
    add(file, "Save as …", QKeySequence("Ctrl+Shift+S"), [this] { m_documents->saveAs(); });
    add(file, "Build from a script …", {}, [this] { m_documents->buildAsked(); });
    add(file, "Export as script …", {}, [this] { m_documents->exportScript(); });
    add(file, "Unsaved work of earlier runs …", {}, [this] {
        if (files::findJournals(m_session.journalFolder().toStdString()).empty())
            return m_session.say("Nothing unsaved was left by earlier runs");
        m_documents->offerJournals();
    });
    file->addSeparator();
    add(file, "Quit", QKeySequence::Quit, [this] { close(); });
    QMenu* edit = menuBar()->addMenu("&Edit");
    add(edit, "Undo", QKeySequence::Undo, [this] { m_session.undo(); });
    add(edit, "Redo", QKeySequence("Ctrl+Shift+Z"), [this] { m_session.redo(); });
    add(edit, "Rename model …", {}, [this] {
        const QString name = QInputDialog::getText(this, "Rename model", "Name", QLineEdit::Normal,
                                                   QString::fromStdString(m_session.project().name));
        if (!name.isEmpty())
            m_session.apply("Rename model",
                            [&](const model::Project& p) { return model::renameProject(p, name.toStdString()); });
    });
    add(edit, "New variant …", QKeySequence("Ctrl+Alt+N"), [this] { m_variants->addNew(); });
    add(edit, "Build rules: only clean connections", {}, [this] { setRules(model::BuildRules::Strict); });
    add(edit, "Build rules: friction allowed, as for display", {}, [this] { setRules(model::BuildRules::Display); });
    QMenu* view = menuBar()->addMenu("&View");
    for (int i = 0; i < stationCount(); ++i)
        add(view, at(m_stations, i)->title(), QKeySequence(QString("Ctrl+%1").arg(at(m_stations, i)->number())),
            [this, i] { goStation(i); });
    add(view, "Ask", QKeySequence("Ctrl+K"), [this] { m_commands->setFocus(Qt::ShortcutFocusReason); });
    add(view, "Joints as they are set", QKeySequence("Ctrl+."), [this] { m_session.lookAway(); });
    add(edit, "Set the joints as they are seen", QKeySequence("Ctrl+Alt+J"), [this] { m_session.setAsSeen(); });
    add(view, "Fold the verdict slip", QKeySequence("F8"), [this] { m_slip->setVisible(!m_slip->isVisible()); });
    add(view, "Studs or millimetres", QKeySequence("F9"), [this] { m_unit->click(); });
    constexpr double kScaleStep = 0.1;
    add(view, "Larger text", QKeySequence::ZoomIn, [this] { setTextScale(theme().scale + kScaleStep); });
    add(view, "Smaller text", QKeySequence::ZoomOut, [this] { setTextScale(theme().scale - kScaleStep); });
    add(view, "Text of the usual size", QKeySequence("Ctrl+0"), [this] { setTextScale(1); });
    add(view, "Light or dark", QKeySequence("F10"), [this] { setDark(!theme().dark); });
    m_stationMenu = menuBar()->addMenu("&Station");
    connect(m_recent, &QMenu::aboutToShow, this, &MainWindow::fillRecent);
    QMenu* help = menuBar()->addMenu("&Help");
    add(help, "Cautions", {}, [this] {
        QMessageBox::information(
            this, "Cautions",
            "Small parts can be swallowed: keep them from children under three.\nA model that can tip needs a stand, "
            "fixing or a barrier "
            "on show; venue and local rules and a qualified person decide.\n"
            "Joint and mass numbers are starting values that nobody has measured, unless a verdict says 'measured'.");
    });
    add(help, "About Ivrant", {}, [this] {
        QMessageBox::about(this, "Ivrant",
                           "Ivrant " IVRANT_VERSION "\nEngineering bench for posable figures in stud bricks.\nFree "
                           "software under the GNU GPL, version 3 or later.");
    });
}

void MainWindow::showStart(bool on) {
    if (on == m_start->isVisibleTo(centralWidget()) && !on) return;
    if (on) {
        QStringList recent = Documents::listRecent();
        recent.removeIf([](const QString& path) { return !QFileInfo(path).isFile(); });
        m_start->fill(recent, listShipped("demo/templates"), listShipped("demo"));
    }
    m_start->setVisible(on);
    m_stack->setVisible(!on);
    m_slip->setVisible(!on);
    m_railGroup->setExclusive(!on);
    at(m_railButtons, currentStation())->setChecked(!on);
    if (on) {
        showKeys("Tab and arrows choose · Enter opens · Ctrl+1 to Ctrl+7 lead to the stations of an empty model");
        m_start->setFocus();
    } else {
        showKeys(at(m_stations, currentStation())->keysText());
    }
}

void MainWindow::fillRecent() {
    m_recent->clear();
    for (const QString& path : Documents::listRecent())
        m_recent->addAction(buttonText(path), this, [this, path] { openFile(path); });
    if (m_recent->isEmpty()) m_recent->addAction("none yet")->setEnabled(false);
}

std::vector<CommandEntry> MainWindow::commandEntries() {
    std::vector<CommandEntry> entries;
    fillPlaces(entries);
    const auto addAll = [&](const QList<QAction*>& actions, int station, const QString& prefix) {
        for (QAction* action : actions) {
            if (action->text().isEmpty() || action->menu()) continue;
            entries.push_back({prefix + QString(action->text()).remove('&'),
                               action->shortcut().toString(QKeySequence::NativeText), [this, action, station] {
                                   if (station >= 0) goStation(station);
                                   action->trigger();
                               }});
        }
    };
    for (int i = 0; i < stationCount(); ++i)
        addAll(at(m_stations, i)->commands(), i, at(m_stations, i)->title() + ": ");
    addAll(actions(), -1, "");
    return entries;
}

void MainWindow::fillPlaces(std::vector<CommandEntry>& entries) {
    const auto go = [this](int station, const verdict::Place& place) {
        goStation(station);
        at(m_stations, station)->goTo(place);
    };
    const int pose = indexOf(verdict::Station::Pose), shape = indexOf(verdict::Station::Shape);
    for (const auto& joint : m_session.project().joints) {
        verdict::Place place;
        place.joint = joint.id;
        entries.push_back(
            {"range of " + QString::fromStdString(joint.name), "", [go, pose, place] { go(pose, place); }});
    }
    for (const auto& named : m_session.project().poses) {
        verdict::Place place;
        place.pose = named.id;
        entries.push_back({"pose " + QString::fromStdString(named.name), "", [go, pose, place] { go(pose, place); }});
    }
    for (const auto& section : m_session.project().sections) {
        verdict::Place place;
        place.section = section->id;
        entries.push_back(
            {"go " + QString::fromStdString(section->name), "", [go, shape, place] { go(shape, place); }});
    }
    entries.push_back({"parts list", "", [this] {
                           goStation(indexOf(verdict::Station::Make));
                           if (auto* tabs = m_stack->currentWidget()->findChild<QTabWidget*>())
                               tabs->setCurrentIndex(1);
                       }});
}

} // namespace ivrant::app
