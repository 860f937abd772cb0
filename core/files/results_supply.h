// SPDX-License-Identifier: GPL-3.0-or-later
// Results of stocks, orders and the calendar as JSON (docs/command-line.md) and CSV.
#pragma once

#include "core/make/basket.h"
#include "core/make/calendar.h"
#include "core/make/pick_list.h"
#include "core/verdict/make/check_supply.h"

namespace ivrant::files {

struct TriedLine {
    std::string shape;
    int colour = 0;
    std::vector<verdict::TriedStandIn> tried;
};
/// What there is and what runs out, with the tables' problems; of every variant what it lacks.
[[nodiscard]] model::Json makeStockJson(const model::Project& project, const make::Tide& tide,
                                        const std::vector<make::VariantTide>& variants,
                                        const std::vector<TriedLine>& standIns);
[[nodiscard]] model::Json makeBasketJson(const make::BasketRequest& request, const make::Basket& basket);
[[nodiscard]] model::Json makePickJson(const std::vector<make::PickTray>& trays);
[[nodiscard]] model::Json makePlanJson(const make::Plan& plan);

/// Columns shape, colour, need, have, arrived, on_the_way, missing, runs_out_at, drawers.
[[nodiscard]] std::string makeTideCsv(const make::Tide& tide);
/// Columns tray, drawer, shape, colour, count; one row a label's line.
[[nodiscard]] std::string makePickCsv(const std::vector<make::PickTray>& trays);
/// One seller's order, as sellers read them: shape, colour, count, price.
[[nodiscard]] std::string makeOrderCsv(const model::Order& order);
/// Phases with from, to and hours; then what must be there by when.
[[nodiscard]] std::string makePlanCsv(const make::Plan& plan);
/// "Steps 1 to 3", "Drawer A2", "In no drawer".
[[nodiscard]] std::string getTrayName(const make::PickTray& tray);

} // namespace ivrant::files
