// SPDX-License-Identifier: GPL-3.0-or-later
// Which drive do the gear boards of a project make, and all of it with the parts? Reads what is written; works nothing
// out.
#pragma once

#include "core/bonds/section_bonds.h"
#include "core/drive/drive_model.h"
#include "core/model/placed.h"
#include "core/model/validate.h"

namespace ivrant::drive {

/// `X_CB`: each board in the common frame. Shafts are carried where they were said to be, by the board's walls, and by
/// round holes of bricks of its section that lie on their lines; a wall that is typed and built counts once.
/// O(things + holes of the sections that hold boards).
[[nodiscard]] DriveModel readBoards(const model::Project& project, const std::vector<geometry::Frame>& X_CB);

/// Boards and parts (part_reader.h) together, in the world; they mesh with each other. `bonds`: by section.
[[nodiscard]] DriveModel readDrive(const model::Placed& placed, const model::SectionTree& tree,
                                   const std::vector<bonds::SectionBondsPtr>& bonds);

/// One way in which all selectors can stand.
struct Setting {
    std::vector<const model::Selector*> selectors;
    std::vector<int> at; ///< position of each
};
/// As they stand.
[[nodiscard]] Setting makePresentSetting(const model::Project& project);
/// Loose wheels (by id) that are fixed to their shafts.
[[nodiscard]] std::vector<std::string> listEngaged(const Setting& setting);
[[nodiscard]] std::vector<std::string> listEngaged(const model::Project& project); ///< as they stand

} // namespace ivrant::drive
