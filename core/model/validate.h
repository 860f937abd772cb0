// SPDX-License-Identifier: GPL-3.0-or-later
// Is this project whole? Every rule a project keeps at all times, checked in one place.
#pragma once

#include "core/base/result.h"
#include "core/model/project.h"

namespace ivrant::model {

inline constexpr std::size_t kMaxParts = 200'000;

/// Checks ids, ports, joint kinds, values, poses, and that joints form trees. The error's place is the JSON pointer
/// into the project file. Codes: "id.syntax", "id.twice", "part.step", "part.after", "joint.part", "joint.port",
/// "joint.kind", "joint.value", "joint.self", "joint.twice", "joint.ring", "pose.joint", "pose.value", "pose.section",
/// "project.size", "project.tilt", "project.date", "series.…", "motion.…", "line.…", "ask.value", "diary.text",
/// "text.long", "board.…". Bodies of variants that are not shown are not looked at: each was whole when it was put
/// away.
[[nodiscard]] base::Status validate(const Project& project);

/// Which joint carries each section, and in which order sections can be placed. A joint between two sections that hang
/// together without it closes a ring: it carries nothing and is a constraint on the other joints of the ring.
struct SectionTree {
    std::vector<int> carrier;       ///< joint index per section, −1 for roots
    std::vector<int> order;         ///< section indices, each after its carrier's section
    std::vector<PartSpot> from, to; ///< per joint
    std::vector<int> closing;       ///< joints that close a ring, ascending

    [[nodiscard]] int parent(int section) const; ///< section index or −1
    [[nodiscard]] int rootOf(int section) const; ///< the section that carries all of its group
    /// The carrying joints on the way from one section to another of its group, over the section where both ways up
    /// meet.
    [[nodiscard]] std::vector<int> wayBetween(int fromSection, int toSection) const;
    /// Sections moved by a joint: the carried one and everything it carries.
    [[nodiscard]] std::vector<int> carriedBy(int joint) const;
    [[nodiscard]] bool isClosing(int joint) const;
    /// The carrying joints of the ring that a closing joint closes, from its from-section round to its to-section.
    [[nodiscard]] std::vector<int> ringOf(int closingJoint) const;
    /// True for a joint that carries within a ring, or closes one.
    [[nodiscard]] bool isInRing(int joint) const;
};

/// The tree of a valid project. Error "joint.self" (a section carries itself) or "joint.ring" (a section is carried by
/// two that nothing ties together) with the pointer of the joint otherwise. Of the joints of a ring, the last in the
/// list closes it.
base::Result<SectionTree> makeTree(const Project& project);

} // namespace ivrant::model
