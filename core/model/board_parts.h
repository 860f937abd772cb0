// Which parts do the shafts, wheels and motors of a gear board come to?
//
// Wheels are those of core/parts/families_drive.cpp, shafts the shortest axle that is long enough. What no family makes (a wheel of 22 teeth) is told apart.
#pragma once

#include <map>

#include "core/model/placed.h"

namespace ivrant::model {

struct BoardPart {
    parts::ShapePtr shape;
    geometry::Pose X_BP = geometry::Pose::Identity(); ///< in the board's frame
    std::string id;                                   ///< of the shaft, wheel or motor it stands for
};
/// Parts that are counted and weighed at a place but not drawn there: the links of a chain, a driving ring.
struct BoardExtra {
    parts::ShapePtr shape;
    int count = 0;
    geometry::Vec3 at = geometry::Vec3::Zero(); ///< of their centre, in the board's frame
};
struct BoardParts {
    std::vector<BoardPart> parts;
    std::vector<BoardExtra> extras;
    std::vector<std::string> missing; ///< ids that no part exists for
};

/// Poses of all boards for given poses of the sections; boards that live alone are where their place says.
[[nodiscard]] std::vector<geometry::Pose> calcBoardPoses(const Project& project, const std::vector<geometry::Pose>& X_CS);

/// Chains as whole links, one driving ring for every shaft with clutch wheels that a selector engages. Belts and battery boxes are not among them:
/// belts come in many lengths, boxes are bricks of a section. O(things).
[[nodiscard]] BoardParts listBoardParts(const Board& board);
/// The same by list name (parts::getListName).
[[nodiscard]] std::map<std::string, int> countShapes(const BoardParts& parts);
/// How many parts all boards come to. O(things).
[[nodiscard]] std::size_t countBoardParts(const Project& project);

} // namespace ivrant::model
