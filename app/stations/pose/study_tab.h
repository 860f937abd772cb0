// SPDX-License-Identifier: GPL-3.0-or-later
// Further studies, one at a time: where a section's tip gets to, turning past, what shows at a joint, what a cover
// costs, the way to another pose.
#pragma once

#include <QLabel>
#include <QPushButton>
#include <QStackedWidget>
#include <QTableWidget>

#include "app/shell/table_tools.h"
#include "app/stations/pose/pose_tab.h"
#include "core/pose/reach.h"

namespace ivrant::app {

class StudyTab : public PoseTab {
    Q_OBJECT
public:
    StudyTab(Session& session, QWidget* parent);
    /// Points to draw in the sheet: where the tip has been, in the frame of the roots.
    [[nodiscard]] const std::vector<geometry::Vec3>& cloud() const { return m_cloud; }

protected:
    void refresh() override;

private:
    enum Study { Reach, Turn, Gaps, Covers, Path };
    struct Result {
        QString text;
        QStringList heads;
        std::vector<TableRow> rows;
        std::vector<geometry::Vec3> cloud;
        std::vector<std::pair<QString, pose::JointValues>> offers; ///< poses that a button takes
    };
    using Work = std::function<Result(const PoseSnapshot&, base::Progress&)>;
    [[nodiscard]] Work makeReach() const;
    [[nodiscard]] Work makeTurn() const;
    [[nodiscard]] Work makeGaps() const;
    [[nodiscard]] Work makeCovers() const;
    [[nodiscard]] Work makePath() const;
    void fillOther();
    void show(Result result);
    QComboBox *m_study, *m_other;
    QLabel *m_otherLabel, *m_text;
    QTableWidget* m_table;
    QWidget* m_buttons;
    Live<Result> m_live;
    std::vector<geometry::Vec3> m_cloud;
};

} // namespace ivrant::app
