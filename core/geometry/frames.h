// SPDX-License-Identifier: GPL-3.0-or-later
// How are places and attitudes written down?
//
// Right-handed frames, x right, y away, z up. X_AB is frame B as seen from frame A: p_A = X_AB · p_B. Lengths in mm,
// angles in radians. The 24 turns are the rotations of a cube, numbered turn = 4u + r with R = U_u · Rz(90°·r).
#pragma once

#include <Eigen/Geometry>
#include <optional>

namespace ivrant::geometry {

using Vec3 = Eigen::Vector3d;
using Mat3 = Eigen::Matrix3d;
using Frame = Eigen::Isometry3d;

/// Rotation matrix of turn 0..23. Entries are exactly −1, 0 or 1. Throws std::out_of_range otherwise.
[[nodiscard]] const Mat3& getTurn(int turn);
/// The turn whose matrix is `r` within `tolerance` per entry, if there is one.
[[nodiscard]] std::optional<int> findTurn(const Mat3& r, double tolerance = 1e-6);
/// Turn number of getTurn(a) · getTurn(b).
[[nodiscard]] int multiplyTurns(int a, int b);

[[nodiscard]] Frame makeFrame(const Mat3& rotation, const Vec3& translation);
/// Rotation by `angle` (rad, right-handed) about the line through `point` along unit `axis`.
[[nodiscard]] Frame makeRotationAbout(const Vec3& point, const Vec3& axis, double angle);
/// Rotation vector (axis · angle, rad) to matrix; the exponential map.
[[nodiscard]] Mat3 expMap(const Vec3& rotationVector);
/// Frame with z-column along `axis` and x-column along `reference` (made perpendicular to axis).
[[nodiscard]] Frame makeAxisFrame(const Vec3& origin, const Vec3& axis, const Vec3& reference);

} // namespace ivrant::geometry
