// SPDX-License-Identifier: GPL-3.0-or-later
// On which plane does a body with feet come to stand, and how do its feet share the weight?
//
// The plane lies below all points of the feet and as high as can be under the centre of mass: a linear programme in
// three variables, solved on triangles about the centre that take in whatever point lies below them (dual simplex;
// Chvátal, Linear Programming, ch. 10). Corners are points; round ends touch by the lowest point of each rim, which
// depends on the way up, so both are found in turn. Touching: within kTouchMm. The shares are linear over the points
// that touch, least in squares, and never pull (as core/pose/ground.h). mm, in the frame of the body.
#pragma once

#include <optional>
#include <vector>

#include "core/model/placed.h"

namespace ivrant::study {

inline constexpr double kTouchMm = 0.02;

/// What can touch the ground: a point, a ball (radius), or the rim of a round end.
struct FootPoint {
    int foot = 0; ///< which of the feet; −1: of what is no foot
    geometry::Vec3 at = geometry::Vec3::Zero();
    geometry::Vec3 axis = geometry::Vec3::Zero(); ///< of a rim; zero: a point or ball
    double radius = 0;

    /// The point of it that lies lowest.
    [[nodiscard]] geometry::Vec3 findLowest(const geometry::Vec3& up) const;
};

/// Of all parts of a section, in its own frame.
[[nodiscard]] std::vector<FootPoint> listFootPoints(const model::Section& section, int foot);

struct Support {
    geometry::Vec3 up = geometry::Vec3::UnitZ();
    double offset = 0;                              ///< of the plane: up · p
    std::vector<int> touching;                      ///< points, by index
    std::vector<geometry::Vec3> contacts;           ///< where those touch
    std::vector<double> shares;                     ///< of the weight, by touching; sum 1
    double tipDeg = 0;                              ///< least tilt at which it falls over an edge of its support
    geometry::Vec3 tipWay = geometry::Vec3::Zero(); ///< towards that edge, in the plane
};

/// From the up of the last place on. None: the centre of mass stands beside everything that could carry it. A few µs.
[[nodiscard]] std::optional<Support> calcSupport(const std::vector<FootPoint>& points, const geometry::Vec3& centre,
                                                 const geometry::Vec3& lastUp);

[[nodiscard]] Eigen::Vector2d turnBy(double angle, const Eigen::Vector2d& v); ///< rad

/// Turn (rad, about the origin) and shift that bring `now` back to `before` with the least Σ share·|way left|, by
/// reweighted least squares (Weiszfeld; Daubechies and others 2010).
struct PlaneMove {
    double turn = 0;
    Eigen::Vector2d shift = Eigen::Vector2d::Zero();
    double slip = 0; ///< what is left
};
[[nodiscard]] PlaneMove calcPlaneMove(const std::vector<Eigen::Vector2d>& before,
                                      const std::vector<Eigen::Vector2d>& now, const std::vector<double>& shares);

} // namespace ivrant::study
