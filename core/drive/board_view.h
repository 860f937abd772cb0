// SPDX-License-Identifier: GPL-3.0-or-later
// What is seen of a drive of parts in the plane of a gear board?
#pragma once

#include "core/drive/drive_model.h"
#include "core/model/project.h"

namespace ivrant::drive {

/// The board with what is on it, and with the shafts, wheels and motors that are parts of its section and lie along its
/// axes, as if they were put on it; their ids are those of the parts, places in whole µm. `X_CB`: of the board.
/// O(rotors + rings).
[[nodiscard]] model::Board makeSeenBoard(const model::Project& project, int board, const DriveModel& machine,
                                         const geometry::Frame& X_CB);

/// Ids with those of all parts that are fixed to them: what moves along when they are moved.
[[nodiscard]] std::vector<std::string> listWithParts(const DriveModel& machine, const std::vector<std::string>& ids);

} // namespace ivrant::drive
