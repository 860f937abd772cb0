// Does each joint hold what it carries in a pose?
//
// Demand: τ = Σ over carried masses (r − p) × m·g with p the joint centre, plus the moments of what the ground puts on the
// carried side (core/pose/ground.h): a leg that stands carries the body above it. A hinge needs |τ · axis|, a ball |τ|.
// Pull: the part of the force on the carried side that draws the joint apart along its exit direction. Capacity: starting value × 0.6 until
// the joint kind has been measured. Source: statics of rigid bodies (Meriam and Kraige, Statics, ch. 3);
// docs/derivations/holding.md. N·mm, N.
#pragma once

#include "core/model/mass.h"
#include "core/pose/ground.h"
#include "core/pose/kinematics.h"

namespace ivrant::pose {

/// How much of an unmeasured starting value is counted on.
inline constexpr double kUnmeasuredFactor = 0.6;

struct JointLoad {
    int joint = 0;
    double needNmm = 0;
    double haveNmm = 0;
    std::optional<double> margin;                   ///< have / need; none when nothing is needed (below 1e-6 N·mm)
    double pullN = 0;                               ///< ≥ 0
    std::optional<double> pullLimitN;               ///< none: this kind does not pull out
    double carriedG = 0;                            ///< mass whose weight passes through the joint
    bool standsBelow = false;                       ///< the carried side stands on the ground and carries the rest
    geometry::Vec3 torque = geometry::Vec3::Zero(); ///< on the carried side, in the world, about the joint centre
};

/// Load of one joint with the figure placed as it stands (after applyStance). Without ground forces the roots of the tree
/// are held. O(parts carried).
[[nodiscard]] JointLoad calcJointLoad(const model::Placed& placed, const model::SectionTree& tree, int joint, const GroundForces& ground = {});
[[nodiscard]] std::vector<JointLoad> calcLoads(const model::Placed& placed, const model::SectionTree& tree, const GroundForces& ground = {});

/// Potential energy of everything in N·mm (weight × height), for checking torques by another route.
[[nodiscard]] double calcPotentialEnergy(const model::Placed& placed);

} // namespace ivrant::pose
