// SPDX-License-Identifier: GPL-3.0-or-later
// What torque does every shaft carry, what is lost on the way, and how much play is left at the end?
//
// Quasi-static: speeds do not change, so torques on every thing add up to zero. Each relation gives the torque factor·m
// to its things, with one unknown m each; what a thing receives in the frame of its carrier is multiplied by the
// relation's efficiency (the method of rolling power). Which side receives follows from the signs of the powers and is
// found by repeating. Where closed loops leave the shares open (three planets carry between the same wheels) they are
// those of the least norm, as parts that give alike would share. Units: N·mm, rpm, W, radians. A thing's torque is
// positive in the sense of its positive speed. Source: Müller (1982), ch. 3; Niemann and Winter, Maschinenelemente 2,
// for worms; docs/derivations/drive.md.
#pragma once

#include "core/base/result.h"
#include "core/drive/train.h"

namespace ivrant::drive {

/// Which part of the power arrives. 0 < forward ≤ 1. Negative backward: self-locking; driven from behind it takes power
/// on both sides.
struct Efficiency {
    double forward = 1;  ///< the relation's first thing gives power
    double backward = 1; ///< it receives power; relations of other than two things use forward only
    [[nodiscard]] bool holds() const { return backward <= 0; }
};

/// Both efficiencies of a worm from its forward one: lead angle γ = atan(starts/diameter at module 1), friction angle ρ
/// from η = tan γ / tan(γ + ρ), backward tan(γ − ρ)/tan γ. `diameterMm` > 0, 0 < forward < 1.
[[nodiscard]] Efficiency makeWormEfficiency(long starts, double diameterMm, double forward);

struct LoadRequest {
    std::map<int, double> speedsRpm; ///< of the independent things; others rest
    std::map<int, double>
        loadsNmm; ///< torque from outside on a thing: a weight that resists positive motion is negative
    std::vector<Efficiency> efficiency; ///< by relation; shorter: no loss in the rest
};

struct LoadResult {
    std::vector<double> speedsRpm; ///< by thing
    std::vector<std::vector<double>>
        onTerms; ///< by relation and term: torque on that thing; the opposite acts on the term's carrier, by its sense
    std::map<int, double> driveNmm; ///< on the independent things: what motors or hands must give
    std::vector<double> lossW;      ///< by relation, ≥ 0
    double inW = 0;                 ///< given by all outside torques and drives that push
    double outW = 0;                ///< taken by those that resist
    std::vector<int> leastNorm;     ///< relations in closed loops: statics leave their shares open, told are those with
                                    ///< the least sum of squared forces
};

/// Error "drive.load" when torques from outside meet no path (numerically singular) or the flow of power does not
/// settle.
[[nodiscard]] base::Result<LoadResult> calcLoad(const Train& train, const TrainMotion& motion,
                                                const LoadRequest& request);

/// Angle (rad) by which `output` can be turned with all independent things held; `slack` by relation: how far Σ
/// factor·angle can be off, for a mesh of module 1 twice its play in mm. 0 for a thing that the independent ones leave
/// loose elsewhere.
[[nodiscard]] double calcPlayRad(const Train& train, const TrainMotion& motion, int output,
                                 const std::vector<double>& slack);

} // namespace ivrant::drive
