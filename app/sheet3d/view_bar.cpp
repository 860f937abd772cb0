// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/sheet3d/view_bar.h"

namespace ivrant::app {

ViewBar::ViewBar(Sheet3d& sheet, QWidget* parent) : QWidget(parent), m_layout(new FlowLayout(this, 2)) {
    m_layout->setContentsMargins(8, 2, 8, 2);
    const auto view = [&](const QString& text, const QKeySequence& keys, render::View v) {
        auto* action = new QAction(text, this);
        action->setShortcut(keys);
        action->setToolTip(text + " view (" + keys.toString() + ")");
        connect(action, &QAction::triggered, this, [&sheet, v] { sheet.look(v); });
        add(action);
    };
    view("Corner", QKeySequence("Alt+1"), render::View::Corner);
    view("Front", QKeySequence("Alt+2"), render::View::Front);
    view("Side", QKeySequence("Alt+3"), render::View::Side);
    view("Top", QKeySequence("Alt+4"), render::View::Top);
    view("Back", QKeySequence("Alt+5"), render::View::Back);
    auto* fit = new QAction("Fit", this);
    fit->setShortcut(QKeySequence("Alt+0"));
    fit->setToolTip("Show the whole model (Alt+0)");
    connect(fit, &QAction::triggered, this, [&sheet] { sheet.fit(); });
    add(fit);
}

QToolButton* ViewBar::add(QAction* action) {
    auto* button = new QToolButton(this);
    button->setDefaultAction(action);
    button->setProperty("flat2", true);
    button->setFocusPolicy(Qt::TabFocus);
    button->setAccessibleName(action->text());
    m_layout->addWidget(button);
    return button;
}

} // namespace ivrant::app
