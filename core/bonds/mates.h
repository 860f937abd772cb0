// SPDX-License-Identifier: GPL-3.0-or-later
// Which ports of a section's parts are mated, and by what kind of bond?
//
// Two ports mate when their origins agree within 0.05 mm (hole-like ports: modulo quarter pitches along the axis, axles
// and pins in thin holes anywhere), their axes oppose within 0.5° and their kinds fit (parts::findBondKind). Indices
// are those of Section::parts and Shape::ports.
#pragma once

#include <vector>

#include "core/model/project.h"

namespace ivrant::bonds {

inline constexpr double kMateDistanceMm = 0.05;
inline constexpr double kMateAngleDeg = 0.5;
inline constexpr double kHoleStepMm = 2.0; ///< a quarter pitch
/// Places along an axle are a pitch apart: between two of them even a thin hole is on one.
inline constexpr double kAxleReachMm = 4.0;
/// From the middle of a pin's half to its collar and its tip: a plate's hole may sit anywhere between.
inline constexpr double kPinHalfMm = 4.0;

struct Mate {
    int partA = 0, portA = 0, partB = 0, portB = 0;
    parts::BondKind kind = parts::BondKind::None;
};

/// True when two ports, given in a common frame, mate (kinds are not looked at).
[[nodiscard]] bool isSeated(const parts::Port& a, const geometry::Frame& X_a, const parts::Port& b,
                            const geometry::Frame& X_b);

/// All mates among the parts of a section, ordered by part and port. O(ports).
[[nodiscard]] std::vector<Mate> findMates(const model::Section& section);

} // namespace ivrant::bonds
