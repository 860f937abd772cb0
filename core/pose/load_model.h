// SPDX-License-Identifier: GPL-3.0-or-later
// What must a joint hold when one freedom after another changes? Used by the worst case alone;
// docs/derivations/worst-case.md.
//
// Everything is seen from the section that stands on the ground: the joint's far side is what hangs or stands on it
// from there.
#pragma once

#include <algorithm>
#include <array>
#include <cmath>
#include <functional>
#include <vector>

#include "core/base/at.h"
#include "core/base/units.h"
#include "core/model/mass.h"
#include "core/pose/range.h"
#include "core/pose/stance.h"

namespace ivrant::pose {

[[nodiscard]] inline double& valueOf(JointValues& values, FreedomRef f) {
    return ivrant::at(values[static_cast<std::size_t>(f.joint)], f.freedom);
}

struct Coordinate {
    FreedomRef freedom;
    const parts::JointKind* kind;
    model::Range range;
    std::vector<int> moved; ///< of the carried masses, those that this freedom moves as seen from the ground
    bool movesJoint;        ///< it moves the joint looked at and all it carries as one
    double sense;           ///< +1: the side away from the ground is the carried one
};

/// The joint's carried side, and how its moment changes when one freedom changes, without placing the figure anew.
class LoadModel {
public:
    LoadModel(const RangeContext& context, const JointValues& values, const model::Stance& stance, int joint)
        : m_kinematics(*context.project, context.tree), m_joint(joint),
          m_isBall(ivrant::at(context.project->joints, joint).kind->tilts()) {
        const model::Placed own{context.project, std::vector<geometry::Frame>(context.project->sections.size(),
                                                                              geometry::Frame::Identity())};
        for (std::size_t s = 0; s < own.X_WS.size(); ++s)
            m_masses.push_back(model::calcMass(own, {static_cast<int>(s)}));
        const auto& tree = context.tree;
        const int root = tree.rootOf(ivrant::at(tree.from, joint).section);
        m_ground = stance.kind == model::Stance::Kind::Settle ? root : context.project->findSection(stance.section);
        if (m_ground < 0 || tree.rootOf(m_ground) != root) m_ground = root;
        for (std::size_t s = 0; s < m_masses.size(); ++s)
            if (tree.rootOf(static_cast<int>(s)) == root) m_group.push_back(static_cast<int>(s));
        m_carried = farSide(tree, joint).first;
        model::Placed placed = calcPlaced(*context.project, tree, values);
        applyStance(placed, stance);
        m_down = ivrant::at(placed.X_WS, m_ground).linear().transpose() * -geometry::Vec3::UnitZ();
        listCoordinates(context);
        listLinks();
    }

    [[nodiscard]] const std::vector<Coordinate>& coordinates() const { return m_coordinates; }
    [[nodiscard]] const geometry::Vec3& down() const { return m_down; }
    [[nodiscard]] bool isBall() const { return m_isBall; }
    [[nodiscard]] int ground() const { return m_ground; } ///< the section that everything is seen from

    /// Places the figure; everything below is about these values.
    void set(const JointValues& values) {
        m_values = values;
        ivrant::at(m_X_WS, m_ground) = geometry::Frame::Identity();
        for (Link& link : m_links) bend(link);
        placeFrom(0, m_links.size());
    }
    /// One freedom of the values that are set takes another value: only what lies beyond its joint moves.
    void change(FreedomRef freedom, double value) {
        valueOf(m_values, freedom) = value;
        const auto link =
            std::find_if(m_links.begin(), m_links.end(), [&](const Link& l) { return l.joint == freedom.joint; });
        if (link == m_links.end()) return;
        bend(*link);
        placeFrom(static_cast<std::size_t>(link - m_links.begin()), link->end);
    }
    [[nodiscard]] const JointValues& values() const { return m_values; }

    /// What the need is made of: hinge: need = |lever · down| with lever = axis × Σ m g (r − p); ball: need = |lever ×
    /// down| with lever = Σ m g (r − p). N·mm, in the frame of the grounded section.
    [[nodiscard]] geometry::Vec3 lever() const { return leverOf(m_moment); }

