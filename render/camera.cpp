// SPDX-License-Identifier: GPL-3.0-or-later
#include "render/camera.h"

#include <algorithm>
#include <cmath>

#include "core/base/units.h"

namespace ivrant::render {

using geometry::Vec3;

std::optional<View> findView(std::string_view name) {
    if (name == "corner") return View::Corner;
    if (name == "front") return View::Front;
    if (name == "side") return View::Side;
    if (name == "top") return View::Top;
    if (name == "back") return View::Back;
    return std::nullopt;
}

geometry::Mat3 Camera::axes() const {
    const Vec3 toViewer(std::cos(yaw) * std::cos(pitch), std::sin(yaw) * std::cos(pitch), std::sin(pitch));
    const Vec3 right(-std::sin(yaw), std::cos(yaw), 0);
    geometry::Mat3 m;
    m.row(0) = right.transpose();
    m.row(1) = toViewer.cross(right).transpose();
    m.row(2) = toViewer.transpose();
    return m;
}

Vec3 Camera::project(const Vec3& world, double width, double height) const {
    const Vec3 p = axes() * (world - target);
    return {width / 2 + p.x() / mmPerPixel, height / 2 - p.y() / mmPerPixel, p.z()};
}

std::pair<Vec3, Vec3> Camera::ray(double x, double y, double width, double height) const {
    const geometry::Mat3 m = axes();
    constexpr double kFar = 20'000;
    const Vec3 p((x - width / 2) * mmPerPixel, (height / 2 - y) * mmPerPixel, kFar);
    return {target + m.transpose() * p, -m.row(2).transpose()};
}

void Camera::look(View view) {
    const double half = base::kPi / 2;
    switch (view) {
    case View::Corner: yaw = -0.9, pitch = 0.45; break;
    case View::Front: yaw = -half, pitch = 0; break;
    case View::Side: yaw = 0, pitch = 0; break;
    case View::Top: yaw = -half, pitch = half; break;
    case View::Back: yaw = half, pitch = 0; break;
    }
}

void Camera::fit(const geometry::Bounds& bounds, double width, double height, double share) {
    if (bounds.empty()) return;
    target = bounds.centre();
    const Vec3 reach = axes().cwiseAbs() * bounds.size();
    mmPerPixel = std::max({reach.x() / (width * share), reach.y() / (height * share), 0.01});
}

} // namespace ivrant::render
