// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/pose/joint_arm.h"

#include <cmath>

#include "core/base/at.h"
#include "core/base/units.h"
#include "core/model/mass.h"

namespace ivrant::pose {

std::optional<GravityArm> calcGravityArm(const model::Placed& placed, const model::SectionTree& tree, int joint) {
    const model::Project& project = *placed.project;
    if (joint < 0 || joint >= static_cast<int>(project.joints.size())) return std::nullopt;
    const auto& kind = *at(project.joints, joint).kind;
    if (kind.tilts() || tree.isClosing(joint)) return std::nullopt;
    const Kinematics kinematics(project, tree);
    const geometry::Frame frame = kinematics.jointFrame(placed.X_WS, joint);
    const geometry::Vec3 axis = frame.linear().col(2);
    const model::MassPoint carried = model::calcMass(placed, tree.carriedBy(joint));
    const geometry::Vec3 lever = carried.centre - frame.translation(), force(0, 0, -base::weightN(carried.massG));
    const double cosine = -axis.dot(lever.cross(force)), sine = -axis.dot(axis.cross(lever).cross(force));
    const double now = calcMotionValues(kind, kinematics.motionBetween(placed.X_WS, joint)).front();
    return GravityArm{std::hypot(cosine, sine), -now - base::radToDeg(std::atan2(sine, cosine))};
}

} // namespace ivrant::pose
