// SPDX-License-Identifier: GPL-3.0-or-later
// What keeps a shaft from sliding out of its holes?
//
// A shaft with all that is fixed to it is pushed along its line until something stands in its way: a wheel or bush
// against a wall, a part before its end. Motors, differentials and universal joints hold its ends by friction. Teeth do
// not count: they slide past each other. World frame, mm.
#pragma once

#include <vector>

#include "core/study/facts.h"

namespace ivrant::study {

/// What slides further than this has left its place: a pitch and a half.
inline constexpr double kMostSlipMm = 12;

struct ShaftSlip {
    int rotor = 0;                               ///< of the drive's net
    geometry::Vec3 way = geometry::Vec3::Zero(); ///< unit: nothing stops it there
};

/// Shafts of parts that nothing keeps, one entry for each way. O(shafts × parts near them).
[[nodiscard]] std::vector<ShaftSlip> findShaftSlips(const Facts& facts);

} // namespace ivrant::study
