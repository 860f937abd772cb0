// SPDX-License-Identifier: GPL-3.0-or-later
// How far may teeth be in each other?
//
// Wheels collide as their pitch bodies. Where two toothed parts run together these touch; they sink into each other
// where bevels and crowns cross, and where a ring's flats stand out beyond its pitch circle. How they mesh is told by
// core/drive, not as an overlap. Of our shapes: bevels across 1.9 mm, flats 0.24 mm.
#pragma once

#include "core/parts/shape.h"

namespace ivrant::bonds {

inline constexpr double kCrossingTeethMm = 2.2, kFlatTeethMm = 0.3;

/// Of two solids of placed shapes (frames in common); 0: they are not teeth that can run together.
[[nodiscard]] double calcTeethRoomMm(const parts::Shape& a, const geometry::Frame& X_a, int solidA,
                                     const parts::Shape& b, const geometry::Frame& X_b, int solidB);

} // namespace ivrant::bonds
