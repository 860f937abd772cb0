// SPDX-License-Identifier: GPL-3.0-or-later
// Strings, bands and springs: typed as a line of words or clicked guide by guide, with what each does in every pose.
#pragma once

#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QTableWidget>

#include "app/sheet3d/sheet3d.h"
#include "app/stations/pose/pose_tab.h"
#include "core/study/strands.h"

class QPainter;

namespace ivrant::app {

class LinesTab : public PoseTab {
    Q_OBJECT
public:
    LinesTab(Session& session, QWidget* parent);

    /// Marks the line that a verdict is about; false: it is about none.
    bool goTo(const verdict::Place& place);
    /// A click on a part while guides are clicked: it is one more. False: the click is somebody else's.
    bool take(const PickHit& hit);
    /// The chosen line over everything, its guides numbered.
    void draw(QPainter& painter, const Sheet3d& sheet) const;

protected:
    void refresh() override;

private:
    [[nodiscard]] const model::Line* line() const;
    [[nodiscard]] std::shared_ptr<const study::StrandStudy> study(const model::LineId& id) const;
    void enter();
    void remove();
    void count(int by);
    void showChosen();
    void fillPoses();

    QLineEdit* m_typed;
    QPushButton *m_click, *m_new, *m_remove, *m_more, *m_less;
    QLabel* m_told;
    QTableWidget *m_lines, *m_poses;
    model::LineId m_editing; ///< the line that the field tells; empty: a new one
    bool m_filling = false;
};

} // namespace ivrant::app
