// SPDX-License-Identifier: GPL-3.0-or-later
// A study of a station: worked out in the background, and only while it is looked at.
#pragma once

#include <QWidget>

#include "app/shell/session.h"

namespace ivrant::app {

class StationTab : public QWidget {
    Q_OBJECT
public:
    StationTab(Session& session, QWidget* parent) : QWidget(parent), m_session(session) {}
    /// What it shows is out of date: worked out anew if it is looked at, else when it is looked at next.
    void outdate() {
        m_stale = true;
        if (isVisible()) refreshNow();
    }

signals:
    void overlayChanged(); ///< what it draws over the sheet of its station is another

protected:
    void showEvent(QShowEvent* event) override {
        QWidget::showEvent(event);
        if (m_stale) refreshNow();
    }
    virtual void refresh() = 0;

    Session& m_session;

private:
    void refreshNow() {
        m_stale = false;
        refresh();
    }
    bool m_stale = true;
};

} // namespace ivrant::app
