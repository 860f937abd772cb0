// SPDX-License-Identifier: GPL-3.0-or-later
// How far does each freedom of a joint really move in a pose, and what stops it?
//
// The freedom is swept both ways from its value in the pose until its own limit or the first contact
// (core/pose/sweep.h); the smaller counts. Angles in degrees, slides in mm, as in the project file.
#pragma once

#include "core/base/progress.h"
#include "core/pose/bodies.h"
#include "core/pose/kinematics.h"
#include "core/pose/seats.h"
#include "core/pose/sweep.h"

namespace ivrant::pose {

enum class StopBy {
    Own,
    Contact,
    Seat, ///< it sits there on the other side's studs, pins or clips
    Ring, ///< the ring that the joint lies in cannot close any further
    Nothing
};

struct RangeStop {
    StopBy by = StopBy::Nothing;
    SolidRef moving, fixed;            ///< Contact only
    std::optional<double> clearanceMm; ///< Contact only: distance of the two stopping parts in the pose itself
    int limitOf = -1;                  ///< Ring only: the joint that is at its own limit; −1: a dead point
    int seats = 0;                     ///< Seat only: how many ports hold it there
    double openNmm = 0; ///< Seat only, of turns: what it takes to open it again, Σ pull-out × lever (starting values)
    std::optional<SweepContact> met; ///< as the sweep found it
    bool plain = false;              ///< nothing sits on anything on the way: only what comes in between can change it
};

struct FreedomRange {
    int joint = 0, freedom = 0; ///< indices
    double value = 0;
    std::optional<model::Range> own; ///< none: endless
    model::Range free;               ///< endless and unblocked: value ± 180
    bool endless = false;            ///< nothing stops it either way
    bool collides = false;           ///< the pose itself overlaps: the free range is the value alone
    bool seated = false;             ///< it sits on the other side in the pose itself
    RangeStop low, high;
    std::optional<model::Range> wanted;
    std::optional<double>
        margin; ///< wanted ranges only; see calcRangeMargin; none: every wanted value is the present one
};

/// What ends a freedom in a ring: "the limit of Elbow", "a dead point of its ring". Of StopBy::Ring.
[[nodiscard]] std::string describeRingEnd(const model::Project& project, const RangeStop& stop);

/// One freedom of one joint, by index.
struct FreedomRef {
    int joint = 0, freedom = 0;
    auto operator<=>(const FreedomRef&) const = default;
};

/// Error `code` when one of the joints lies in a ring: `what` ("a map") is only for joints that move on their own.
[[nodiscard]] base::Status checkOutsideRings(const model::Project& project, const model::SectionTree& tree,
                                             const std::vector<int>& joints, const std::string& code,
                                             const std::string& what);

/// Everything that ranges in one project need, made once.
struct RangeContext {
    const model::Project* project = nullptr;
    model::SectionTree tree;
    Bodies bodies;
};
[[nodiscard]] RangeContext makeRangeContext(const model::Project& project, const model::SectionTree& tree,
                                            const std::vector<bonds::SectionBondsPtr>& bonds);

/// Own limits of a freedom with the joint's other values as they are; none: endless.
[[nodiscard]] std::optional<model::Range> calcOwnRange(const parts::JointKind& kind, const std::vector<double>& values,
                                                       int freedom);
/// The sweep of one freedom from where `values` put it; `placed` of the same values.
[[nodiscard]] SweepMotion makeSweepMotion(const RangeContext& context, const model::Placed& placed,
                                          const JointValues& values, FreedomRef freedom);
/// Radians for angles, mm for slides, per unit of the project file.
[[nodiscard]] double getSweepUnit(const parts::JointKind& kind, int freedom);

/// The range of the same freedom in the same values before an edit, and what the edit changed (kept_ranges.h).
struct BodyChange;
struct KeptRange {
    const BodyChange* change = nullptr;
    const FreedomRange* before = nullptr;
};

/// Range of one freedom in the given values. Sections are where calcPlaced puts them. In a ring the other joints follow
/// (core/pose/rings.h); a joint that closes a ring has the range of its value alone: the others set it. `kept`: only
/// pairs with a part that has changed are looked at, with the same bits as without it.
[[nodiscard]] FreedomRange calcRange(const RangeContext& context, const JointValues& values, int joint, int freedom,
                                     const base::Progress* progress = nullptr, const KeptRange* kept = nullptr);

/// min((free_hi − v)/(wanted_hi − v), (v − free_lo)/(v − wanted_lo)); an end that is not on its side of v, or equals v,
/// counts only when it is not free (then the margin is 0). None when no end counts. `slack` (degrees or mm) is how far
/// beyond the free range still counts as free at v.
[[nodiscard]] std::optional<double> calcRangeMargin(double value, const model::Range& free, const model::Range& wanted,
                                                    double slack = 0.05);

/// Where a turn or slide stops, one way: contact, or a seat that it comes to, with what sits where it stands left out
/// of the contacts when it is left along its ports. `limit`: signed, as SweepRequest::span. Shared by ranges and
/// PoseChecker.
struct SeatedSweep {
    std::optional<SweepContact> contact; ///< none: it gets as far as the span
    std::vector<bonds::AcrossMate> seat; ///< not empty: it sits there at contact->q
    bool plain = false;                  ///< RangeStop::plain
};
[[nodiscard]] SeatedSweep sweepToStop(const RangeContext& context, SweepRequest request,
                                      const base::Progress* progress = nullptr, const BodyChange* change = nullptr,
                                      const RangeStop* before = nullptr);

/// Distance of two parts (mm), 0 when they touch or overlap.
[[nodiscard]] double calcPartDistance(const model::Placed& placed, model::PartSpot a, model::PartSpot b);

} // namespace ivrant::pose
