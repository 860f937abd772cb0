// SPDX-License-Identifier: GPL-3.0-or-later
// Do these two wheels mesh where they are, how far off, and with what factors? Part of drive_net.h; for use inside
// core/drive.
#pragma once

#include "core/drive/drive_net.h"

namespace ivrant::drive {

struct PairMesh {
    RelationKind kind = RelationKind::Mesh;
    double errorMm = 0; ///< distance less the right one; of two distances the worse
    Fit fit = Fit::Meshes;
    double asideMm = 0;            ///< with Fit::Aside: how far they miss each other
    long factorA = 0, factorB = 0; ///< factorA·ωA + factorB·ωB = 0
    Efficiency efficiency;         ///< forward: A gives power
};

/// None when they do not touch or cannot mesh. Factors follow from where they touch: there both have the same speed.
[[nodiscard]] std::optional<PairMesh> judgePair(const Ring& a, const Ring& b);

} // namespace ivrant::drive
