// SPDX-License-Identifier: GPL-3.0-or-later
// Can the model be built as its steps say: each section by itself, and the sections onto each other?
//
// Sections are built one after the other (make::listSteps) and hung on what is there when they are finished, in
// whichever pose lets them. What stands on boards of older files is a step of its own and is not looked at.
#pragma once

#include <map>

#include "core/make/order_check.h"
#include "core/study/facts.h"

namespace ivrant::study {

/// One section by itself; bodies are the indices of its parts.
struct SectionAssembly {
    make::OrderCheck check;
    std::vector<int> stuck; ///< when something is in the way: parts that no straight way leads to in any order
};

/// Does a finished section go onto what is there before it?
struct SectionJoin {
    int section = 0, joint = 0;
    bool goes = false;
    std::string pose;                     ///< in which it does; empty: in every one looked at
    make::Way way;                        ///< out, in the world
    std::vector<model::PartSpot> blocked; ///< when it does not: what is in its best way
};

/// Parts that waited until a section was on (model::Part::after): those that cannot go in even then.
struct WaitingFault {
    model::PartSpot part;
    int after = 0; ///< section
    make::OrderFault::Kind kind = make::OrderFault::Kind::InTheWay;
    make::Way way;                       ///< out, in the world
    std::vector<model::PartSpot> others; ///< in its way, or what it would hold to
};

struct Assembly {
    std::vector<std::shared_ptr<const SectionAssembly>> sections; ///< by section
    std::vector<SectionJoin> joins;                               ///< in order of building
    std::vector<WaitingFault> waiting;
    std::map<model::PartSpot, make::Way> waitingWays; ///< of all parts that wait: out, in the world
};

/// Kept while the section lives. See make::checkOrder for the cost.
[[nodiscard]] std::shared_ptr<const SectionAssembly> getSectionAssembly(const model::SectionPtr& section,
                                                                        const bonds::SectionBonds& bonds);
/// Of the whole model; nothing when stopped.
[[nodiscard]] std::shared_ptr<const Assembly> calcAssembly(const Facts& facts, base::Progress* progress = nullptr);

} // namespace ivrant::study
