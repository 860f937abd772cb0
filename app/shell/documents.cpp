// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/shell/documents.h"

#include <QDateTime>
#include <QFileInfo>
#include <QSettings>
#include <QWidget>

#include "core/base/at.h"
#include "core/files/atomic_file.h"
#include "core/files/project_file.h"
#include "core/script/script.h"
#include "core/script/script_export.h"

namespace ivrant::app {
namespace {
constexpr int kMostRecent = 8;
}

Documents::Documents(Session& session, Prompts prompts, QWidget* window)
    : QObject(window), m_session(session), m_prompts(std::move(prompts)), m_window(window) {}

bool Documents::openAsked() {
    const QString path = m_prompts.openPath(m_window);
    return !path.isEmpty() && openFile(path);
}

QStringList Documents::listRecent() { return QSettings().value("recent").toStringList(); }

bool Documents::mayDrop() {
    if (!m_session.isModified()) return true;
    const char answer = m_prompts.keepChanges(m_window);
    return answer == 'n' || (answer == 'y' && save());
}

bool Documents::save() {
    if (m_session.path().isEmpty()) return saveAs();
    if (m_session.isChangedOnDisk()) {
        const QString when = QFileInfo(m_session.path()).lastModified().toString("yyyy-MM-dd HH:mm:ss");
        switch (m_prompts.changedOnDisk(
            m_window, "'" + m_session.path() + "' was changed by another window or program at " + when +
                          ".\nKeep both (yours under a new name), or replace it with yours?")) {
        case 'k': return saveBoth();
        case 'o': break;
        default: return false;
        }
    }
    return m_session.save(m_session.path());
}

/// Under the first name beside the file that is free.
bool Documents::saveBoth() {
    const QFileInfo info(m_session.path());
    QString path;
    for (int n = 1; path.isEmpty() || QFileInfo::exists(path); ++n)
        path = info.path() + "/" + info.completeBaseName() + QString(" (mine %1).ivrant").arg(n);
    if (!m_session.save(path)) return false;
    rememberRecent(path);
    m_session.say("Saved as " + path);
    return true;
}

bool Documents::saveAs() {
    const QString name = QString::fromStdString(m_session.project().name) + ".ivrant";
    QString path = m_prompts.savePath(m_window, m_session.origin().isEmpty() ? name : m_session.origin());
    if (path.isEmpty()) return false;
    if (!path.endsWith(".ivrant")) {
        path += ".ivrant";
        if (QFileInfo::exists(path) && !m_prompts.sure(m_window, "'" + path + "' is there already. Replace it?"))
            return false;
    }
    if (path == m_session.path()) return save(); // it may have changed meanwhile
    if (!m_session.save(path)) return false;
    rememberRecent(path);
    return true;
}

bool Documents::exportScript() {
    const QString path = m_prompts.scriptPath(m_window, true);
    if (path.isEmpty()) return false;
    const auto saved = files::writeFileAtomically(path.toStdString(), script::writeScript(m_session.project()));
    m_session.say(saved ? "Written to " + path : QString::fromStdString(saved.error().message), !saved);
    return saved.ok();
}

bool Documents::buildAsked() {
    if (!mayDrop()) return false;
    const QString path = m_prompts.scriptPath(m_window, false);
    if (path.isEmpty()) return false;
    const auto text = files::readFile(path.toStdString(), script::kMostBytes);
    const auto project = text ? script::runScript(*text) : base::Result<model::Project>(text.error());
    if (!project) {
        m_session.say(QString::fromStdString(project.error().message + " (" + project.error().place + ")"), true);
        return false;
    }
    m_session.reset(*project, "", true);
    emit begun();
    return true;
}

bool Documents::openFile(const QString& path) {
    if (!mayDrop() || !m_session.load(path)) return false;
    rememberRecent(QFileInfo(path).absoluteFilePath());
    return true;
}

void Documents::begin(const QString& path) {
    const bool recovered = offerJournals();
    if (path.isEmpty()) return emit startWanted(!recovered);
    if (!recovered) return (void)openFile(path);
    rememberRecent(QFileInfo(path).absoluteFilePath());
    m_session.warn(
        "'" + QFileInfo(path).fileName() +
        "' was not opened, as recovered work is open here that is not saved yet. Save it, then open the file.");
}

bool Documents::offerJournals() {
    for (;;) {
        const auto copies = files::findJournals(m_session.journalFolder().toStdString());
        if (copies.empty()) return false;
        QStringList lines;
        for (const auto& entry : copies)
            lines << "'" + QString::fromStdString(entry.project.name) + "', " +
                         QString::number(entry.project.partCount()) + " parts, kept " +
                         QDateTime::fromSecsSinceEpoch(entry.savedAtS).toString("yyyy-MM-dd HH:mm:ss") + ", " +
                         (entry.projectPath.empty() ? QString("never saved")
                                                    : QString::fromStdString(entry.projectPath));
        const CopyAnswer answer = m_prompts.copies(m_window, lines);
        if (answer.what == CopyAnswer::What::Later || answer.row < 0 || answer.row >= lines.size()) return false;
        const auto& chosen = at(copies, answer.row);
        if (answer.what == CopyAnswer::What::Discard) {
            if (!files::discardJournal(chosen.file))
                return m_session.warn("The copy could not be removed: " + QString::fromStdString(chosen.file)), false;
            continue;
        }
        if (!mayDrop()) return false;
        m_session.restore(chosen);
        // The old copy goes only when the new one is on the disk.
        if (m_session.keepCopyNow()) (void)files::discardJournal(chosen.file);
        return true;
    }
}

void Documents::newModel() {
    if (!mayDrop()) return;
    m_session.reset(model::makeEmptyProject("New model"), "", false);
    emit begun();
}

void Documents::beginFrom(const QString& path) {
    auto frame = files::loadProject(path.toStdString());
    if (!frame) return m_session.warn("Not opened: " + QString::fromStdString(frame.error().message));
    if (!mayDrop()) return;
    m_session.reset(std::move(frame).value(), "", false);
    emit begun();
}

void Documents::rememberRecent(const QString& path) {
    QStringList recent = QSettings().value("recent").toStringList();
    recent.removeAll(path);
    recent.prepend(path);
    QSettings().setValue("recent", QStringList(recent.mid(0, kMostRecent)));
}

} // namespace ivrant::app