    /// The lever along one freedom, with what does not change worked out once.
    class Line {
    public:
        Line(const LoadModel& load, const Coordinate& c)
            : m_load(load), m_c(c), m_now(ivrant::at(load.m_values, c.freedom.joint)) {
            const geometry::Frame frame = load.m_kinematics.jointFrame(load.m_X_WS, c.freedom.joint);
            m_frame = frame.linear();
            m_slides = c.kind->freedomUnit(c.freedom.freedom) == "mm";
            m_ball = c.kind->tilts();
            m_axis = m_frame.col(2);
            if (m_ball) {
                const geometry::Mat3 now = calcMotion(*c.kind, m_now).linear();
                m_back = now.transpose() * m_frame.transpose();
                m_axis = m_frame * now.col(2); // a twist is about where the ball points
            }
            if (m_slides)
                for (int s : c.moved) m_weight += base::weightN(ivrant::at(load.m_masses, s).massG);
            else if (!c.movesJoint)
                m_part = load.momentAbout(c.moved, frame.translation());
        }
        [[nodiscard]] geometry::Vec3 at(double value) const {
            const double change = value - ivrant::at(m_now, m_c.freedom.freedom);
            if (m_slides)
                return m_c.movesJoint ? m_load.lever()
                                      : m_load.leverOf(geometry::Vec3(m_load.m_moment +
                                                                      m_weight * m_c.sense * change * m_frame.col(2)));
            const geometry::Mat3 turn = turnTo(value, change);
            if (m_c.movesJoint) return turn * m_load.lever();
            return m_load.leverOf(geometry::Vec3(m_load.m_moment - m_part + turn * m_part));
        }
        [[nodiscard]] bool isWithinCone(double value) const {
            if (!m_ball || m_c.freedom.freedom == 2) return true;
            return std::hypot(value, ivrant::at(m_now, 1 - m_c.freedom.freedom)) <= m_c.kind->coneDeg + 1e-9;
        }

    private:
        /// How the far side turns, seen from the ground, when the freedom takes another value.
        [[nodiscard]] geometry::Mat3 turnTo(double value, double change) const {
            if (!m_ball || m_c.freedom.freedom == 2)
                return Eigen::AngleAxisd(m_c.sense * base::degToRad(change), m_axis).toRotationMatrix();
            std::array<double, 3> then{};
            std::copy(m_now.begin(), m_now.end(), then.begin());
            ivrant::at(then, m_c.freedom.freedom) = value;
            const geometry::Mat3 q = m_frame * calcMotion(*m_c.kind, then).linear() * m_back;
            return m_c.sense > 0 ? q : geometry::Mat3(q.transpose());
        }
        const LoadModel& m_load;
        const Coordinate& m_c;
        std::vector<double> m_now;
        geometry::Mat3 m_frame, m_back;
        geometry::Vec3 m_axis, m_part = geometry::Vec3::Zero();
        double m_weight = 0;
        bool m_slides = false, m_ball = false;
    };

    [[nodiscard]] double need(const geometry::Vec3& leverNmm, const geometry::Vec3& down) const {
        return m_isBall ? leverNmm.cross(down).norm() : std::abs(leverNmm.dot(down));
    }

    /// The direction within `tilt` (rad) of straight down that makes the need largest.
    [[nodiscard]] geometry::Vec3 worstDown(const geometry::Vec3& leverNmm, double tilt) const {
        const double size = leverNmm.norm();
        if (tilt <= 0 || size < 1e-12) return m_down;
        geometry::Vec3 v = leverNmm / size;
        if (!m_isBall) { // towards ±lever
            if (v.dot(m_down) < 0) v = -v;
            return turnTowards(v, std::min(tilt, std::acos(std::min(1.0, v.dot(m_down)))));
        }
        const double angle = std::acos(std::clamp(v.dot(m_down), -1.0, 1.0)); // ball: towards square to the lever
        const double away = std::min(tilt, std::abs(angle - 0.5 * base::kPi));
        return turnTowards(angle > 0.5 * base::kPi ? v : geometry::Vec3(-v), away);
    }

private:
    /// A joint as seen from the ground: it carries section `far` on section `near`, whichever of them it carries in the
    /// project.
    struct Link {
        int joint, near, far;
        bool forward;         ///< near is the joint's from-section
        std::size_t end;      ///< the links from this one up to here lie beyond it
        geometry::Frame X_NF; ///< for the values that are set
    };

