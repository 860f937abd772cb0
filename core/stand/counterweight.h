// SPDX-License-Identifier: GPL-3.0-or-later
// How does a model tip once a weight is fixed in it?
#pragma once

#include "core/stand/tipping.h"

namespace ivrant::stand {

/// The same model with a point mass (g; negative: taken away) at a place in the world that does not touch the ground.
/// Source: common centre of gravity.
[[nodiscard]] Tipping calcTippingWith(Tipping tipping, double gram, const geometry::Vec3& at);

} // namespace ivrant::stand
