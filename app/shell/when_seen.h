// SPDX-License-Identifier: GPL-3.0-or-later
// Work that a hidden widget puts off until it is shown: several calls meanwhile become one.
#pragma once

#include <QEvent>
#include <QWidget>
#include <functional>

namespace ivrant::app {

class WhenSeen : public QObject {
public:
    /// Owned by the widget that has to be seen.
    WhenSeen(QWidget* widget, std::function<void()> work) : QObject(widget), m_widget(widget), m_work(std::move(work)) {
        widget->installEventFilter(this);
    }
    void ask() {
        m_due = !m_widget->isVisible();
        if (!m_due) m_work();
    }

protected:
    bool eventFilter(QObject* /*watched*/, QEvent* event) override {
        if (event->type() == QEvent::Show && m_due) {
            m_due = false;
            m_work();
        }
        return false;
    }

private:
    QWidget* m_widget;
    std::function<void()> m_work;
    bool m_due = false;
};

/// A slot for signals of the session that does `work` when `widget` is seen.
[[nodiscard]] inline std::function<void()> whenSeen(QWidget* widget, std::function<void()> work) {
    auto* later = new WhenSeen(widget, std::move(work));
    return [later] { later->ask(); };
}

} // namespace ivrant::app
