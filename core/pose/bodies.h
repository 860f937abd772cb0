// SPDX-License-Identifier: GPL-3.0-or-later
// Which solids take part in collisions, and which pairs are allowed to touch?
//
// Studs that sit in another part of the same section are left out: they cannot be touched. The solids of a joint's two
// mated ports, and of further ports mated on the joint's own line (bearings), never collide with each other; nothing
// else of them is exempt and nothing is shrunk. What is seated elsewhere is the business of core/pose/seats.h. What
// stands on the boards of a section moves with it and collides with bricks of the others, but for those that a shaft
// passes through as the model stands; wheels and shafts of boards among each other are the business of core/drive.
#pragma once

#include <set>

#include "core/base/at.h"
#include "core/bonds/section_bonds.h"
#include "core/geometry/gap.h"
#include "core/model/placed.h"
#include "core/model/validate.h"

namespace ivrant::pose {

struct BodySolid {
    geometry::PlacedSolid inSection; ///< placed in the section frame
    int solid = 0;                   ///< index in the shape
};

struct BodyPart {
    int part = 0;
    std::vector<BodySolid> solids;
    geometry::Vec3 centre = geometry::Vec3::Zero(); ///< of its bounding sphere, in the section frame
    double radius = 0;
};

struct SectionBody {
    std::vector<BodyPart> parts;
};

/// Solid of a part, in project-wide terms.
struct SolidRef {
    model::PartSpot spot;
    int solid = 0;
    auto operator<=>(const SolidRef&) const = default;
};

struct Bodies {
    std::vector<std::shared_ptr<const SectionBody>> sections;
    std::vector<int> ownParts;                      ///< by section: parts numbered from here on stand on its boards
    std::set<std::pair<SolidRef, SolidRef>> exempt; ///< smaller first

    std::set<std::pair<model::PartSpot, model::PartSpot>>
        shared; ///< a shaft of a board and what it passes through; smaller first

    std::vector<int> bearings;                ///< by joint: ports that hold it on its own line, as the model stands
    std::vector<geometry::Bounds> portBounds; ///< by section, as bonds::boundPorts

    [[nodiscard]] bool isOnBoard(model::PartSpot spot) const { return spot.part >= at(ownParts, spot.section); }
    [[nodiscard]] bool isExempt(const SolidRef& a, const SolidRef& b) const {
        if (exempt.count(a < b ? std::pair(a, b) : std::pair(b, a)) > 0) return true;
        if (!isOnBoard(a.spot) && !isOnBoard(b.spot)) return false;
        return (isOnBoard(a.spot) && isOnBoard(b.spot)) ||
               shared.count(a.spot < b.spot ? std::pair(a.spot, b.spot) : std::pair(b.spot, a.spot)) > 0;
    }
};

/// Bodies of all sections. The project must outlive them. O(solids).
[[nodiscard]] Bodies makeBodies(const model::Project& project, const model::SectionTree& tree,
                                const std::vector<bonds::SectionBondsPtr>& bonds);

} // namespace ivrant::pose
