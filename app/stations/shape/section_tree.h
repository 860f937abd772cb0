// SPDX-License-Identifier: GPL-3.0-or-later
// The tree of sections: who carries whom, by which joint, how many parts; and the steps of the section worked on.
#pragma once

#include <QLabel>
#include <QListWidget>
#include <QTreeWidget>

#include "app/shell/session.h"

namespace ivrant::app {

class SectionTree : public QWidget {
    Q_OBJECT
public:
    explicit SectionTree(Session& session, QWidget* parent = nullptr);
    [[nodiscard]] QTreeWidget* tree() { return m_tree; }
    /// Step picked in the list, 0 when none.
    [[nodiscard]] int currentStep() const;
    /// The section worked on gets another name, typed in its place.
    void editName();

signals:
    void nameTyped(); ///< or left as it was

private:
    void rebuild();
    void showCurrent();
    void showSteps();
    Session& m_session;
    QTreeWidget* m_tree;
    QListWidget* m_steps;
    QLabel* m_stepsTitle;
    bool m_filling = false;
};

} // namespace ivrant::app
