// SPDX-License-Identifier: GPL-3.0-or-later
// In which order are parts taken from the drawers?
//
// Two schools. By step: a tray counted out for each step, or for several that follow each other. By drawer: every
// drawer is opened once, in the order of their names (numbers in names count as numbers: A2 before A10), and what it
// holds of the model is taken out at once.
#pragma once

#include "core/make/stock.h"

namespace ivrant::make {

struct PickLine {
    std::string drawer; ///< empty: in none, to be had first
    std::string shape;
    int colour = 0;
    int count = 0;
};
struct PickTray {
    int firstStep = 0, lastStep = 0; ///< by drawer: 0
    std::string drawer;              ///< by drawer: its name; by step: empty
    std::vector<PickLine> lines;
};

/// Trays of so many steps each (at least 1); lines by drawer. Parts are taken from the drawers of the stocks in their
/// order, until each is empty.
[[nodiscard]] std::vector<PickTray> pickBySteps(const model::Project& project, const model::SectionTree& tree,
                                                int stepsATray = 1);
[[nodiscard]] std::vector<PickTray> pickByDrawers(const model::Project& project, const model::SectionTree& tree);

/// Names with their numbers by value: "A2" < "A10".
[[nodiscard]] bool isBeforeInDrawers(const std::string& l, const std::string& r);

} // namespace ivrant::make
