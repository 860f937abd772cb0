// SPDX-License-Identifier: GPL-3.0-or-later
// Two joints: which positions of both are free together. The first is the current joint.
#pragma once

#include <QLabel>

#include "app/charts/joint_map.h"
#include "app/stations/pose/pose_tab.h"

namespace ivrant::app {

class MapTab : public PoseTab {
    Q_OBJECT
public:
    MapTab(Session& session, QWidget* parent);
    [[nodiscard]] JointMap* chart() { return m_chart; }

protected:
    void refresh() override;

private:
    void take(double first, double second);
    void save();
    JointMap* m_chart;
    QComboBox* m_second;
    void showText(const QString& text);
    QLabel* m_text;
    Live<pose::TwoJointMap> m_live;
    pose::FreedomRef m_shownFirst, m_shownSecond;
    bool m_chosen = false; ///< the person picked the second joint
};

} // namespace ivrant::app
