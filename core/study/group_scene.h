// SPDX-License-Identifier: GPL-3.0-or-later
// Which way does a group of parts leave all others: a section on its joint, a module that lifts off?
//
// The group is one body of a make::Scene, every other part a body of its own, as the model is placed. World frame, mm.
#pragma once

#include <map>

#include "core/make/scene.h"
#include "core/study/facts.h"

namespace ivrant::study {

/// Parts that hold each other, the first before the second, with the mates of their ports (parts in bonds::Mate are
/// left at 0).
using WorldMates = std::map<std::pair<model::PartSpot, model::PartSpot>, std::vector<bonds::Mate>>;
/// Of the whole model as it is placed: within sections, across them, and joints, seated or not. O(mates).
[[nodiscard]] WorldMates listWorldMates(const Facts& facts, const model::Placed& placed);

/// Bond of two placed parts that are bodies a and b of a scene.
[[nodiscard]] make::SceneBond makeWorldBond(const model::Placed& placed, int a, model::PartSpot spotA, int b,
                                            model::PartSpot spotB, const std::vector<bonds::Mate>& mates);

struct GroupScene {
    make::Scene scene;                  ///< body 0 is the group
    std::vector<model::PartSpot> spots; ///< of the other bodies; of body 0 none
};
/// `group` and `others` share no part; what is in neither is not there.
[[nodiscard]] GroupScene makeGroupScene(const model::Placed& placed, const WorldMates& mates,
                                        const std::vector<model::PartSpot>& group,
                                        const std::vector<model::PartSpot>& others);

/// The way out with the fewest others in it, the first of those alike.
struct BestWay {
    make::Way way;
    std::vector<model::PartSpot> blocked; ///< what is in it
};
[[nodiscard]] BestWay findBestWay(const GroupScene& group);

} // namespace ivrant::study
