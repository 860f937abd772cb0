// SPDX-License-Identifier: GPL-3.0-or-later
// Walls, seats and a lid round a gear board: what would be put in, seen before it is.
#pragma once

#include <QCheckBox>
#include <QDialog>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QTableWidget>
#include <functional>

#include "app/stations/drive/board_widget.h"
#include "core/drive/board_walls.h"

namespace ivrant::app {

class WallsDialog : public QDialog {
    Q_OBJECT
public:
    /// `look`: what is known of the drive of a project whose sections lie as now.
    using Look = std::function<DriveStatePtr(std::shared_ptr<const model::Project>)>;
    WallsDialog(const model::Project& project, int board, Look look, QWidget* parent);

    [[nodiscard]] const drive::WallsPlan& plan() const { return m_plan; }

private:
    void replan();

    const model::Project& m_project;
    const int m_board;
    Look m_look;
    drive::WallsPlan m_plan;
    QLineEdit* m_heights;
    QCheckBox *m_walls, *m_seats, *m_lid;
    QTableWidget* m_parts;
    QLabel *m_sum, *m_notes;
    BoardWidget* m_picture;
    QPushButton* m_put = nullptr;
};

} // namespace ivrant::app
