// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/geometry/frames.h"

#include <array>
#include <stdexcept>

#include "core/base/at.h"
#include "core/base/units.h"

namespace ivrant::geometry {
namespace {

Mat3 exactRotation(double degrees, const Vec3& axis) {
    Mat3 r = Eigen::AngleAxisd(base::degToRad(degrees), axis).toRotationMatrix();
    return r.array().round().matrix();
}

std::array<Mat3, 24> makeTurns() {
    const std::array<Mat3, 6> up{Mat3::Identity(),
                                 exactRotation(180, Vec3::UnitX()),
                                 exactRotation(90, Vec3::UnitY()),
                                 exactRotation(-90, Vec3::UnitY()),
                                 exactRotation(-90, Vec3::UnitX()),
                                 exactRotation(90, Vec3::UnitX())};
    std::array<Mat3, 24> turns;
    for (std::size_t u = 0; u < 6; ++u)
        for (std::size_t r = 0; r < 4; ++r)
            turns[4 * u + r] = up[u] * exactRotation(90.0 * static_cast<double>(r), Vec3::UnitZ());
    return turns;
}

const std::array<Mat3, 24>& turns() {
    static const std::array<Mat3, 24> all = makeTurns();
    return all;
}

} // namespace

const Mat3& getTurn(int turn) {
    if (turn < 0 || turn > 23) throw std::out_of_range("turn must be 0..23");
    return at(turns(), turn);
}

std::optional<int> findTurn(const Mat3& r, double tolerance) {
    for (int t = 0; t < 24; ++t)
        if ((at(turns(), t) - r).cwiseAbs().maxCoeff() <= tolerance) return t;
    return std::nullopt;
}

int multiplyTurns(int a, int b) { return findTurn(getTurn(a) * getTurn(b)).value(); }

Frame makeFrame(const Mat3& rotation, const Vec3& translation) {
    Frame x = Frame::Identity();
    x.linear() = rotation;
    x.translation() = translation;
    return x;
}

Frame makeRotationAbout(const Vec3& point, const Vec3& axis, double angle) {
    const Mat3 r = Eigen::AngleAxisd(angle, axis).toRotationMatrix();
    return makeFrame(r, point - r * point);
}

Mat3 expMap(const Vec3& rotationVector) {
    const double angle = rotationVector.norm();
    if (angle < 1e-15) return Mat3::Identity();
    return Eigen::AngleAxisd(angle, rotationVector / angle).toRotationMatrix();
}

Frame makeAxisFrame(const Vec3& origin, const Vec3& axis, const Vec3& reference) {
    const Vec3 z = axis.normalized();
    const Vec3 x = (reference - z * z.dot(reference)).normalized();
    Mat3 r;
    r.col(0) = x;
    r.col(1) = z.cross(x);
    r.col(2) = z;
    return makeFrame(r, origin);
}

} // namespace ivrant::geometry
