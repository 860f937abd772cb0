// SPDX-License-Identifier: GPL-3.0-or-later
// Which choices need or exclude each other: the list of rules, and a line to add one.
#pragma once

#include <QComboBox>
#include <QListWidget>
#include <QPushButton>

#include "app/shell/session.h"

namespace ivrant::app {

class OptionRules : public QWidget {
    Q_OBJECT
public:
    OptionRules(Session& session, QWidget* parent);
    /// As the project has them now.
    void refresh();

private:
    void add();
    void remove();
    [[nodiscard]] QString nameOf(const model::AlternativeId& id) const;

    Session& m_session;
    QListWidget* m_list;
    QComboBox *m_first, *m_how, *m_second;
    QPushButton *m_add, *m_remove;
};

} // namespace ivrant::app
