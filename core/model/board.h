// SPDX-License-Identifier: GPL-3.0-or-later
// What is a gear board? Shafts, wheels, motors, selectors and functions laid out on a plane with a hole grid.
//
// Board frame: x right, y up in the plane, z out of it towards the viewer; layer k lies at z = 8 k mm. Lengths in whole
// µm. A board belongs to a section and moves with it, or lives alone with a place in the world. Shafts may lie in any
// of the three directions; other attitudes come from other boards. What meshes is not stored: it follows from the
// places (core/drive/drive_net.h).
#pragma once

#include <array>
#include <cstdint>
#include <memory>
#include <optional>
#include <string>
#include <vector>

#include "core/base/ids.h"
#include "core/model/notes.h"
#include "core/model/place.h"
#include "core/parts/tooth_ring.h"

namespace ivrant::model {

using base::BoardId;
using base::CouplingId;
using base::FunctionId;
using base::GearId;
using base::LoopId;
using base::MotorId;
using base::SectionId;
using base::SelectorId;
using base::ShaftId;
using base::StrandId;

enum class BoardAxis { Right, Up, Out }; ///< x, y, z of the board

/// A turning axle. It is carried where it goes through a wall of the board or by bearings of its own.
struct Shaft {
    ShaftId id;
    std::string name;
    std::array<std::int64_t, 3> atUm{0, 0, 0}; ///< its start
    BoardAxis axis = BoardAxis::Out;      ///< the way it runs from its start; positive turns are right-handed about it
    std::int64_t lengthUm = 0;            ///< > 0
    std::vector<std::int64_t> bearingsUm; ///< from its start
    GearId carrier;                       ///< the wheel or turntable that carries its bearings; empty: as the board
    bool held = false;                    ///< fixed to what carries it
    ExtraPtr extra;
};

using parts::GearKind;
[[nodiscard]] const char* getGearKindName(GearKind kind); ///< "spur", "double bevel", "crown" …
[[nodiscard]] std::optional<GearKind> findGearKind(std::string_view name);

struct Gear {
    GearId id;
    GearKind kind = GearKind::Spur;
    int teeth = 0;
    ShaftId shaft;
    std::int64_t alongUm = 0; ///< its middle plane, from the shaft's start
    bool loose = false;       ///< turns on its shaft by itself: a clutch wheel, an idler on a round pin
    bool leftHand = false;    ///< worms
    ShaftId other;            ///< differentials
    // Racks only: where the pitch line starts and how it runs
    std::array<std::int64_t, 3> atUm{0, 0, 0};
    BoardAxis axis = BoardAxis::Right;
    ExtraPtr extra;

