// SPDX-License-Identifier: GPL-3.0-or-later
// Dragging a limb: turns the joint that carries the grabbed section so that the grabbed point follows the pointer,
// within what is free. When the whole limb follows, all joints up to what stands on the ground (or the root) give way,
// the nearest first; other feet on the ground stay where they are; nothing goes into anything else on the way.
#pragma once

#include "app/sheet3d/sheet3d.h"
#include "core/pose/limb.h"

namespace ivrant::app {

class PoseDrag {
public:
    PoseDrag(Session& session, Sheet3d& sheet) : m_session(session), m_sheet(sheet) {}

    /// False when the grabbed part is carried by nothing. `limb`: the whole limb follows.
    bool begin(model::PartSpot spot, QPointF position, bool limb);
    void move(QPointF position);
    void end();
    [[nodiscard]] bool atStop() const { return m_atStop; }

private:
    bool beginLimb(model::PartSpot spot);
    void moveLimb(QPointF position);
    [[nodiscard]] double angleAt(QPointF position) const;
    [[nodiscard]] geometry::Vec3 pointOnBall(QPointF position) const;

    Session& m_session;
    Sheet3d& m_sheet;
    int m_joint = -1;
    bool m_atStop = false, m_moved = false;
    geometry::Frame m_X_WF = geometry::Frame::Identity(); ///< from-port frame in the world
    geometry::Vec3 m_grabbed = geometry::Vec3::Zero();    ///< in the from-port frame, at the start
    std::vector<double> m_startValue;
    double m_startAngle = 0;
    model::Range m_free;
    geometry::Mat3 m_startRotation = geometry::Mat3::Identity();

    /// What a drag of the whole limb keeps while it lasts: the project it was made for stays alive with it.
    struct Limb {
        model::Project project;
        pose::RangeContext context;
        std::unique_ptr<pose::PoseChecker> checker;
        pose::SolveRequest request;
        pose::JointValues values; ///< the last free ones
        geometry::Vec3 point;     ///< grabbed, in the world, at the start
    };
    std::unique_ptr<Limb> m_limb;
};

} // namespace ivrant::app
