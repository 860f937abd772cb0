// SPDX-License-Identifier: GPL-3.0-or-later
// What is seen of a drive of parts in the plane of a gear board?
#pragma once

#include "core/drive/drive_model.h"
#include "core/model/project.h"

namespace ivrant::drive {

/// The board with what is on it, and with the shafts, wheels and motors that are parts of its section and lie along its
/// axes, as if they were put on it; their ids are those of the parts, places in whole µm. Axles that drive nothing are
/// among them, though no rotor stands for them. `X_CB`: of the board. O(rotors + rings + axles · wheels).
[[nodiscard]] model::Board makeSeenBoard(const model::Project& project, int board, const DriveModel& machine,
                                         const geometry::Frame& X_CB);
/// The second view of a board: its x stays to the right; up is up in the section where the board lies flat (from the
/// front), else what lies further out is further down (from above).
struct Elevation {
    geometry::Frame X_BE = geometry::Frame::Identity();
    int outSign = -1; ///< the way up in it goes: out of the board, or into it
    std::string name; ///< "from above"
};
[[nodiscard]] Elevation getElevation(const model::Board& board);
/// The drive of parts seen that way; none of a board's own things.
[[nodiscard]] model::Board makeSeenElevation(const model::Project& project, int board, const DriveModel& machine,
                                             const geometry::Frame& X_CB);

/// What carries shafts of the board, and motors: how far each reaches, in the board's frame, mm.
struct SeenBody {
    std::string id;
    geometry::Bounds box;
    bool motor = false;
};
/// O(parts + holes · axles).
[[nodiscard]] std::vector<SeenBody> listSeenBodies(const model::Project& project, const model::Board& board);

/// Ids with those of all parts that are fixed to them: what moves along when they are moved.
[[nodiscard]] std::vector<std::string> listWithParts(const DriveModel& machine, const std::vector<std::string>& ids);

} // namespace ivrant::drive
