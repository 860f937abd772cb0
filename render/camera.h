// SPDX-License-Identifier: GPL-3.0-or-later
// From where is the model seen? A parallel projection, like a technical drawing. mm and pixels, y of pixels downwards.
#pragma once

#include <optional>
#include <string_view>

#include "core/geometry/solid.h"

namespace ivrant::render {

enum class View { Corner, Front, Side, Top, Back };

/// "corner", "front", "side", "top", "back".
[[nodiscard]] std::optional<View> findView(std::string_view name);

struct Camera {
    geometry::Vec3 target = geometry::Vec3::Zero(); ///< world point in the middle of the picture
    double yaw = -2.2;  ///< rad, direction from which one looks, about z; −π/2 is from the front (−y)
    double pitch = 0.5; ///< rad above the horizon
    double mmPerPixel = 0.3;

    /// Right, up and towards-the-viewer axes in the world, as rows.
    [[nodiscard]] geometry::Mat3 axes() const;
    /// Pixel of a world point in a picture of that size; z grows towards the viewer (mm).
    [[nodiscard]] geometry::Vec3 project(const geometry::Vec3& world, double width, double height) const;
    /// World ray through a pixel: origin before everything, unit direction away from the viewer.
    [[nodiscard]] std::pair<geometry::Vec3, geometry::Vec3> ray(double x, double y, double width, double height) const;
    void look(View view);
    /// Turns keep, target and scale change so that `bounds` fill `share` of the picture.
    void fit(const geometry::Bounds& bounds, double width, double height, double share = 0.86);
};

} // namespace ivrant::render
