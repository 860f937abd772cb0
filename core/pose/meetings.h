// SPDX-License-Identifier: GPL-3.0-or-later
// Which parts of sections that move against each other are in each other, at one place after another?
//
// Everything is tested as it stands, whatever values led there: nothing is looked up in ranges. Exempt are the ports of
// joints, as everywhere, and what sits on studs or in holes across sections where it stands.
#pragma once

#include "core/pose/kinematics.h"
#include "core/pose/seats.h"

namespace ivrant::pose {

class MeetingFinder {
public:
    /// `group` by section: sections of one group stand still against each other and are not compared. `bodies` must
    /// outlive it.
    MeetingFinder(const Bodies& bodies, const std::vector<int>& group);

    using Meeting = std::pair<SolidRef, SolidRef>; ///< the section that comes first first
    /// One pair of solids for each pair of parts that are deeper in each other than the tolerance, ordered. O(pairs of
    /// sections) where all are apart.
    [[nodiscard]] std::vector<Meeting> find(const model::Placed& placed) const;

    /// The fastest that any point of a section moves (an upper bound), for velocities [ω; v at the world's origin].
    [[nodiscard]] double boundSpeed(const std::vector<geometry::Frame>& X_WS,
                                    const std::vector<Eigen::Matrix<double, 6, 1>>& speeds) const;

private:
    struct Sphere {
        geometry::Vec3 centre = geometry::Vec3::Zero();
        double radius = 0;
    };
    const Bodies& m_bodies;
    std::vector<std::pair<int, int>> m_pairs;
    std::vector<Sphere> m_spheres;         ///< by section, in its own frame
    std::vector<geometry::Bounds> m_boxes; ///< the same
};

} // namespace ivrant::pose
