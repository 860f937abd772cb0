// SPDX-License-Identifier: GPL-3.0-or-later
// Where is the build of a model weak by its pattern alone: straight seams, slender sections, pieces that come off, what
// only friction holds?
//
// World frame of the net, mm, N, g. Bodies and contacts are those of bond_net.h. Bonds in balance (equilibrium.h) tell
// what carries; these tell why, and what hands will do to it. Sources: statics of a section that opens about an edge
// (plastic hinge of rigid blocks); least cut by largest flow (Ford and Fulkerson 1956).
#pragma once

#include <optional>

#include "core/stand/bond_net.h"

namespace ivrant::stand {

inline constexpr int kSeamCourses = 3;       ///< from this many courses on a seam is a weakness
inline constexpr double kTugN = 3;           ///< how hard hands tug at a part; a starting value, not measured
inline constexpr std::size_t kTugBodies = 2; ///< a lone part that comes off is no piece

/// A plane across which no part of a section reaches, over the whole thickness of the material there and several
/// courses.
struct Seam {
    int section = 0;
    int axis = 0;                   ///< of the section's frame that the plane is square to: 0 x, 1 y
    double atMm = 0;                ///< along that axis, in the section's frame
    double lowMm = 0, highMm = 0;   ///< along the other axis
    double bottomMm = 0, topMm = 0; ///< heights in the section's frame
    int courses = 0;
    std::vector<model::PartSpot> parts; ///< on both sides
    std::vector<std::pair<model::PartSpot, model::PartSpot>>
        alike; ///< ends that meet squarely: one longer part may take the place of both
};
/// Parts that stand upright on the grid count, others tie nothing. O(parts × thickness), sorted by courses, highest
/// first.
[[nodiscard]] std::vector<Seam> findSeams(const model::Placed& placed, int section, int leastCourses = kSeamCourses);

/// A level at which something stands on what is below by a pattern of studs alone.
struct Neck {
    double atZ = 0;
    std::vector<int> contacts;
    std::vector<int> above; ///< bodies
    double massG = 0;       ///< of those
    double topMm = 0;       ///< highest centre of them above the level
    double pushN = 0;       ///< across at that height: the section opens about its weakest edge
    double shakeG = 0;      ///< sideways, of the mass above: it opens too
    double towardDeg = 0;   ///< the way of that push
};
/// The necks of a net, weakest first; at most `most`. O(levels × contacts).
[[nodiscard]] std::vector<Neck> findNecks(const BondNet& net, std::size_t most = 200);

/// What comes along when one part is pulled while the base is held.
struct Piece {
    int pulled = 0; ///< body
    double forceN = 0;
    std::vector<int> bodies;
    std::vector<int> contacts; ///< that let go
    double massG = 0;
};
/// Pieces of at least kTugBodies that come off below `tugN`; each once, least force first. The base: what stands on the
/// ground, else the heaviest body.
[[nodiscard]] std::vector<Piece> findPieces(const BondNet& net, double tugN = kTugN);

/// Bodies that hang on the rest by friction alone (a bar in a stud or tube).
struct FrictionHeld {
    std::vector<int> bodies, contacts;
    double massG = 0;
    double holdsN = 0; ///< all its contacts pulled along their axes
};
[[nodiscard]] std::vector<FrictionHeld> findFrictionHeld(const BondNet& net);

/// A large single plate under a model, lifted at its two ends.
struct FlexibleBase {
    int body = 0;
    int axis = 0; ///< of the plate's own frame, along which it bends
    double sagMm = 0;
    double bareMm = 0;  ///< how much of its length nothing spans
    double worstMm = 0; ///< where it bends most, along that axis from its middle
    double loadG = 0;   ///< that it carries
};
inline constexpr double kSagMm = 1; ///< more is felt; a starting value
inline constexpr double kPlateStiffNmm =
    2'600;                                 ///< E·t³/12 a mm of width of a bare plate; a starting value, not measured
inline constexpr int kLargePlateCells = 6; ///< both ways
/// The worst way of each large plate on the ground that carries most of the model.
[[nodiscard]] std::vector<FlexibleBase> findFlexibleBases(const model::Placed& placed, const BondNet& net);

} // namespace ivrant::stand
