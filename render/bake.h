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

/// Vertices by kind of content, so that studs can be drawn as coarsely as they look.
struct BakedSection {
    std::vector<Vertex> bodies;
    std::vector<Vertex> studsFine;   ///< 16 sides
    std::vector<Vertex> studsMiddle; ///< 8 sides
    std::vector<Vertex> studsFar;    ///< a flat hexagon
};

/// Bakes ahead, on any thread, what a renderer will ask for next; kept until it is taken or another eight hundred have come.
void bakeAhead(const model::SectionPtr& section, const bonds::SectionBondsPtr& bonds);
/// What bakeAhead has kept for this very section, or null. Taken once.
[[nodiscard]] std::shared_ptr<const BakedSection> takeBaked(const model::SectionPtr& section, const bonds::SectionBondsPtr& bonds);

/// Bakes a section in its own frame. Only `coveredStuds` of the bonds is looked at.
[[nodiscard]] BakedSection bakeSection(const model::Section& section, const bonds::SectionBonds& bonds);

} // namespace ivrant::render
