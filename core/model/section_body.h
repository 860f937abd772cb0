// SPDX-License-Identifier: GPL-3.0-or-later
// What is a section as a rigid body: how heavy, where is its centre, what space does it take up? In its own frame, mm
// and g; kept while the section lives.
#pragma once

#include <memory>

#include "core/geometry/solid.h"
#include "core/model/project.h"

namespace ivrant::model {

/// Its parts and ballast; not the gear boards it carries.
struct SectionBody {
    double massG = 0;
    geometry::Vec3 centre = geometry::Vec3::Zero(); ///< zero when massless
    geometry::Bounds bounds;                        ///< of its parts' solids

    /// No solid comes lower than this when the section is there; the largest number there is when it has none. World,
    /// mm.
    [[nodiscard]] double calcLowBound(const geometry::Frame& X_WS) const;
};

/// O(parts) the first time, O(1) after.
[[nodiscard]] std::shared_ptr<const SectionBody> getSectionBody(const SectionPtr& section);

} // namespace ivrant::model