    /// Links in order outwards from the ground, each followed by all beyond it.
    void listLinks() {
        m_X_WS.assign(m_masses.size(), geometry::Frame::Identity());
        const auto& tree = m_kinematics.tree();
        std::vector<bool> used(tree.from.size(), false);
        const std::function<void(int)> grow = [&](int near) {
            for (std::size_t j = 0; j < tree.from.size(); ++j) {
                const bool forward = tree.from[j].section == near;
                if (used[j] || tree.isClosing(static_cast<int>(j)) || (!forward && tree.to[j].section != near))
                    continue;
                used[j] = true;
                const std::size_t index = m_links.size();
                const int far = forward ? tree.to[j].section : tree.from[j].section;
                m_links.push_back({static_cast<int>(j), near, far, forward, 0, geometry::Frame::Identity()});
                grow(far);
                m_links[index].end = m_links.size();
            }
        };
        grow(m_ground);
    }
    void bend(Link& link) const {
        const auto j = static_cast<std::size_t>(link.joint);
        const geometry::Frame X = m_kinematics.before(link.joint) *
                                  calcMotion(*m_kinematics.project().joints[j].kind, m_values[j]) *
                                  m_kinematics.after(link.joint);
        link.X_NF = link.forward ? X : X.inverse(Eigen::Isometry);
    }
    void placeFrom(std::size_t first, std::size_t end) {
        for (std::size_t i = first; i < end; ++i)
            ivrant::at(m_X_WS, m_links[i].far) = ivrant::at(m_X_WS, m_links[i].near) * m_links[i].X_NF;
        m_frame = m_kinematics.jointFrame(m_X_WS, m_joint);
        m_moment = momentAbout(m_carried, m_frame.translation());
    }

    /// Sections on the side of a joint away from the ground, and the sense in which they follow its value.
    [[nodiscard]] std::pair<std::vector<int>, double> farSide(const model::SectionTree& tree, int joint) const {
        const auto moved = tree.carriedBy(joint);
        const auto isMoved = [&](int s) { return std::find(moved.begin(), moved.end(), s) != moved.end(); };
        if (!isMoved(m_ground)) return {moved, 1.0};
        std::vector<int> rest;
        for (int s : m_group)
            if (!isMoved(s)) rest.push_back(s);
        return {rest, -1.0};
    }

    void listCoordinates(const RangeContext& context) {
        const auto isIn = [](const std::vector<int>& list, int s) {
            return std::find(list.begin(), list.end(), s) != list.end();
        };
        for (std::size_t j = 0; j < context.project->joints.size(); ++j) {
            const auto& joint = context.project->joints[j];
            if (joint.wanted.empty() || context.tree.isInRing(static_cast<int>(j)) ||
                !isIn(m_group, context.tree.from[j].section))
                continue;
            const auto [far, sense] = farSide(context.tree, static_cast<int>(j));
            std::vector<int> moved;
            for (int s : m_carried)
                if (isIn(far, s)) moved.push_back(s);
            if (moved.empty()) continue;
            const bool movesJoint = static_cast<int>(j) != m_joint &&
                                    isIn(far, ivrant::at(context.tree.from, m_joint).section) &&
                                    isIn(far, ivrant::at(context.tree.to, m_joint).section);
            for (std::size_t f = 0; f < joint.wanted.size(); ++f) {
                model::Range range = joint.wanted[f];
                if (const auto own = calcOwnRange(*joint.kind, {0, 0, 0}, static_cast<int>(f))) {
                    range.low = std::max(range.low, own->low);
                    range.high = std::min(range.high, own->high);
                }
                if (range.low < range.high)
                    m_coordinates.push_back(
                        {{static_cast<int>(j), static_cast<int>(f)}, joint.kind, range, moved, movesJoint, sense});
            }
        }
    }

    [[nodiscard]] geometry::Vec3 momentAbout(const std::vector<int>& sections, const geometry::Vec3& p) const {
        geometry::Vec3 moment = geometry::Vec3::Zero();
        for (int s : sections) {
            const auto& mass = ivrant::at(m_masses, s);
            moment += base::weightN(mass.massG) * (ivrant::at(m_X_WS, s) * mass.centre - p);
        }
        return moment;
    }
    [[nodiscard]] geometry::Vec3 leverOf(const geometry::Vec3& moment) const {
        return m_isBall ? moment : geometry::Vec3(m_frame.linear().col(2).cross(moment));
    }

    [[nodiscard]] geometry::Vec3 turnTowards(const geometry::Vec3& target, double angle) const {
        geometry::Vec3 across = target - target.dot(m_down) * m_down;
        across = across.norm() > 1e-12 ? geometry::Vec3(across.normalized()) : m_down.unitOrthogonal();
        return std::cos(angle) * m_down + std::sin(angle) * across;
    }

    Kinematics m_kinematics;
    int m_joint, m_ground = 0;
    bool m_isBall;
    std::vector<model::MassPoint> m_masses; ///< per section, in its own frame
    std::vector<int> m_group, m_carried;
    geometry::Vec3 m_down;
    std::vector<Coordinate> m_coordinates;
    std::vector<Link> m_links;
    JointValues m_values;
    std::vector<geometry::Frame> m_X_WS; ///< in the frame of the grounded section
    geometry::Frame m_frame = geometry::Frame::Identity();
    geometry::Vec3 m_moment = geometry::Vec3::Zero();
};

} // namespace ivrant::pose
