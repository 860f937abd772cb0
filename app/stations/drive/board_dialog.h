// SPDX-License-Identifier: GPL-3.0-or-later
// Where a gear board is in the model, in which step it is built, which walls carry its shafts.
#pragma once

#include <QComboBox>
#include <QDialog>
#include <QLabel>
#include <QLineEdit>
#include <QSpinBox>

#include "core/model/project.h"

namespace ivrant::app {

class BoardDialog : public QDialog {
    Q_OBJECT
public:
    BoardDialog(const model::Project& project, int board, QWidget* parent = nullptr);

    /// The changed board; whole after the dialog was accepted.
    [[nodiscard]] const model::Board& board() const { return m_board; }

private:
    void take();
    void fillAttitudes();

    model::Board m_board;
    QLineEdit *m_name, *m_at, *m_walls;
    QComboBox *m_section, *m_attitude, *m_carrier, *m_colour;
    QSpinBox* m_step;
    QLabel* m_wrong;
};

} // namespace ivrant::app
