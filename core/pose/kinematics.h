// SPDX-License-Identifier: GPL-3.0-or-later
// Where does every section go for given joint values?
//
// Forward kinematics along the joint tree (Craig, Introduction to Robotics, ch. 3, with frames as in docs/parts.md):
// X_WS(child) = X_WS(parent) · X_SF(from) · motion(values) · X_TF(to)⁻¹, with port frames whose z is the port axis and
// x the reference. At zero the references coincide and the axes oppose.
#pragma once

#include <map>
#include <span>

#include "core/base/at.h"
#include "core/model/placed.h"
#include "core/model/validate.h"

namespace ivrant::pose {

/// Values per joint (by joint index), in degrees and mm.
using JointValues = std::vector<std::vector<double>>;

/// Present values of all joints, replaced by those the pose names. `pose` may be null.
[[nodiscard]] JointValues getValues(const model::Project& project, const model::NamedPose* pose);

/// Motion of the carried port's frame seen in the from-port frame (z = a, x = b): rotation and slide only, without the
/// half turn that makes the axes oppose.
[[nodiscard]] geometry::Frame calcMotion(const parts::JointKind& kind, std::span<const double> values);

/// Angle between the axes of both halves of a joint that tilts, in degrees; 0 for the others.
[[nodiscard]] double calcTilt(const parts::JointKind& kind, const std::vector<double>& values);
/// The nearest values that the joint can have: on a step and within its own limits.
[[nodiscard]] std::vector<double> calcNearestValue(const parts::JointKind& kind, std::vector<double> values);
/// How far the values lie beyond the kind's own limit (degrees; mm for a slide), 0 within.
[[nodiscard]] double calcOwnExcess(const parts::JointKind& kind, const std::vector<double>& values);
/// How far the angle is from the kind's nearest step, in degrees; 0 for kinds without steps.
[[nodiscard]] double calcStepOffset(const parts::JointKind& kind, const std::vector<double>& values);

/// Frame of a joint's from-port in the section that carries it, and of its to-port in the carried section.
[[nodiscard]] geometry::Frame calcFromFrame(const model::Project& project, const model::SectionTree& tree, int joint);
[[nodiscard]] geometry::Frame calcToFrame(const model::Project& project, const model::SectionTree& tree, int joint);

/// Forward kinematics with everything that does not change looked up once: for thousands of poses of one project.
class Kinematics {
public:
    Kinematics(const model::Project& project, const model::SectionTree& tree);
    Kinematics(const model::Project& project, model::SectionTree&& tree) = delete; // it must outlive this
    /// X_WS of all sections for these values, roots at their own places. O(sections).
    void place(const JointValues& values, std::vector<geometry::Frame>& X_WS) const;
    /// Frame of a joint's from-port in the world for placed sections: origin the joint centre, z the axis.
    [[nodiscard]] geometry::Frame jointFrame(const std::vector<geometry::Frame>& X_WS, int joint) const {
        const auto j = static_cast<std::size_t>(joint);
        return at(X_WS, m_tree->from[j].section) * m_from[j];
    }
    /// Motion that a joint shows between its two placed sections: as calcMotion where it carries, whatever it is where
    /// it closes a ring.
    [[nodiscard]] geometry::Frame motionBetween(const std::vector<geometry::Frame>& X_WS, int joint) const {
        const auto j = static_cast<std::size_t>(joint);
        return jointFrame(X_WS, joint).inverse(Eigen::Isometry) * at(X_WS, m_tree->to[j].section) *
               m_toBack[j].inverse(Eigen::Isometry);
    }
    /// X_section(to) = X_section(from) · before(joint) · motion · after(joint).
    [[nodiscard]] const geometry::Frame& before(int joint) const { return at(m_from, joint); }
    [[nodiscard]] const geometry::Frame& after(int joint) const { return at(m_toBack, joint); }
    [[nodiscard]] const model::SectionTree& tree() const { return *m_tree; }
    [[nodiscard]] const model::Project& project() const { return *m_project; }

private:
    const model::Project* m_project;
    const model::SectionTree* m_tree;
    std::vector<geometry::Frame> m_roots, m_from, m_toBack; ///< per section; per joint: X_SF, (X_TF · half turn)⁻¹
};

/// Places all sections, roots at their own places. O(sections + joints).
[[nodiscard]] model::Placed calcPlaced(const model::Project& project, const model::SectionTree& tree,
                                       const JointValues& values);

/// The values whose motion comes nearest to a given one: the inverse of calcMotion. Turns of stepped kinds are on a
/// step.
[[nodiscard]] std::vector<double> calcMotionValues(const parts::JointKind& kind, const geometry::Frame& motion);

/// The joint values nearest to a wanted place of the carried section in the carrying one: the inverse of calcMotion.
[[nodiscard]] std::vector<double> calcValues(const model::Project& project, const model::SectionTree& tree, int joint,
                                             const geometry::Frame& X_from_to);

} // namespace ivrant::pose
