// Which parts do the shafts, wheels and motors of a gear board come to?
//
// Wheels are those of core/parts/families_drive.cpp, shafts the shortest axle that is long enough. What no family makes (a wheel of 22 teeth) is told apart.
#pragma once

#include "core/model/project.h"

namespace ivrant::model {

struct BoardPart {
    parts::ShapePtr shape;
    geometry::Pose X_BP = geometry::Pose::Identity(); ///< in the board's frame
    std::string id;                                   ///< of the shaft, wheel or motor it stands for
};
struct BoardParts {
    std::vector<BoardPart> parts;
    std::vector<std::string> missing; ///< ids that no part exists for
};

/// Links of chains, belts, driving rings and battery boxes are not among them yet. O(things).
[[nodiscard]] BoardParts listBoardParts(const Board& board);

} // namespace ivrant::model
