// SPDX-License-Identifier: GPL-3.0-or-later
// The row of views above a 3-D sheet: corner, front, side, top, back, fit.
#pragma once

#include <QToolButton>

#include "app/sheet3d/sheet3d.h"
#include "app/shell/flow_layout.h"

namespace ivrant::app {

class ViewBar : public QWidget {
    Q_OBJECT
public:
    explicit ViewBar(Sheet3d& sheet, QWidget* parent = nullptr);
    /// Appends a command as a button.
    QToolButton* add(QAction* action);

private:
    FlowLayout* m_layout;
};

} // namespace ivrant::app
