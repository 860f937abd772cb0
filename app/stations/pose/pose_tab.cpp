// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stations/pose/pose_tab.h"

#include "core/base/at.h"
#include "core/pose/stance.h"

namespace ivrant::app {

PoseSnapshot PoseTab::snapshot() const {
    PoseSnapshot s;
    s.project = std::make_shared<const model::Project>(m_session.project());
    s.tree = m_session.tree();
    s.bonds = m_session.bonds();
    s.stance = pose::getDefaultStance(*s.project, s.tree);
    s.values = pose::getValues(*s.project, nullptr);
    return s;
}

void PoseTab::takeValues(const QString& name, const pose::JointValues& values) {
    std::map<model::JointId, std::vector<double>> byId;
    const auto& joints = m_session.project().joints;
    for (std::size_t j = 0; j < std::min(joints.size(), values.size()); ++j) byId[joints[j].id] = values[j];
    m_session.apply(name, [&](const model::Project& p) { return model::setJointValues(p, byId); });
}

void PoseTab::fillJoints(QComboBox* box) const {
    const QSignalBlocker quiet(box);
    const QString kept = box->currentData().toString();
    box->clear();
    for (const auto& joint : m_session.project().joints)
        box->addItem(QString::fromStdString(joint.name), QString::fromStdString(joint.id.text));
    box->setCurrentIndex(std::max(0, box->findData(kept)));
}

QString PoseTab::jointName(int joint) const {
    return QString::fromStdString(at(m_session.project().joints, joint).name);
}

} // namespace ivrant::app
