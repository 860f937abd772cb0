// SPDX-License-Identifier: GPL-3.0-or-later
// How do a section's parts become triangles for the graphics card?
//
// One mesh per section. Faces between touching parts and studs that sit in another part are left out;
// every vertex carries the distances to its face's real edges, so that the fragment shader can ink them.
#pragma once

#include <cstdint>
#include <memory>
#include <vector>

#include "core/bonds/section_bonds.h"

namespace ivrant::render {

struct Vertex {
    float position[3];
    std::int8_t normal[4];
    std::uint32_t part;
    float edges[4]; ///< mm to up to four real edges; large: none
};

/// Triangles of one stud in its own frame, by coarseness: 16 sides, 8 sides, a flat hexagon.
struct StudTriangles {
    std::vector<Vertex> levels[3];
};

/// A stud that can be seen.
struct StudSpot {
    const StudTriangles* triangles; ///< lives as long as the program
    Eigen::Matrix3f R;              ///< in the section's frame
    Eigen::Vector3f p;              ///< mm
    std::uint32_t part;
};

struct BakedSection {
    std::vector<Vertex> bodies;
    std::vector<StudSpot> studs;
};

/// Studs as triangles, as coarsely as they look (0 fine … 2 far); made when that coarseness is first drawn.
[[nodiscard]] std::vector<Vertex> makeStuds(const BakedSection& baked, std::size_t level);

/// Bakes ahead, on any thread, what a renderer will ask for next; kept until it is taken or another eight hundred have
/// come.
void bakeAhead(const model::SectionPtr& section, const bonds::SectionBondsPtr& bonds);
/// What bakeAhead has kept for this very section, or null. Taken once.
[[nodiscard]] std::shared_ptr<const BakedSection> takeBaked(const model::SectionPtr& section,
                                                            const bonds::SectionBondsPtr& bonds);

/// Bakes a section in its own frame. Only `coveredStuds` of the bonds is looked at.
[[nodiscard]] BakedSection bakeSection(const model::Section& section, const bonds::SectionBonds& bonds);

} // namespace ivrant::render
