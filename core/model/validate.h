// Is this project whole? Every rule a project keeps at all times, checked in one place.
#pragma once

#include "core/base/result.h"
#include "core/model/project.h"

namespace ivrant::model {

inline constexpr std::size_t kMaxParts = 200'000;

/// Checks ids, ports, joint kinds, values, poses, and that joints form trees. The error's place is the JSON pointer into
/// the project file. Codes: "id.syntax", "id.twice", "part.step", "joint.part", "joint.port", "joint.kind",
/// "joint.value", "joint.self", "joint.ring", "pose.joint", "pose.value", "pose.section", "project.size", "project.tilt",
/// "project.date", "series.…", "ask.value", "diary.text". Bodies of variants that are not shown are not looked at: each was
/// whole when it was put away.
[[nodiscard]] base::Status validate(const Project& project);

/// Which joint carries each section, and in which order sections can be placed.
struct SectionTree {
    std::vector<int> carrier;       ///< joint index per section, −1 for roots
    std::vector<int> order;         ///< section indices, each after its carrier's section
    std::vector<PartSpot> from, to; ///< per joint

    [[nodiscard]] int parent(int section) const; ///< section index or −1
    /// Sections moved by a joint: the carried one and everything it carries.
    [[nodiscard]] std::vector<int> carriedBy(int joint) const;
};

/// The tree of a valid project. Error "joint.self" or "joint.ring" with the pointer of the joint otherwise.
base::Result<SectionTree> makeTree(const Project& project);

} // namespace ivrant::model
