// SPDX-License-Identifier: GPL-3.0-or-later
// Which ports of different sections are mated as the figure is placed?
//
// A door hangs on two clips, a shaft runs in three bricks, a lid is closed on studs: more holds between two sections
// than the ports that their joint names. World frame, mm.
#pragma once

#include "core/bonds/mates.h"
#include "core/model/placed.h"

namespace ivrant::bonds {

struct AcrossMate {
    model::PartSpot a, b; ///< a's section comes before b's
    int portA = 0, portB = 0;
    parts::BondKind kind = parts::BondKind::None;
};

/// All of them, ordered; those of joints among them. O(ports in the regions that two sections have in common).
[[nodiscard]] std::vector<AcrossMate> findMatesAcross(const model::Placed& placed);
/// By section, in its own frame, the box of all its ports and their depths.
[[nodiscard]] std::vector<geometry::Bounds> boundPorts(const model::Project& project);
/// Those between a section of one list and one of the other; `ports` as boundPorts gives them.
[[nodiscard]] std::vector<AcrossMate> findMatesAcross(const model::Placed& placed,
                                                      const std::vector<geometry::Bounds>& ports,
                                                      const std::vector<int>& some, const std::vector<int>& others);

[[nodiscard]] const parts::Port& getPort(const model::Project& project, model::PartSpot spot, int port);

} // namespace ivrant::bonds
