// SPDX-License-Identifier: GPL-3.0-or-later
// Which parts do the shafts, wheels and motors of a gear board come to?
//
// Wheels are those of core/parts/families_drive.cpp, shafts the shortest axle that is long enough. What no family makes
// (a wheel of 22 teeth) is told apart.
#pragma once

#include <functional>
#include <map>

#include "core/model/placed.h"

namespace ivrant::model {

struct BoardPart {
    parts::ShapePtr shape;
    geometry::Frame X_BP = geometry::Frame::Identity(); ///< in the board's frame
    std::string id;                                     ///< of the shaft, wheel or motor it stands for
};
/// Parts that are counted and weighed at a place but not drawn there: the links of a chain, a belt, a driving ring, a
/// universal joint.
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

/// Name of the part that a wheel is; empty: none is like that.
[[nodiscard]] std::string getWheelShape(const Gear& gear);

/// Poses of all boards in the world, turned as Placed::boardTurns says; boards that live alone are where their place
/// says.
[[nodiscard]] std::vector<geometry::Frame> calcBoardFrames(const Placed& placed);

/// Chains as whole links, belts of the lengths there are, the pieces of universal joints, one driving ring for every
/// shaft with clutch wheels that a selector engages. Battery boxes are bricks of a section. O(things).
[[nodiscard]] BoardParts listBoardParts(const Board& board);
/// The same, kept while the board lives. O(1) but for the first time.
[[nodiscard]] std::shared_ptr<const BoardParts> getBoardParts(const BoardPtr& board);
/// The same by list name (parts::getListName).
[[nodiscard]] std::map<std::string, int> countShapes(const BoardParts& parts);
/// How many parts all boards come to. O(things).
[[nodiscard]] std::size_t countBoardParts(const Project& project);

/// What stands on the boards of a section, as parts of it in its frame; their ids are those of the things on the
/// boards. Kept while the project lives.
[[nodiscard]] std::vector<std::shared_ptr<const std::vector<Part>>> listSectionBoardParts(const Project& project,
                                                                                          int section);
/// The shaft or wheel of a board that a spot means whose number is beyond the section's own parts (getPart serves
/// both). std::out_of_range: none.
[[nodiscard]] const Part& getBoardPart(const Project& project, PartSpot spot);

/// One thing that fills space, with its pose in the world.
struct PlacedShape {
    const parts::Shape& shape;
    const std::string& id; ///< of the part, or of the thing on a board
    int colour = 0;
    geometry::Frame X_WP;
    int section = -1; ///< that it belongs to; −1: a board that lives alone
};
/// Everything there is: parts of sections, then shafts, wheels and motors of boards. What asks how big a model is, what
/// it stands on or what it looks like goes through here; `only`: of one section; `leaveOut`: of these sections the
/// parts are not visited, what is on their boards is. The references live during the visit. O(parts + things looked
/// at).
void forPlacedShapes(const Placed& placed, const std::function<void(const PlacedShape&)>& visit,
                     std::optional<int> only = {}, const std::function<bool(std::size_t)>& leaveOut = {});

} // namespace ivrant::model
