// SPDX-License-Identifier: GPL-3.0-or-later
// What happens when something inside the program goes wrong in an event: the window and the document stay, and the
// person is told.
#pragma once

#include <QApplication>
#include <functional>

namespace ivrant::app {

class SafeApplication : public QApplication {
    Q_OBJECT
public:
    using QApplication::QApplication;

    /// Told what an exception said that nobody caught; replaces whoever was told before. The event it came from is
    /// given up, the program goes on.
    void setOnFailure(std::function<void(const QString& what)> onFailure) { m_onFailure = std::move(onFailure); }
    bool notify(QObject* receiver, QEvent* event) override;

private:
    void tell(const QString& what);
    std::function<void(const QString&)> m_onFailure;
};

} // namespace ivrant::app
