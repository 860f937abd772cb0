// SPDX-License-Identifier: GPL-3.0-or-later
// What every study below Pose's sheet has in common.
#pragma once

#include <QComboBox>

#include "app/shell/live.h"
#include "app/shell/station_tab.h"

namespace ivrant::app {

/// A snapshot that a study works on by itself, on any thread.
struct PoseSnapshot {
    std::shared_ptr<const model::Project> project;
    model::SectionTree tree;
    std::vector<bonds::SectionBondsPtr> bonds;
    model::Stance stance;
    pose::JointValues values;
    [[nodiscard]] pose::RangeContext context() const { return pose::makeRangeContext(*project, tree, bonds); }
};

class PoseTab : public StationTab {
    Q_OBJECT
public:
    using StationTab::StationTab;

protected:
    [[nodiscard]] PoseSnapshot snapshot() const;
    /// Sets several joints of the model, as one entry of the undo list.
    void takeValues(const QString& name, const pose::JointValues& values);
    [[nodiscard]] int currentJoint() const { return m_session.project().findJoint(m_session.currentJoint()); }
    /// Fills a box with the joints' names, keeping the choice where it can.
    void fillJoints(QComboBox* box) const;
    [[nodiscard]] QString jointName(int joint) const;
};

} // namespace ivrant::app
