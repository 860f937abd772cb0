// SPDX-License-Identifier: GPL-3.0-or-later
// What else could be built in place of parts that there are too few of?
//
// Only candidates, by their outlines: plates stacked for a brick, two shorter ones of the same kind in line, the same
// shape in another colour where a caller knows that nobody sees it. Whether the model still holds with them is for
// others to try. Parts that a joint holds on to stay.
#pragma once

#include "core/make/basket.h"
#include "core/make/stock.h"
#include "core/model/edits.h"

namespace ivrant::make {

/// One part and what takes its place, in its section's frame.
struct Replacement {
    model::SectionId section;
    model::PartId part;
    std::vector<model::NewPart> parts;
};
struct StandInCandidate {
    StandIn standIn;  ///< of each piece
    std::string text; ///< "3 plate 2x4 stacked for each brick 2x4"
    std::vector<Replacement> replacements;
};

/// The parts that the drawers do not suffice for: the last ones in the order of building, as many as are missing even
/// with what is on the way; those that a joint holds on to only when there are no others.
[[nodiscard]] std::vector<model::PartSpot> listLacking(const model::Project& project, const model::SectionTree& tree,
                                                       const TideLine& line);
/// All parts of that shape and colour that may be replaced, in the order of building: those that no joint holds on to
/// and that have no name.
[[nodiscard]] std::vector<model::PartSpot> listFree(const model::Project& project, const model::SectionTree& tree,
                                                    const TideLine& line);
/// What can take the place of these parts, all of one shape and colour.
[[nodiscard]] std::vector<StandInCandidate> listStandIns(const model::Project& project, const TideLine& line,
                                                         const std::vector<model::PartSpot>& spots);
/// Another colour for `line.missing()` of those parts that nobody sees: the one that the drawers have most of beyond
/// what the model needs. Nothing when there are too few.
[[nodiscard]] std::optional<StandInCandidate> findOtherColour(const model::Project& project, const TideLine& line,
                                                              const std::vector<model::PartSpot>& unseen);
/// Steps stay as they are.
[[nodiscard]] model::EditResult replaceParts(const model::Project& project,
                                             const std::vector<Replacement>& replacements);

} // namespace ivrant::make
