// SPDX-License-Identifier: GPL-3.0-or-later
// What turns in a machine, what is it carried by and joined to, and what is asked of it?
//
// All there is to know of a drive before anything is worked out, as values, wherever it was read from. Lengths mm, axes
// unit vectors, everything in one common frame C. What meshes is not written here: it follows from where the rings are
// (drive_net.h).
#pragma once

#include <string>
#include <unordered_map>
#include <vector>

#include "core/geometry/frames.h"
#include "core/model/board.h"
#include "core/model/wheel_size.h"

namespace ivrant::drive {

using geometry::Vec3;

/// Something with one speed: a shaft with all that is fixed to it, a loose wheel, a case, a turntable; what moves along
/// a line: a rack (teeth for each turn of the others), the rod of a linear actuator (mm for each turn).
struct Rotor {
    enum class Kind { Shaft, Wheel, Rack, Screw } kind = Kind::Shaft;
    std::string id;                 ///< of the shaft, or of the wheel
    std::string name;               ///< for the person: "shaft Input", "loose 24"
    int board = 0;                  ///< on which it is drawn; index in the project; −1: it is made of parts
    std::vector<std::string> parts; ///< ids of all that is fixed to it, when it is made of parts
    Vec3 origin = Vec3::Zero();     ///< the shaft's start
    Vec3 axis = Vec3::UnitZ();      ///< positive turns are right-handed about it; a rack moves along it
    double lengthMm = 0;            ///< shafts
    int carrier = -1;               ///< the rotor it is told relative to; −1: the frame
    std::string joint;              ///< of the model, about which a section turns that is part of it; empty: none

    [[nodiscard]] bool isStraight() const { return kind == Kind::Rack || kind == Kind::Screw; }
    /// What one unit of its speed for each turn of the others comes to in mm; 0: it turns.
    [[nodiscard]] double mmPerUnit() const;
};

/// A wheel's teeth, a thread, a row of teeth, a groove: what takes power from other rotors. Also a turntable and the
/// case of an actuator.
struct Ring {
    std::string id;
    model::GearKind kind = model::GearKind::Spur;
    int teeth = 0; ///< a worm's: starts; a pulley's: pitch diameter in mm; an actuator's: pitches of its case
    bool loose = false;
    bool leftHand = false;      ///< worms
    int board = 0;              ///< −1: a part
    int rotor = 0;              ///< that it is part of
    int shaft = -1;             ///< rotor on whose line it sits, fixed or loose; −1: racks
    int other = -1;             ///< a differential's second side
    double alongMm = 0;         ///< its middle plane from the shaft's start
    Vec3 centre = Vec3::Zero(); ///< of its middle plane; a rack's: the middle of its pitch line
    Vec3 axis = Vec3::UnitZ();
    double pitchRadiusMm = 0;
    double tipRadiusMm = 0;
    double halfWidthMm = 0;   ///< along the axis; a rack's: half its length
    double holeRadiusMm = 0;  ///< free inside, for other shafts
    Vec3 face = Vec3::Zero(); ///< racks: unit, the way their teeth look; zero: not told

    [[nodiscard]] bool isStraight() const { return kind == model::GearKind::Rack || kind == model::GearKind::Actuator; }
};

/// A place at which a shaft is carried.
struct Bearing {
    enum class By {
        Said,
        Wall,
        Brick,  ///< a round hole of a part
        Coupled ///< what its end sits in turns with it: a motor's output, a differential's side
    } by = By::Said;
    int rotor = 0;
    double alongMm = 0; ///< from its start
};

/// What joins rotors otherwise than by teeth.
struct Link {
    enum class Kind {
        Differential, ///< `ring` is the case, `a` and `b` its sides
        Actuator,     ///< `a` turns the screw of rod `b`; `ring` is its case
        Clutch,       ///< `ring`, a loose wheel, may be fixed to shaft `a`
        Loop,         ///< chain or belt round `rings`
        Coupling,     ///< end to end, stiff
        Universal,    ///< end to end, bent by up to 35°
        Held          ///< `a` does not turn
    } kind = Kind::Coupling;
    std::string id; ///< of the coupling or loop; empty: told by its wheels
    int a = -1, b = -1, ring = -1;
    std::vector<int> rings;
    bool belt = false, crossed = false;
};

/// A motor that is a part.
struct PartMotor {
    enum class Seat {
        Firm,  ///< fixed to the frame, or to what goes round
        Hangs, ///< by its shaft alone
        OnOwn  ///< fixed to what it turns
    } seat = Seat::Firm;
    std::string id, name, line;
    int rotor = -1;     ///< that it turns; −1: nothing is in its output
    double alongMm = 0; ///< where, from the rotor's start
};

struct DriveModel {
    std::vector<Rotor> rotors;
    std::vector<Ring> rings;
    std::vector<Bearing> bearings; ///< by rotor, then along it
    std::vector<Link> links;
    std::vector<PartMotor> motors;
    std::vector<std::string> notes; ///< what could not be taken into account, in words

    std::unordered_map<std::string, int> rotorOf, ringOf; ///< by id; a fixed wheel's rotor is its shaft

    /// By the id of a shaft or wheel; −1: none.
    [[nodiscard]] int findRotor(const std::string& id) const;
    [[nodiscard]] int findRing(const std::string& id) const;
    /// "24 on Input", "loose double bevel 12 on Span".
    [[nodiscard]] std::string nameOf(const Ring& ring) const;
};

/// "24", "loose double bevel 12".
[[nodiscard]] std::string describeWheel(model::GearKind kind, int teeth, bool loose);

} // namespace ivrant::drive
