// SPDX-License-Identifier: GPL-3.0-or-later
// How much range does an armour section, a cover or a single part cost?
//
// The same sweeps with and without the named parts. Nothing else changes: weights and bonds stay out of it.
#pragma once

#include "core/pose/range.h"

namespace ivrant::pose {

struct CoverCost {
    FreedomRef freedom;
    FreedomRange with, without;
    double costDeg = 0; ///< range lost to the cover, both ends together; degrees or mm
};

/// Ranges of all freedoms (or of one joint) with and without the parts; only those that differ by more than 0.05 come
/// back, dearest first.
[[nodiscard]] std::vector<CoverCost> calcCoverCosts(const RangeContext& context, const JointValues& values,
                                                    const std::vector<model::PartSpot>& cover,
                                                    std::optional<int> onlyJoint = std::nullopt,
                                                    const base::Progress* progress = nullptr);

/// The context as if the parts were not there (joint ports stay: a part that carries a joint is kept).
[[nodiscard]] RangeContext makeContextWithout(const RangeContext& context, const std::vector<model::PartSpot>& parts);

struct StopGain {
    model::PartSpot part;
    double gain = 0; ///< further range at that end without the part
};
/// What each part that stops a freedom costs: the stopping parts are taken away one after another, outermost first,
/// until the own limit or `most` parts.
[[nodiscard]] std::vector<StopGain> calcStopGains(const RangeContext& context, const JointValues& values,
                                                  FreedomRef freedom, bool highEnd, std::size_t most = 5);

} // namespace ivrant::pose
