// SPDX-License-Identifier: GPL-3.0-or-later
// Do the parts in the drawers last, and at which step does something run out?
//
// Counted along the steps (make::listSteps). In the drawers counts what is kept for this model or for none; what is
// kept for other models is theirs. What was ordered counts as there once it arrived, before that as on the way.
#pragma once

#include <span>

#include "core/make/steps.h"
#include "core/model/edits.h"

namespace ivrant::make {

struct TideUse {
    int step = 0; ///< number
    int count = 0;
};
/// One shape in one colour.
struct TideLine {
    std::string shape; ///< list name
    int colour = 0;
    int need = 0;
    int have = 0;          ///< in the drawers, free for this model
    int keptForOthers = 0; ///< in the drawers, not free
    int arrived = 0, onTheWay = 0;
    std::vector<std::string> drawers; ///< of what is free, as they stand in the stocks
    std::vector<TideUse> uses;        ///< by step
    int runsOutAt = 0;                ///< first step for which drawers and arrivals do not suffice; 0: none
    int lacksAt = 0;                  ///< first step for which what is on the way does not suffice either; 0: none

    [[nodiscard]] int there() const { return have + arrived; }
    /// Neither there nor on the way.
    [[nodiscard]] int missing() const { return std::max(0, need - have - arrived - onTheWay); }
    /// Left once the steps up to that number are built; negative: short.
    [[nodiscard]] int leftAfter(int step) const;
};

struct Tide {
    bool isStocked = false;      ///< a stock is named
    int steps = 0;               ///< number of the last one
    std::vector<TideLine> lines; ///< what runs out first, then by shape and colour
};
/// O(parts + stock lines).
[[nodiscard]] Tide calcTide(const model::Project& project, const model::SectionTree& tree);

/// What each variant lacks; a line of the project's own needs stands under its name too.
struct VariantTide {
    std::string variant; ///< its name; of the only one the project's
    Tide tide;
};
[[nodiscard]] std::vector<VariantTide> calcTides(const model::Project& project);

/// A line of an order.
struct OrderedLine {
    model::OrderId order;
    int line = 0;
    bool operator==(const OrderedLine&) const = default;
};
/// What has arrived of these lines is put into the drawers of the first stock, kept for this model, and counts there
/// from now on. Errors "stock.none", "order.arrived".
[[nodiscard]] model::EditResult putAway(const model::Project& project, std::span<const OrderedLine> lines);

/// Drawers' lines are marked as kept for this model, as many as it needs, those of the first stock first. Counts of
/// what is kept already are kept on. Error "stock.none" without a stock.
base::Result<std::shared_ptr<const model::Supplies>> keepForModel(const model::Project& project, const Tide& tide);
/// Nothing is kept for this model any more.
[[nodiscard]] std::shared_ptr<const model::Supplies> releaseModel(const model::Project& project);

} // namespace ivrant::make