    /// Turns with its shaft.
    [[nodiscard]] bool isFixed() const {
        return !loose && kind != GearKind::Rack && kind != GearKind::Differential && kind != GearKind::Turntable &&
               kind != GearKind::Actuator;
    }
    /// Moves along a line and is told in mm.
    [[nodiscard]] bool isStraight() const { return kind == GearKind::Rack || kind == GearKind::Actuator; }
};

/// A chain round sprockets or a belt round pulleys, in order.
struct Loop {
    LoopId id;
    bool belt = false;
    bool crossed = false; ///< belts round two pulleys: opposite senses
    std::vector<GearId> gears;
    int links = 0; ///< chains: links; belts: mm round the belt when it lies slack; 0: what fits
    ExtraPtr extra;
};

/// Ends of two shafts joined so that they turn alike: universal joints, connectors.
struct Coupling {
    CouplingId id;
    ShaftId a, b;
    bool universal = true;
    ExtraPtr extra;
};

/// A string or wire that crosses a turning part: from a guide that stands still to one that goes round with the part.
/// At the start the two guides face each other.
struct Strand {
    StrandId id;
    std::string name;
    bool wire = false;
    GearId over;              ///< the turntable (or wheel) that it crosses
    std::int64_t offUm = 0;   ///< of both guides from the axis; 0: through its middle
    std::int64_t gapUm = 0;   ///< between the guides along the axis
    std::int64_t slackUm = 0; ///< what can be drawn through them
    ExtraPtr extra;
};

struct DriveMotor {
    MotorId id;
    std::string name;
    std::string line; ///< "motor medium": its values are in core/drive/motor.h or measured
    ShaftId shaft;
    bool atEnd = false; ///< its body lies beyond the shaft's end, else before its start; the shaft goes a pitch into it
    ExtraPtr extra;
};

struct SelectorPosition {
    std::string name;
    std::vector<GearId> engaged; ///< loose wheels that are fixed to their shafts
};

struct Selector {
    SelectorId id;
    std::string name;
    std::vector<SelectorPosition> positions;
    int at = 0; ///< the present position
    ExtraPtr extra;
};

/// What stands against a function's motion.
enum class LoadKind {
    None,
    Friction, ///< `amount` N·mm, or N on a rack, always against the motion
    Lift,     ///< mass `amount` g hanging on a drum of `radiusMm`
    Arm,      ///< mass `amount` g at `radiusMm` from the axis; hardest when level
    Joint,    ///< what the model itself hangs on `joint`, over its angle, as it stands in the pose looked at
    Slope,    ///< a vehicle of `amount` g on wheels of `radiusMm` that climbs `fromDeg`; wheels roll with kRolling
    Band      ///< an elastic band of `amount` N at a lever of `radiusMm`, harder by `ratePerMm` N for each mm it is
              ///< stretched
};
[[nodiscard]] const char*
getLoadKindName(LoadKind kind); ///< "none", "friction", "lift", "arm", "joint", "slope", "band"
[[nodiscard]] std::optional<LoadKind> findLoadKind(std::string_view name);

/// Rolling resistance of a wheel over its load. Starting value, not measured.
inline constexpr double kRolling = 0.04;

/// Something the model does when driven.
struct DriveFunction {
    FunctionId id;
    std::string name; ///< "span lift"
    ShaftId shaft;    ///< what it turns: a shaft of a board, or a part that is an axle; or
    GearId gear;      ///< the rack, turntable or loose wheel that it moves: of a board, or a part
    LoadKind load = LoadKind::None;
    double amount = 0;
    double radiusMm = 0;
    double ratePerMm = 0; ///< bands
    JointId joint;        ///< what it turns in the model; with LoadKind::Joint its load too
    double fromDeg = 0;   ///< arms: angle above level at the start; joints: their value at the start; slopes: the slope
    double travel = 0;    ///< degrees, on racks mm; 0: endless
    std::optional<double> withinS;   ///< wanted time for the travel
    std::optional<double> wantedRpm; ///< wanted speed
    bool mustHold = false;           ///< asked to stay when the motor is off
    bool withOthers = false;         ///< it moves at the same time as others of its motor, and that is meant
    ExtraPtr extra;

    /// Id of what it moves.
    [[nodiscard]] const std::string& moved() const { return shaft.empty() ? gear.text : shaft.text; }
};

struct Board {
    BoardId id;
    std::string name;
    SectionId section;                 ///< empty: it lives alone
    Place place;                       ///< in the section, or in the world
    GearId carrier;                    ///< the turntable it stands on; empty: it stands still
    int step = 0;                      ///< of its section in which it is built; 0: after all of them
    int colour = 0;                    ///< of its parts, index into parts::getPalette()
    std::vector<std::int64_t> wallsUm; ///< heights z of walls with holes; shafts through them are carried there
    std::vector<Shaft> shafts;
    std::vector<Gear> gears;
    std::vector<Loop> loops;
    std::vector<Coupling> couplings;
    std::vector<Strand> strands;
    std::vector<DriveMotor> motors;
    std::vector<Selector> selectors;
    std::vector<DriveFunction> functions;
    ExtraPtr extra;
};
using BoardPtr = std::shared_ptr<const Board>;

} // namespace ivrant::model
