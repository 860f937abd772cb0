// SPDX-License-Identifier: GPL-3.0-or-later
// Does each joint hold what it carries in a pose?
//
// Demand: τ = Σ over carried masses (r − p) × m·g with p the joint centre, plus the moments of what the ground puts on
// the carried side (core/pose/ground.h): a leg that stands carries the body above it, and of what bands and springs
// pull. A hinge needs |τ · axis|, a ball |τ|. Pull: the part of the force on the carried side that draws the joint
// apart along its exit direction. Capacities are handed in (core/model/strength.h). Source: statics of rigid bodies
// (Meriam and Kraige, Statics, ch. 3); docs/derivations/holding.md. N·mm, N.
#pragma once

#include "core/model/mass.h"
#include "core/model/strength.h"
#include "core/pose/ground.h"
#include "core/pose/kinematics.h"
#include "core/pose/range.h"

namespace ivrant::pose {

struct JointLoad {
    int joint = 0;
    double needNmm = 0;
    model::Capacity have;                     ///< N·mm
    std::optional<double> margin;             ///< have / need; none when nothing is needed (below 1e-6 N·mm)
    double pullN = 0;                         ///< ≥ 0
    std::optional<model::Capacity> pullLimit; ///< N; none: this kind does not pull out
    double carriedG = 0;                      ///< mass whose weight passes through the joint
    int ring = -1;            ///< its ring holds as one: the first of the ring's joints; −1: it holds by itself
    bool standsBelow = false; ///< the carried side stands on the ground and carries the rest
    /// The carried part and what it lies on, when it is pressed against that by its weight: nothing to hold then, and
    /// no margin.
    std::optional<std::pair<model::PartSpot, model::PartSpot>> restsOn;
    geometry::Vec3 torque = geometry::Vec3::Zero(); ///< on the carried side, in the world, about the joint centre
};

/// Load of one joint with the figure placed as it stands (after applyStance). Without ground forces the roots of the
/// tree are held. O(parts carried).
[[nodiscard]] JointLoad calcJointLoad(const model::Placed& placed, const model::SectionTree& tree, int joint,
                                      const model::JointStrength& strength, const GroundForces& ground = {});
[[nodiscard]] std::vector<JointLoad> calcLoads(const model::Placed& placed, const model::SectionTree& tree,
                                               const model::JointStrengths& strengths, const GroundForces& ground = {});
/// Marks the loads of turning joints that are pressed against a stop where they stand (ranges of the same pose): what
/// stops it carries.
void applyRests(std::vector<JointLoad>& loads, const std::vector<FreedomRange>& ranges, const model::Placed& placed,
                const model::SectionTree& tree);
/// have / need; none when nothing is needed.
[[nodiscard]] std::optional<double> calcHoldMargin(double needNmm, double haveNmm);

/// Where the carried half leaves, with `frame` the from-port's: out of hinges and clips across the axis, out of
/// everything else along it.
[[nodiscard]] geometry::Vec3 getExitDirection(const parts::Port& port, const geometry::Frame& frame);

/// Potential energy of everything in N·mm (weight × height), for checking torques by another route.
[[nodiscard]] double calcPotentialEnergy(const model::Placed& placed);

} // namespace ivrant::pose
