// SPDX-License-Identifier: GPL-3.0-or-later
// What happens to files: opened, saved, kept beside what another program wrote, recovered; nothing is lost unasked.
#pragma once

#include "app/shell/prompts.h"
#include "app/shell/session.h"

namespace ivrant::app {

class Documents : public QObject {
    Q_OBJECT
public:
    /// Questions are put over `window`, which owns this.
    Documents(Session& session, Prompts prompts, QWidget* window);

    /// True when unsaved changes were saved, or may go.
    bool mayDrop();
    void newModel();
    /// A copy of a file, without its name, to go on from.
    void beginFrom(const QString& path);
    /// Asks for unsaved changes first. A copy of an earlier run that was taken up is unsaved work like any other.
    bool openFile(const QString& path);
    bool openAsked(); ///< asks which
    bool save();
    bool saveAs();
    /// The model as a text of commands; asks where.
    bool exportScript();
    /// A new model from such a text; asks which.
    bool buildAsked();
    /// How the program begins: offers what earlier runs left unsaved, then opens the file named, if any.
    void begin(const QString& path);
    /// Offers what earlier runs left unsaved; true when one of them was opened.
    bool offerJournals();
    /// Newest first.
    [[nodiscard]] static QStringList listRecent();

signals:
    void begun();              ///< a model to go on with, from nothing or from a template
    void startWanted(bool on); ///< nothing is open

private:
    bool saveBoth();
    void rememberRecent(const QString& path);

    Session& m_session;
    Prompts m_prompts;
    QWidget* m_window;
};

} // namespace ivrant::app
