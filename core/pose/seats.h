// SPDX-License-Identifier: GPL-3.0-or-later
// What sits on what between sections: bearings on a joint's own line, and seats such as a lid closed on studs?
//
// A joint's two sections may hold each other by more ports than the two that the joint names. Those on the joint's own
// line are bearings of the same joint: they turn with it and never collide. All others are seats: fine where they are,
// an end of the way there, and left the way they were entered, along the port's axis. docs/parts.md. World frame;
// degrees, mm, N·mm.
#pragma once

#include "core/bonds/across.h"
#include "core/model/validate.h"
#include "core/pose/bodies.h"

namespace ivrant::pose {

/// Do two ports, mated as placed, lie on the line of a joint whose from-port has this frame (z its axis)?
[[nodiscard]] bool isOnLine(const geometry::Frame& X_WJ, const model::Placed& placed, const bonds::AcrossMate& mate);

/// All mates on the line of a joint that turns, between the two sections it joins; the joint's own ports among them.
[[nodiscard]] std::vector<bonds::AcrossMate> listBearings(const model::Placed& placed, const model::SectionTree& tree,
                                                          int joint, const std::vector<bonds::AcrossMate>& mates);

/// Mates that are no bearings of any joint, and no joint's own ports.
[[nodiscard]] std::vector<bonds::AcrossMate> listSeats(const model::Placed& placed, const model::SectionTree& tree);

/// The solids of two mated ports, smaller first: what may be in each other.
void addPortSolids(const model::Project& project, const bonds::AcrossMate& mate,
                   std::set<std::pair<SolidRef, SolidRef>>& pairs);

} // namespace ivrant::pose
