// SPDX-License-Identifier: GPL-3.0-or-later
// Which drive do the gear boards of a project make? Reads what is written on them; works nothing out.
#pragma once

#include "core/drive/drive_model.h"
#include "core/model/project.h"

namespace ivrant::drive {

/// `X_CB`: each board in the common frame. Shafts are carried where they were said to be, by the board's walls, and by
/// round holes of bricks of its section that lie on their lines; a wall that is typed and built counts once.
/// O(things + holes of the sections that hold boards).
[[nodiscard]] DriveModel readBoards(const model::Project& project, const std::vector<geometry::Frame>& X_CB);

/// Loose wheels (by id) that are fixed to their shafts: with the selector `moved` at a position, the others as they
/// stand; without it all as they stand.
[[nodiscard]] std::vector<std::string> listEngaged(const model::Project& project,
                                                   const model::Selector* moved = nullptr, int position = 0);

} // namespace ivrant::drive
