// SPDX-License-Identifier: GPL-3.0-or-later
// Do these joint values put any two sections into each other? Asked many thousand times: reach, paths, dragging.
//
// Sections directly joined by a turn are looked up in the free range of that joint between the two alone, found once;
// all other pairs are tested solid against solid behind bounding spheres. "Free" means no contact deeper than
// geometry::kContactToleranceMm. Sections that no joint ties together are not compared.
#pragma once

#include <array>

#include "core/base/at.h"
#include "core/pose/range.h"

namespace ivrant::pose {

class PoseChecker {
public:
    /// Prepares for the project of `context` (which must outlive this) around the values from which joints are moved.
    /// `moving`: joints that will change; only pairs they separate are tested. Empty: all. O(joints) sweeps.
    PoseChecker(const RangeContext& context, const JointValues& around, const std::vector<int>& moving = {});

    /// True when nothing collides and every value is within its own limits. A few µs to some ten µs.
    [[nodiscard]] bool isFree(const JointValues& values) const;
    /// The same for sections placed already by kinematics().
    [[nodiscard]] bool isFree(const JointValues& values, const std::vector<geometry::Frame>& X_WS) const;
    /// A pair of solids in each other, for saying what is in the way; none when free or only out of a joint's range.
    [[nodiscard]] std::optional<std::pair<SolidRef, SolidRef>> findCollision(const JointValues& values) const;

    /// What is in the way of a pose: two solids, those that stop a joint's turn where it is only out of that, or a
    /// joint whose own limit it is beyond.
    struct Block {
        std::optional<std::pair<SolidRef, SolidRef>> pair;
        std::optional<int> limitOf;
    };
    [[nodiscard]] Block findBlock(const JointValues& values) const;

    [[nodiscard]] const Kinematics& kinematics() const { return m_kinematics; }
    /// What the joint's own limit, and for turns its two sections alone, leave free.
    [[nodiscard]] const model::Range& freeRange(FreedomRef freedom) const {
        return at(at(m_free, freedom.joint), freedom.freedom);
    }

private:
    struct Pair {
        int a, b;
        bool joined; ///< by one joint directly: exempt ports must be looked up
    };
    struct Sphere {
        geometry::Vec3 centre;
        double radius;
    };
    [[nodiscard]] std::optional<std::pair<SolidRef, SolidRef>>
    findInPair(const Pair& pair, const std::vector<geometry::Frame>& X_WS) const;
    [[nodiscard]] bool isInRange(const JointValues& values) const;

    const RangeContext& m_context;
    Kinematics m_kinematics;
    std::vector<std::vector<model::Range>> m_free; ///< per joint and freedom
    using Stops = std::array<std::optional<std::pair<SolidRef, SolidRef>>, 2>;
    std::vector<Stops> m_stops; ///< per joint: what stops its turn, low and high; none: its own limit
    std::vector<Pair> m_pairs;
    std::vector<Sphere> m_spheres; ///< per section, in its own frame
};

} // namespace ivrant::pose
