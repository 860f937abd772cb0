// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/shell/safe_application.h"

#include <cstdio>
#include <exception>

namespace ivrant::app {

bool SafeApplication::notify(QObject* receiver, QEvent* event) {
    try {
        return QApplication::notify(receiver, event);
    } catch (const std::exception& e) {
        tell(QString::fromUtf8(e.what()));
    } catch (...) {
        tell("an unknown error");
    }
    return true; // dealt with: nobody else is asked
}

void SafeApplication::tell(const QString& what) {
    fprintf(stderr, "ivrant: %s\n", qPrintable(what));
    if (m_onFailure) m_onFailure(what);
}

} // namespace ivrant::app
