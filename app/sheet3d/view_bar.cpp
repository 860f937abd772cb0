// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/sheet3d/view_bar.h"

namespace ivrant::app {
namespace {
constexpr double kTurnRad = 0.2618; // 15°
constexpr double kZoom = 0.8;
} // namespace

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
    // By keys alone too, whatever has the focus.
    const auto key = [&](const QString& text, const char* keys, auto what) {
        auto* action = new QAction(text, this);
        action->setShortcut(QKeySequence(keys));
        connect(action, &QAction::triggered, this, what);
        addAction(action);
    };
    key("Turn the view left", "Alt+Left", [&sheet] { sheet.turn(kTurnRad, 0); });
    key("Turn the view right", "Alt+Right", [&sheet] { sheet.turn(-kTurnRad, 0); });
    key("Turn the view up", "Alt+Up", [&sheet] { sheet.turn(0, kTurnRad); });
    key("Turn the view down", "Alt+Down", [&sheet] { sheet.turn(0, -kTurnRad); });
    key("Nearer", "Alt+PgUp", [&sheet] { sheet.zoom(kZoom, sheet.rect().center()); });
    key("Further away", "Alt+PgDown", [&sheet] { sheet.zoom(1 / kZoom, sheet.rect().center()); });
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
