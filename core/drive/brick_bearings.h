// SPDX-License-Identifier: GPL-3.0-or-later
// Which bricks of its section carry a shaft of a board: where along it do round holes lie on its line?
//
// µm and mm in the board's frame. A hole counts when its axis is along the shaft within 0.5° and off its line by less
// than 0.3 mm, and its middle lies between the ends of the shaft. Cross holes turn with the shaft and carry nothing.
#pragma once

#include <map>
#include <vector>

#include "core/geometry/frames.h"
#include "core/model/project.h"

namespace ivrant::drive {

class BrickBearings {
public:
    /// Looks at every part of sections that hold boards once: O(their ports). The project must outlive it.
    explicit BrickBearings(const model::Project& project);
    /// From the shaft's start, mm, ascending, each hole once. Empty for boards that live alone. `board`: index in the
    /// project. O(holes).
    [[nodiscard]] std::vector<double> listAlong(int board, const model::Shaft& shaft) const;

private:
    struct Hole {
        geometry::Vec3 at, axis; ///< in the section
    };
    const model::Project& m_project;
    std::map<int, std::vector<Hole>> m_holes; ///< by section
};

} // namespace ivrant::drive
