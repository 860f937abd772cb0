// SPDX-License-Identifier: GPL-3.0-or-later
// Where can the parts of a placed model take force from each other and from the ground, and how much?
//
// Every part is a rigid body. A contact joins two of them, or one with the ground or a hand, by force columns:
// directions in which a force or moment can act between the two, each with its limits. World frame, mm, N, N·mm.
//   studs      compression without limit at the corners of the engaged area; at each stud pull up to T and shear ±S two
//   ways; one twist ±0.2·S·8 mm a stud pins, axles, clips, hinges, balls   at the port: along its axis up to the
//   pull-out force, across, bending, and the holding torque about what moves rests      what lies on another part
//   without being held by it: at the corners of the common face, as the ground, no pull ground     at the corners that
//   touch: the edges of a friction pyramid, no pull hand       holds every way
// Side faces that merely touch carry nothing: they may have a gap. Source: Livesley, Limit analysis of structures
// formed from rigid blocks (1978); Whiting, Ochsendorf and Durand (2009); docs/derivations/bond-equilibrium.md. Limits
// nobody measured are starting values.
#pragma once

#include <functional>
#include <limits>
#include <optional>

#include "core/bonds/section_bonds.h"
#include "core/model/placed.h"
#include "core/model/strength.h"

namespace ivrant::stand {

using geometry::Vec3;

// Starting values, not measured.
inline constexpr double kGroundFriction = 0.3;
inline constexpr double kTwistShare = 0.2; ///< of shear times a pitch, for each stud
inline constexpr double kAcrossN = 60,
                        kSeatNmm = 300; ///< pins and joints: force across, bending against the way they turn
inline constexpr double kCrossHoleN = 8, kBarInStudN = 1.5;  ///< axle out of a cross hole, bar out of a stud
inline constexpr double kAxleTurnNmm = 300, kBarTurnNmm = 3; ///< their twist
inline constexpr double kHandMm = 30;                        ///< a hand takes hold of what lies this near

struct Body {
    model::PartSpot spot;
    Vec3 centre = Vec3::Zero();                ///< of mass
    double massG = 0;                          ///< of the part alone
    std::vector<std::pair<double, Vec3>> hung; ///< gram and place of ballast and gear boards that it carries
};

enum class ContactKind { Studs, Pin, Fixed, Friction, Joint, Rest, Ground, Hand };
enum class ColumnRole { Press, Pull, Shear, Twist, Bend };

struct ForceColumn {
    Vec3 at = Vec3::Zero();
    Vec3 force = Vec3::Zero(), moment = Vec3::Zero(); ///< on b for one unit; the opposite acts on a
    double low = 0, high = 0;                         ///< N, N·mm; high may be infinite
    ColumnRole role = ColumnRole::Press;
    int stud = -1; ///< which one of the contact
};

struct Contact {
    ContactKind kind = ContactKind::Studs;
    int a = -1, b = -1;          ///< bodies; a −1: ground or hand
    int joint = -1;              ///< index in the project, of joints between sections
    Vec3 normal = Vec3::UnitZ(); ///< pressing pushes b along it
    std::vector<Vec3> corners, studs;
    std::vector<ForceColumn> columns;
};

struct BondNet {
    std::vector<Body> bodies;
    std::vector<Contact> contacts;
    std::vector<int> floating; ///< bodies that nothing joins to ground or hand
};

struct BondLimits {
    model::Capacity studPull;  ///< N a stud
    model::Capacity studShear; ///< N a stud
    model::JointStrengths joints;
    std::vector<double>
        drivenNmm; ///< by joint: what a drive that cannot be driven from behind holds; shorter or 0: none
};

/// The top of a post on the ground that presses on a part from below; what the project has of them is counted anyhow.
struct Prop {
    model::PartSpot part;
    Vec3 at = Vec3::Zero(); ///< world
};

struct NetRequest {
    bool ground = true;                         ///< z = 0 carries, and the project's supports that a part lies on
    bool strapped = false;                      ///< what touches the ground is held every way
    std::vector<Prop> props;                    ///< more posts under it
    std::vector<Vec3> hands;                    ///< places in the world where somebody takes hold
    std::function<bool(model::PartSpot)> built; ///< null: all parts are there
    std::optional<int> held;                    ///< a section whose parts are all held fast
};

/// O(parts + mates). `bonds` of all sections in order.
[[nodiscard]] BondNet makeBondNet(const model::Placed& placed, const std::vector<bonds::SectionBondsPtr>& bonds,
                                  const BondLimits& limits, const NetRequest& request = {});

} // namespace ivrant::stand
