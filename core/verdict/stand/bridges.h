// SPDX-License-Identifier: GPL-3.0-or-later
// Which parts could be laid across two others, and which of them make it better? For use inside core/verdict.
//
// Places that are free near both parts are tried with plates and bricks of usual sizes; what gets better is offered,
// the best first.
#pragma once

#include "core/verdict/report.h"

namespace ivrant::verdict {

/// What is tried: smaller is better.
struct BridgeTrial {
    double now = 0;
    /// Of the model with the part added; none: it cannot be told.
    std::function<std::optional<double>(const model::Placed&, const std::vector<bonds::SectionBondsPtr>&)> measure;
    std::function<std::string(double)> describe; ///< "λ 0.81"
};

/// Parts across `low` and `high`, both of one section; nothing when they are not.
void addBridges(const Report& report, const study::PoseFacts& pose, model::PartSpot low, model::PartSpot high,
                const BridgeTrial& trial, std::vector<Mend>& mends);

} // namespace ivrant::verdict
