// SPDX-License-Identifier: GPL-3.0-or-later
// Which wheels mesh, bind or run into something in one pose and not in another?
//
// Wheels of sections that move against each other come nearer or part as joints are set: what is true for the present
// values is looked at in every named pose.
#pragma once

#include "core/study/facts.h"

namespace ivrant::study {

struct PoseMesh {
    enum class How {
        Binds,
        Skips,
        Aside, ///< their faces or axes miss each other
        Parts, ///< they mesh as the joints stand now
        Meets, ///< they do not, but there they do
        Clash
    } how = How::Parts;
    std::string idA, idB;           ///< of the wheels, or of what runs into what
    std::string text;               ///< a clash in words
    double errorMm = 0;             ///< where it is furthest off
    std::vector<std::string> poses; ///< names, in their order
};

/// What differs from the present values, by pair; `facts` with places, bonds and the drive. Nothing when all that turns
/// belongs to one section. O(poses × reading the drive).
[[nodiscard]] std::vector<PoseMesh> findPoseMeshes(const Facts& facts);

} // namespace ivrant::study
