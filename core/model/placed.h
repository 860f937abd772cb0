// SPDX-License-Identifier: GPL-3.0-or-later
// Where is every section of a project in the world?
#pragma once

#include <vector>

#include "core/base/at.h"
#include "core/model/project.h"

namespace ivrant::model {

/// What comes this near to the ground z = 0 touches it (mm).
inline constexpr double kGroundContactMm = 0.05;

/// A project with the pose of each section in the world. The project must outlive it.
struct Placed {
    const Project* project = nullptr;
    std::vector<geometry::Frame> X_WS; ///< per section
    /// Per gear board, in the frame of its section (in the world when it lives alone): how what carries it has turned
    /// it since it was built. Empty: not.
    std::vector<geometry::Frame> boardTurns{};

    [[nodiscard]] geometry::Frame X_WP(PartSpot spot) const {
        return at(X_WS, spot.section) * getPart(*project, spot).place.frame();
    }
};

} // namespace ivrant::model
