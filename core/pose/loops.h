// SPDX-License-Identifier: GPL-3.0-or-later
// Where is everything when one joint of a linkage is turned, how fast does it follow, and where does it stick?
//
// A place is solved block by block (loop_plan.h) by Newton's method on r = [ℓ·log R; p] around each cycle with all six
// rows kept (planar loops leave three of them empty: least squares by column-pivoted QR). It is stopped on the step and
// then tested on the gap, as links that do not fit leave one. Rates follow from the same factors, J q̇ = −V, J q̈ = −A.
// Going on: predict q + h q̇ + ½ h² q̈, accept when the first correction is small, else halve h. The branch is kept by
// continuity: where the sign of a block's determinant flips the step is halved, and if it flips however small the step
// is, with hardly any correction, all links lie in line: a change point, where both ways are possible. Where no step
// however small goes on is a dead point. Source: Nikravesh, Computer-Aided Analysis of Mechanical Systems, ch. 3 to 5;
// docs/derivations/loops.md. Degrees and mm; rates per radian of a driver that turns, per mm of one that slides.
#pragma once

#include "core/pose/loop_plan.h"

namespace ivrant::pose {

inline constexpr double kLoopGapMm = 0.05; ///< up to here a loop is closed, as two ports that mate (docs/parts.md)
inline constexpr double kLoopTurnDeg = 0.5;

struct LoopPlace {
    JointValues values;                      ///< of all joints; turns go on beyond 180°
    std::vector<std::vector<double>> rates;  ///< q̇ by joint and freedom, rad or mm; balls: angular velocity
    std::vector<std::vector<double>> second; ///< q̈
    double gapMm = 0, turnDeg = 0;           ///< the worst that a cycle is left open
    int gapJoint = -1;                       ///< a joint of that cycle
    double mostGapMm = 0, mostTurnDeg = 0;   ///< on the way from here: beyond the start's own misfit it is open
    std::vector<Eigen::MatrixXd> reference;  ///< Jacobian of each block where its determinant last had a sign
    [[nodiscard]] bool isClosed() const { return gapMm <= kLoopGapMm && turnDeg <= kLoopTurnDeg; }
};

enum class LoopEnd {
    Reached,
    Dead,  ///< dead point: the driver can go no further
    Limit, ///< a joint is at its own limit
    Open   ///< the loop does not close here
};

class LoopFollower {
public:
    /// `kinematics` must outlive it.
    LoopFollower(const Kinematics& kinematics, LoopPlan plan);

    [[nodiscard]] const LoopPlan& plan() const { return m_plan; }
    /// Closes from where the carrying joints put everything, with the driver as it is. Look at isClosed().
    [[nodiscard]] LoopPlace start(const JointValues& values) const;
    /// Goes on until the driver has `target` (degrees or mm), or as far as it gets. `changePoints`: driver values at
    /// which both ways are possible are added. `limitOf`: of Limit, the joint. Some 10 µs a loop and place.
    [[nodiscard]] LoopEnd advance(LoopPlace& place, double target, std::vector<double>* changePoints = nullptr,
                                  int* limitOf = nullptr) const;

    /// How far apart a cycle would come for one radian (mm) of the driver at the rates of this place, mm: above 0 the
    /// driver cannot move, and rates mean nothing.
    [[nodiscard]] double calcRateGap(const LoopPlace& place) const;

    /// How well each block passes motion on.
    struct Transmission {
        double sine = 1;         ///< 1 best, 0 stuck
        bool angle = false;      ///< a two-link block: it is the sine of the transmission angle
        double gainRadPerMm = 0; ///< largest turn that 1 mm of play in the block makes
        int joint = -1;          ///< between the two links, else the first unknown
    };
    /// One for each block of two unknowns or more that moves, in the plan's order; `block`: its index.
    struct BlockTransmission : Transmission {
        int block = 0;
    };
    [[nodiscard]] std::vector<BlockTransmission> calcTransmissions(const LoopPlace& place) const;

private:
    struct Solved {
        double firstStep = 0; ///< rad, slides as mm / kLoopArmMm
        double gapMm = 0, turnDeg = 0;
        int gapJoint = -1;
        Eigen::MatrixXd jacobian; ///< at the end
    };
    Solved solveBlock(const LoopBlock& block, JointValues& values) const;
    /// All blocks; false when a first correction is larger than it may be.
    bool solveAll(LoopPlace& place, double mostStep, double& firstStep, std::vector<Eigen::MatrixXd>& jacobians) const;
    void findRates(LoopPlace& place, const LoopPlace* before, double h,
                   const std::vector<Eigen::MatrixXd>& jacobians) const;
    [[nodiscard]] int findLimit(const JointValues& values) const;

    const Kinematics& m_kinematics;
    LoopPlan m_plan;
    double m_driverUnit = 1; ///< rad or mm for one unit of the file
};

} // namespace ivrant::pose
