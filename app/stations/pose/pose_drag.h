// Dragging a limb: turns the joint that carries the grabbed section so that the grabbed point follows the pointer, within
// what is free.
#pragma once

#include "app/sheet3d/sheet3d.h"
#include "core/pose/range.h"

namespace ivrant::app {

class PoseDrag {
public:
    PoseDrag(Session& session, Sheet3d& sheet) : m_session(session), m_sheet(sheet) {}

    /// False when the grabbed part is carried by nothing.
    bool begin(model::PartSpot spot, QPointF position);
    void move(QPointF position);
    void end();
    [[nodiscard]] bool active() const { return m_joint >= 0; }
    [[nodiscard]] int joint() const { return m_joint; }
    [[nodiscard]] bool atStop() const { return m_atStop; }

private:
    [[nodiscard]] double angleAt(QPointF position) const;
    [[nodiscard]] geometry::Vec3 pointOnBall(QPointF position) const;

    Session& m_session;
    Sheet3d& m_sheet;
    int m_joint = -1;
    bool m_atStop = false, m_moved = false;
    geometry::Pose m_X_WF = geometry::Pose::Identity(); ///< from-port frame in the world
    geometry::Vec3 m_grabbed = geometry::Vec3::Zero();  ///< in the from-port frame, at the start
    std::vector<double> m_startValue;
    double m_startAngle = 0;
    model::Range m_free;
    geometry::Mat3 m_startRotation = geometry::Mat3::Identity();
};

} // namespace ivrant::app
