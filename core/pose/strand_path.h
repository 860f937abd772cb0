// SPDX-License-Identifier: GPL-3.0-or-later
// Which way does a taut line take through eyes and round pins, and how does its length change?
//
// Between two eyes the rounds are parallel, so the way is plane when seen along them; with signed radii ρ = s·r
// (positive: the centre lies on the left) the straight piece from one to the next has d = cⱼ − cᵢ, e = ρⱼ − ρᵢ,
// ℓ = √(d² − e²), u = (ℓd − e·perp d)/d², and the arc on each is r·φ with φ = s·atan2(u₋ × u₊, u₋ · u₊). Where φ would
// be negative the line lets go; rounds that a piece would cross are taken up again. Along the rounds it climbs evenly:
// √(L² + w²). The length changes by Σ u·(v_to − v_from) over the straight pieces, v that of the two bodies at the ends
// of each: what slides along an arc cancels out. Source: shortest ways among discs (Dubins 1957; cable-driven
// mechanisms, Tsai, Robot Analysis, ch. 7); docs/derivations/lines.md. mm, one frame throughout.
#pragma once

#include <span>
#include <vector>

#include "core/geometry/frames.h"

namespace ivrant::pose {

struct StrandGuide {
    geometry::Vec3 at = geometry::Vec3::Zero();
    geometry::Vec3 axis = geometry::Vec3::UnitZ(); ///< of rounds; unit
    double radius = 0;                             ///< 0: an eye
    int side = 0;                                  ///< of rounds: +1 when the line turns left about the axis
    /// The line stays on it whichever way it bends. Rounds of open lines that it goes round by more than half a turn
    /// have to be.
    bool captive = false;
};

struct StrandPiece {
    int from = 0, to = 0; ///< guides
    geometry::Vec3 a, b;  ///< where it leaves the one and meets the other
    geometry::Vec3 unit;  ///< from a to b; zero when they are one point
    double mm = 0;
};

enum class StrandFault {
    None,
    Askew, ///< rounds next to each other are not parallel: there is no eye between them
    Inside ///< an eye lies inside the round beside it, or two rounds with the line between them overlap
};

struct StrandPath {
    double lengthMm = 0; ///< without what is wound up on a drum
    std::vector<StrandPiece> pieces;
    std::vector<double> bends; ///< by piece: how far the line turns before it goes on in it, rad; the first one 0
    std::vector<int> free;     ///< rounds that it does not touch
    StrandFault fault = StrandFault::None;
    int faultGuide = -1;
};

/// `guides`: two or more; the first is an eye, the last an eye or, for lines that end on a drum, a round. `closed`:
/// from the last on to the first. Cost: about 0.1 µs a guide, more where many rounds let go.
[[nodiscard]] StrandPath calcStrandPath(std::span<const StrandGuide> guides, bool closed = false);

/// Rounds next to each other may be this far from parallel.
inline constexpr double kStrandAskewDeg = 3;

} // namespace ivrant::pose
