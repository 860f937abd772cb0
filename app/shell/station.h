// SPDX-License-Identifier: GPL-3.0-or-later
// What every station offers to the window.
#pragma once

#include <QAction>
#include <QWidget>

#include "app/shell/session.h"

namespace ivrant::app {

class Station : public QWidget {
    Q_OBJECT
public:
    using QWidget::QWidget;
    /// Name on the rail, and the verdicts it counts.
    [[nodiscard]] virtual QString title() const = 0;
    [[nodiscard]] virtual verdict::Station kind() const = 0;
    /// Its place in the order of work, 1 to 7: Ctrl with that number goes there.
    [[nodiscard]] virtual int number() const = 0;
    /// What the keys do here, for the line at the foot.
    [[nodiscard]] virtual QString keysText() const = 0;
    /// Commands of this station: in its menu and in the ask field.
    [[nodiscard]] virtual QList<QAction*> commands() const { return actions(); }
    /// Goes to the place of a verdict.
    virtual void goTo(const verdict::Place& place) = 0;
    /// The widget that takes the keys when the station is shown.
    [[nodiscard]] virtual QWidget* focusTarget() { return this; }

signals:
    void keysChanged();
};

/// Adds a command with shortcut and tooltip to a widget and returns it.
template <class Slot> QAction* addCommand(QWidget* owner, const QString& text, const QKeySequence& keys, Slot slot) {
    auto* action = new QAction(text, owner);
    action->setShortcut(keys);
    action->setShortcutContext(Qt::WidgetWithChildrenShortcut);
    action->setToolTip(keys.isEmpty() ? text : text + " (" + keys.toString(QKeySequence::NativeText) + ")");
    QObject::connect(action, &QAction::triggered, owner, slot);
    owner->addAction(action);
    return action;
}

} // namespace ivrant::app
