// SPDX-License-Identifier: GPL-3.0-or-later
// How much room has a module beside it, what leads it back, and how else could it be put on?
//
// Solids as the model is placed, world frame, mm. Side faces of parts are 0.1 mm inside their grid, so a module that
// fills its place among others has 0.2 mm on each side.
#pragma once

#include "core/study/modules.h"

namespace ivrant::study {

/// Solids of parts where they lie.
struct LyingSolid {
    geometry::PlacedSolid placed;
    geometry::Bounds bounds;
    model::PartSpot spot;
    int index = 0; ///< of the solid in its shape
    int stud = -1; ///< its port when it is a stud
};
[[nodiscard]] std::vector<LyingSolid> listSolids(const model::Placed& placed,
                                                 const std::vector<model::PartSpot>& spots);

/// Across `way`, on each of four sides that has a wall within kWallMm of the module once it is moved by `moved`: the
/// least room. Studs and what they sit in are not looked at. O(pairs whose boxes are near).
[[nodiscard]] std::vector<SideGap> listSides(const std::vector<LyingSolid>& own, const std::vector<LyingSolid>& others,
                                             const geometry::Vec3& way, const geometry::Vec3& moved);
/// How far before its place walls lead it: the largest move along `way` at which walls no more than kMostGapMm away are
/// still on opposite sides. 0: they do not.
[[nodiscard]] double calcLedMm(const std::vector<LyingSolid>& own, const std::vector<LyingSolid>& others,
                               const geometry::Vec3& way);
/// Other places in which all its bonds take hold and nothing is in the way: turned about `way`, or a pitch aside; those
/// in which it looks the same are left out. `turns`: turned ones are looked at.
[[nodiscard]] std::vector<std::string> listOtherPlaces(const model::Placed& placed, const WorldMates& mates,
                                                       const std::vector<model::PartSpot>& group,
                                                       const std::vector<LyingSolid>& own,
                                                       const std::vector<LyingSolid>& others, const geometry::Vec3& way,
                                                       bool turns);

} // namespace ivrant::study
