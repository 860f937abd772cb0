// SPDX-License-Identifier: GPL-3.0-or-later
// What is the most that a joint must hold, in whichever pose and way of standing asks most?
#pragma once

#include "core/study/facts.h"

namespace ivrant::study {

/// The pose that asks most of a joint (by index). Needs the loads.
[[nodiscard]] const PoseFacts& findWorstPose(const Facts& facts, std::size_t joint);

/// The most that a joint must hold over the wanted ranges and the wanted tilt of the base, in whichever way of standing
/// asks most. A way in which the whole falls over first does not count: then the worst among those that still stand,
/// `amongStanding`.
[[nodiscard]] pose::WorstLoad findWorst(const Facts& facts, const pose::RangeContext& context, int joint,
                                        const model::JointStrength& strength);

} // namespace ivrant::study
