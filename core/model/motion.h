// SPDX-License-Identifier: GPL-3.0-or-later
// Which joint is driven through a turn or its travel, and what is followed on the way?
//
// A motion belongs to a variant. It names the joint that a crank, a motor or a hand turns; everything that loops carry
// along follows (core/pose/loops.h). Points whose path is of interest are named by a part and its port; parts that are
// gone, and a joint that waits with an alternative, are no error of the project: what is known of the motion tells it.
#pragma once

#include <optional>
#include <string>
#include <vector>

#include "core/base/result.h"
#include "core/model/notes.h"

namespace ivrant::model {

using base::MotionId;

struct Project;

struct Traced {
    PartId part;
    std::string port; ///< empty: the middle of the part
    auto operator<=>(const Traced&) const = default;
};

/// From one value of the joint to another: degrees, of slides mm.
struct Travel {
    double from = 0, to = 0;
    bool operator==(const Travel&) const = default;
};

struct Motion {
    MotionId id;
    std::string name;
    JointId joint;              ///< the driven one; its first freedom moves
    std::optional<Travel> over; ///< none: a whole turn, or as far as it gets
    int places = 72;            ///< looked at on the way, kLeastPlaces to kMostPlaces
    std::vector<Traced> traced;
    std::vector<base::SectionId> feet; ///< sections that it walks on; empty: it does not walk
    ExtraPtr extra;
};
inline constexpr int kLeastPlaces = 8, kMostPlaces = 720;
inline constexpr std::size_t kMostFeet = 100;
inline constexpr double kMostTravel = 3600; ///< degrees or mm either way

/// Whether they are whole. `place`: "/motions/0/name" … Codes "edit.name", "motion.joint", "motion.over",
/// "motion.places", "motion.traced", "motion.feet".
[[nodiscard]] base::Status checkMotions(const Project& project);

} // namespace ivrant::model
