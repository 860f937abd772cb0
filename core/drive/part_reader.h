// SPDX-License-Identifier: GPL-3.0-or-later
// Which drive do the parts of a project make? Reads how they lie and hold; works nothing out.
//
// A rotor is a body (part_bodies.h) with an axle or teeth that is not the ground of its section. It is carried by the
// round holes on its line; what carries it tells whether it goes round with something. Wheels with a round bore turn by
// themselves on what goes through it. A section whose own ground turns about its joint (an axle in its cross hole,
// teeth round a turntable) is a rotor, and carries what turns in it. Only rotors with teeth, a motor or a function are
// told: axles that merely hold bricks together are no drive. World frame, mm.
#pragma once

#include "core/bonds/section_bonds.h"
#include "core/drive/drive_model.h"
#include "core/model/placed.h"
#include "core/model/validate.h"

namespace ivrant::drive {

/// Is there anything to read?
[[nodiscard]] bool hasDriveParts(const model::Project& project);

/// Adds the rotors, rings, bearings, links and motors that are parts. `named`: ids of parts that functions, motors of
/// boards and loops name; they count as judged. O(parts + mates · log).
void addParts(const model::Placed& placed, const model::SectionTree& tree,
              const std::vector<bonds::SectionBondsPtr>& bonds, const std::vector<std::string>& named,
              DriveModel& into);

} // namespace ivrant::drive
