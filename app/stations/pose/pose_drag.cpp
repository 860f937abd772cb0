// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stations/pose/pose_drag.h"

#include <algorithm>
#include <cmath>

#include "core/base/at.h"
#include "core/base/units.h"
#include "core/pose/stance.h"

namespace ivrant::app {

using geometry::Vec3;

namespace {
constexpr double kScanMm = 2;    ///< between two looks for collisions while dragging
constexpr double kFollowsMm = 3; ///< the hand is where the pointer is
} // namespace

bool PoseDrag::begin(model::PartSpot spot, QPointF position, bool limb) {
    m_joint = -1;
    m_limb.reset();
    m_moved = m_atStop = false;
    if (spot.section < 0) return false;
    const auto& tree = m_session.tree();
    const int joint = at(tree.carrier, spot.section);
    const auto hit = m_sheet.pick(position);
    if (!hit) return false;
    if (limb) {
        m_limb = std::make_unique<Limb>();
        m_limb->point = hit->point;
        return beginLimb(spot);
    }
    if (joint < 0) return false;
    m_joint = joint;
    const auto j = static_cast<std::size_t>(joint);
    const auto& project = m_session.project();
    m_session.setCurrentJoint(project.joints[j].id);
    m_X_WF = at(m_session.placed().X_WS, tree.from[j].section) * pose::calcFromFrame(project, tree, joint);
    m_grabbed = m_X_WF.inverse() * hit->point;
    m_startValue = project.joints[j].value;
    m_startAngle = angleAt(position);
    m_startRotation = pose::calcMotion(*project.joints[j].kind, m_startValue).linear();
    const auto context = pose::makeRangeContext(project, tree, m_session.bonds());
    const auto range = pose::calcRange(context, pose::getValues(project, nullptr), joint, 0);
    m_free = range.endless ? model::Range{-1e6, 1e6} : range.free;
    return true;
}

double PoseDrag::angleAt(QPointF position) const {
    // Where the pointer's ray meets the plane across the axis through the grabbed point; seen edge-on, the angle
    // follows the pointer's way across the axis on the screen instead.
    const auto [origin, direction] = m_sheet.rayAt(position);
    const geometry::Frame X_FW = m_X_WF.inverse();
    const Vec3 o = X_FW * origin, d = X_FW.linear() * direction;
    if (std::abs(d.z()) > 0.15) {
        const Vec3 p = o + d * ((m_grabbed.z() - o.z()) / d.z());
        return base::radToDeg(std::atan2(p.y(), p.x()));
    }
    const QPointF centre = m_sheet.toScreen(m_X_WF.translation());
    const QPointF axis = m_sheet.toScreen(m_X_WF * Vec3(0, 0, 10)) - centre;
    const double length = std::max(1.0, std::hypot(axis.x(), axis.y()));
    const QPointF way = position - centre;
    return (way.x() * axis.y() - way.y() * axis.x()) / length * 0.6;
}

Vec3 PoseDrag::pointOnBall(QPointF position) const {
    const auto [origin, direction] = m_sheet.rayAt(position);
    const geometry::Frame X_FW = m_X_WF.inverse();
    const Vec3 o = X_FW * origin, d = X_FW.linear() * direction;
    const double r = std::max(m_grabbed.norm(), 1e-6);
    const Vec3 foot = o - d * o.dot(d);
    const double miss = foot.norm();
    if (miss >= r) return foot * (r / miss);
    return foot - d * std::sqrt(r * r - miss * miss); // the side towards the viewer
}

bool PoseDrag::beginLimb(model::PartSpot spot) {
    Limb& l = *m_limb;
    l.project = m_session.project();
    l.values = pose::getValues(l.project, nullptr);
    l.context = pose::makeRangeContext(l.project, m_session.tree(), m_session.bonds());
    l.checker = std::make_unique<pose::PoseChecker>(l.context, l.values);
    l.request = pose::makeLimbRequest(*l.checker, l.values, m_session.placed(),
                                      pose::getDefaultStance(l.project, m_session.tree()), spot.section, l.point);
    if (l.request.freedoms.empty()) return false;
    m_session.setCurrentJoint(at(l.project.joints, l.request.freedoms.front().joint).id);
    return true;
}

void PoseDrag::moveLimb(QPointF position) {
    Limb& l = *m_limb;
    // The pointer moves the grabbed point in the plane of the screen.
    const auto [origin, direction] = m_sheet.rayAt(position);
    l.request.goals.front().target = origin + direction * ((l.point - origin).dot(direction) / direction.squaredNorm());
    l.request.values = l.values;
    const auto solution = pose::calcSolution(l.checker->kinematics(), l.request);
    const auto rings = pose::calcRingGaps(l.checker->kinematics(), solution.values);
    if (std::any_of(rings.begin(), rings.end(), [](const auto& ring) { return !ring.isClosed(); })) {
        m_atStop = true;
        return;
    }
    const double share = pose::calcFreeShare(*l.checker, l.values, solution.values, kScanMm);
    pose::JointValues reached = pose::calcBetween(l.values, solution.values, share);
    if (share < 1) // stepped joints stay on a step even when something is in the way
        for (std::size_t j = 0; j < reached.size(); ++j)
            if (l.project.joints[j].kind->stepDeg > 0) reached[j] = l.values[j];
    for (auto& values : reached)
        for (double& v : values) v = std::round(v * 100) / 100;
    m_atStop = share < 1 || solution.errorMm > kFollowsMm;
    if (!rings.empty()) reached = share < 1 ? l.values : solution.values; // in between the ring would be open
    if (!l.checker->isFree(reached)) return;
    l.values = reached;
    std::map<model::JointId, std::vector<double>> byId;
    for (std::size_t j = 0; j < reached.size(); ++j) byId[l.project.joints[j].id] = reached[j];
    m_session.applyLive("Pose the limb", [&](const model::Project& p) { return model::setJointValues(p, byId); });
}

void PoseDrag::move(QPointF position) {
    if (m_limb) return moveLimb(position);
    if (m_joint < 0) return;
    const auto j = static_cast<std::size_t>(m_joint);
    const auto& joint = m_session.project().joints[j];
    const auto& kind = *joint.kind;
    std::vector<double> value = m_startValue;
    if (kind.tilts()) {
        const Vec3 target = pointOnBall(position);
        const geometry::Mat3 turn = Eigen::Quaterniond::FromTwoVectors(m_grabbed, target).toRotationMatrix();
        const geometry::Frame motion = geometry::makeFrame(turn * m_startRotation, Vec3::Zero());
        const auto& tree = m_session.tree();
        const auto X_from_to =
            pose::calcFromFrame(m_session.project(), tree, m_joint) * motion *
            geometry::makeFrame(Eigen::AngleAxisd(base::kPi, Vec3::UnitX()).toRotationMatrix(), Vec3::Zero()) *
            pose::calcToFrame(m_session.project(), tree, m_joint).inverse();
        value = pose::calcValues(m_session.project(), tree, m_joint, X_from_to);
        m_atStop = pose::calcOwnExcess(kind, value) > 0;
        if (m_atStop) value = pose::calcNearestValue(kind, value);
    } else {
        double moved = angleAt(position) - m_startAngle;
        moved -= 360 * std::round(moved / 360);
        double angle = m_startValue[0] + moved;
        if (kind.stepDeg > 0) angle = std::round(angle / kind.stepDeg) * kind.stepDeg;
        const double low = kind.stepDeg > 0 ? std::ceil((m_free.low - 0.05) / kind.stepDeg) * kind.stepDeg : m_free.low;
        const double high =
            kind.stepDeg > 0 ? std::floor((m_free.high + 0.05) / kind.stepDeg) * kind.stepDeg : m_free.high;
        m_atStop = angle < low - 1e-9 || angle > high + 1e-9;
        value[0] = std::clamp(angle, std::min(low, high), high);
    }
    for (double& v : value) v = std::round(v * 100) / 100;
    if (value == joint.value) return;
    m_moved = true;
    const auto id = joint.id;
    m_session.applyLive("Pose " + QString::fromStdString(joint.name), [&](const model::Project& p) {
        return pose::poseJoints(p, {{id, value}});
    });
}

void PoseDrag::end() {
    m_joint = -1;
    m_limb.reset();
}

} // namespace ivrant::app
