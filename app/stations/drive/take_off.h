// SPDX-License-Identifier: GPL-3.0-or-later
// What hangs on shafts of a board, one by one: wheels, motors, functions, belts, strings, couplings, selectors. For a
// menu of what to take off.
#pragma once

#include <QString>
#include <vector>

#include "core/model/project.h"

namespace ivrant::app {

struct Removable {
    std::string id;
    QString text; ///< "motor M1 (motor medium)"
};
/// Of the chosen shafts and racks; with none chosen everything that lies on the board but its shafts.
[[nodiscard]] std::vector<Removable> listRemovable(const model::Board& board, const std::vector<std::string>& chosen);

} // namespace ivrant::app
