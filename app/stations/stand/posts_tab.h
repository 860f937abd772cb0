// SPDX-License-Identifier: GPL-3.0-or-later
// Posts of the base: those that the project has, where more of them would help, kept and taken away.
#pragma once

#include <QLabel>
#include <QPushButton>
#include <QTableWidget>

#include "app/stations/stand/stand_tab.h"
#include "core/study/post_check.h"

namespace ivrant::app {

class PostsTab : public StandTab {
    Q_OBJECT
public:
    PostsTab(Session& session, QWidget* parent);
    void forget() override;
    /// The chosen place gets a post, the chosen post goes.
    void keep();
    void drop();
    /// Also what is not looked for by itself, as the model is large.
    void look();
    void drawOverlay(QPainter& painter, const Sheet3d& sheet) const override;

protected:
    void refresh() override;

private:
    struct Row { ///< a post that the project has, or a place for one
        QString text;
        geometry::Vec3 top; ///< world
        std::optional<model::PartSpot> part;
        model::PostId kept; ///< empty: a place for one
    };
    void show(const study::PostDesign& design);
    void choose();
    [[nodiscard]] const Row* chosen() const;

    QLabel* m_about;
    QTableWidget* m_table;
    QPushButton *m_keep, *m_drop;
    std::vector<Row> m_rows;
    Live<study::PostDesign> m_live;
};

/// The posts of the base as the model stands there: carrying, in the way, or idle.
void drawPosts(QPainter& painter, const Sheet3d& sheet, const model::Placed& placed);

} // namespace ivrant::app
