// SPDX-License-Identifier: GPL-3.0-or-later
// How is a wanted offset built from the steps that stud bricks allow?
//
// Along one direction: whole pitches (8 mm), a half pitch (a jumper's centre stud, 4 mm), plates laid sideways (3.2 mm)
// and a bracket's leaf or a recessed face (1.6 mm), each forwards or back.
#pragma once

#include <vector>

#include "core/base/result.h"

namespace ivrant::brief {

struct OffsetWay {
    int pitches = 0, halfPitches = 0, plates = 0, halfPlates = 0; ///< signed counts
    double mm = 0;
    double errorMm = 0; ///< mm − wanted
    int effort = 0;     ///< Σ of counts, sideways plates and leaves counted double: fewer is simpler
};

/// The best ways to make `wantedMm` (|wanted| ≤ 200), nearest first, simpler first among equals; at most `most`. Error
/// "offset.range".
base::Result<std::vector<OffsetWay>> findOffsets(double wantedMm, std::size_t most = 8);

} // namespace ivrant::brief
