// SPDX-License-Identifier: GPL-3.0-or-later
// Does each string, band and spring of a model do what it is for, in every pose?
//
// A string: how far it is to be pulled, how hard, whether bending what it runs past pulls it too, how slack it gets,
// what it does to the joints on its way and to what it is tied to. A band: whether it brings its joint back everywhere,
// and how many it takes. A spring: how far it sags, what is left of its travel. Looked at in every pose of the project,
// over the whole way of the joint that the line works; lengths also at their extremes within the wanted ranges (by
// climbing one joint after another from every pose: not proven to be the very largest). What the joint asks for follows
// from virtual work, so it may lie on loops. Degrees, mm, N, N·mm; docs/derivations/lines.md.
#pragma once

#include "core/pose/lines.h"
#include "core/study/facts.h"

namespace ivrant::study {

inline constexpr int kWorkPlaces = 12; ///< steps on the way of a joint that a line works
// Usual values of ours.
inline constexpr double kHandPullN = 15;  ///< thumb and finger, without hurting
inline constexpr double kLooseMm = 3;     ///< slack up to here does not slip off a pin
inline constexpr double kSelfPullDeg = 5; ///< a joint may be pulled along by so much when others move

/// A line in a pose of the project, the joint it works at its beginning.
struct StrandPose {
    int pose = 0; ///< of Facts::poses
    pose::LineState state;
    double longerMm = 0;            ///< than in the present pose, drum counted
    double lackMm = 0, slackMm = 0; ///< a string tied at both ends: shorter or longer than its way
    std::optional<double> travelMm; ///< of a string, to take up what is slack and pull its joint all the way
    /// How far its joint is pulled along when the end stays where the line is as long as it is said to be; without a
    /// length, taut in the present pose.
    std::optional<double> pulledDeg;
    double slackThereMm = 0; ///< or how slack it is then
};

/// One place on the way of the joint that it works.
struct StrandPlace {
    int pose = 0;
    double at = 0;      ///< value of the joint
    double needNmm = 0; ///< against going on: weights, other lines, friction; below 0 it goes by itself
    double leverMm = 0; ///< mm a radian (none for slides: 1) that the pull has, friction on its way counted; ≤ 0: it
                        ///< pulls the wrong way
    double helpNmm = 0; ///< of bands and springs: what all of them do; of one: divided by the count
    double knotN = 0;   ///< of strings: at the first guide
    double pullN = 0;   ///< of strings: where it is pulled
};

/// A joint that the pull of a string asks to hold.
struct StrandJoint {
    int joint = 0, pose = 0;
    double needNmm = 0, withoutNmm = 0; ///< while it is pulled hardest, and at rest
    model::Capacity have;
};

/// Extremes of a line's way within the wanted ranges of what it runs past.
struct StrandSpan {
    double leastMm = 0, mostMm = 0; ///< longer than in the present pose, drum counted
    pose::JointValues atLeast, atMost;
};

struct StrandStudy {
    int index = -1;
    /// Why it has no way in some pose, or cannot work its joint; else empty. Codes of LineState, "line.waits" (a guide
    /// waits with an alternative), "line.joint" (its joint does), "line.kind" (it does not turn about one axis),
    /// "line.works" (it gets to its beginning in no pose).
    std::string code, problem;
    int problemPose = -1;
    double restMm = 0;
    std::vector<StrandPose> poses; ///< of Facts::poses, those it has a way in
    StrandSpan span;
    double tautMm = 0;                   ///< of strings that work a joint: longer than its present way when it is taut
    std::optional<double> spanPulledDeg; ///< of its joint, at the longest way
    double spanLackMm = 0, spanSlackMm = 0;
    int joint = -1;                  ///< that it works
    std::vector<StrandPlace> places; ///< over all poses
    std::vector<int> missed;         ///< poses in which its joint does not get all the way by itself (limits, loops)
    int hardest = -1;                ///< place of the largest pull, or of the least help against the need
    int wrongWay = -1;               ///< a place where it pulls the wrong way though something is needed
    double mostTravelMm = 0, leastTravelMm = 0;
    int needCount = 0;               ///< bands: so many are enough everywhere; 0: none are, or nothing is needed
    bool frictionMeasured = false;   ///< of the joint it works
    std::vector<StrandJoint> joints; ///< those on its way that hold worst, one entry a joint
    std::shared_ptr<const stand::CaseResult> pulled; ///< bonds while it is pulled hardest; null: not looked at
    int pulledPose = -1;
    std::optional<double> sagAt; ///< springs: where its joint comes to rest by itself
    double sagLeftMm = 0;        ///< travel left there until it is pressed flat
    bool flat = false;           ///< it is pressed flat before it carries
    double mostStretchMm = 0;    ///< over poses and places
    bool beyondLaw = false;
    double cutMm = 0; ///< strings: what to cut, with knots and something to hold on to
};

/// Each line of a snapshot whose poses are known. Some ms a line.
[[nodiscard]] std::vector<std::shared_ptr<const StrandStudy>> calcStrands(const Facts& facts,
                                                                          const base::Progress* progress = nullptr);
/// Forces of bands and springs on parts, as a pose stands.
[[nodiscard]] std::vector<stand::PartPull> listRestPulls(const Facts& facts, const PoseFacts& pose);
/// A band or spring runs from one side of the joint to the other.
[[nodiscard]] bool isPulledAcross(const model::Project& project, const model::SectionTree& tree, int joint);

} // namespace ivrant::study
