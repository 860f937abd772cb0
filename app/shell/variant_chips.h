// SPDX-License-Identifier: GPL-3.0-or-later
// The variants of the model as chips beside its name: a click shows one, right click renames or removes, + makes
// another.
#pragma once

#include <QWidget>

#include "app/shell/session.h"

namespace ivrant::app {

class VariantChips : public QWidget {
    Q_OBJECT
public:
    VariantChips(Session& session, QWidget* parent);
    void addNew();

private:
    void rebuild();
    void menu(const model::VariantId& id, QPoint at);
    Session& m_session;
    std::vector<std::pair<std::string, bool>>
        m_shown; ///< what the chips say, so that they are made anew only when it changes
};

} // namespace ivrant::app
