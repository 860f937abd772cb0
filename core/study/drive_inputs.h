// SPDX-License-Identifier: GPL-3.0-or-later
// What do the gear boards of a project need from elsewhere: loads from the joints they turn, motors that were measured?
#pragma once

#include "core/drive/drive_report.h"
#include "core/model/placed.h"
#include "core/model/validate.h"

namespace ivrant::study {

/// What a joint that lies on loops asks of whatever drives it, over all it can do; null when it lies on none or its
/// loops do not close. Some ms.
[[nodiscard]] std::shared_ptr<const drive::LoadCurve> makeLoopLoad(const model::Placed& placed,
                                                                   const model::SectionTree& tree, int joint);

/// Gravity at the joints of functions as the figure stands; lines of measured motors and the battery they ran on (this
/// project's runs before the workshop's). O(parts carried by those joints + runs).
[[nodiscard]] drive::DriveInputs makeDriveInputs(const model::Placed& placed, const model::SectionTree& tree);

/// The facts on the gear boards with those inputs. The placed project must outlive it.
[[nodiscard]] drive::DriveReport calcDrive(const model::Placed& placed, const model::SectionTree& tree);

} // namespace ivrant::study
