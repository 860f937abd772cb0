// SPDX-License-Identifier: GPL-3.0-or-later
// What happens when one joint of a linkage is driven through a turn or its travel?
//
// At every place: where everything is, how fast it follows, what torque the driver asks for, how well motion is passed
// on, which parts meet, how far the model is from tipping. Loops are closed first (core/pose/loops.h), collisions are
// looked for afterwards, also between the places: so densely that no point moves further than kMeetStepMm at once.
// Torque by virtual work: Σ m·g·v_z + Σ pull·L̇ of bands and springs + Σ friction·|q̇|; friction of a joint is what it
// holds, measured or a starting value. The section that stands on the ground stays where it is; the others move.
// Degrees, mm, N·mm at the driver. Source: Shigley, Theory of Machines and Mechanisms, ch. 3 (transmission angle), ch.
// 12 (virtual work); docs/derivations/loops.md.
#pragma once

#include "core/pose/loops.h"
#include "core/pose/meetings.h"
#include "core/study/facts.h"

namespace ivrant::study {

/// Usual in mechanism design: below the first it works with care, below the second it sticks.
inline constexpr double kThinTransmissionDeg = 40, kStuckTransmissionDeg = 20;
inline constexpr double kMeetStepMm = 1.5;

struct MotionPlace {
    double at = 0; ///< value of the driver
    pose::JointValues values;
    std::vector<double> rates; ///< by MotionStudy::joints: of their first freedom, for one unit of the driver
    double gravityNmm = 0;     ///< weights, bands and springs, against growing values; N of drivers that slide
    double frictionNmm = 0;    ///< against either way
    std::optional<double> tipDeg;
    double sine = 1;         ///< the least of its transmissions
    bool sineIsAngle = true; ///< else compared with the best place of its loops
    int sineJoint = -1;
};
struct MotionEnd {
    pose::LoopEnd by = pose::LoopEnd::Reached;
    double at = 0;
    int joint = -1; ///< at its own limit
};
/// A joint that is carried along, over the whole motion.
struct MotionJoint {
    int joint = 0;
    double low = 0, high = 0, atLow = 0, atHigh = 0; ///< of its first freedom, and where the driver is then
    double mostRate = 0;                             ///< largest speed ratio
    bool round = false;                              ///< it goes all round
    /// Driver's turn on the way up to that on the way down, 1 or more: the longer over the shorter; 0: not a whole
    /// turn.
    double timeRatio = 0;
};
struct MotionMeeting {
    pose::SolidRef a, b;
    double from = 0, to = 0; ///< of the driver, the first time
    int times = 1;           ///< places in a row count once
    bool atStart = false;    ///< in the present pose already
};
struct MotionTrace {
    std::string name;
    int section = 0;
    geometry::Vec3 inSection = geometry::Vec3::Zero();
    std::vector<geometry::Vec3> path; ///< in the world, by place
    std::vector<double> speed;        ///< mm for one radian (mm) of the driver
    double lengthMm = 0;
    geometry::Vec3 size = geometry::Vec3::Zero(); ///< along x, y, z
};

struct WalkStudy; // walk.h

struct MotionStudy {
    int index = -1;      ///< of the project's motions
    std::string problem; ///< why it cannot be followed; else empty
    std::string code; ///< of the problem: "motion.joint", "motion.kind", "motion.open", "motion.dead", "motion.limit"
    pose::LoopPlan plan;
    int loops = 0;                ///< cycles that are closed together or alone
    double gapMm = 0, gapDeg = 0; ///< left open at the start
    int gapJoint = -1;
    bool allRound = false; ///< over a whole turn
    bool returns = true;   ///< after a whole turn everything stands as before
    MotionEnd low, high;   ///< of what was asked for: Reached
    std::vector<MotionPlace> places;
    std::vector<MotionJoint> joints; ///< as LoopPlan::moved
    std::vector<MotionTrace> traces;
    std::vector<MotionMeeting> meetings;
    std::vector<double> changePoints;      ///< driver values where both ways are possible
    int leastSine = -1;                    ///< index of the place; −1: no loop
    int hardestUp = -1, hardestDown = -1;  ///< places of the largest torque towards growing and falling values
    std::optional<int> leastTip;           ///< index of the place
    bool frictionMeasured = false;         ///< of all joints that move
    int ground = 0;                        ///< the section that stays
    std::shared_ptr<const WalkStudy> walk; ///< null: it has no feet

    [[nodiscard]] double torqueAt(std::size_t place, bool growing) const {
        const MotionPlace& p = places[place];
        return (growing ? p.gravityNmm : -p.gravityNmm) + p.frictionNmm;
    }
};

/// What a study reads: all must outlive the call.
struct MotionInputs {
    const model::Project* project = nullptr;
    const model::SectionTree* tree = nullptr;
    const model::Placed* placed = nullptr; ///< as it stands now
    const pose::Bodies* bodies = nullptr;  ///< null: collisions are not looked for
    const model::JointStrengths* strengths = nullptr;
    int ground = 0; ///< section that stays where it is
    bool tips = false;
};
/// One motion. Some ms for a four-bar and 72 places, most of it for collisions. Stopped: what was found so far.
[[nodiscard]] MotionStudy calcMotion(const MotionInputs& inputs, const model::Motion& motion,
                                     const base::Progress* progress = nullptr);
/// Of a snapshot whose poses are known: each motion of the project.
[[nodiscard]] std::vector<std::shared_ptr<const MotionStudy>> calcMotions(const Facts& facts,
                                                                          const base::Progress* progress = nullptr);
/// Where all sections are at a place, as the model stands.
[[nodiscard]] model::Placed placeMotion(const MotionInputs& inputs, const MotionStudy& study,
                                        const pose::JointValues& values);

} // namespace ivrant::study
