// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/pose/kinematics.h"

#include <algorithm>
#include <cmath>

#include "core/base/at.h"
#include "core/base/units.h"

namespace ivrant::pose {

using geometry::Frame;
using geometry::Vec3;
using parts::JointMotion;

namespace {

/// Half turn about the reference: brings the to-port's axis against the from-port's with the references together.
Frame opposing() {
    return geometry::makeFrame(Eigen::AngleAxisd(base::kPi, Vec3::UnitX()).toRotationMatrix(), Vec3::Zero());
}

Frame portFrame(const model::Project& project, model::PartSpot spot, const std::string& port) {
    const model::Part& part = model::getPart(project, spot);
    const int index = part.shape->findPort(port);
    return part.place.frame() * part.shape->ports.at(static_cast<std::size_t>(index)).X_PF();
}

} // namespace

JointValues getValues(const model::Project& project, const model::NamedPose* pose) {
    JointValues values;
    for (const auto& joint : project.joints) {
        values.push_back(joint.value);
        if (!pose) continue;
        if (const auto found = pose->values.find(joint.id); found != pose->values.end()) values.back() = found->second;
    }
    return values;
}

Frame calcMotion(const parts::JointKind& kind, std::span<const double> v) {
    if (v.size() < static_cast<std::size_t>(kind.freedomCount())) throw std::out_of_range("a value for each freedom");
    const auto about = [](double degrees) {
        return Eigen::AngleAxisd(base::degToRad(degrees), Vec3::UnitZ()).toRotationMatrix();
    };
    switch (kind.motion) {
    case JointMotion::Turn: return geometry::makeFrame(about(v[0]), Vec3::Zero());
    case JointMotion::TurnSlide: return geometry::makeFrame(about(v[0]), Vec3(0, 0, v[1]));
    case JointMotion::Ball:
        return geometry::makeFrame(geometry::expMap(Vec3(base::degToRad(v[0]), base::degToRad(v[1]), 0)) * about(v[2]),
                                   Vec3::Zero());
    case JointMotion::Universal:
        return geometry::makeFrame(geometry::expMap(Vec3(base::degToRad(v[0]), 0, 0)) *
                                       geometry::expMap(Vec3(0, base::degToRad(v[1]), 0)),
                                   Vec3::Zero());
    }
    throw std::logic_error("unknown joint motion");
}

double calcTilt(const parts::JointKind& kind, const std::vector<double>& values) {
    if (!kind.tilts()) return 0;
    if (kind.motion == JointMotion::Ball) return std::hypot(values[0], values[1]);
    const double s1 = base::degToRad(values[0]),
                 s2 = base::degToRad(values[1]); // between ez and (sin s2, −sin s1 cos s2, cos s1 cos s2)
    return base::radToDeg(
        std::atan2(std::hypot(std::sin(s2), std::sin(s1) * std::cos(s2)), std::cos(s1) * std::cos(s2)));
}

std::vector<double> calcNearestValue(const parts::JointKind& kind, std::vector<double> values) {
    if (kind.tilts()) { // two tilts that follow each other never tilt by more than their hypotenuse
        if (calcTilt(kind, values) <= kind.coneDeg) return values;
        const double shrink = kind.coneDeg / std::hypot(values[0], values[1]);
        for (std::size_t k = 0; k < 2; ++k) values[k] *= shrink;
        return values;
    }
    if (kind.turnLimitDeg) values[0] = std::clamp(values[0], kind.turnLowDeg, *kind.turnLimitDeg);
    if (kind.stepDeg > 0) values[0] = std::round(values[0] / kind.stepDeg) * kind.stepDeg;
    if (kind.motion == parts::JointMotion::TurnSlide) values[1] = std::clamp(values[1], -kind.slideMm, kind.slideMm);
    return values;
}

double calcOwnExcess(const parts::JointKind& kind, const std::vector<double>& values) {
    switch (kind.motion) {
    case parts::JointMotion::Ball:
    case parts::JointMotion::Universal: return std::max(0.0, calcTilt(kind, values) - kind.coneDeg);
    case parts::JointMotion::TurnSlide: return std::max(0.0, std::abs(values[1]) - kind.slideMm);
    case parts::JointMotion::Turn: break;
    }
    return kind.turnLimitDeg ? std::max({0.0, values[0] - *kind.turnLimitDeg, kind.turnLowDeg - values[0]}) : 0.0;
}

double calcStepOffset(const parts::JointKind& kind, const std::vector<double>& values) {
    return kind.stepDeg > 0 ? std::abs(values[0] - std::round(values[0] / kind.stepDeg) * kind.stepDeg) : 0.0;
}

Frame calcFromFrame(const model::Project& project, const model::SectionTree& tree, int joint) {
    const auto j = static_cast<std::size_t>(joint);
    return portFrame(project, tree.from[j], project.joints[j].from.port);
}

Frame calcToFrame(const model::Project& project, const model::SectionTree& tree, int joint) {
    const auto j = static_cast<std::size_t>(joint);
    return portFrame(project, tree.to[j], project.joints[j].to.port);
}

Kinematics::Kinematics(const model::Project& project, const model::SectionTree& tree)
    : m_project(&project), m_tree(&tree) {
    for (const auto& section : project.sections) m_roots.push_back(section->place.frame());
    for (std::size_t j = 0; j < project.joints.size(); ++j) {
        m_from.push_back(calcFromFrame(project, tree, static_cast<int>(j)));
        m_toBack.push_back(opposing() * calcToFrame(project, tree, static_cast<int>(j)).inverse());
    }
}

void Kinematics::place(const JointValues& values, std::vector<Frame>& X_WS) const {
    X_WS.resize(m_roots.size());
    for (int s : m_tree->order) {
        const auto i = static_cast<std::size_t>(s);
        if (m_tree->carrier[i] < 0) {
            X_WS[i] = m_roots[i];
            continue;
        }
        const auto j = static_cast<std::size_t>(m_tree->carrier[i]);
        X_WS[i] = at(X_WS, m_tree->from[j].section) * m_from[j] * calcMotion(*m_project->joints[j].kind, values[j]) *
                  m_toBack[j];
    }
}

model::Placed calcPlaced(const model::Project& project, const model::SectionTree& tree, const JointValues& values) {
    model::Placed placed;
    placed.project = &project;
    Kinematics(project, tree).place(values, placed.X_WS);
    return placed;
}

std::vector<double> calcMotionValues(const parts::JointKind& kind, const Frame& motion) {
    const geometry::Mat3 r = motion.linear();
    if (!kind.tilts()) {
        double turn = base::radToDeg(std::atan2(r(1, 0) - r(0, 1), r(0, 0) + r(1, 1)));
        if (kind.stepDeg > 0) turn = std::round(turn / kind.stepDeg) * kind.stepDeg;
        if (kind.motion == JointMotion::Turn) return {turn};
        return {turn, motion.translation().z()};
    }
    // R = exp(s)·Rz(t): exp(s) takes ez to R·ez along the shortest way, which fixes s; the rest is the twist.
    const Vec3 tip = r.col(2);
    if (kind.motion == JointMotion::Universal)
        return {base::radToDeg(std::atan2(-tip.y(), tip.z())),
                base::radToDeg(std::atan2(tip.x(), std::hypot(tip.y(), tip.z())))};
    const Vec3 across = Vec3::UnitZ().cross(tip);
    const double tilt = std::atan2(across.norm(), tip.z());
    Vec3 s = Vec3::Zero();
    if (across.norm() > 1e-12)
        s = across.normalized() * tilt;
    else if (tip.z() < 0)
        s = Vec3(base::kPi, 0, 0);
    const geometry::Mat3 twist = geometry::expMap(s).transpose() * r;
    return {base::radToDeg(s.x()), base::radToDeg(s.y()), base::radToDeg(std::atan2(twist(1, 0), twist(0, 0)))};
}

std::vector<double> calcValues(const model::Project& project, const model::SectionTree& tree, int joint,
                               const Frame& X_from_to) {
    const Frame motion = calcFromFrame(project, tree, joint).inverse() * X_from_to * calcToFrame(project, tree, joint) *
                         opposing().inverse();
    return calcMotionValues(*at(project.joints, joint).kind, motion);
}

} // namespace ivrant::pose
