// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/shell/focus_mark.h"

#include <QApplication>
#include <QFocusEvent>

namespace ivrant::app {

FocusMark::FocusMark(QWidget* window) : QObject(window), m_window(window), m_frame(new QFocusFrame(window)) {
    m_frame->setObjectName("focusMark");
    qApp->installEventFilter(this);
}

bool FocusMark::eventFilter(QObject* watched, QEvent* event) {
    const auto type = event->type();
    if (type == QEvent::MouseButtonPress && m_frame->widget()) m_frame->setWidget(nullptr);
    if (type != QEvent::FocusIn && type != QEvent::FocusOut) return false;
    auto* widget = qobject_cast<QWidget*>(watched);
    if (!widget || widget->window() != m_window) return false;
    const auto reason = static_cast<QFocusEvent*>(event)->reason();
    const bool byKeys = reason == Qt::TabFocusReason || reason == Qt::BacktabFocusReason;
    if (type == QEvent::FocusIn && byKeys)
        m_frame->setWidget(widget);
    else if (m_frame->widget() == widget || type == QEvent::FocusIn)
        m_frame->setWidget(nullptr);
    return false;
}

} // namespace ivrant::app
