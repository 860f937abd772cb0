// SPDX-License-Identifier: GPL-3.0-or-later
// What holds to what inside a section: rigid groups, loose parts, parts held by one bond, overlaps?
//
// Rules (docs/parts.md): two studs or more between two parts are rigid; one stud alone is a swivel and counts as a weak
// bond; two pins on different axes are rigid, one pin turns. A weak bond that is the only way between two groups is
// reported with the lighter side.
#pragma once

#include <memory>

#include "core/bonds/mates.h"

namespace ivrant::bonds {

struct SingleBond {
    int mate = 0;          ///< index into SectionBonds::mates
    std::vector<int> held; ///< parts on the lighter side
    double heldG = 0;      ///< their mass
};

struct Overlap {
    int partA = 0, partB = 0;
    double depthMm = 0;
    bool studInBody = false; ///< a stud where the other part has no cell for it
};

struct SectionBonds {
    std::vector<Mate> mates;
    std::vector<int> group; ///< rigid group number per part
    int groupCount = 0;
    std::vector<int> loose; ///< parts held by nothing
    std::vector<SingleBond> singles;
    std::vector<Overlap> overlaps;
    std::vector<std::vector<int>> coveredStuds; ///< per part: ports of studs that sit in another part
};
using SectionBondsPtr = std::shared_ptr<const SectionBonds>;

/// True when `port`, one side of the mate, is a stud that sits in the other part and cannot be seen or touched.
[[nodiscard]] bool coversStud(const Mate& mate, const parts::Port& port);

/// Parts in `anchored` carry a joint; a lone part among them is not loose. About 60 ms for 10,000 parts.
[[nodiscard]] SectionBonds calcSectionBonds(const model::Section& section, const std::vector<int>& anchored);

/// The same for every section of a project, in order. Results for unchanged sections are reused (keyed by the shared
/// section and its anchors), so an edit costs only its own section. Safe from any thread.
[[nodiscard]] std::vector<SectionBondsPtr> calcBonds(const model::Project& project);

} // namespace ivrant::bonds
